/** What is worked out once of a model, by name; see kind.ts. */
import { flowDirection, isFlow, type FieldKey } from '../../livery/fields.ts';
import type { FieldName } from '../../livery/paint.ts';
import type { Subject } from '../../livery/template.ts';
import { edges } from './edges.ts';
import { bakeFlow, directionOf } from './flow.ts';
import { height } from './height.ts';
import { hollows } from './hollows.ts';
import type { BakedField, Baker } from './kind.ts';
import { refined } from './refine.ts';

export const FIELDS: Readonly<Record<FieldName, BakedField>> = { height, hollows, edges };

const fine = new WeakMap<Subject['mesh'], Subject>();

/** The subject as fine as fields are worked out for it: once for each model. */
export function fineSubject(subject: Subject): Subject {
  const known = fine.get(subject.mesh) ?? refined(subject);
  fine.set(subject.mesh, known);
  return known;
}

/** Which way of working fields out this is: what was kept of another is of no use. */
export const BAKED = 1;

/** Begins to work a field out at the corners of {@link fineSubject}: one number each, of flows as many as FLOW_VALUES. */
export function beginField(subject: Subject, key: FieldKey): { corners: number; bake: Baker } {
  const { mesh } = fineSubject(subject);
  const corners = mesh.positions.length / 3;
  if (!isFlow(key)) return { corners, bake: FIELDS[key].begin(mesh, subject.mesh) };
  const { heading, rise } = flowDirection(key);
  return { corners, bake: bakeFlow(mesh, directionOf(heading, rise)) };
}

/** A whole field; see {@link beginField}. */
export function bakeField(subject: Subject, key: FieldKey): Float32Array {
  const { corners, bake } = beginField(subject, key);
  return bake(0, corners);
}

/** What is worked out once of a model, by name; see kind.ts. */
import type { FieldName } from '../../livery/paint.ts';
import type { Subject } from '../../livery/template.ts';
import { edges } from './edges.ts';
import { height } from './height.ts';
import { hollows } from './hollows.ts';
import type { BakedField } from './kind.ts';
import { refined } from './refine.ts';

export const FIELDS: Readonly<Record<FieldName, BakedField>> = { height, hollows, edges };

const fine = new WeakMap<Subject['mesh'], Subject>();

/** The subject as fine as fields are worked out for it: once for each model. */
export function fineSubject(subject: Subject): Subject {
  const known = fine.get(subject.mesh) ?? refined(subject);
  fine.set(subject.mesh, known);
  return known;
}

/** A field at the corners of {@link fineSubject}. */
export const bakeField = (subject: Subject, name: FieldName): Float32Array =>
  FIELDS[name].bake(fineSubject(subject).mesh);

/** Planes brought to a model: one way for each kind of projector, from its folder. */
import { holdLatest } from '../held.ts';
import type { Projector, ProjectorKind, ProjectorOf } from '../livery/projector.ts';
import type { Subject } from '../livery/template.ts';
import { mirroredDirection, mirroredPlace, unit } from '../surface/vectors.ts';
import { project as along } from './along/map.ts';
import { project as flat } from './flat/map.ts';
import { project as folded } from './folded/map.ts';
import type { Project, Projection } from './projection.ts';
import { project as round } from './round/map.ts';

const KINDS: { readonly [K in ProjectorKind]: Project<ProjectorOf<K>> } = { flat, round, along, folded };

interface Projections {
  own: Projection;
  partner: Projection | null;
}

/** By model, and by what a projector says: one that came again from elsewhere is the same. */
const known = new WeakMap<Subject['mesh'], Map<string, Projections>>();
/** Of one model. */
const MOST = 40;

/** How a projector's plane lies on a model, and how its partner's does, on the other side of its plane. Worked out once. */
export function projectionsOf(on: Projector, subject: Subject): Projections {
  let own = known.get(subject.mesh);
  if (!own) known.set(subject.mesh, (own = new Map<string, Projections>()));
  const key = JSON.stringify(on);
  const found = own.get(key) ?? made(on, subject);
  holdLatest(own, key, found, MOST);
  return found;
}

function made(on: Projector, subject: Subject): Projections {
  const project = KINDS[on.kind] as Project<Projector>;
  return {
    own: project(on, subject, 1),
    partner: on.partner ? project(mirroredAt(on, on.partner), subject, -1) : null,
  };
}

/** A projector in the mirror of a plane. */
export function mirroredAt(on: Projector, { normal, offset }: NonNullable<Projector['partner']>): Projector {
  const across = unit(normal);
  const at = offset / Math.hypot(...normal);
  const direction = (d: readonly [number, number, number]) => mirroredDirection(d, across);
  const place = (p: readonly [number, number, number]) => mirroredPlace(p, across, at);
  switch (on.kind) {
    case 'flat':
    case 'folded':
      return { ...on, at: place(on.at), facing: direction(on.facing), up: direction(on.up) };
    case 'round':
      return { ...on, at: place(on.at), axis: direction(on.axis), facing: direction(on.facing) };
    case 'along': {
      const { line } = on;
      if (line.by === 'places')
        return { ...on, line: { ...line, places: line.places.map(place), facing: direction(line.facing) } };
      const turned = direction(line.normal);
      // A point of the plane, in the mirror.
      const size = line.normal[0] ** 2 + line.normal[1] ** 2 + line.normal[2] ** 2;
      const [x, y, z] = place([0, 1, 2].map((k) => (line.normal[k] * line.offset) / size) as [number, number, number]);
      return { ...on, line: { ...line, normal: turned, offset: x * turned[0] + y * turned[1] + z * turned[2] } };
    }
  }
}

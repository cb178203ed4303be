/** What of a model stands before its surface, as it is looked at straight on: rails, lamps, lockers. */
import type { Subject } from '../livery/template.ts';
import { firstHit, treeOf } from './rays.ts';
import { diagonalOf } from './triangles.ts';
import { long, plus, unit, type Vec } from './vectors.ts';

/** How far before the surface something stands in the way, of the model's diagonal: past this there is another part of the model. */
const REACH = 0.06;
/** What is no farther off is the surface's own, of the diagonal. */
const SKIN = 0.0004;

/**
 * The part that stands before a place of the surface; null: it is open.
 * @param own key of the part that the place is on: what is hollow hides nothing of itself
 */
export function partBefore(
  subject: Pick<Subject, 'mesh' | 'parts'>,
  position: Vec,
  normal: Vec,
  own: string,
): string | null {
  const diagonal = diagonalOf(subject.mesh);
  const out = unit(normal);
  const hit = firstHit(treeOf(subject), plus(position, out, diagonal * SKIN), out, diagonal * REACH);
  if (!hit) return null;
  const part = subject.parts.find(({ first, count }) => hit.triangle >= first && hit.triangle < first + count);
  return part && part.key !== own ? part.key : null;
}

/** Less of a mark behind something is seen past by whoever walks by (common practice, no source). */
export const SEEN_PAST = 0.06;

/** A place of the surface, the part that it is on, and how much it counts. */
export interface Seen {
  position: Vec;
  normal: Vec;
  part: string;
  weight: number;
}

/** What looks so little one way goes round the model. */
const ROUND = 0.4;

/**
 * How much of something on a surface cannot be seen as it is looked at straight on, 0..1, and the keys of the parts that stand before it,
 * those that hide most first. Straight on is one direction for all of it; what goes right round the model is looked at from where it lies.
 */
export function hiddenBy(
  subject: Pick<Subject, 'mesh' | 'parts'>,
  spots: readonly Seen[],
): { share: number; parts: string[] } {
  let all = 0;
  let faces: Vec = [0, 0, 0];
  for (const { normal, weight } of spots) {
    all += weight;
    faces = plus(faces, normal, weight);
  }
  if (all === 0) return { share: 0, parts: [] };
  const straight = long(faces) > ROUND * all ? unit(faces) : null;
  const before = new Map<string, number>();
  for (const { position, normal, part, weight } of spots) {
    const key = partBefore(subject, position, straight ?? normal, part);
    if (key) before.set(key, (before.get(key) ?? 0) + weight);
  }
  const hidden = [...before.values()].reduce((sum, one) => sum + one, 0);
  return { share: hidden / all, parts: [...before].sort((a, b) => b[1] - a[1]).map(([key]) => key) };
}

/** "grab rails and lockers": the names of some parts, three at most. */
export const namesOfParts = ({ parts }: Pick<Subject, 'parts'>, keys: readonly string[]): string =>
  [...new Set(keys.map((key) => parts.find((part) => part.key === key)?.name ?? key))].slice(0, 3).join(' and ');

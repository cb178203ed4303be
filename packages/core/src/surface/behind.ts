/** What of a model stands before its surface, as it is looked at straight on: rails, lamps, lockers. */
import type { Subject } from '../livery/template.ts';
import { firstHit, treeOf } from './rays.ts';
import { diagonalOf } from './triangles.ts';
import { plus, unit, type Vec } from './vectors.ts';

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

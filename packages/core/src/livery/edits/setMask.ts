import { z } from 'zod';
import { maskOnSibling, siblingsOf } from '../across.ts';
import { LayerId } from '../ids.ts';
import { Mask } from '../paint.ts';
import { TargetGone, type EditKind } from './kind.ts';
import { nameOf, placeOf, reaimLayer, valuesBefore, withLayer } from './places.ts';

/** Changes a mask's settings and leaves what was painted on it. */
const schema = z.strictObject({
  do: z.literal('set-mask'),
  layer: LayerId,
  set: Mask.omit({ strokes: true }).partial(),
});
type SetMask = z.infer<typeof schema>;

export const setMask: EditKind<SetMask> = {
  schema,
  apply(livery, { layer, set }) {
    const at = placeOf(livery, layer);
    const { mask } = at.layer;
    if (!mask) throw new TargetGone('The mask that this change is for is no longer there.');
    return {
      livery: withLayer(livery, at, { ...at.layer, mask: { ...mask, ...set } }),
      inverse: { do: 'set-mask', layer, set: valuesBefore(mask, set) },
    };
  },
  stored: ({ set }) => (set.from?.kind === 'coverage' ? [set.from.blob] : []),
  spread(livery, edit) {
    const siblings = siblingsOf(livery, edit.layer);
    if (siblings.length === 0) return [];
    const { layer } = placeOf(livery, edit.layer);
    return siblings.flatMap((sibling) => {
      const set = sibling.mask ? maskOnSibling(livery, layer, sibling, edit.set) : {};
      return Object.keys(set).length > 0 ? [{ ...edit, layer: sibling.id, set }] : [];
    });
  },
  reaim: reaimLayer,
  reads: (livery, { layer }) => `Change the mask of ${nameOf(livery, layer)}`,
};

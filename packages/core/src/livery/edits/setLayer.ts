import { z } from 'zod';
import { InputError } from '../../errors.ts';
import { onSibling, siblingsOf } from '../across.ts';
import { LayerId } from '../ids.ts';
import { LAYER_SETTINGS, mayBeLeftOut, type Layer } from '../layer.ts';
import { Mask } from '../paint.ts';
import { maskStrokes } from '../strokes.ts';
import type { EditKind } from './kind.ts';
import { nameOf, placeOf, reaimLayer, withLayer } from './places.ts';

/** Only the named settings change, so two people can change different settings of one layer. Null takes a setting off that need not be. */
const schema = z.strictObject({
  do: z.literal('set-layer'),
  layer: LayerId,
  set: z.record(z.string(), z.json()).refine((set) => !('id' in set || 'kind' in set), 'id and kind stay as they are'),
});
type SetLayer = z.infer<typeof schema>;

export const setLayer: EditKind<SetLayer> = {
  schema,
  apply(livery, edit) {
    const at = placeOf(livery, edit.layer);
    const before: Record<string, unknown> = at.layer;
    const next = { ...before };
    const set: SetLayer['set'] = {};
    for (const [key, value] of Object.entries(edit.set)) {
      set[key] = (before[key] ?? null) as SetLayer['set'][string];
      if (value === null && mayBeLeftOut(key)) delete next[key];
      else next[key] = checked(at.layer, key, value);
    }
    return { livery: withLayer(livery, at, next as Layer), inverse: { do: 'set-layer', layer: edit.layer, set } };
  },
  stored({ set }) {
    const mask = Mask.safeParse(set.mask);
    return mask.success ? maskStrokes(mask.data).map(({ blob }) => blob) : [];
  },
  spread(livery, edit) {
    const siblings = siblingsOf(livery, edit.layer);
    if (siblings.length === 0) return [];
    const { layer } = placeOf(livery, edit.layer);
    return siblings.flatMap((sibling) => {
      const set = onSibling(livery, layer, sibling, edit.set) as SetLayer['set'];
      return Object.keys(set).length > 0 ? [{ ...edit, layer: sibling.id, set }] : [];
    });
  },
  reaim: reaimLayer,
  reads: (livery, { layer, set }) => `Set ${Object.keys(set).join(', ')} of ${nameOf(livery, layer)}`,
};

/** A setting's value, looked at by itself: a brush layer's thousands of strokes are not read again for its opacity. */
function checked({ kind, name }: Layer, key: string, value: unknown): unknown {
  const settings = LAYER_SETTINGS[kind];
  if (!Object.hasOwn(settings, key)) throw new InputError(`"${name}": value: there is no setting "${key}".`);
  const parsed = settings[key].safeParse(value);
  if (parsed.success) return parsed.data;
  const issue = parsed.error.issues[0];
  throw new InputError(`"${name}": ${[key, ...issue.path].join('.')}: ${issue.message}.`);
}

import { z } from 'zod';
import { HEX } from '../../colour/hex.ts';
import { Sha256 } from '../../livery/ids.ts';
import { layerBase } from '../../livery/layerBase.ts';
import { degrees, KnockOut, length, Paint, texels } from '../../livery/paint.ts';
import { Warp } from '../../livery/warp.ts';
import { round, shortNumber, turnedWithin, TURN, type LayerData } from '../data.ts';

export const DecalLayer = z.strictObject({
  kind: z.literal('decal'),
  ...layerBase,
  blob: Sha256,
  /** Pixels come decoded (raw RGBA8); drawings stay drawings. */
  source: z.enum(['pixels', 'svg']),
  /** Width over height of the picture. */
  ratio: z.number().min(0.001).max(1000),
  keepRatio: z.boolean(),
  x: texels,
  y: texels,
  width: length,
  height: length,
  turn: degrees,
  mirrored: z.boolean(),
  /** Flat colours of a drawing that are painted differently. */
  recolour: z.array(z.strictObject({ from: z.string().regex(HEX), to: Paint })).max(24),
  /** Of pixels alone: drawings have no background. */
  knockOut: KnockOut.optional(),
  /** In perspective or bent, within its box and beyond. */
  warp: Warp.optional(),
});

export const decal: LayerData<z.infer<typeof DecalLayer>> = {
  name: 'Decal',
  paints: ({ recolour }) => recolour.map(({ to }) => to),
  frame: ({ x, y, width, height, turn }) => ({ x, y, width, height, turn }),
  // One that is bent is held by its net.
  sides: ({ keepRatio, warp }) => (warp ? null : keepRatio ? 'together' : 'apart'),
  sized: ({ keepRatio, ratio }, width, height) => ({
    width: round(width),
    height: round(keepRatio ? width / ratio : height, 3),
  }),
  turns: 'turn',
  // At a level line it stands on its head as well: half a turn, and left and right changed.
  mirrored: ({ turn, mirrored }, { across, readable }) => ({
    turn: turnedWithin(across === 'y' && !readable ? 180 - turn : -turn),
    mirrored: readable ? mirrored : !mirrored,
  }),
  handles: ({ warp }) => (warp ? ['net'] : []),
  place: () => ['ratio', [TURN]],
  colours: ['recolour'],
  numbers: ({ width, height, turn }) => `w ${shortNumber(width)} h ${shortNumber(height)} ${shortNumber(turn)}°`,
  // Out of the library.
  makers: [],
};

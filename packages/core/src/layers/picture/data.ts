import { z } from 'zod';
import { Sha256 } from '../../livery/ids.ts';
import { layerBase } from '../../livery/layerBase.ts';
import { NO_PLACE, type LayerData } from '../data.ts';

/** A picture that lies on the sheet texel for texel: an original, or a layer of an imported file. */
export const PictureLayer = z.strictObject({
  kind: z.literal('picture'),
  ...layerBase,
  /** Stored pixels; see files/pixels.ts. */
  blob: Sha256,
  /** First column and row on the sheet; can be outside. */
  left: z.number().int().min(-65536).max(65536),
  top: z.number().int().min(-65536).max(65536),
  width: z.number().int().min(1).max(16384),
  height: z.number().int().min(1).max(16384),
});

export const picture: LayerData<z.infer<typeof PictureLayer>> = {
  ...NO_PLACE,
  name: 'Picture',
  ofSheet: true,
  paints: () => [],
  colours: [],
  makers: [],
};

import { flipRows } from '@wet-lacquer/core/raster/image.ts';
import { pictureBytes, readImage, writeWhole } from '../files.ts';
import { UsageError, wholeOf, type Verb } from '../verb.ts';

/** lacquer decode hull.dds level2.png --mip 2 */
export const decode: Verb = {
  name: 'decode',
  usage: 'IN OUT.png [--mip N] [--flip]',
  what: 'a texture to PNG',
  args: 2,
  options: { mip: { type: 'string' }, flip: { type: 'boolean' } },
  async run([from, to], values) {
    if (!to.toLowerCase().endsWith('.png')) throw new UsageError(`${to}: decode writes PNG.`);
    const mip = wholeOf(values, 'mip', 0, 14) ?? 0;
    const read = await readImage(from, mip);
    const image = values.flip ? flipRows(read) : read;
    await writeWhole(to, await pictureBytes(image, 'png'));
    return { json: { width: image.width, height: image.height, mip }, text: `${to}: ${image.width} x ${image.height}` };
  },
};

import os from 'node:os';
import path from 'node:path';
import { flipRows, type Image8 } from '@wet-lacquer/core/raster/image.ts';
import { ddsHeader, headerCan, srgbCan } from '@wet-lacquer/core/texture/dds.ts';
import { FORMATS, WRITTEN } from '@wet-lacquer/core/texture/formats/index.ts';
import { psnrOver } from '@wet-lacquer/core/texture/compare.ts';
import { fullMipCount } from '@wet-lacquer/core/texture/mips.ts';
import { writeTga } from '@wet-lacquer/core/texture/tga.ts';
import { Pool } from '@wet-lacquer/node/threads/pool.ts';
import { sharedImage } from '@wet-lacquer/node/threads/shared.ts';
import { collect, pictureBytes, readImage, writeWhole } from '../files.ts';
import { oneOf, UsageError, wholeOf, type Verb } from '../verb.ts';

/** lacquer encode hull.png hull.dds --format bc7 --threads 2 --json */
export const encode: Verb = {
  name: 'encode',
  usage: `IN OUT [--format ${WRITTEN.join('|')}] [--header legacy|dx10] [--colour-space srgb|linear|normal] [--mips full|none|N] [--mip-filter box|kaiser] [--coverage A] [--flip] [--dither] [--weights uniform|perceptual] [--separate] [--quality fast|normal|best] [--threads N]`,
  what: 'a picture to DDS, TGA, PNG or JPEG, by the ending of OUT',
  args: 2,
  options: {
    format: { type: 'string' },
    header: { type: 'string' },
    'colour-space': { type: 'string' },
    mips: { type: 'string' },
    'mip-filter': { type: 'string' },
    coverage: { type: 'string' },
    flip: { type: 'boolean' },
    dither: { type: 'boolean' },
    weights: { type: 'string' },
    separate: { type: 'boolean' },
    quality: { type: 'string' },
    threads: { type: 'string' },
  },
  async run([from, to], values) {
    const container = path.extname(to).slice(1).toLowerCase();
    if (!['dds', 'tga', 'png', 'jpg'].includes(container))
      throw new UsageError(`${to}: the ending says what to write, and can be dds, tga, png or jpg.`);
    const format = oneOf(values, 'format', WRITTEN, container === 'dds' ? 'bc7' : 'rgba8');
    const header = oneOf(values, 'header', ['legacy', 'dx10'], headerCan('legacy', format) ? 'legacy' : 'dx10');
    const colourSpace = oneOf(
      values,
      'colour-space',
      ['srgb', 'linear', 'normal'],
      srgbCan(format) ? 'srgb' : 'linear',
    );
    const filter = oneOf(values, 'mip-filter', ['box', 'kaiser'], 'kaiser');
    const effort = oneOf(values, 'quality', ['fast', 'normal', 'best'], 'normal');
    const threads = wholeOf(values, 'threads', 1, 256) ?? os.availableParallelism();
    const weights = oneOf(values, 'weights', ['uniform', 'perceptual'], 'uniform');
    const coverage = values.coverage === undefined ? undefined : Number(values.coverage);
    if (coverage !== undefined && !(coverage > 0 && coverage <= 1))
      throw new UsageError(
        `--coverage ${String(values.coverage)}: the alpha at which a cut-out begins, above 0 and up to 1.`,
      );
    // What the header cannot say is found out before the work, not after it.
    const space = colourSpace === 'srgb' ? 'srgb' : 'linear';
    if (container === 'dds') ddsHeader({ width: 4, height: 4, format, header, colourSpace: space }, 1, 0);
    const encoding = { effort, weights, dither: values.dither === true };
    const seconds = { read: 0, filter: 0, encode: 0, write: 0 };
    const timed = async <T>(what: keyof typeof seconds, work: () => Promise<T> | T): Promise<T> => {
      const began = performance.now();
      const result = await work();
      seconds[what] += (performance.now() - began) / 1000;
      return result;
    };
    const image = await timed('read', async () => {
      const read = await readImage(from);
      return sharedImage(values.flip ? flipRows(read) : read);
    });
    collect();
    const full = fullMipCount(image.width, image.height);
    const mips =
      values.mips === 'none'
        ? 1
        : values.mips === undefined || values.mips === 'full'
          ? full
          : wholeOf(values, 'mips', 1, full)!;
    const files: { name: string; parts: Uint8Array[] }[] = [];
    let psnr: number | null = null;
    if (container === 'dds') {
      const pool = new Pool(threads);
      try {
        const options = { kind: colourSpace, filter, count: mips, coverage };
        const levels = await timed('filter', () => pool.mips(image, options));
        const encoded = await timed('encode', async () => {
          const all: Uint8Array[] = [];
          for (const [i, level] of levels.entries()) {
            const { bytes, squares } = await pool.encodeMeasured(level, format, encoding, undefined, i === 0);
            if (i === 0) psnr = psnrOver(squares, level.width * level.height, FORMATS[format].channels);
            all.push(bytes);
          }
          return all;
        });
        const facts = { format, header, colourSpace: space } as const;
        const withHeader = (top: Image8, parts: Uint8Array[]) => [
          ddsHeader({ width: top.width, height: top.height, ...facts }, parts.length, parts[0].length),
          ...parts,
        ];
        if (values.separate) {
          encoded.forEach((level, i) => {
            const name = to.replace(/(\.\w+)$/, `_mip${i}$1`);
            files.push({ name, parts: withHeader(levels[i], [level]) });
          });
        } else files.push({ name: to, parts: withHeader(image, encoded) });
      } finally {
        await pool.close();
      }
    } else {
      const bytes = await timed('encode', () =>
        container === 'tga' ? writeTga(image, { alpha: true, rle: true }) : pictureBytes(image, container, space),
      );
      files.push({ name: to, parts: [bytes] });
    }
    await timed('write', async () => {
      for (const file of files) await writeWhole(file.name, ...file.parts);
    });
    const dds = container === 'dds';
    const json = {
      width: image.width,
      height: image.height,
      format: dds ? format : container,
      header: dds ? header : null,
      colourSpace,
      mips: dds ? mips : 1,
      bytes: files.flatMap((file) => file.parts).reduce((n, part) => n + part.length, 0),
      files: files.map((file) => file.name),
      // JSON has no infinity: a file that decodes to the very same texels has none.
      psnr: psnr === Infinity ? null : psnr,
      threads,
      seconds,
    };
    const what = dds ? `${FORMATS[format].name}, ${mips} mip levels` : container.toUpperCase();
    return {
      json,
      text: `${to}: ${image.width} x ${image.height}, ${what}, ${json.bytes} bytes, encoded in ${seconds.encode.toFixed(2)} s on ${threads} threads`,
    };
  },
};

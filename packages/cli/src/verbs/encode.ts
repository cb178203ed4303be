import os from 'node:os';
import path from 'node:path';
import { flipRows } from '@wet-lacquer/core/raster/image.ts';
import { headerCan, srgbCan, writeDds } from '@wet-lacquer/core/texture/dds.ts';
import { decodeImage, FORMATS, WRITTEN } from '@wet-lacquer/core/texture/formats.ts';
import { psnrOver } from '@wet-lacquer/core/texture/compare.ts';
import { fullMipCount } from '@wet-lacquer/core/texture/mips.ts';
import { writeTga } from '@wet-lacquer/core/texture/tga.ts';
import { Pool } from '@wet-lacquer/server/threads/pool.ts';
import { pictureBytes, readImage, writeWhole } from '../files.ts';
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
    if (container === 'dds') writeDds({ width: 4, height: 4, format, header, colourSpace: space }, [new Uint8Array(0)]);
    const encoding = { effort, weights, dither: values.dither === true };
    const seconds = { read: 0, filter: 0, encode: 0, write: 0 };
    const timed = async <T>(what: keyof typeof seconds, work: () => Promise<T> | T): Promise<T> => {
      const began = performance.now();
      const result = await work();
      seconds[what] += (performance.now() - began) / 1000;
      return result;
    };
    const read = await timed('read', () => readImage(from));
    const image = values.flip ? flipRows(read) : read;
    const full = fullMipCount(image.width, image.height);
    const mips =
      values.mips === 'none'
        ? 1
        : values.mips === undefined || values.mips === 'full'
          ? full
          : wholeOf(values, 'mips', 1, full)!;
    const files: { name: string; bytes: Uint8Array }[] = [];
    let psnr: number | null = null;
    if (container === 'dds') {
      const pool = new Pool(threads);
      try {
        const options = { kind: colourSpace, filter, count: mips, coverage };
        const levels = await timed('filter', () => pool.mips(image, options));
        const encoded = await timed('encode', async () => {
          const all: Uint8Array[] = [];
          for (const level of levels) all.push(await pool.encode(level, format, encoding));
          return all;
        });
        const { width, height } = image;
        const back = decodeImage(encoded[0], format, width, height);
        psnr = psnrOver(image, back, FORMATS[format].channels);
        const facts = { format, header, colourSpace: space } as const;
        if (values.separate) {
          encoded.forEach((level, i) => {
            const { width: w, height: h } = levels[i];
            files.push({
              name: to.replace(/(\.\w+)$/, `_mip${i}$1`),
              bytes: writeDds({ width: w, height: h, ...facts }, [level]),
            });
          });
        } else files.push({ name: to, bytes: writeDds({ width, height, ...facts }, encoded) });
      } finally {
        await pool.close();
      }
    } else {
      const bytes = await timed('encode', () =>
        container === 'tga' ? writeTga(image, { alpha: true, rle: true }) : pictureBytes(image, container),
      );
      files.push({ name: to, bytes });
    }
    await timed('write', async () => {
      for (const file of files) await writeWhole(file.name, file.bytes);
    });
    const dds = container === 'dds';
    const json = {
      width: image.width,
      height: image.height,
      format: dds ? format : container,
      header: dds ? header : null,
      colourSpace,
      mips: dds ? mips : 1,
      bytes: files.reduce((n, file) => n + file.bytes.length, 0),
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

import os from 'node:os';
import path from 'node:path';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { flipRows } from '@wet-lacquer/core/raster/image.ts';
import { legacyCan, writeDds } from '@wet-lacquer/core/texture/dds.ts';
import { FORMATS, type FormatKey } from '@wet-lacquer/core/texture/formats.ts';
import { fullMipCount } from '@wet-lacquer/core/texture/mips.ts';
import { writeTga } from '@wet-lacquer/core/texture/tga.ts';
import { Pool } from '@wet-lacquer/server/threads/pool.ts';
import { pictureBytes, readImage, writeWhole } from '../files.ts';
import { oneOf, UsageError, wholeOf, type Verb } from '../verb.ts';

const KEYS = Object.keys(FORMATS) as FormatKey[];

/** lacquer encode hull.png hull.dds --format bc7 --threads 2 --json */
export const encode: Verb = {
  name: 'encode',
  usage: `IN OUT [--format ${KEYS.join('|')}] [--header legacy|dx10] [--colour-space srgb|linear] [--mips full|none|N] [--mip-filter box|kaiser] [--flip] [--quality fast|normal|best] [--threads N]`,
  what: 'a picture to DDS, TGA, PNG or JPEG, by the ending of OUT',
  args: 2,
  options: {
    format: { type: 'string' },
    header: { type: 'string' },
    'colour-space': { type: 'string' },
    mips: { type: 'string' },
    'mip-filter': { type: 'string' },
    flip: { type: 'boolean' },
    quality: { type: 'string' },
    threads: { type: 'string' },
  },
  async run([from, to], values) {
    const container = path.extname(to).slice(1).toLowerCase();
    if (!['dds', 'tga', 'png', 'jpg'].includes(container))
      throw new UsageError(`${to}: the ending says what to write, and can be dds, tga, png or jpg.`);
    const format = oneOf(values, 'format', KEYS, container === 'dds' ? 'bc7' : 'rgba8');
    const header = oneOf(values, 'header', ['legacy', 'dx10'], legacyCan(format) ? 'legacy' : 'dx10');
    const colourSpace = oneOf(values, 'colour-space', ['srgb', 'linear'], 'srgb');
    const filter = oneOf(values, 'mip-filter', ['box', 'kaiser'], 'kaiser');
    const effort = oneOf(values, 'quality', ['fast', 'normal', 'best'], 'normal');
    const threads = wholeOf(values, 'threads', 1, 256) ?? os.availableParallelism();
    if (header === 'legacy' && !legacyCan(format))
      throw new InputError(`${FORMATS[format].name} needs the DX10 header; the legacy one has no code for it.`);
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
    let bytes: Uint8Array;
    if (container === 'dds') {
      const pool = new Pool(threads);
      try {
        const levels = await timed('filter', () => pool.run('mips', { image, kind: colourSpace, filter, count: mips }));
        const encoded = await timed('encode', async () => {
          const all: Uint8Array[] = [];
          for (const level of levels) all.push(await pool.encode(level, format, effort));
          return all;
        });
        bytes = writeDds({ width: image.width, height: image.height, format, header, colourSpace }, encoded);
      } finally {
        await pool.close();
      }
    } else
      bytes = await timed('encode', () =>
        container === 'tga' ? writeTga(image, { alpha: true, rle: true }) : pictureBytes(image, container),
      );
    await timed('write', () => writeWhole(to, bytes));
    const dds = container === 'dds';
    const json = {
      width: image.width,
      height: image.height,
      format: dds ? format : container,
      header: dds ? header : null,
      colourSpace,
      mips: dds ? mips : 1,
      bytes: bytes.length,
      threads,
      seconds,
    };
    const what = dds ? `${FORMATS[format].name}, ${mips} mip levels` : container.toUpperCase();
    return {
      json,
      text: `${to}: ${image.width} x ${image.height}, ${what}, ${bytes.length} bytes, encoded in ${seconds.encode.toFixed(2)} s on ${threads} threads`,
    };
  },
};

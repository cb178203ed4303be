import { describe, expect, test } from 'vitest';
import { DifferenceMeter } from '../../colour/differenceMeter.ts';
import { ciede2000, labOfSrgb8 } from '../../colour/ciede2000.ts';
import { renderSheet } from '../../compose/renderSheet.ts';
import type { Layer } from '../../livery/layer.ts';
import type { Livery } from '../../livery/livery.ts';
import { applyEdit } from '../../livery/edit.ts';
import type { Image8 } from '../../raster/image.ts';
import { liveryLike, picture, randomFrom } from '../../testing/images.ts';
import { writtenByImageMagick } from '../../testing/independent.ts';
import { layerOf, smallLivery, smallTemplate, sourcesFor } from '../../testing/scenes.ts';
import { compareImages } from '../../texture/compare.ts';
import type { Effort } from '../../texture/encoding.ts';
import { decodeImage, encodeImage } from '../../texture/encode.ts';
import { type FormatKey } from '../../texture/formats/index.ts';
import { readDdsLevel } from '../../texture/dds.ts';
import { nothingChanged } from '../../texture/over/changed.ts';
import { levelsOver, placeBlocks, putOverDds } from '../../texture/over/overDds.ts';
import { CELL, EncodedLevel, VISIBLE } from './encodedLevel.ts';
import { proofFindings } from './findings.ts';
import { nudgeToGrid } from './nudge.ts';
import { asEncoded, differenceOf, nearestAsEncoded } from './shiftedColours.ts';

const meter = new DifferenceMeter();
function finished(image: Image8, format: FormatKey, effort: Effort = 'normal'): EncodedLevel {
  const level = new EncodedLevel(image, format, { effort }, meter);
  for (const { cx, cy } of level.waiting(0, 0)) level.work(cx, cy);
  return level;
}

describe('a level, cell by cell', () => {
  const image = liveryLike(CELL + 70, 4, true);

  test.each(['bc1', 'bc3', 'bc7', 'rgb565'] as const)(
    '%s: what is shown is what a delivery decodes to, bit for bit',
    (format) => {
      const whole = decodeImage(encodeImage(image, format, { effort: 'normal' }), format, image.width, image.height);
      expect(Buffer.compare(Buffer.from(finished(image, format).decoded.data), Buffer.from(whole.data))).toBe(0);
    },
  );

  test('cells near the middle of the view come first', () => {
    const level = new EncodedLevel(
      picture(1024, 512, () => [0, 0, 0, 255]),
      'bc1',
      { effort: 'fast' },
      meter,
    );
    expect(level.waiting(900, 400)[0]).toEqual({ cx: 3, cy: 1 });
    expect(level.waiting(900, 400)).toHaveLength(8);
    level.work(3, 1);
    expect(level.isDone(3, 1)).toBe(true);
    expect(level.facts()).toMatchObject({ done: 1, of: 8 });
  });

  test('after a change only blocks that differ are encoded again, and the result is that of a fresh start', () => {
    const level = finished(image, 'bc7');
    const changed: Image8 = { ...image, data: image.data.slice() };
    for (let y = 40; y < 48; y++) for (let x = 61; x < 70; x++) changed.data[(y * image.width + x) * 4] ^= 0x40;
    level.repaint(changed);
    const blocks = level.waiting(0, 0).reduce((n, { cx, cy }) => n + level.work(cx, cy), 0);
    // Texels 61 to 69 by 40 to 47 lie in three columns and two rows of blocks.
    expect(blocks).toBe(6);
    const fresh = finished(changed, 'bc7');
    expect(Buffer.compare(Buffer.from(level.decoded.data), Buffer.from(fresh.decoded.data))).toBe(0);
    expect(level.facts()).toEqual(fresh.facts());
  });

  test.each([
    ['bc1', 'dxt1'],
    ['bc3', 'dxt5'],
  ] as const)(
    'over a file by ImageMagick (%s): each level shows what the delivered file decodes to, and counts the blocks that stay its own',
    (format, compression) => {
      const size = { width: 132, height: 76 };
      const options = ['-define', `dds:compression=${compression}`, '-define', 'dds:mipmaps=5'];
      const cropped = ['-crop', `${size.width}x${size.height}+0+0`, '+repage'];
      const bytes = writtenByImageMagick(liveryLike(132, 9, format === 'bc3'), [...cropped, ...options], 'dds');
      const painted = readDdsLevel(bytes, 0);
      expect(painted).toMatchObject(size);
      const changed = nothingChanged(size.width, size.height);
      const dab = (left: number) => {
        for (let y = 30; y < 41; y++)
          for (let x = left; x < left + 9; x++) {
            changed.data[y * size.width + x] = 1;
            painted.data.set([200, x, 30, 255], (y * size.width + x) * 4);
          }
      };
      const mips = { kind: 'srgb', filter: 'kaiser', alpha: 'coverage' } as const;
      const encoding = { effort: 'fast' } as const;
      let levels: EncodedLevel[] | null = null;
      for (const left of [50, 90]) {
        dab(left);
        const over = putOverDds(bytes, painted, changed, mips);
        const file = placeBlocks(over, encodeImage(over.strip!, format, encoding));
        const made = levelsOver(bytes, painted, changed, mips);
        // The second time only what differs is done again.
        levels ??= made.map((one) => new EncodedLevel(one.image, format, encoding, meter, one.changed));
        let kept = 0;
        levels.forEach((level, n) => {
          level.repaint(made[n].image, made[n].changed);
          for (const { cx, cy } of level.waiting(0, 0)) level.work(cx, cy);
          expect(Buffer.compare(Buffer.from(level.decoded.data), Buffer.from(readDdsLevel(file, n).data))).toBe(0);
          kept += Math.round(level.facts().kept! * level.columns * level.rows);
        });
        expect(kept).toBe(over.blocks.kept);
        // As another format nothing of the file can be kept.
        expect(finished(made[0].image, 'bc7', 'fast').facts().kept).toBeNull();
      }
    },
  );

  test('PSNR and the share of visible blocks agree with a plain count', () => {
    const level = finished(image, 'bc1');
    const opaque = { ...image, data: image.data.map((v, i) => (i % 4 === 3 ? 255 : v)) };
    expect(level.facts().psnr).toBeCloseTo(compareImages(opaque, level.decoded).psnrRgb, 6);
    let visible = 0;
    const side = Math.ceil(image.width / 4);
    for (let block = 0; block < side * side; block++) {
      let [sum, n] = [0, 0];
      for (let i = 0; i < 16; i++) {
        const [x, y] = [(block % side) * 4 + (i & 3), Math.floor(block / side) * 4 + (i >> 2)];
        if (x >= image.width || y >= image.height) continue;
        const at = (y * image.width + x) * 4;
        const lab = ({ data }: Image8) => labOfSrgb8(data[at], data[at + 1], data[at + 2]);
        sum += ciede2000(lab(image), lab(level.decoded));
        n++;
      }
      if (sum / n >= VISIBLE) visible++;
    }
    expect(level.facts().visible).toBeCloseTo(visible / side ** 2, 3);
  });
});

test('differences of many pairs are those of single ones, however often they are asked for', () => {
  const random = randomFrom(2);
  const byte = () => Math.floor(random() * 256);
  for (let n = 0; n < 2000; n++) {
    const [a, b] = [[byte(), byte(), byte()] as const, [byte(), byte(), byte()] as const];
    const word = ([r, g, bl]: readonly number[]) => r | (g << 8) | (bl << 16) | (255 << 24);
    const wanted = ciede2000(labOfSrgb8(...a), labOfSrgb8(...b));
    for (let again = 0; again < 2; again++) expect(meter.of(word(a), word(b))).toBeCloseTo(wanted, 4);
  }
});

describe('findings', () => {
  const template = smallTemplate(256);
  const whole = { parts: [] };
  async function findingsOf(layers: Layer[], format: FormatKey, scheme?: Livery['scheme']) {
    const livery = { ...smallLivery(layers, template), ...(scheme && { scheme }) };
    const sources = await sourcesFor(livery, template);
    const painted = renderSheet(livery, 'face', 'colour', { width: 256, height: 256 }, sources);
    const small = format === 'bc7' ? finished(painted, 'bc1') : null;
    return proofFindings({
      livery,
      sheet: 'face',
      map: 'colour',
      sources,
      painted,
      encoded: finished(painted, format),
      small,
    });
  }
  const white = layerOf('solid', { paint: { hex: '#ffffff' }, ...whole });
  const letters = (text: string) =>
    layerOf('lettering', {
      phase: 'Marks',
      text,
      font: 'barlow',
      size: 26,
      x: 128,
      y: 128,
      turn: 0,
      slant: 0,
      mirrored: false,
      spacing: 0,
      paint: { hex: '#dc0a14' },
      outline: null,
    });

  test('thin red lettering on white: BC1 smears it, BC7 does not', async () => {
    const layers = [white, letters('DANGER ROTATING FAN')];
    const found = (await findingsOf(layers, 'bc1')).filter((f) => f.key.startsWith('lettering'));
    expect(found).toHaveLength(1);
    expect(found[0].fixes).toMatchObject([{ format: 'bc7' }, { nudge: layers[1].id }]);
    expect(found[0].show!.left).toBeGreaterThan(-40);
    expect((await findingsOf(layers, 'bc7')).filter((f) => f.key.startsWith('lettering'))).toEqual([]);
  });

  test('a long fade bands in 5-6-5, and not in BC7', async () => {
    const stops = [
      { at: 0, paint: { hex: '#203040' }, opacity: 100 },
      { at: 1, paint: { hex: '#405060' }, opacity: 100 },
    ];
    const fade = layerOf('fade', { shape: 'linear', x: 128, y: 128, angle: 0, length: 300, stops });
    const banded = async (format: FormatKey) =>
      (await findingsOf([fade], format)).some((f) => f.key.startsWith('fade'));
    expect(await banded('rgb565')).toBe(true);
    expect(await banded('bc7')).toBe(false);
  });

  test('alpha that a format drops is said, with how much', async () => {
    const veil = layerOf('solid', { paint: { hex: '#ff8800' }, opacity: 40 });
    const found = (await findingsOf([veil], 'bc1')).find((f) => f.key === 'alpha');
    expect(found?.detail).toContain('100.0 %');
    expect((await findingsOf([veil], 'bc3')).some((f) => f.key === 'alpha')).toBe(false);
  });

  test('a scheme colour that BC1 shifts is named with one that comes out nearer; the remedy is a step that can be made', async () => {
    const scheme = [{ id: 'rubber', name: 'Rubber', hex: '#2a2d2f' }] as unknown as Livery['scheme'];
    const found = (await findingsOf([white], 'bc1', scheme)).find((f) => f.key === 'colour rubber')!;
    const wanted = [0x2a, 0x2d, 0x2f] as const;
    const off = differenceOf(wanted, asEncoded(wanted, 'bc1'));
    const better = nearestAsEncoded(wanted, 'bc1');
    expect(off).toBeGreaterThan(1);
    expect(better.difference).toBeLessThan(off - 0.1);
    expect(differenceOf(wanted, asEncoded(better.colour, 'bc1'))).toBeCloseTo(better.difference, 9);
    const { edit } = found.fixes[0] as { edit: Parameters<typeof applyEdit>[1] };
    const { livery } = applyEdit({ ...smallLivery([white], template), scheme }, edit);
    expect(livery.scheme[0].hex).not.toBe('#2a2d2f');
    expect((await findingsOf([white], 'bc7', scheme)).some((f) => f.key.startsWith('colour'))).toBe(false);
  });

  test('a sheet of flat areas gains nothing from BC7; one with lettering does', async () => {
    const plain = layerOf('solid', { paint: { hex: '#ffffff' } });
    expect((await findingsOf([plain], 'bc7')).map((f) => f.key)).toContain('no gain');
    expect((await findingsOf([white, letters('DANGER ROTATING FAN')], 'bc7')).map((f) => f.key)).not.toContain(
      'no gain',
    );
  });

  test('a mark is nudged to where the block grid hurts it least, and stays when it sits there', async () => {
    let moved = 0;
    for (const off of [0, 1, 2, 3]) {
      const mark = { ...letters('IIII'), x: 128 + off, y: 128.5 };
      const livery = smallLivery([white, mark], template);
      const sources = await sourcesFor(livery, template);
      const found = nudgeToGrid(livery, mark.id, 'bc1', sources);
      if (!found) continue;
      moved++;
      expect(Math.max(Math.abs(found.x), Math.abs(found.y))).toBeLessThanOrEqual(2);
      expect(found.after).toBeLessThan(found.before * 0.98);
      // The step does what it promised.
      const there = applyEdit(livery, found.edit).livery;
      const again = nudgeToGrid(there, mark.id, 'bc1', sources);
      if (again) expect(again.before).toBe(found.after);
    }
    // Four places in a row cannot all be the best of the five about them.
    expect(moved).toBeGreaterThan(0);
    const plain = smallLivery([white], template);
    expect(nudgeToGrid(plain, white.id, 'bc1', await sourcesFor(plain, template))).toBeNull();
  });

  test('a stripe, which crosses the whole sheet, is not nudged', async () => {
    const shape = layerOf('stripe', { x: 130, y: 128, angle: 0, width: 4, softness: 0, paint: { hex: '#dc0a14' } });
    const livery = smallLivery([white, shape], template);
    const sources = await sourcesFor(livery, template);
    expect(nudgeToGrid(livery, shape.id, 'bc1', sources)).toBeNull();
  });
});

import { describe, expect, test } from 'vitest';
import { envOf } from '../compose/scene.ts';
import { renderRegion } from '../compose/renderTile.ts';
import { renderSheet } from '../compose/renderSheet.ts';
import { packPixels } from '../files/pixels.ts';
import type { Layer } from '../livery/layer.ts';
import { pictureOf, samplePicture } from '../raster/picture.ts';
import { halve16, toStraight8 } from '../raster/tile16.ts';
import { picture, randomFrom } from '../testing/images.ts';
import { layerOf, smallLivery, smallTemplate, sourcesFor } from '../testing/scenes.ts';
import { rasterSide } from './decal/draw.ts';
import { kindOf, type DrawnLayer } from './index.ts';

const template = smallTemplate(128);
const size = { width: 128, height: 128 };
const HASH = 'a'.repeat(64);

async function draw(layers: Layer[], blobs: ReadonlyMap<string, Uint8Array> = new Map()) {
  const livery = smallLivery(layers, template);
  const sources = await sourcesFor(livery, template, blobs);
  const image = renderSheet(livery, 'face', 'colour', size, sources);
  const at = (x: number, y: number) => [...image.data.subarray((y * 128 + x) * 4, (y * 128 + x) * 4 + 4)];
  const area = () => image.data.reduce((n, v, i) => n + (i % 4 === 3 ? v / 255 : 0), 0);
  return { image, at, area, livery, sources };
}

/** Left half red, right half blue, the top row clear. */
const flag = picture(16, 8, (x, y) => (y === 0 ? [0, 0, 0, 0] : x < 8 ? [255, 0, 0, 255] : [0, 0, 255, 255]));
const pixels = new Map([[HASH, packPixels(flag)]]);
const decal = (rest: object = {}) =>
  layerOf('decal', {
    blob: HASH,
    source: 'pixels',
    ratio: 2,
    keepRatio: true,
    x: 64,
    y: 64,
    width: 64,
    height: 32,
    turn: 0,
    mirrored: false,
    recolour: [],
    ...rest,
  });

describe('a decal of pixels', () => {
  test('lies where it is placed, at its size', async () => {
    const { at } = await draw([decal()], pixels);
    expect(at(40, 64)).toEqual([255, 0, 0, 255]);
    expect(at(88, 64)).toEqual([0, 0, 255, 255]);
    expect(at(20, 64)[3]).toBe(0);
    expect(at(64, 40)[3]).toBe(0);
  });

  test('turns clockwise: after 90 degrees its left is at the top', async () => {
    const { at } = await draw([decal({ turn: 90 })], pixels);
    expect(at(64, 40)).toEqual([255, 0, 0, 255]);
    expect(at(64, 88)).toEqual([0, 0, 255, 255]);
  });

  test('mirrored, left and right change places, and top stays top', async () => {
    const { at } = await draw([decal({ mirrored: true })], pixels);
    expect(at(40, 64)).toEqual([0, 0, 255, 255]);
    expect(at(88, 64)).toEqual([255, 0, 0, 255]);
    expect(at(64, 49)[3]).toBeLessThan(40);
  });

  test('made small it is averaged, not skipped over: half red and half blue stay half each', async () => {
    const { image } = await draw([decal({ width: 4, height: 2, x: 64, y: 64 })], pixels);
    let [red, blue] = [0, 0];
    for (let i = 0; i < image.data.length; i += 4) {
      red += (image.data[i] * image.data[i + 3]) / 65025;
      blue += (image.data[i + 2] * image.data[i + 3]) / 65025;
    }
    expect(red / blue).toBeCloseTo(1, 1);
    expect(red + blue).toBeGreaterThan(4);
  });

  test('outside its bounds nothing is drawn, for any turn', async () => {
    const random = randomFrom(9);
    for (let k = 0; k < 8; k++) {
      const layer = decal({ turn: random() * 360, x: 40 + random() * 50, y: 40 + random() * 50 });
      const { image, livery, sources } = await draw([layer], pixels);
      const box = kindOf(layer as DrawnLayer).bounds(layer, envOf(livery, sources, 'face'))!;
      for (let i = 0; i < 128 * 128; i++) {
        const [x, y] = [i % 128, i >> 7];
        if (x + 1 < box.left || x > box.right || y + 1 < box.top || y > box.bottom)
          expect(image.data[i * 4 + 3]).toBe(0);
      }
    }
  });
});

describe('a decal of a drawing', () => {
  const svg = new TextEncoder().encode(
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10"><rect width="10" height="10" fill="#aa0000"/><circle cx="5" cy="5" r="2" fill="#00bb00"/></svg>',
  );
  const drawing = (recolour: object[] = []) =>
    layerOf('decal', {
      blob: HASH,
      source: 'svg',
      ratio: 1,
      keepRatio: true,
      x: 64,
      y: 64,
      width: 60,
      height: 60,
      turn: 0,
      mirrored: false,
      recolour,
    });

  test('is drawn sharp, and its flat colours are replaced from the scheme', async () => {
    const plain = await draw([drawing()], new Map([[HASH, svg]]));
    expect(plain.at(40, 40)).toEqual([170, 0, 0, 255]);
    expect(plain.at(64, 64)).toEqual([0, 187, 0, 255]);
    const painted = await draw([drawing([{ from: '#aa0000', to: { scheme: 'blue' } }])], new Map([[HASH, svg]]));
    expect(painted.at(40, 40)).toEqual([0, 0, 255, 255]);
    expect(painted.at(64, 64)).toEqual([0, 187, 0, 255]);
  });

  test('is rasterised at the power of two that its placement asks for, within bounds', () => {
    expect([10, 64, 65, 500, 9000].map((side) => rasterSide({ width: side, height: side / 2 }))).toEqual([
      64, 64, 128, 512, 4096,
    ]);
  });
});

describe('lettering', () => {
  const text = (rest: object) =>
    layerOf('lettering', {
      text: 'L',
      font: 'anton',
      size: 60,
      x: 64,
      y: 64,
      turn: 0,
      paint: { scheme: 'red' },
      outline: null,
      spacing: 0,
      slant: 0,
      mirrored: false,
      ...rest,
    });
  /** Ink left of the middle minus ink right of it. */
  const lean = (image: { data: Uint8Array }) =>
    image.data.reduce((n, v, i) => (i % 4 === 3 ? n + ((i >> 2) % 128 < 64 ? v : -v) : n), 0);

  test('mirrored it is its own mirror picture about its middle', async () => {
    const [plain, mirrored] = [await draw([text({})]), await draw([text({ mirrored: true })])];
    expect(lean(plain.image)).toBeGreaterThan(0);
    // But for the dither, whose pattern is not mirrored with it.
    expect(Math.abs(lean(mirrored.image) + lean(plain.image))).toBeLessThan(200);
    expect(mirrored.area()).toBeCloseTo(plain.area(), 0);
  });

  test('a turn by half a circle is upside down, with the same ink', async () => {
    const [plain, turned] = [await draw([text({})]), await draw([text({ turn: 180 })])];
    for (const [x, y] of [
      [52, 50],
      [70, 88],
      [60, 90],
    ])
      expect(Math.abs(turned.at(127 - x, 127 - y)[3] - plain.at(x, y)[3])).toBeLessThanOrEqual(2);
  });

  test('an outline lies round the fill, as wide as it says', async () => {
    const { at, area } = await draw([text({ outline: { paint: { scheme: 'blue' }, width: 6 } })]);
    const plain = await draw([text({})]);
    expect(area()).toBeGreaterThan(plain.area() * 1.4);
    const row = Array.from({ length: 128 }, (_, x) => at(x, 60));
    const firstInk = row.findIndex((c) => c[3] > 127);
    const firstFill = row.findIndex((c) => c[0] > 127 && c[3] > 127);
    expect(row[firstInk][2]).toBeGreaterThan(200);
    expect(Math.abs(firstFill - firstInk - 6)).toBeLessThanOrEqual(1);
  });

  test('an empty text draws nothing', async () => {
    expect((await draw([text({ text: '' })])).area()).toBe(0);
  });
});

describe('fades', () => {
  const stops = [
    { at: 0, paint: { hex: '#ff0000' }, opacity: 100 },
    { at: 0.5, paint: { hex: '#00ff00' }, opacity: 100 },
    { at: 1, paint: { hex: '#0000ff' }, opacity: 0 },
  ];

  test('radial: the same at the same distance, in every direction', async () => {
    const { livery, sources } = await draw([
      layerOf('fade', { shape: 'radial', x: 64, y: 64, length: 60, angle: 0, stops }),
    ]);
    const tile = renderRegion(livery, 'face', 'colour', { x: 0, y: 0, ...size, step: 1 }, sources);
    const at = (x: number, y: number) => [...tile.subarray((y * 128 + x) * 4, (y * 128 + x) * 4 + 4)];
    for (const d of [5, 20, 45])
      for (const [x, y] of [
        [63 - d, 63],
        [64 + d, 64],
        [63, 64 + d],
        [64, 63 - d],
      ])
        at(x, y).forEach((v, c) => expect(Math.abs(v - at(63 - d, 63)[c])).toBeLessThan(40));
  });

  test('any number of stops, in the order of their places whatever the order they are kept in', async () => {
    const fade = (list: typeof stops) =>
      draw([layerOf('fade', { shape: 'linear', x: 0, y: 0, length: 128, angle: 0, stops: list })]);
    const [one, two] = [await fade(stops), await fade([stops[2], stops[0], stops[1]])];
    expect(Buffer.compare(Buffer.from(one.image.data), Buffer.from(two.image.data))).toBe(0);
    expect(one.at(64, 10)[1]).toBeGreaterThan(250);
    expect(one.at(127, 10)[3]).toBeLessThan(6);
    expect(one.at(96, 10)[3]).toBeGreaterThan(110);
  });

  test('before its beginning it is its first stop, and turned by 90 degrees it runs down', async () => {
    const { at } = await draw([layerOf('fade', { shape: 'linear', x: 64, y: 64, length: 32, angle: 90, stops })]);
    expect(at(5, 10)).toEqual([255, 0, 0, 255]);
    expect(at(120, 10)).toEqual([255, 0, 0, 255]);
    expect(at(64, 120)[3]).toBe(0);
  });
});

describe('stripes', () => {
  const stripe = (rest: object) =>
    layerOf('stripe', { paint: { scheme: 'red' }, x: 64, y: 64, angle: 0, width: 20, softness: 0, ...rest });

  test('a soft edge spreads over its texels and keeps the area', async () => {
    const hard = await draw([stripe({})]);
    const soft = await draw([stripe({ softness: 12 })]);
    expect(soft.area() / hard.area()).toBeCloseTo(1, 2);
    expect(soft.at(64, 54)[3]).toBeGreaterThan(100);
    expect(soft.at(64, 54)[3]).toBeLessThan(160);
    expect(soft.at(64, 64)[3]).toBe(255);
    expect(soft.at(64, 46)[3]).toBe(0);
  });

  test('the same stripe at an angle of 180 degrees more is the same stripe', async () => {
    const [a, b] = [await draw([stripe({ angle: 33 })]), await draw([stripe({ angle: 213 })])];
    for (let i = 0; i < a.image.data.length; i++)
      expect(Math.abs(a.image.data[i] - b.image.data[i])).toBeLessThanOrEqual(1);
  });

  test('a hair line thinner than a texel covers its share', async () => {
    const { area } = await draw([stripe({ width: 0.25, y: 64.5 })]);
    expect(area()).toBeCloseTo(0.25 * 128, 0);
  });
});

/** Layers without bounds at random places: stripes, sets of them, fades and half-tones. */
function anyBroad(random: () => number): DrawnLayer {
  const angle = random() < 0.2 ? Math.floor(random() * 4) * 90 : random() * 360;
  const at = { x: random() * 128, y: random() * 128, angle };
  const paint = { scheme: 'red' };
  const softness = random() < 0.5 ? 0 : random() * 30;
  const length = 5 + random() * 60;
  const stops = [
    { at: 0, paint, opacity: 100 },
    { at: 1, paint, opacity: random() < 0.5 ? 0 : 40 },
  ];
  switch (Math.floor(random() * 5)) {
    case 0:
      return layerOf('stripe', { ...at, softness, paint, width: 1 + random() * 90 }) as DrawnLayer;
    case 1:
      return layerOf('stripe-set', {
        ...at,
        softness: softness / 3,
        paints: [paint],
        width: 1 + random() * 60,
        gap: random() * 9,
        count: 3,
      }) as DrawnLayer;
    case 2:
      return layerOf('fade', { ...at, shape: 'linear', length, stops }) as DrawnLayer;
    case 3:
      return layerOf('fade', { ...at, shape: 'radial', length, stops }) as DrawnLayer;
    default:
      return layerOf('halftone', { ...at, paint, length, pitch: 4 + random() * 20 }) as DrawnLayer;
  }
}

test('what a layer says of a region before drawing is so: that it does not reach it, or that it has one texel all over', () => {
  const random = randomFrom(12);
  const env = {
    colour: () => [255, 0, 0] as const,
    particulars: {},
    picture: () => null as never,
    image: () => null as never,
    font: () => null as never,
    stroke: () => null as never,
    surface: () => null as never,
    field: () => null as never,
  };
  const passedOver = new Set<string>();
  const even = new Set<string>();
  let told = 0;
  for (let k = 0; k < 2000; k++) {
    const layer = anyBroad(random);
    const region = {
      x: Math.floor(random() * 100),
      y: Math.floor(random() * 100),
      width: 16,
      height: 16,
      step: random() < 0.5 ? 1 : 4,
    };
    const kind = kindOf(layer);
    const unreached = kind.reaches?.(layer, region) === false;
    const texel = kind.uniform?.(layer, region, env);
    if (!unreached && !texel) continue;
    const out = new Uint16Array(16 * 16 * 4);
    kind.draw(layer, region, env, out);
    const wanted = unreached ? [0, 0, 0, 0] : texel!;
    for (let i = 0; i < out.length; i++)
      if (out[i] !== wanted[i & 3]) expect([layer, region, i, out[i]]).toEqual(wanted);
    (unreached ? passedOver : even).add(layer.kind);
    told++;
  }
  expect(told).toBeGreaterThan(400);
  expect([...passedOver].sort()).toEqual(['halftone', 'stripe', 'stripe-set']);
  expect([...even].sort()).toEqual(['fade', 'halftone', 'stripe', 'stripe-set']);
});

test('a chequer with both paints leaves no seam between its cells, at any angle', async () => {
  const { livery, sources } = await draw([
    layerOf('chequer', {
      paint: { scheme: 'red' },
      other: { scheme: 'blue' },
      x: 64,
      y: 64,
      angle: 27,
      cell: 12,
      columns: 9,
      rows: 9,
    }),
  ]);
  const tile = renderRegion(livery, 'face', 'colour', { x: 44, y: 44, width: 40, height: 40, step: 1 }, sources);
  for (let i = 3; i < tile.length; i += 4) expect(tile[i]).toBeGreaterThan(65000);
});

test('drawn at a coarser step a layer looks like its own average', async () => {
  const layers = [
    layerOf('solid', { paint: { hex: '#e0e0d0' } }),
    layerOf('stripe', { paint: { scheme: 'red' }, x: 64, y: 64, angle: 20, width: 30, softness: 0 }),
    decal({ turn: 15 }),
  ];
  const { livery, sources } = await draw(layers, pixels);
  const fine = renderRegion(livery, 'face', 'colour', { x: 0, y: 0, ...size, step: 1 }, sources);
  const coarse = renderRegion(livery, 'face', 'colour', { x: 0, y: 0, width: 64, height: 64, step: 2 }, sources);
  const averaged = halve16(fine, 128, 128);
  let sum = 0;
  for (let i = 0; i < coarse.length; i++) sum += Math.abs(coarse[i] - averaged[i]) / 257;
  expect(sum / coarse.length).toBeLessThan(1);
});

describe('the 16-bit intermediate', () => {
  test('every 8-bit value comes out as it went in, at every place of the dither', () => {
    for (let v = 0; v < 256; v++) {
      const tile = new Uint16Array(64 * 4).fill(v * 257);
      for (let i = 3; i < tile.length; i += 4) tile[i] = 65535;
      const out = toStraight8(tile, 8, 8, 3, 5);
      for (let i = 0; i < out.length; i += 4) expect(out[i]).toBe(v);
    }
  });

  test('straight colour comes back from any alpha of at least a sixteenth', () => {
    const random = randomFrom(4);
    for (let k = 0; k < 500; k++) {
      const [r, a] = [Math.floor(random() * 256), 16 + Math.floor(random() * 240)];
      const { levels } = pictureOf(picture(1, 1, () => [r, 0, 0, a]));
      const out = toStraight8(levels[0].data, 1, 1, k % 8, (k >> 3) % 8);
      expect(Math.abs(out[0] - r)).toBeLessThanOrEqual(1);
      expect(out[3]).toBe(a);
    }
  });

  test('halvings of a picture keep its mean, and a sample in the middle of a texel is that texel', () => {
    const image = picture(8, 8, (x, y) => [x * 30, y * 30, 100, 255]);
    const p = pictureOf(image);
    expect(p.levels.map((level) => level.width)).toEqual([8, 4, 2, 1]);
    expect(p.levels[3].data[0] / 257).toBeCloseTo(105, 0);
    const out = new Float64Array(4);
    samplePicture(p, 0, 2.5 / 8, 6.5 / 8, out);
    expect([out[0] / 257, out[1] / 257]).toEqual([60, 180]);
  });
});

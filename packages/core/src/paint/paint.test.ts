import { describe, expect, test } from 'vitest';
import { zlibSync } from 'fflate';
import { TILE } from '../raster/image.ts';
import { combine, emptyCoverage, grow, invert, selectLike, tilesOf } from '../raster/selection.ts';
import { randomFrom } from '../testing/images.ts';
import { Brush, BRUSHES } from './brush.ts';
import { normalise, shiftedTile } from './clone.ts';
import { putStroke } from '../layers/brush/draw.ts';
import { spreadPatches } from './drawStrokes.ts';
import { StrokeMaker, type PointerPoint, type StrokeRules } from './strokeMaker.ts';
import { joinStrokes, packStroke, packTiles, splitStrokes, TILE_COLUMNS, tileNumber, unpackStroke } from './strokes.ts';

const at = (x: number, y: number, pressure = 1): PointerPoint => ({ x, y, pressure, tiltX: 0, tiltY: 0 });
const hard = Brush.parse({ ...BRUSHES[0], pressureSize: 0, smoothing: 0 });
const rules: StrokeRules = { width: 1024, height: 1024, seed: 7 };

/** Coverage of a finished stroke over the whole sheet, 0..1. */
function painted(brush: Brush, points: readonly PointerPoint[], more: Partial<StrokeRules> = {}): Float64Array {
  const maker = new StrokeMaker(brush, { ...rules, ...more });
  for (const point of points) maker.to(point);
  maker.end(points.at(-1) ?? null);
  maker.changed();
  const out = new Float64Array(1024 * 1024);
  for (const [number, tile] of maker.tiles) {
    const [left, top] = [(number % TILE_COLUMNS) * TILE, Math.floor(number / TILE_COLUMNS) * TILE];
    for (let i = 0; i < tile.length; i++)
      out[(top + Math.floor(i / TILE)) * 1024 + left + (i % TILE)] = tile[i] / 65535;
  }
  return out;
}
const sum = (values: Float64Array) => values.reduce((a, b) => a + b, 0);

describe('a brush', () => {
  test.each([3, 8, 20, 75, 300])('a hard round dab of %i texels covers the area of its circle', (size) => {
    const area = sum(painted({ ...hard, size }, [at(500.25, 400.5)]));
    expect(Math.abs(area / (Math.PI * (size / 2) ** 2) - 1)).toBeLessThan(size < 5 ? 0.08 : 0.02);
  });

  test('a round dab is the same on both sides of its point, above and below it, and however it is turned', () => {
    const brush = { ...hard, size: 301, hardness: 40 };
    const values = painted(brush, [at(512, 512)]);
    const turned = painted({ ...brush, angle: 37 }, [at(512, 512)]);
    let uneven = 0;
    for (let y = 0; y < 512; y++)
      for (let x = 0; x < 512; x++) {
        const of = [
          y * 1024 + x,
          y * 1024 + 1023 - x,
          (1023 - y) * 1024 + x,
          (1023 - y) * 1024 + 1023 - x,
          x * 1024 + y,
        ];
        if (new Set([...of.map((i) => values[i]), turned[of[0]]]).size > 1) uneven++;
      }
    expect(uneven).toBe(0);
  });

  test('a straight stroke covers its length times its width and a dab’s two halves, over the edges of tiles', () => {
    const area = sum(painted({ ...hard, size: 30, spacing: 4 }, [at(200, 250), at(700, 260)]));
    const expected = Math.hypot(500, 10) * 30 + Math.PI * 15 ** 2;
    expect(Math.abs(area / expected - 1)).toBeLessThan(0.02);
  });

  test('many reports of the pointer make the stroke that one long one makes', () => {
    const brush = { ...hard, size: 24, hardness: 30, flow: 40 };
    const one = painted(brush, [at(100, 100), at(400, 300)]);
    const many = painted(
      brush,
      Array.from({ length: 61 }, (_, k) => at(100 + 5 * k, 100 + (10 / 3) * k)),
    );
    let worst = 0;
    for (let i = 0; i < one.length; i++) worst = Math.max(worst, Math.abs(one[i] - many[i]));
    expect(worst).toBeLessThan(0.06);
  });

  test('a soft brush of one percent flow does not stall: it gets to full', () => {
    const brush = { ...hard, size: 60, hardness: 0, flow: 1, spacing: 2 };
    const there = Array.from({ length: 900 }, (_, k) => at(500 + (k % 2) * 12, 500));
    const values = painted(brush, there);
    expect(values[500 * 1024 + 506]).toBeGreaterThan(0.995);
  });

  test('pressure rules the size, bent by its curve', () => {
    const brush = { ...hard, size: 40, pressureSize: 100 };
    const area = (pressure: number, curve: number) => sum(painted({ ...brush, curve }, [at(500, 500, pressure)]));
    expect(area(0.5, 1) / area(1, 1)).toBeCloseTo(0.25, 1);
    expect(area(0.5, 2) / area(1, 1)).toBeCloseTo(0.0625, 1);
  });

  test('whole texels only: nothing is half covered, and a stroke one texel wide hangs together', () => {
    const values = painted(
      BRUSHES.find(({ pixel }) => pixel)!,
      [at(10.5, 10.5), at(40.5, 22.5)],
    );
    expect([...new Set(values)].sort()).toEqual([0, 1]);
    for (let x = 10; x <= 40; x++)
      expect(Array.from({ length: 40 }, (_, y) => values[y * 1024 + x]).some((v) => v === 1)).toBe(true);
  });

  test('across the axis a stroke is its own mirror image', () => {
    const values = painted({ ...hard, size: 33, hardness: 20 }, [at(300.25, 200), at(420.5, 333.3)], {
      symmetry: { kind: 'axis', at: 512, across: 'x' },
    });
    let [covered, worst] = [0, 0];
    for (let y = 0; y < 1024; y++)
      for (let x = 0; x < 512; x++) {
        covered += values[y * 1024 + x];
        worst = Math.max(worst, Math.abs(values[y * 1024 + x] - values[y * 1024 + 1023 - x]));
      }
    expect(worst).toBeLessThan(0.05);
    expect(covered).toBeGreaterThan(1000);
  });

  test('within a cell what leaves on one side comes in on the other, and the neighbours stay clean', () => {
    const cell = { left: 256, top: 256, right: 512, bottom: 512 };
    const values = painted({ ...hard, size: 40 }, [at(510, 300)], { wrap: cell });
    expect(values[300 * 1024 + 260]).toBe(1);
    const outside = values.filter((_, i) => {
      const [x, y] = [i % 1024, Math.floor(i / 1024)];
      return x < 256 || x >= 512 || y < 256 || y >= 512;
    });
    expect(sum(outside)).toBe(0);
    expect(sum(values)).toBeCloseTo(Math.PI * 400, -1.5);
  });

  test('a selection lets through its share and nothing else', () => {
    const half = new Uint16Array(TILE * TILE).fill(32768);
    const values = painted({ ...hard, size: 100 }, [at(256, 128)], {
      limit: (tile) => (tile === tileNumber(0, 0) ? half : null),
    });
    expect(values[128 * 1024 + 240]).toBeCloseTo(0.5, 3);
    expect(values[128 * 1024 + 270]).toBe(0);
  });

  test('every shipped brush is one, and paints', () => {
    for (const brush of BRUSHES) {
      expect(Brush.parse(brush)).toEqual(brush);
      expect(sum(painted(brush, [at(500, 500), at(560, 520)]))).toBeGreaterThan(brush.pixel ? 20 : 100);
    }
  });
});

describe('stored strokes', () => {
  const random = randomFrom(11);
  const tiles = new Map(
    [3, 70, 4095].map((n) => [
      n,
      Uint16Array.from({ length: TILE * TILE }, (_, i) => (i % 97 === n % 97 ? random() * 65535 : 0)),
    ]),
  );

  test.each([1, 4] as const)('%i channels come back to the bit, in the boxes that they touch', (channels) => {
    const wide =
      channels === 1
        ? tiles
        : new Map([...tiles].map(([n, t]) => [n, Uint16Array.from({ length: t.length * 4 }, (_, i) => t[i >> 2])]));
    const packed = packTiles(wide, channels)!;
    expect(packed.tiles).toEqual([3, 70, 4095]);
    const back = unpackStroke(packed.bytes, 3);
    expect(back.channels).toBe(channels);
    packed.tiles.forEach((number, k) => {
      const out = new Uint16Array(TILE * TILE * channels);
      const region = { x: (number % 64) * TILE, y: Math.floor(number / 64) * TILE, width: TILE, height: TILE, step: 1 };
      spreadPatches({ channels, patches: [back.patches[k]] }, [number], region, out);
      expect(Buffer.compare(new Uint8Array(out.buffer), new Uint8Array(wide.get(number)!.buffer))).toBe(0);
    });
  });

  test.each([1, 3, 4, 300])(
    'put on a picture, in part or whole, it is coverage averaged over %i texels and source-over',
    (step) => {
      for (let round = 0; round < 8; round++) {
        // Two boxes on neighbouring tiles, and a region anywhere near them.
        const values = (n: number) => Uint16Array.from({ length: n }, () => (random() < 0.3 ? 0 : random() * 65536));
        const patches = [0, 1].map(() => {
          const [left, top] = [Math.floor(random() * 200), Math.floor(random() * 200)];
          const [width, height] = [1 + Math.floor(random() * 56), 1 + Math.floor(random() * 56)];
          return { left, top, width, height, values: values(width * height) };
        });
        const numbers = [tileNumber(1, 1), tileNumber(2, 1)];
        const region = {
          x: Math.floor(random() * 400) - 40,
          y: Math.floor(random() * 300) - 40,
          width: 1 + Math.floor(random() * (step > 100 ? 2 : 70)),
          height: 1 + Math.floor(random() * (step > 100 ? 2 : 70)),
          step,
        };
        const coverageAt = (x: number, y: number) => {
          for (const [k, { left, top, width, height, values: of }] of patches.entries()) {
            const [px, py] = [x - 256 * (k + 1) - left, y - 256 - top];
            if (px >= 0 && py >= 0 && px < width && py < height) return of[py * width + px];
          }
          return 0;
        };
        const before = values(region.width * region.height * 4);
        for (let i = 0; i < before.length; i++) if (before[i] > before[i | 3]) before[i] = before[i | 3];
        const stroke = {
          id: 's',
          how: 'paint',
          paint: { hex: '#c08040' },
          opacity: 70,
          blob: '',
          tiles: numbers,
        } as const;
        const env = { stroke: () => ({ channels: 1 as const, patches }), colour: () => [192, 128, 64] as const };
        const out = before.slice();
        putStroke(stroke as never, region, env as never, out);
        let [worst, stray] = [0, 0];
        for (let y = 0, i = 0; y < region.height; y++)
          for (let x = 0; x < region.width; x++, i += 4) {
            let sum = 0;
            for (let dy = 0; dy < step; dy++)
              for (let dx = 0; dx < step; dx++) sum += coverageAt(region.x + x * step + dx, region.y + y * step + dy);
            const alpha = (sum / step / step / 65535) * 0.7;
            [192, 128, 64, 255].forEach((colour, c) => {
              const wanted = (colour / 255) * alpha * 65535 + before[i + c] * (1 - alpha);
              worst = Math.max(worst, Math.abs(out[i + c] - wanted));
            });
            if (sum === 0 && out.subarray(i, i + 4).some((v, c) => v !== before[i + c])) stray++;
          }
        // Three roundings of half a unit each, and one of the share.
        expect(worst).toBeLessThan(3);
        expect(stray).toBe(0);
      }
    },
  );

  test('a dab of a brush takes a few kilobytes, and an empty stroke nothing', () => {
    const maker = new StrokeMaker(hard, rules);
    maker.to(at(500, 500));
    expect(packTiles(maker.tiles, 1)!.bytes.length).toBeLessThan(1500);
    expect(packTiles(new Map(), 1)).toBeNull();
  });

  test('damaged ones are refused in a sentence, and declared sizes cost no memory', () => {
    const { bytes } = packTiles(tiles, 1)!;
    for (let k = 0; k < 300; k++) {
      const damaged = bytes.slice(0, random() < 0.4 ? Math.floor(random() * bytes.length) : undefined);
      for (let n = 0; n < 3 && damaged.length > 0; n++)
        damaged[Math.floor(random() * Math.min(damaged.length, 60))] = random() * 256;
      try {
        unpackStroke(damaged, 3);
      } catch (error) {
        expect((error as Error).message).toMatch(/stored stroke/);
      }
    }
    const huge = new Uint8Array(12 + 8 * 4096);
    const view = new DataView(huge.buffer);
    view.setUint32(0, 0x32584c57, true);
    view.setUint32(4, 4, true);
    view.setUint32(8, 4096, true);
    for (let i = 0; i < 4096; i++) {
      view.setUint16(12 + i * 8 + 4, 256, true);
      view.setUint16(12 + i * 8 + 6, 256, true);
    }
    expect(() => unpackStroke(huge, 4096)).toThrow('more than it can');
    const reaching = packStroke({
      channels: 1,
      patches: [{ left: 200, top: 0, width: 100, height: 1, values: new Uint16Array(100) }],
    });
    expect(() => unpackStroke(reaching, 1)).toThrow('reaches out');
    expect(() => unpackStroke(zlibSync(new Uint8Array(40)), 1)).toThrow('not a stored stroke');
  });
});

describe('clone', () => {
  test('a tile’s source is the composite moved by whole texels, from up to four tiles', () => {
    const source = (tx: number, ty: number) =>
      tx < 0 || ty < 0
        ? null
        : Uint16Array.from(
            { length: TILE * TILE * 4 },
            (_, i) => (tx * TILE + ((i >> 2) % TILE)) * 8 + ty * TILE + Math.floor((i >> 2) / TILE),
          );
    const out = shiftedTile(tileNumber(1, 1), 100, 30, source);
    for (const [x, y] of [
      [0, 0],
      [99, 10],
      [100, 29],
      [255, 255],
    ])
      expect(out[(y * TILE + x) * 4]).toBe((TILE + x - 100) * 8 + TILE + y - 30);
    expect(shiftedTile(0, 300, 0, source).every((v) => v === 0)).toBe(true);
  });

  test('directions in a normal map come out of length one', () => {
    const random = randomFrom(3);
    const texels = Uint16Array.from({ length: 400 }, (_, i) => (i % 4 === 3 ? 65535 : random() * 65535));
    normalise(texels);
    for (let i = 0; i < texels.length; i += 4) {
      const n = [0, 1, 2].map((c) => (texels[i + c] / 65535) * 2 - 1);
      expect(Math.hypot(...n)).toBeCloseTo(1, 3);
    }
  });
});

describe('regions', () => {
  const disc = (radius: number) => {
    const region = emptyCoverage(120, 100);
    for (let y = 0; y < 100; y++)
      for (let x = 0; x < 120; x++) if (Math.hypot(x - 60, y - 50) <= radius) region.data[y * 120 + x] = 255;
    return region;
  };
  const area = (region: { data: Uint8Array }) => region.data.reduce((a, b) => a + b, 0) / 255;

  test('grown by six a disc of ten is one of sixteen, and shrunk again it is what it was', () => {
    const region = disc(10);
    grow(region, 6);
    expect(Math.abs(area(region) / (Math.PI * 16 ** 2) - 1)).toBeLessThan(0.03);
    grow(region, -6);
    expect(Math.abs(area(region) / area(disc(10)) - 1)).toBeLessThan(0.06);
  });

  test('added, taken away, intersected and turned round like sets', () => {
    const [a, b] = [disc(20), disc(10)];
    const outcome = (how: 'add' | 'take away' | 'intersect') => {
      const region = { ...a, data: a.data.slice() };
      combine(region, b, how);
      return area(region);
    };
    expect(outcome('add')).toBe(area(a));
    expect(outcome('intersect')).toBe(area(b));
    expect(outcome('take away')).toBe(area(a) - area(b));
    const turned = { ...a, data: a.data.slice() };
    invert(turned);
    expect(area(turned)).toBe(120 * 100 - area(a));
  });

  test('like a colour: what hangs together, or everywhere', () => {
    const picture = ['aabaa', 'abbba', 'aabaa', 'bbbbb', 'aaaaa'].join('');
    const near = (i: number) => (picture[i] === 'a' ? 1 : 0);
    const all = selectLike(5, 5, [0], near, false);
    expect(area(all)).toBe([...picture].filter((c) => c === 'a').length);
    expect(area(selectLike(5, 5, [0], near, true))).toBe(5);
    expect(area(selectLike(5, 5, [20], near, true))).toBe(5);
  });

  test('kept by tiles nothing of a region is lost', () => {
    const region = emptyCoverage(300, 280);
    region.data[279 * 300 + 299] = 200;
    region.data[0] = 255;
    const tiles = tilesOf(region, TILE_COLUMNS);
    expect([...tiles.keys()]).toEqual([0, tileNumber(1, 1)]);
    expect(tiles.get(tileNumber(1, 1))![(279 - 256) * TILE + 299 - 256]).toBe(200 * 257);
  });
});

test('strokes joined into one piece come apart again, and a piece that is cut off is refused', () => {
  const strokes = [new Uint8Array(0), Uint8Array.of(1, 2, 3), new Uint8Array(300).fill(7)];
  const joined = joinStrokes(strokes);
  expect(splitStrokes(joined).map((bytes) => [...bytes])).toEqual(strokes.map((bytes) => [...bytes]));
  expect(splitStrokes(new Uint8Array(0))).toEqual([]);
  for (const end of [2, 9, joined.length - 1])
    expect(() => splitStrokes(joined.subarray(0, end))).toThrow('These strokes are cut off.');
});

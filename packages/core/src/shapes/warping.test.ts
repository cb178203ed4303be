/** Warps against places worked out by hand, against the definition of a projection, and against an independent program (ImageMagick). */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { PNG } from 'pngjs';
import { describe, expect, test } from 'vitest';
import { renderSheet } from '../compose/renderSheet.ts';
import { Warp, straightWarp } from '../livery/warp.ts';
import { layerOf, NO_HASH, smallLivery, smallTemplate } from '../testing/scenes.ts';
import { pictureOf } from '../raster/picture.ts';
import { randomFrom } from '../testing/images.ts';
import { inverseOf, projectionTo, sourcesOf, warpBox } from './warping.ts';

const grid = (side: number) => ({
  x: 0.5 / side,
  y: 0.5 / side,
  along: { x: 1 / side, y: 0 },
  down: { x: 0, y: 1 / side },
  width: side,
  height: side,
});
const QUAD = [
  { x: 0.1, y: 0.2 },
  { x: 0.9, y: 0.05 },
  { x: 1, y: 0.8 },
  { x: 0, y: 0.95 },
];

describe('perspective', () => {
  test('takes the corners of the square to the four points, and back', () => {
    const there = projectionTo(QUAD);
    const back = inverseOf(there);
    const through = ([a, b, c, d, e, f, g, h, i]: typeof there, x: number, y: number) => {
      const w = g * x + h * y + i;
      return [(a * x + b * y + c) / w, (d * x + e * y + f) / w];
    };
    [
      [0, 0],
      [1, 0],
      [1, 1],
      [0, 1],
      [0.3, 0.7],
    ].forEach(([x, y], k) => {
      const [px, py] = through(there, x, y);
      if (k < 4) {
        expect(px).toBeCloseTo(QUAD[k].x, 12);
        expect(py).toBeCloseTo(QUAD[k].y, 12);
      }
      const [u, v] = through(back, px, py);
      expect(u).toBeCloseTo(x, 12);
      expect(v).toBeCloseTo(y, 12);
    });
  });

  // What the diagonals of a rectangle cross in is its middle, and so it is in perspective: projections keep straight lines and crossings.
  test('the middle lies where the diagonals cross', () => {
    const [a, b, c, d] = QUAD;
    const t =
      ((b.x - a.x) * (d.y - b.y) - (b.y - a.y) * (d.x - b.x)) / ((c.x - a.x) * (d.y - b.y) - (c.y - a.y) * (d.x - b.x));
    const x = a.x + t * (c.x - a.x);
    const y = a.y + t * (c.y - a.y);
    const { u, v } = sourcesOf({ kind: 'perspective', points: QUAD }, { ...grid(1), x, y });
    expect(u[0]).toBeCloseTo(0.5, 9);
    expect(v[0]).toBeCloseTo(0.5, 9);
  });

  test('corners that cross or are hollow are refused in one sentence', () => {
    const crossed = [QUAD[0], QUAD[2], QUAD[1], QUAD[3]];
    const hollow = [QUAD[0], QUAD[1], { x: 0.3, y: 0.3 }, QUAD[3]];
    for (const points of [crossed, hollow]) {
      const answer = Warp.safeParse({ kind: 'perspective', points });
      expect(answer.error?.issues[0].message).toMatch(/^Four corners in perspective cannot cross/);
    }
    expect(Warp.safeParse({ kind: 'perspective', points: QUAD }).success).toBe(true);
  });
});

describe('a bent net', () => {
  test('that is straight leaves everything where it is', () => {
    const { u, v } = sourcesOf(straightWarp('bent'), grid(16));
    for (let k = 0; k < 256; k++) {
      expect(u[k]).toBeCloseTo(((k % 16) + 0.5) / 16, 9);
      expect(v[k]).toBeCloseTo((Math.floor(k / 16) + 0.5) / 16, 9);
    }
  });

  test('runs through its points, and has no holes', () => {
    const random = randomFrom(5);
    const points = straightWarp('bent').points.map(({ x, y }) => ({
      x: x + (random() - 0.5) * 0.15,
      y: y + (random() - 0.5) * 0.15,
    }));
    const warp = { kind: 'bent' as const, points };
    points.forEach((point, k) => {
      const { u, v } = sourcesOf(warp, { ...grid(1), x: point.x, y: point.y });
      expect(u[0]).toBeCloseTo((k % 4) / 3, 6);
      expect(v[0]).toBeCloseTo(Math.floor(k / 4) / 3, 6);
    });
    const { u } = sourcesOf(warp, {
      ...grid(80),
      x: 0.2,
      y: 0.2,
      along: { x: 0.6 / 80, y: 0 },
      down: { x: 0, y: 0.6 / 80 },
    });
    expect(u.some(Number.isNaN)).toBe(false);
    const box = warpBox(warp);
    expect(box.left).toBeLessThanOrEqual(Math.min(...points.map(({ x }) => x)) + 1e-9);
  });
});

describe('a mark', () => {
  const SIDE = 128;
  /** Soft blobs of colour: nothing in it is finer than what both programs sample. */
  const art = { width: 64, height: 64, data: new Uint8Array(64 * 64 * 4) };
  for (let y = 0; y < 64; y++)
    for (let x = 0; x < 64; x++) {
      const o = (y * 64 + x) * 4;
      art.data.set(
        [128 + 100 * Math.sin(x / 9), 128 + 100 * Math.cos(y / 11), 128 + 90 * Math.sin((x + y) / 13), 255],
        o,
      );
    }
  const template = smallTemplate(SIDE);
  const draw = (more: Record<string, unknown>, width = SIDE) => {
    const layer = layerOf('decal', {
      ...{ blob: NO_HASH, source: 'pixels', ratio: 1, keepRatio: false, mirrored: false, recolour: [], turn: 0 },
      ...{ x: SIDE / 2, y: SIDE / 2, width, height: width },
      ...more,
    });
    const picture = pictureOf(art);
    const sources = {
      picture: () => picture,
      placesBox: () => null,
      holds: () => 'colour',
      derives: () => null,
      boxes: () => [],
    } as never;
    return renderSheet(smallLivery([layer], template), 'face', 'colour', { width: SIDE, height: SIDE }, sources);
  };

  test('that is warped into its own box is drawn as one that is not warped', () => {
    const plain = draw({ turn: 20 }, 80);
    for (const kind of ['perspective', 'bent'] as const) {
      const warped = draw({ turn: 20, warp: straightWarp(kind) }, 80);
      let most = 0;
      let sum = 0;
      for (let i = 0; i < plain.data.length; i++) {
        const apart = Math.abs(plain.data[i] - warped.data[i]);
        most = Math.max(most, apart);
        sum += apart;
      }
      expect(most).toBeLessThan(2);
      expect(sum / plain.data.length).toBeLessThan(0.01);
    }
  });

  test('mirrored, its warp is mirrored with it', () => {
    const warp = { kind: 'perspective', points: QUAD };
    const [one, other] = [draw({ warp }), draw({ warp, mirrored: true })];
    let apart = 0;
    for (let y = 0; y < SIDE; y++)
      for (let x = 0; x < SIDE; x++)
        for (let c = 0; c < 4; c++)
          apart = Math.max(
            apart,
            Math.abs(one.data[(y * SIDE + x) * 4 + c] - other.data[(y * SIDE + SIDE - 1 - x) * 4 + c]),
          );
    // Places left and right of the middle are dithered differently.
    expect(apart).toBeLessThan(4);
  });

  test('in perspective is what ImageMagick makes of the same corners', () => {
    const folder = mkdtempSync(path.join(os.tmpdir(), 'wl-warp-'));
    const [from, to] = [path.join(folder, 'from.png'), path.join(folder, 'to.png')];
    const png = new PNG({ width: 64, height: 64 });
    png.data = Buffer.from(art.data);
    writeFileSync(from, PNG.sync.write(png));
    const corners = [
      [0, 0],
      [64, 0],
      [64, 64],
      [0, 64],
    ];
    const pairs = corners.map(([x, y], k) => `${x},${y} ${QUAD[k].x * SIDE},${QUAD[k].y * SIDE}`).join(' ');
    execFileSync('convert', [
      ...[from, '-virtual-pixel', 'transparent', '-filter', 'point', '-interpolate', 'bilinear'],
      ...[
        '-define',
        `distort:viewport=${SIDE}x${SIDE}+0+0`,
        '+repage',
        '-distort',
        'Perspective',
        pairs,
        `PNG32:${to}`,
      ],
    ]);
    const theirs = PNG.sync.read(readFileSync(to));
    const ours = draw({ warp: { kind: 'perspective', points: QUAD } });
    let [inside, sum] = [0, 0];
    for (let i = 0; i < ours.data.length; i += 4) {
      if (ours.data[i + 3] < 255 || theirs.data[i + 3] < 255) continue;
      inside++;
      for (let c = 0; c < 3; c++) sum += Math.abs(ours.data[i + c] - theirs.data[i + c]);
    }
    // The area of the four corners, less its edge.
    expect(inside).toBeGreaterThan(SIDE * SIDE * 0.6);
    expect(sum / inside / 3).toBeLessThan(1.5);
  });
});

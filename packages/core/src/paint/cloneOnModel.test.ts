/** Clone on a model: every texel takes what lies at its place moved along the model, by formula on cubes, walls and a barrel. */
import { describe, expect, test } from 'vitest';
import type { Template } from '../livery/template.ts';
import { TILE } from '../raster/image.ts';
import { spotOfTexel } from '../surface/locate.ts';
import { SheetSurface } from '../surface/surface.ts';
import { dot, long, minus, type Vec } from '../surface/vectors.ts';
import { body, cube, flat, turnedBody } from '../testing/bodies.ts';
import { ModelSource, wayBetween, type ModelPlace } from './cloneOnModel.ts';
import { tileNumber } from './strokes.ts';

const SIDE = 256;

/** A sheet whose colours are the places that wear them: -2..2 as 0..65535 each; clear beside the islands. */
function placesOf(template: Template, sheet: string): Uint16Array {
  const surface = new SheetSurface(template, sheet);
  const tile = new Uint16Array(TILE * TILE * 4);
  for (let y = 0; y < SIDE; y++)
    for (let x = 0; x < SIDE; x++) {
      const spot = spotOfTexel(surface, x + 0.5, y + 0.5);
      if (!spot) continue;
      spot.position.forEach((v, c) => (tile[(y * TILE + x) * 4 + c] = Math.round(((v + 2) / 4) * 65535)));
      tile[(y * TILE + x) * 4 + 3] = 65535;
    }
  return tile;
}

/** All of a sheet cloned by a way, and how far what came is from where it should be from, by texel; null: nothing came. */
function cloned(template: Template, sheet: string, to: ModelPlace, from: ModelPlace, whole = false) {
  const tiles = new Map(template.sheets.map(({ key }) => [key, placesOf(template, key)]));
  const way = wayBetween(to, from);
  const surface = new SheetSurface(template, sheet);
  const source = new ModelSource(
    surface,
    way,
    (key, tx, ty) => (tx === 0 && ty === 0 ? (tiles.get(key) ?? null) : null),
    whole,
  );
  const out = new Uint16Array(TILE * TILE * 4);
  const coverage = new Uint16Array(TILE * TILE).fill(65535);
  const box = { left: 0, top: 0, right: TILE, bottom: TILE };
  source.bring(tileNumber(0, 0), coverage, out, new Uint8Array(TILE * TILE), box);
  const at = (x: number, y: number) => {
    const i = (y * TILE + x) * 4;
    const spot = spotOfTexel(surface, x + 0.5, y + 0.5);
    if (!spot) return { place: null, spot: null, came: null };
    const row = (r: number): Vec => [way.turn[r * 3], way.turn[r * 3 + 1], way.turn[r * 3 + 2]];
    const place = [0, 1, 2].map((r) => dot(row(r), spot.position) + way.shift[r]) as unknown as Vec;
    const came = out[i + 3] === 65535 ? ([0, 1, 2].map((c) => (out[i + c] / 65535) * 4 - 2) as unknown as Vec) : null;
    return { place, spot, came };
  };
  return { out, at, tile: tiles.get(sheet)! };
}

const place = (at: Vec, facing: Vec): ModelPlace => ({ at, facing });

test('onto where it is it stays, to the bit', () => {
  const here = place([0.2, 0.1, 1], [0, 0, 1]);
  const { out, tile, at } = cloned(cube(SIDE), 'face', here, here);
  let all = 0;
  for (let y = 0; y < SIDE; y++)
    for (let x = 0; x < SIDE; x++) {
      const { spot } = at(x, y);
      if (!spot || spot.position.some((v) => Math.abs(v) > 1)) continue;
      const i = (y * TILE + x) * 4;
      expect([...out.subarray(i, i + 4)]).toEqual([...tile.subarray(i, i + 4)]);
      all++;
    }
  expect(all).toBeGreaterThan(20_000);
});

describe('from one face of a cube to another', () => {
  test('upright stays upright, what looks out looks out, and beside the face nothing comes', () => {
    const { at } = cloned(cube(SIDE), 'face', place([1, 0, 0], [1, 0, 0]), place([0, 0, 1], [0, 0, 1]));
    let [all, beside] = [0, 0];
    for (let y = 0; y < SIDE; y += 3)
      for (let x = 0; x < SIDE; x += 3) {
        const { spot, came, place } = at(x, y);
        if (!spot) continue;
        // Only the face that looks to +x is brought onto the one that looks to +z.
        if (spot.normal[0] > 0.9 && Math.abs(spot.position[1]) < 0.95 && Math.abs(spot.position[2]) < 0.95) {
          expect(place![2]).toBeCloseTo(1, 6);
          expect(place![1]).toBeCloseTo(spot.position[1], 6);
          expect(long(minus(came!, place!))).toBeLessThan(1e-3);
          all++;
        } else if (came && long(minus(came, place!)) > 0.2) beside++;
      }
    expect(all).toBeGreaterThan(300);
    expect(beside).toBe(0);
  });

  test('beside it by some texels, as far as the face goes', () => {
    const { at } = cloned(cube(SIDE), 'face', place([0, 0, 1], [0, 0, 1]), place([0.5, 0.25, 1], [0, 0, 1]));
    for (let y = 0; y < SIDE; y++)
      for (let x = 0; x < SIDE; x++) {
        const { spot, came } = at(x, y);
        if (!spot || spot.normal[2] < 0.9 || spot.position[0] > 0.4 || spot.position[1] > 0.6) continue;
        if (spot.position[0] < -0.9 || spot.position[1] < -0.9) continue;
        expect(came![0]).toBeCloseTo(spot.position[0] + 0.5, 2);
        expect(came![1]).toBeCloseTo(spot.position[1] + 0.25, 2);
      }
  });
});

test('from another sheet, whose texels are taken as means of what each covers', () => {
  const two = flat(SIDE, 1, 'one', 'two');
  const { at } = cloned(two, 'one', place([0.5, 0, 0.5], [0, 1, 0]), place([1.5, 0, 0.5], [0, 1, 0]));
  for (let k = 5; k < 250; k += 5) {
    const { came, place } = at(k, 250 - k);
    expect(long(minus(came!, place!))).toBeLessThan(1e-3);
  }
});

test('of a thin wing only the side that looks as it does', () => {
  const wing = body(
    SIDE,
    ['face'],
    [
      {
        sheet: 'face',
        box: [0, 0, 0.45, 0.9],
        at: (u, v) => [u, 0.001, v],
        normal: () => [0, 1, 0],
        columns: 2,
        rows: 2,
      },
      {
        sheet: 'face',
        box: [0.5, 0, 0.45, 0.9],
        at: (u, v) => [u, -0.001, v],
        normal: () => [0, -1, 0],
        columns: 2,
        rows: 2,
      },
    ],
  );
  const { at } = cloned(wing, 'face', place([0.3, 0.001, 0.5], [0, 1, 0]), place([0.6, 0.001, 0.5], [0, 1, 0]));
  for (let k = 10; k < 60; k += 5) {
    expect(at(k, 100).came![1]).toBeGreaterThan(0);
    expect(at(k + 128, 100).came![1]).toBeLessThan(0);
  }
});

test('round a barrel it goes along, and on a sheet of identities only whole texels come', () => {
  const barrel = body(
    SIDE,
    ['face'],
    [
      {
        sheet: 'face',
        box: [0, 0, 1, 1],
        ...turnedBody(
          () => 1,
          (v) => 1 - 2 * v,
        ),
        columns: 48,
        rows: 4,
      },
    ],
  );
  const turn = 0.9;
  const from = place([Math.sin(turn), 0, Math.cos(turn)], [Math.sin(turn), 0, Math.cos(turn)]);
  const { at } = cloned(barrel, 'face', place([0, 0, 1], [0, 0, 1]), from);
  for (let k = 8; k < SIDE - 8; k += 7) {
    const { spot, came } = at(k, 100);
    const angle = Math.atan2(spot!.position[0], spot!.position[2]) + turn;
    expect(long(minus(came!, [Math.sin(angle), spot!.position[1], Math.cos(angle)]))).toBeLessThan(0.02);
  }
  const ids = cloned(barrel, 'face', place([0, 0, 1], [0, 0, 1]), from, true);
  const known = new Set<string>();
  for (let i = 0; i < ids.tile.length; i += 4) known.add(ids.tile.slice(i, i + 4).join());
  for (let i = 0; i < ids.out.length; i += 4 * 97) expect(known.has(ids.out.slice(i, i + 4).join())).toBe(true);
});

/** Who has a texel, and what the model is like under it: against a plain evaluation of the whole sheet, and against formulas. */
import { describe, expect, test } from 'vitest';
import type { MeshData, Subject } from '../livery/template.ts';
import { TILE } from '../raster/image.ts';
import { randomFrom } from '../testing/images.ts';
import { edgeIn, EDGE, fieldsIn } from './fields.ts';
import { islandsOf } from './islands.ts';
import { sheetCover } from './layout.ts';
import { spotOfTexel } from './locate.ts';
import { GUTTER, SheetSurface } from './surface.ts';

interface Corner {
  position: readonly number[];
  normal: readonly number[];
  uv: readonly number[];
}

/** A subject of one sheet; each list of triangles is a part. */
function subjectOf(width: number, height: number, parts: readonly (readonly Corner[])[]): Subject {
  const mesh: MeshData = { positions: [], normals: [], uvs: [], indices: [] };
  let first = 0;
  const named = parts.map((corners, i) => {
    for (const { position, normal, uv } of corners) {
      mesh.indices.push(mesh.indices.length);
      mesh.positions.push(...position);
      mesh.normals.push(...normal);
      mesh.uvs.push(...uv);
    }
    const part = { key: `p${i}`, name: `p${i}`, sheet: 's', first, count: corners.length / 3, hex: null };
    first += part.count;
    return part;
  });
  return { sheets: [{ key: 's', name: 's', width, height, alpha: 'none', axis: null }], parts: named, mesh };
}

/** Triangles thrown on a sheet: on one another, past its edges, thin as a hair, without area. */
function thrown(seed: number, width: number, height: number): Subject {
  const random = randomFrom(seed);
  const any = (span: number) => random() * span;
  const parts = Array.from({ length: 5 }, () =>
    Array.from({ length: 7 }, (_, t) => {
      const at = [any(1.2) - 0.1, any(1.2) - 0.1];
      const size = [0.002, 0.05, 0.4][t % 3];
      return [0, 1, 2].map((k): Corner => {
        const uv = t === 6 ? at : [at[0] + any(size), at[1] + (k === 2 && t % 2 ? 1e-4 : any(size))];
        return { position: [random(), random(), random()], normal: [0, 0, 1], uv };
      });
    }).flat(),
  );
  return subjectOf(width, height, parts);
}

/** The rule, texel by texel over the whole sheet, as its sentence says it; by the triangles' own geometry in other arithmetic. */
function plainly(subject: Subject, width: number, height: number) {
  const owner = new Int32Array(width * height).fill(-1);
  const inside = new Uint8Array(width * height);
  const { indices, uvs } = subject.mesh;
  const triangles = subject.parts.flatMap(({ first, count }) => Array.from({ length: count }, (_, k) => first + k));
  const corners = triangles.map((t) =>
    [0, 1, 2].map((k) => [uvs[indices[t * 3 + k] * 2] * width, uvs[indices[t * 3 + k] * 2 + 1] * height]),
  );
  const area = ([a, b, c]: number[][]) => (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let [touching, covering] = [-1, -1];
      triangles.forEach((t, n) => {
        const all = corners[n];
        const whole = area(all);
        if (whole === 0) return;
        const s = Math.sign(whole);
        const side = (k: number, px: number, py: number) => s * area([all[k], all[(k + 1) % 3], [px, py]]);
        // Separating axes: the square's two, and the three sides.
        const [xs, ys] = [all.map(([ax]) => ax), all.map(([, ay]) => ay)];
        const apart =
          Math.floor(Math.max(...xs)) < x ||
          Math.floor(Math.min(...xs)) > x ||
          Math.floor(Math.max(...ys)) < y ||
          Math.floor(Math.min(...ys)) > y ||
          [0, 1, 2].some((k) => [0, 1].every((i) => [0, 1].every((j) => side(k, x + i, y + j) <= 0)));
        if (apart) return;
        if (touching < 0) touching = t;
        if (covering < 0 && [0, 1, 2].every((k) => side(k, x + 0.5, y + 0.5) >= 0)) covering = t;
      });
      const i = y * width + x;
      inside[i] = touching >= 0 ? 1 : 0;
      owner[i] = covering >= 0 ? covering : touching;
    }
  const gutter = owner.slice();
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      if (inside[y * width + x]) continue;
      let least = GUTTER * GUTTER + 1;
      // Of several as near the one farthest to the left, and of those the highest.
      for (let c = Math.max(0, x - GUTTER); c <= Math.min(width - 1, x + GUTTER); c++)
        for (let r = Math.max(0, y - GUTTER); r <= Math.min(height - 1, y + GUTTER); r++) {
          const far = (c - x) ** 2 + (r - y) ** 2;
          if (far >= least || !inside[r * width + c]) continue;
          least = far;
          gutter[y * width + x] = owner[r * width + c];
        }
    }
  return { inside, gutter };
}

describe('who has a texel', () => {
  test.each([1, 2, 3])('is told tile by tile as for the whole sheet at once (seed %i)', (seed) => {
    const [width, height] = [TILE + 61, TILE + 40];
    const subject = thrown(seed, width, height);
    const { inside, gutter } = plainly(subject, width, height);
    const surface = new SheetSurface(subject, 's');
    const window = { left: 0, top: 0, right: width, bottom: height };
    let [wrong, told] = [0, 0];
    const fields = fieldsIn(surface, window);
    const owners = surface.ownersIn(window);
    for (let i = 0; i < inside.length; i++) {
      const [x, y] = [i % width, Math.floor(i / width)];
      // Where a side runs through a corner or a middle of a texel the two arithmetics may round apart.
      if (fields.inside[i] !== inside[i] || fields.triangle[i] !== gutter[i]) wrong++;
      if (gutter[i] >= 0) told++;
      const part = gutter[i] < 0 ? 0 : Math.floor(gutter[i] / 7) + 1;
      if (fields.triangle[i] === gutter[i])
        expect([owners[i], fields.part[i], surface.ownerAt(x, y)]).toEqual([part, part, part]);
      expect(surface.insideAt(x, y)).toBe(fields.inside[i] === 1);
    }
    expect(told).toBeGreaterThan(20_000);
    expect(wrong).toBeLessThan(told * 0.0005);
    // Any window says the same as the whole.
    const part = { left: TILE - 9, top: 3, right: TILE + 17, bottom: TILE + 11 };
    const some = fieldsIn(surface, part);
    for (let y = part.top, i = 0; y < part.bottom; y++)
      for (let x = part.left; x < part.right; x++, i++) expect(some.triangle[i]).toBe(fields.triangle[y * width + x]);
  });

  test('is one rule for layout, place and surface where islands lie on one another', () => {
    const square = (z: number, from: number, mirror: boolean): Corner[] => {
      const corner = (x: number, y: number): Corner => ({
        position: [x, y, z],
        normal: [0, 0, 1],
        uv: [from + (mirror ? 1 - x : x) * 0.5, 0.25 + y * 0.5],
      });
      return [corner(0, 0), corner(1, 0), corner(1, 1), corner(0, 0), corner(1, 1), corner(0, 1)];
    };
    // The second part lies further left, so that its island has the lower number; the first has what they share.
    const subject = subjectOf(64, 64, [square(1, 0.3, false), square(2, 0.1, true)]);
    const surface = new SheetSurface(subject, 's');
    const islands = islandsOf(subject);
    const cover = sheetCover(subject, islands, 's');
    const fields = fieldsIn(surface, { left: 0, top: 0, right: 64, bottom: 64 });
    let shared = 0;
    for (let y = 18; y < 46; y++)
      for (let x = 8; x < 50; x++) {
        const spot = spotOfTexel(surface, x + 0.5, y + 0.5)!;
        const part = subject.parts[surface.ownerAt(x, y) - 1].key;
        const island = islands.find(({ number }) => number === cover.island[y * 64 + x])!;
        expect([spot.part, island.parts[0]]).toEqual([part, part]);
        expect(fields.position[(y * 64 + x) * 3 + 2]).toBeCloseTo(spot.position[2], 5);
        if (x > 20 && x < 36) {
          expect(part).toBe('p0');
          shared++;
        }
      }
    expect(shared).toBeGreaterThan(400);
  });
});

describe('what the model is like under a texel', () => {
  /** A barrel about z of one unit, unrolled: x of the sheet is the arc, y the length; in flat strips of so many. */
  const strips = 256;
  const [width, height, radius, long] = [512, 128, 1, 2];
  const barrel = (() => {
    const corner = (k: number, end: number): Corner => {
      const angle = (k / strips) * 2 * Math.PI;
      const normal = [Math.cos(angle), Math.sin(angle), 0];
      return { position: [normal[0] * radius, normal[1] * radius, end * long], normal, uv: [k / strips, end] };
    };
    const corners = Array.from({ length: strips }, (_, k) => [
      ...[corner(k, 0), corner(k + 1, 0), corner(k + 1, 1)],
      ...[corner(k, 0), corner(k + 1, 1), corner(k, 1)],
    ]).flat();
    return subjectOf(width, height, [corners]);
  })();

  test('place, normal, tangent and size of a barrel are those of the formula', () => {
    const fields = fieldsIn(new SheetSurface(barrel, 's'), { left: 0, top: 0, right: width, bottom: height });
    let worst = 0;
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) {
        const angle = ((x + 0.5) / width) * 2 * Math.PI;
        const [c, s] = [Math.cos(angle), Math.sin(angle)];
        const want = { position: [c, s, ((y + 0.5) / height) * long], normal: [c, s, 0], tangent: [-s, c, 0] };
        for (const key of ['position', 'normal', 'tangent'] as const)
          for (let k = 0; k < 3; k++) worst = Math.max(worst, Math.abs(fields[key][i * 3 + k] - want[key][k]));
        expect(fields.hand[i]).toBe(1);
      }
    // Flat strips stand off the barrel by 1 - cos(pi / strips), and their edges' direction by half a strip's angle.
    expect(worst).toBeLessThan(Math.PI / strips + 1e-6);
    const [arc, along] = [(2 * Math.PI * radius) / width, long / height];
    expect(fields.size[height * 100]).toBeCloseTo(Math.sqrt(arc * along), 3);
  });

  test('a mirrored island has the other hand', () => {
    const mirrored = structuredClone(barrel);
    for (let i = 0; i < mirrored.mesh.uvs.length; i += 2) mirrored.mesh.uvs[i] = 1 - mirrored.mesh.uvs[i];
    const fields = fieldsIn(new SheetSurface(mirrored, 's'), { left: 9, top: 9, right: 12, bottom: 12 });
    expect([...fields.hand]).toEqual(Array(9).fill(-1));
  });

  test('gutters carry the plane on', () => {
    const flat = (x: number, y: number): Corner => ({
      position: [x, 3, y],
      normal: [0, 1, 0],
      uv: [0.25 + x / 2, 0.25 + y / 2],
    });
    const subject = subjectOf(64, 64, [[flat(0, 0), flat(1, 0), flat(1, 1), flat(0, 0), flat(1, 1), flat(0, 1)]]);
    const surface = new SheetSurface(subject, 's');
    const fields = fieldsIn(surface, { left: 0, top: 0, right: 64, bottom: 64 });
    const at = (x: number, y: number) => [...fields.position.subarray((y * 64 + x) * 3, (y * 64 + x) * 3 + 3)];
    // 32 texels a unit, from texel 16 on.
    expect(at(5, 40)).toEqual([(5.5 - 16) / 32, 3, (40.5 - 16) / 32].map((v) => expect.closeTo(v, 5)));
    expect(fields.inside[40 * 64 + 5]).toBe(0);
    expect(fields.triangle[0]).toBe(-1);
    // Distance to the edge: in the middle of the square, beside it, and where it is far.
    const edge = edgeIn(surface, { left: 0, top: 0, right: 64, bottom: 64 });
    expect(edge[32 * 64 + 32]).toBe(16);
    expect(edge[32 * 64 + 16]).toBe(1);
    expect(edge[32 * 64 + 12]).toBe(-4);
    expect(edge[0]).toBeCloseTo(-Math.hypot(16, 16), 5);
    expect(Math.max(...edge.map(Math.abs))).toBeLessThanOrEqual(EDGE);
  });
});

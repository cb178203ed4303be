/** A livery on another model: how models are laid over each other, what comes from where, what becomes of layers. */
import { existsSync, readFileSync } from 'node:fs';
import { BufferAttribute, BufferGeometry, CapsuleGeometry, ConeGeometry, TorusKnotGeometry, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { describe, expect, test } from 'vitest';
import { renderSheet } from '../compose/renderSheet.ts';
import { layersIn, layersOf, Livery } from '../livery/livery.ts';
import { sheetNamed, type Template } from '../livery/template.ts';
import { readModel } from '../models/readModel.ts';
import { measurePlate } from '../plates/fit.ts';
import { standing } from '../plates/panel.ts';
import { Closest } from '../surface/closest.ts';
import { faceNormal } from '../surface/edges.ts';
import { Plane } from '../surface/fields.ts';
import { handOf } from '../surface/islands.ts';
import { surfaceOf } from '../surface/locate.ts';
import { diagonalOf, triangleOnSheet } from '../surface/triangles.ts';
import type { Vec } from '../surface/vectors.ts';
import { cube, flat } from '../testing/bodies.ts';
import { demoBundle, insideOf, layerOf, smallLivery, sourcesFor, type DEMO_LIVERIES } from '../testing/scenes.ts';
import { lengthened, repacked, reshaped } from '../testing/sisters.ts';
import { transferred } from '../testing/transfers.ts';
import { Fit, Fitting, proposeFit } from './fit.ts';
import { layByPairs } from './laidOver.ts';
import { applied, degreesOf, turnOfDegrees } from './linear.ts';
import { findOverlay, onNew } from './overlay.ts';
import { laidLike, similarityOf } from './onSheet.ts';
import { Points } from './points.ts';
import { fitOf, takeRows } from './take.ts';
import { Origin } from './texels.ts';

type Bundled = (typeof DEMO_LIVERIES)[number];

/** The same model turned, sized and moved, with names of its own. */
function elsewhere(template: Template, degrees: Vec, scale: number, shift: Vec): Template {
  const turn = turnOfDegrees(degrees);
  const { mesh } = template;
  const [positions, normals]: number[][] = [[], []];
  for (let i = 0; i < mesh.positions.length; i += 3) {
    positions.push(...applied(turn, mesh.positions, i).map((v, c) => v * scale + shift[c]));
    normals.push(...applied(turn, mesh.normals, i));
  }
  const parts = template.parts.map((part, n) => ({ ...part, name: `x${n}` }));
  return { ...template, parts, mesh: { ...mesh, positions, normals } };
}

/** A body of three.js as a template of one part. */
function bodyOf(geometry: BufferGeometry): Template {
  const list = (name: string) => [...geometry.getAttribute(name).array];
  const indices = geometry.index
    ? [...geometry.index.array]
    : list('position').flatMap((_, i) => (i % 3 ? [] : [i / 3]));
  return ofMesh({ positions: list('position'), normals: list('normal'), uvs: list('uv'), indices });
}

function ofMesh(mesh: Template['mesh']): Template {
  const like = cube(64);
  const part = { key: 'a', name: 'a', sheet: like.sheets[0].key, first: 0, count: mesh.indices.length / 3, hex: null };
  return { ...like, mesh, parts: [part] };
}

/** How far the corners of a model come to lie from where they belong, shares of its diagonal; `surface`: from its surface anywhere. */
function offBy(from: Template, to: Template, surface: boolean): number {
  const found = findOverlay(from, to)!;
  const closest = new Closest(to.mesh, () => true);
  let worst = 0;
  for (let o = 0; o < from.mesh.positions.length; o += 3) {
    const p = onNew(found.overlay, from.mesh.positions, o);
    const far = surface
      ? (closest.find(...p, 0, 0, 0, -1), Math.sqrt(closest.far2))
      : Math.hypot(...p.map((v, c) => v - to.mesh.positions[o + c]));
    worst = Math.max(worst, far);
  }
  return worst / diagonalOf(to.mesh);
}

const ENGINE = '/usr/share/assimp/models/glTF2/2CylinderEngine-glTF-Binary/2CylinderEngine.glb';
const engine = async () => ofMesh((await readModel(new Uint8Array(readFileSync(ENGINE)), 'glb', new Map())).mesh);

const TURNS: [Vec, number, Vec][] = [
  [[0, 0, 0], 1, [0, 0, 0]],
  [[0, 90, 0], 100, [5, 0, -3]],
  [[12, 75, -140], 0.013, [1, 2, 3]],
  [[-93, 8, 31], 2.54, [-400, 20, 7]],
];

describe('two models are laid over each other', () => {
  test.each(['tern-tide', 'rescue-warden', 'ebbline-wagon'] as Bundled[])(
    '%s, turned, sized and moved: within 0.1 %%',
    async (key) => {
      const { template } = await demoBundle(key);
      for (const [degrees, scale, shift] of TURNS)
        expect(offBy(template, elsewhere(template, degrees, scale, shift), false)).toBeLessThan(0.001);
    },
  );

  test('a model of the glTF samples (Debian: assimp-testmodels), within 0.1 %', async () => {
    expect(existsSync(ENGINE)).toBe(true);
    const one = await engine();
    for (const [degrees, scale, shift] of TURNS.slice(2, 3))
      expect(offBy(one, elsewhere(one, degrees, scale, shift), false)).toBeLessThan(0.001);
  });

  test.each([
    ['knot', new TorusKnotGeometry(1, 0.3, 96, 12, 2, 3)],
    ['cone', new ConeGeometry(1, 2, 32)],
    ['capsule', new CapsuleGeometry(1, 2, 8, 16)],
  ])('a %s, which is alike from several sides: one surface on the other', (_name, geometry) => {
    const one = bodyOf(geometry);
    for (const [degrees, scale, shift] of TURNS)
      expect(offBy(one, elsewhere(one, degrees, scale, shift), true)).toBeLessThan(0.001);
  });

  test('a cube, which has no axes of its own', () => {
    expect(offBy(cube(64), elsewhere(cube(64), [37, -31, 12], 1.7, [3, -2, 8]), true)).toBeLessThan(0.001);
  });

  test('as they stand, when one is longer: nothing is turned', async () => {
    const { template } = await demoBundle('tern-mail');
    expect(
      proposeFit(
        template,
        reshaped(template, ([x, y, z]) => [x * 1.1, y, z]),
      )!.turn,
    ).toEqual([0, 0, 0]);
  });

  test('what has no surface is laid over nothing', () => {
    const flatless = { ...cube(64), mesh: { ...cube(64).mesh, positions: cube(64).mesh.positions.map(() => 0) } };
    expect(findOverlay(flatless, cube(64))).toBeNull();
    expect(proposeFit(cube(64), flatless)).toBeNull();
    expect(findOverlay({ ...cube(64), parts: [] }, cube(64))).toBeNull();
  });

  test('by places that somebody paired: one moves, two size, three turn', () => {
    const fit = proposeFit(cube(64), cube(64))!;
    const turn = turnOfDegrees([20, -35, 70]);
    const old: Vec[] = [
      [0, 0, 0],
      [1, 0.2, 0],
      [0, 2, 0.5],
      [-1, 1, 3],
    ];
    const to = (p: Vec) => applied(turn, p).map((v, c) => v * 1.5 + [4, -1, 2][c]) as unknown as Vec;
    const pairs = old.map((p) => ({ old: p, now: to(p) }));
    const one = layByPairs(fit, pairs.slice(0, 1));
    expect([one.turn, one.scale]).toEqual([fit.turn, 1]);
    one.shift.forEach((v, c) => expect(v).toBeCloseTo([4, -1, 2][c]));
    expect(layByPairs(fit, pairs.slice(0, 2)).scale).toBeCloseTo(1.5);
    const all = layByPairs(fit, pairs);
    all.turn.forEach((v, c) => expect(v).toBeCloseTo([20, -35, 70][c], 6));
    // Places on one line say nothing of a turn about it.
    const line = [0, 1, 2].map((x): Vec => [x, 0, 0]).map((p) => ({ old: p, now: to(p) }));
    expect(layByPairs(fit, line).turn).toEqual(fit.turn);
  });

  test('degrees and turns are each other’s opposite, upright and at the poles', () => {
    for (const degrees of [
      [10, 20, 30],
      [0, 90, 0],
      [45, -90, 12],
      [180, 0, 0],
    ] as Vec[]) {
      const turn = turnOfDegrees(degrees);
      turnOfDegrees(degreesOf(turn)).forEach((v, k) => expect(v).toBeCloseTo(turn[k], 9));
    }
  });
});

describe('the nearest point of a surface', () => {
  test('is the one that three-mesh-bvh finds', async () => {
    const { template } = await demoBundle('ebbline-wagon');
    const { mesh } = template;
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', new BufferAttribute(Float32Array.from(mesh.positions), 3));
    geometry.setIndex([...mesh.indices]);
    const theirs = new MeshBVH(geometry);
    const ours = new Closest(mesh, () => true);
    const size = diagonalOf(mesh);
    for (let k = 0; k < 2000; k++) {
      const p = [1, 2, 3].map((c) => (((k * 0.618 * c + c * 0.37) % 1) - 0.5) * size) as [number, number, number];
      const found = theirs.closestPointToPoint(new Vector3(...p))!;
      expect(ours.find(...p, 0, 0, 0, -1)).toBe(true);
      expect(Math.abs(Math.sqrt(ours.far2) - found.distance)).toBeLessThan(1e-5 * size);
    }
  });

  test('that looks the same way is on its own side of a thin wing, and what is about the last one is as near', () => {
    const { template } = { template: flat(64, 1) };
    const { mesh } = template;
    // The same square once more, a millimetre below, looking down.
    const many = mesh.positions.length / 3;
    const wing = {
      positions: [...mesh.positions, ...mesh.positions.map((v, i) => (i % 3 === 1 ? v - 0.001 : v))],
      normals: [...mesh.normals, ...mesh.normals.map((v) => -v)],
      uvs: [...mesh.uvs, ...mesh.uvs],
      indices: [...mesh.indices, ...mesh.indices.map((i) => i + many)],
    };
    const closest = new Closest(wing, () => true);
    closest.find(0.3, -0.002, 0.4, 0, 1, 0, 0.3);
    expect(closest.triangle).toBeLessThan(mesh.indices.length / 3);
    closest.find(0.3, 0.002, 0.4, 0, -1, 0, 0.3);
    expect(closest.triangle).toBeGreaterThanOrEqual(mesh.indices.length / 3);
    expect(closest.find(0.3, 0, 0.4, 1, 0, 0, 0.3)).toBe(false);
    const knot = bodyOf(new TorusKnotGeometry(1, 0.3, 96, 12, 2, 3)).mesh;
    const [whole, about] = [new Closest(knot, () => true), new Closest(knot, () => true)];
    let went = 0;
    for (let t = 0; t < knot.indices.length / 3; t++) {
      const n = faceNormal(knot, t);
      if (!n) continue;
      const at = [0, 1, 2].map((c) => knot.positions[knot.indices[t * 3] * 3 + c] + n[c] * 0.02 * ((t % 3) - 1)) as [
        number,
        number,
        number,
      ];
      whole.find(...at, ...n, 0.25);
      if (!about.findAbout(...at, ...n, 0.25, 1)) {
        about.find(...at, ...n, 0.25);
        continue;
      }
      went++;
      expect(about.far2).toBeGreaterThanOrEqual(whole.far2 - 1e-9);
    }
    expect(went).toBeGreaterThan(50);
  });
});

describe('a livery onto the same model', () => {
  test.each(['tern-tide', 'ember', 'rescue-warden'] as Bundled[])('%s: the same texels within 1/255', async (key) => {
    const { livery, template, blobs, fonts } = await demoBundle(key);
    const sources = await sourcesFor(livery, template, blobs, fonts);
    const made = transferred(livery, template, template, proposeFit(template, template)!, sources);
    expect(Livery.safeParse(made.livery).success).toBe(true);
    const after = await sourcesFor(made.livery, template, new Map([...blobs, ...made.blobs]), fonts);
    for (const sheet of template.sheets)
      for (const { key: map } of livery.sheets.find((one) => one.key === sheet.key)!.maps) {
        const before = renderSheet(livery, sheet.key, map, sheet, sources);
        const now = renderSheet(made.livery, sheet.key, map, sheet, after);
        const inside = insideOf(template, sheet.key);
        let worst = 0;
        inside.forEach((is, i) => {
          if (is)
            for (let c = i * 4; c < i * 4 + 4; c++) worst = Math.max(worst, Math.abs(before.data[c] - now.data[c]));
        });
        expect([sheet.key, map, worst <= 1]).toEqual([sheet.key, map, true]);
      }
  });

  test('plates stand where they stood, their pictures as they were', async () => {
    const { livery, template, blobs, fonts } = await demoBundle('ebbline-wagon');
    const sources = await sourcesFor(livery, template, blobs, fonts);
    const made = transferred(livery, template, template, proposeFit(template, template)!, sources);
    expect(made.livery.plates).toEqual(livery.plates);
    const bare = (of: Livery) => layersOf(of, 'plates').map(({ id: _id, ...layer }) => layer);
    expect(bare(made.livery)).toEqual(bare(livery));
    expect(made.plan.notes.filter(({ sheet, how }) => sheet === 'plates' && how === 'left behind')).toEqual([]);
    // Longer by a tenth: as much farther from the middle, and nothing of them in the model.
    const longer = reshaped(template, ([x, y, z]) => [x * 1.1, y, z]);
    const far = transferred(livery, template, longer, proposeFit(template, longer)!, sources).livery.plates!;
    expect(far.map(({ name }) => name)).toEqual(livery.plates!.map(({ name }) => name));
    far.forEach((plate, i) => {
      expect(Math.abs(plate.at[0] - livery.plates![i].at[0] * 1.1)).toBeLessThan(0.05);
      expect(measurePlate(standing(plate), longer).cut).toBeLessThan(1e-6);
    });
    // Nowhere to paint them: each is named.
    const none = { ...template, sheets: template.sheets.filter(({ plates }) => !plates) };
    const without = transferred(livery, template, none, proposeFit(template, none)!, sources);
    expect(without.livery.plates).toBeUndefined();
    const left = without.plan.notes.filter(({ how }) => how === 'left behind').map(({ layer }) => layer);
    for (const { name } of [...livery.plates!, ...layersOf(livery, 'plates')]) expect(left).toContain(name);
  });

  test('layers on the model are not touched', async () => {
    const { template } = await demoBundle('ebbline-wagon');
    const on = {
      kind: 'flat',
      scale: 0.01,
      at: [0.2, 0.9, 0.8],
      facing: [0, 0, 1],
      up: [0, 1, 0],
      limit: 70,
      soft: 10,
    };
    const { parts } = template;
    const sheet = template.sheets[0].key;
    const livery = smallLivery([], template);
    livery.sheets = template.sheets.map(({ key }) => ({
      ...livery.sheets[0],
      key,
      maps: [{ key: 'colour', alpha: 'none', layers: [] }],
    }));
    livery.sheets[0].maps[0].layers = [
      layerOf('stripe', { on, x: 0, y: 0, width: 10, angle: 30, softness: 0, paint: { hex: '#000000' } }),
      layerOf('belt', { along: 'height', from: 0.31, to: 0.4, soft: 0, paint: { hex: '#000000' } }),
      layerOf('solid', { paint: { hex: '#ffffff' }, parts: [parts.find((part) => part.sheet === sheet)!.key] }),
    ];
    const sources = await sourcesFor(livery, template);
    const made = transferred(livery, template, template, proposeFit(template, template)!, sources);
    const found = layersIn(made.livery).filter(({ kind }) => kind === 'stripe' || kind === 'belt');
    expect(found.length).toBeGreaterThan(0);
    for (const { id: _id, across: _across, ...layer } of found) {
      const { id: _of, ...before } = livery.sheets[0].maps[0].layers.find(({ kind }) => kind === layer.kind)!;
      expect(layer).toEqual(before);
    }
  });
});

/** Colours of an old sheet as a straight line between texels has them, at a place of it. */
function between(image: { width: number; height: number; data: Uint8Array }, x: number, y: number, c: number): number {
  const at = (i: number, j: number) =>
    image.data[
      (Math.min(image.height - 1, Math.max(0, j)) * image.width + Math.min(image.width - 1, Math.max(0, i))) * 4 + c
    ];
  const [px, py] = [x - 0.5, y - 0.5];
  const [i, j] = [Math.floor(px), Math.floor(py)];
  const [f, g] = [px - i, py - j];
  return (at(i, j) * (1 - f) + at(i + 1, j) * f) * (1 - g) + (at(i, j + 1) * (1 - f) + at(i + 1, j + 1) * f) * g;
}

/** The old triangle of each new one, when parts and their triangles have the same order. */
function counterparts(old: Template, now: Template): Int32Array {
  const out = new Int32Array(now.mesh.indices.length / 3).fill(-1);
  now.parts.forEach((part, n) => {
    for (let k = 0; k < part.count; k++) out[part.first + k] = old.parts[n].first + k;
  });
  return out;
}

describe('a livery onto the same model, cut and packed otherwise', () => {
  test.each([
    ['tern-tide', 2048, 3],
    ['ember', 256, 5],
  ] as [Bundled, number, number][])('%s: 42 dB or better on all covered texels', async (key, side, seed) => {
    const { livery, template, blobs, fonts } = await demoBundle(key);
    const now = repacked(template, side, seed);
    const sources = await sourcesFor(livery, template, blobs, fonts);
    const made = transferred(livery, template, now, proposeFit(template, now)!, sources);
    const after = await sourcesFor(made.livery, now, new Map([...blobs, ...made.blobs]), fonts);
    const from = counterparts(template, now);
    const partOf = (t: number) => template.parts.find((part) => t >= part.first && t < part.first + part.count)!;
    const before = new Map(
      template.sheets.map((sheet) => [sheet.key, renderSheet(livery, sheet.key, 'colour', sheet, sources)]),
    );
    let [squares, many] = [0, 0];
    /** From a texel of a new triangle to the old one's: u and v at the origin, and what a texel to the right and one down add. */
    const ways = new Map<number, { before: Parameters<typeof between>[0]; way: readonly number[] }>();
    const wayOf = (t: number, sheet: Template['sheets'][number]) => {
      const known = ways.get(t);
      if (known) return known;
      const part = partOf(from[t]);
      const { width, height } = sheetNamed(template, part.sheet!);
      const [a, b] = [
        triangleOnSheet(now.mesh, t, sheet.width, sheet.height),
        triangleOnSheet(template.mesh, from[t], width, height),
      ];
      const area = (a[2] - a[0]) * (a[5] - a[1]) - (a[4] - a[0]) * (a[3] - a[1]);
      const at = (x: number, y: number, c: number) => {
        const p = ((x - a[0]) * (a[5] - a[1]) - (a[4] - a[0]) * (y - a[1])) / area;
        const q = ((a[2] - a[0]) * (y - a[1]) - (x - a[0]) * (a[3] - a[1])) / area;
        return b[c] + (b[2 + c] - b[c]) * p + (b[4 + c] - b[c]) * q;
      };
      const way = [0, 1].flatMap((c) => [at(0, 0, c), at(1, 0, c) - at(0, 0, c), at(0, 1, c) - at(0, 0, c)]);
      const made = { before: before.get(part.sheet!)!, way };
      ways.set(t, made);
      return made;
    };
    for (const sheet of now.sheets) {
      const image = renderSheet(made.livery, sheet.key, 'colour', sheet, after);
      const surface = surfaceOf(now, sheet.key);
      const ranks = surface.ranksIn({ left: 0, top: 0, right: sheet.width, bottom: sheet.height });
      const plane = new Plane(surface);
      for (let i = 0; i < ranks.length; i++) {
        if (ranks[i] < 0) continue;
        const [x, y] = [(i % sheet.width) + 0.5, Math.floor(i / sheet.width) + 0.5];
        plane.of(ranks[i]);
        if (!plane.holds(x, y)) continue;
        const t = surface.laid.triangle[ranks[i]];
        const { before: old, way: w } = wayOf(t, sheet);
        const [u, v] = [w[0] + w[1] * x + w[2] * y, w[3] + w[4] * x + w[5] * y];
        for (let c = 0; c < 3; c++) {
          squares += (image.data[i * 4 + c] - between(old, u, v, c)) ** 2;
          many++;
        }
      }
    }
    expect(many).toBeGreaterThan(5_000);
    expect(10 * Math.log10((255 * 255 * many) / squares)).toBeGreaterThan(42);
    // Lettering reads forwards wherever its islands lie: mirrored on its sheet just where they are.
    let read = 0;
    for (const { key: sheet, maps } of made.livery.sheets)
      for (const layer of maps[0].layers) {
        if (layer.kind !== 'lettering' || layer.on) continue;
        const surface = surfaceOf(now, sheet);
        const rank = surface.rankUnder(layer.x, layer.y);
        const own = layersIn(livery).find((one) => one.kind === 'lettering' && one.name === layer.name);
        if (rank < 0 || own?.kind !== 'lettering') continue;
        const hand = handOf(now.mesh, surface.laid.triangle[rank]);
        const home = livery.sheets.find((one) => one.maps[0].layers.includes(own))!;
        const there = surfaceOf(template, home.key);
        const was = handOf(template.mesh, there.laid.triangle[there.rankUnder(own.x, own.y)]);
        expect([layer.name, layer.mirrored === hand < 0]).toEqual([layer.name, own.mirrored === was < 0]);
        read++;
      }
    expect(read > 1 || key === 'ember').toBe(true);
  });
});

describe('a livery onto a model that is a little other', () => {
  test.each<[string, (p: Vec) => Vec]>([
    ['longer', ([x, y, z]: Vec): Vec => [x * 1.1, y, z]],
    ['shorter', ([x, y, z]: Vec): Vec => [x * 0.9, y, z]],
    ['wider and lower', ([x, y, z]: Vec): Vec => [x, y * 0.93, z * 1.1]],
  ])('%s by a tenth: marks within 2 %% of their place %#', async (_name, to) => {
    const { livery, template, blobs, fonts } = await demoBundle('tern-tide');
    const now = reshaped(repacked(template, 2048, 2), to);
    const sources = await sourcesFor(livery, template, blobs, fonts);
    const made = transferred(livery, template, now, proposeFit(template, now)!, sources);
    let looked = 0;
    for (const { key, maps } of livery.sheets)
      for (const layer of maps[0].layers) {
        if (layer.kind !== 'lettering' && layer.kind !== 'decal') continue;
        const surface = surfaceOf(template, key);
        const rank = surface.rankUnder(layer.x, layer.y);
        if (rank < 0) continue;
        const plane = new Plane(surface);
        plane.of(rank);
        const spot = [0, 1, 2].map((c) => plane.origin[c] + plane.right[c] * layer.x + plane.down[c] * layer.y);
        const wanted = to(spot as unknown as Vec);
        // There are two of some names, one each side: the nearest counts.
        const places = made.livery.sheets.flatMap((sheet) =>
          sheet.maps[0].layers.flatMap((one): Vec[] => {
            if (one.name !== layer.name || one.kind !== layer.kind) return [];
            if (one.on) return 'at' in one.on ? [one.on.at] : [];
            const there = surfaceOf(now, sheet.key);
            const at = there.rankUnder(one.x, one.y);
            if (at < 0) return [];
            const lies = new Plane(there);
            lies.of(at);
            return [
              [0, 1, 2].map((c) => lies.origin[c] + lies.right[c] * one.x + lies.down[c] * one.y) as unknown as Vec,
            ];
          }),
        );
        const far = Math.min(...places.map((place) => Math.hypot(...place.map((v, c) => v - wanted[c]))));
        expect([layer.name, far / diagonalOf(now.mesh) < 0.02]).toEqual([layer.name, true]);
        looked++;
      }
    expect(looked).toBeGreaterThan(8);
  });

  test('parts find theirs by name, else by place; what has no counterpart stays bare and is named', async () => {
    const { template } = await demoBundle('tern-tide');
    const now = reshaped(repacked(template, 2048, 2), lengthened(-0.5, 0.5, 0.6));
    const named = proposeFit(template, now)!;
    for (const part of now.parts) if (part.sheet) expect(named.pairs[part.key]).toBe(part.key);
    const nameless = { ...template, parts: template.parts.map((part, n) => ({ ...part, name: `Part ${n}` })) };
    const placed = proposeFit(template, nameless)!;
    for (const part of nameless.parts) if (part.sheet) expect(placed.pairs[part.key]).toBe(part.key);
    const [gone] = template.parts.filter(({ sheet }) => sheet !== null);
    const fitting = new Fitting(template, now, { ...named, pairs: { ...named.pairs, [gone.key]: null } });
    expect(fitting.pairs.find(({ part }) => part.key === gone.key)).toMatchObject({ from: null });
  });
});

describe('layers that lean on others', () => {
  test('do not come to a sheet without them: nothing is clipped to what lies below, no mask is forgotten, no group is empty', async () => {
    // Two squares, each all of its sheet; then both side by side on sheets of their own, in the other order.
    const old = flat(64, 1, 'one', 'two');
    const both = { ...old, sheets: [{ ...old.sheets[0], key: 'one' }] };
    const halved = {
      ...both.mesh,
      uvs: both.mesh.uvs.map((v, k) => (k % 2 ? v : v / 2 + (k < both.mesh.uvs.length / 2 ? 0 : 0.5))),
    };
    const parts = both.parts.map((part) => ({ ...part, sheet: 'one' }));
    const joined: Template = { ...both, mesh: halved, parts };
    const black = { paint: { hex: '#000000' } };
    const mark = (id: string, more: object) =>
      layerOf('shape', {
        ...{ id, ...black, x: 8, y: 32, line: null },
        paths: [
          {
            closed: true,
            how: 'add',
            knots: [
              [-4, -4],
              [4, -4],
              [4, 4],
              [-4, 4],
            ].map(([x, y]) => ({ x, y, smooth: false })),
          },
        ],
        ...more,
      });
    const mask = {
      from: { kind: 'layer', layer: 'mark' },
      strokes: [],
      inverted: false,
      feather: 0,
      off: false,
      linked: null,
    };
    const livery = smallLivery([], joined);
    livery.sheets = [{ ...livery.sheets[0], key: 'one', maps: [{ key: 'colour', alpha: 'none', layers: [] }] }];
    livery.sheets[0].maps[0].layers = [
      layerOf('solid', { id: 'ground', paint: { hex: '#ffffff' } }),
      mark('mark', {}),
      layerOf('solid', { id: 'clipped', clipped: true, ...black }),
      layerOf('solid', { id: 'masked', mask, ...black }),
      mark('inside', { group: 'group' }),
      layerOf('group', { id: 'group', through: true }),
    ];
    const sources = await sourcesFor(livery, joined);
    const made = transferred(livery, joined, old, proposeFit(joined, old)!, sources);
    const kinds = (key: string) =>
      made.livery.sheets.find((one) => one.key === key)!.maps[0].layers.map(({ kind }) => kind);
    // The mark lies on the first square alone, and goes as pixels: it is twice as wide as high there.
    expect(kinds('two')).toEqual(['solid']);
    expect(kinds('one')).toEqual(['solid', 'picture', 'solid', 'solid', 'picture', 'group']);
  });
});

describe('models that nobody would make', () => {
  /** Numbers that are the same at every run (Knuth, "The Art of Computer Programming", 3.2.1). */
  let state = 7;
  const random = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
  const many = <T>(count: number, make: () => T): T[] => Array.from({ length: count }, make);

  function odd(): Template {
    const like = cube(64);
    const [triangles, corners] = [1 + Math.floor(random() * 30), 3 + Math.floor(random() * 20)];
    const kinds = [
      () => random() * 2 - 1,
      () => 0,
      () => (random() - 0.5) * 1e9,
      () => random() * 1e-9,
      () => 1e30 * random(),
    ];
    const [one, other] = many(2, () => kinds[Math.floor(random() * kinds.length)]);
    const mesh = {
      positions: many(corners * 3, () => (random() < 0.8 ? one() : other())),
      normals: many(corners * 3, () => (random() < 0.3 ? 0 : random() * 2 - 1)),
      uvs: many(corners * 2, () => (random() < 0.9 ? random() : random() * 20 - 10)),
      indices: many(triangles * 3, () => Math.floor(random() * corners)),
    };
    const cut = Math.max(1, Math.floor(random() * triangles));
    const part = { key: 'a', name: 'a', sheet: like.sheets[0].key, first: 0, count: cut, hex: null };
    const rest = { ...part, key: 'b', name: random() < 0.5 ? 'a' : 'b', first: cut, count: triangles - cut };
    return { ...like, mesh, parts: cut < triangles ? [part, rest] : [part] };
  }

  test('are laid, paired and looked at, or not at all: nothing is thrown, and no number is none', () => {
    const square = { left: 0, top: 0, image: { width: 64, height: 64, data: new Uint8Array(64 * 64 * 4).fill(200) } };
    let laid = 0;
    for (let k = 0; k < 40; k++) {
      const old = odd();
      const now = random() < 0.2 ? old : odd();
      const fit = proposeFit(old, now);
      if (!fit) continue;
      laid++;
      expect(Fit.safeParse(fit).success).toBe(true);
      const fitting = new Fitting(old, now, {
        ...fit,
        size: k % 2 ? 'fitting' : 'true',
        gaps: k % 3 ? 'open' : 'mirrored',
      });
      const [sheet] = now.sheets;
      const origin = new Origin(fitting, sheet.key);
      for (const { missing, far, stretched } of fitOf(origin, sheet).parts)
        for (const share of [missing, far, stretched]) expect(share >= 0 && share <= 1).toBe(true);
      takeRows(origin, sheet, [[square]], 0, 1);
      const points = new Points(fitting);
      points.anchor([0, 0, 0], null);
      points.anchor([1, 0, 0], [0, 1, 0]);
    }
    expect(laid).toBeGreaterThan(5);
  });
});

describe('on a sheet', () => {
  test('a similarity is found to the last digit, along a line by how islands lie', () => {
    const turn = (30 * Math.PI) / 180;
    const [cos, sin] = [Math.cos(turn) * 2, Math.sin(turn) * 2];
    for (const mirrored of [false, true]) {
      const to = (x: number, y: number) => {
        const u = mirrored ? -x : x;
        return { x: cos * u - sin * y + 7, y: sin * u + cos * y - 3, hand: mirrored ? -1 : 1 };
      };
      const steps = [0, 1, 2, 3].map((k) => ({ x: k * 10, y: 4, hand: 1, to: to(k * 10, 4) }));
      const found = similarityOf(steps, null)!;
      expect(found.mirrored).toBe(mirrored);
      expect(found.scale).toBeCloseTo(2);
      expect(found.turn).toBeCloseTo(30);
      expect(found.off).toBeLessThan(1e-9);
      const mark = layerOf('lettering', {
        ...{ text: 'A', font: 'barlow', size: 10, x: 10, y: 4, turn: 0, mirrored: false },
        ...{ paint: { hex: '#000000' }, outline: null, spacing: 0, slant: 0 },
      });
      const laid = laidLike(mark, found)!;
      expect(laid).toMatchObject({ size: 20, mirrored });
      expect((laid as typeof mark).x).toBeCloseTo(to(10, 4).x);
      expect((laid as typeof mark).y).toBeCloseTo(to(10, 4).y);
      expect((laid as typeof mark).turn).toBeCloseTo(30);
    }
  });
});

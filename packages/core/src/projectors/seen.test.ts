/** Seen from where it was thrown, a layer looks as it was drawn: by an independent ray caster (three-mesh-bvh) through the sheets' own UVs. */
import { BufferAttribute, BufferGeometry, Ray, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { expect, test } from 'vitest';
import { renderCoarse } from '../compose/renderSheet.ts';
import { envOf } from '../compose/scene.ts';
import { kindOf } from '../layers/index.ts';
import { PLAIN_FINISH } from '../livery/finish.ts';
import type { Livery } from '../livery/livery.ts';
import { flatAt, seenFrom, VIEWS, type View } from './place.ts';
import { SheetSurface } from '../surface/surface.ts';
import { boxOfMesh } from '../surface/triangles.ts';
import { cross, dot, plus, unit, upright, type Vec } from '../surface/vectors.ts';
import { demoBundle, layerOf, sourcesFor } from '../testing/scenes.ts';

const stops = ['#204060', '#f0e0a0', '#a02030', '#30b070', '#e8e8e8'].map((hex, i) => ({
  at: i / 4,
  paint: { hex },
  opacity: 100,
}));

test.each([
  ['rescue-launch', 'starboard'],
  ['rescue-launch', 'top'],
  ['tern-tide', 'port'],
  ['lanternfish', 'bow'],
] as const)('%s from %s: 38 dB or better', async (key, view: View) => {
  const { template } = await demoBundle(key);
  const { low, high } = boxOfMesh(template.mesh);
  const middle: Vec = [0, 1, 2].map((c) => (low[c] + high[c]) / 2) as never;
  const size = Math.hypot(...[0, 1, 2].map((c) => high[c] - low[c]));
  // Some two samples to a unit: what the sheets can hold of it.
  const scale = size / 450;
  const on = { ...seenFrom(flatAt(middle, VIEWS[view], [0, 1, 0], scale), VIEWS[view], template), limit: 75, soft: 2 };
  const layer = layerOf('fade', { shape: 'radial', x: 20, y: -15, length: 210, angle: 0, stops, on });
  const livery: Livery = {
    ...{ schema: 1, particulars: { name: 'x', key: 'x', number: '7' }, scheme: [] },
    sheets: template.sheets.map((sheet) => ({
      ...{ key: sheet.key, finish: PLAIN_FINISH, ready: false, kept: false },
      maps: [{ key: 'colour', alpha: sheet.alpha, layers: [{ ...layer, id: `${layer.id}-${sheet.key}` as never }] }],
    })),
    pins: { template: '0'.repeat(64) as never, spec: template.spec, renderer: 1, fonts: {} },
  } as Livery;
  const sources = await sourcesFor(livery, template);
  const drawn = new Map(
    template.sheets.map((sheet) => [sheet.key, renderCoarse(livery, sheet.key, 'colour', sheet, 2, sources)]),
  );
  const surfaces = new Map(template.sheets.map(({ key: sheet }) => [sheet, new SheetSurface(template, sheet)]));

  // What was thrown, straight from what draws the layer.
  const half = 230;
  const region = { x: -half, y: -half, width: 2 * half, height: 2 * half, step: 1 };
  const thrown = new Uint16Array(region.width * region.height * 4);
  kindOf(layer).draw(layer, region, envOf(livery, sources, template.sheets[0].key), thrown);

  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(Float32Array.from(template.mesh.positions), 3));
  geometry.setIndex([...template.mesh.indices]);
  const bvh = new MeshBVH(geometry, { indirect: true });
  const facing = unit(on.facing);
  const up = upright(on.up, facing);
  const right = cross(up, facing);
  const { positions, normals, uvs, indices } = template.mesh;
  let [squares, count] = [0, 0];
  for (let v = -half + 4; v < half - 4; v += 3)
    for (let u = -half + 4; u < half - 4; u += 3) {
      const at = plus(plus(middle, right, (u + 0.5) * scale), up, -(v + 0.5) * scale);
      const from = plus(at, facing, size * 2);
      const ray = new Ray(new Vector3(...from), new Vector3(...facing).negate());
      const hit = bvh.raycastFirst(ray, 2);
      if (hit?.faceIndex === undefined || hit.faceIndex === null) continue;
      const part = template.parts.find((p) => hit.faceIndex! >= p.first && hit.faceIndex! < p.first + p.count);
      if (!part?.sheet) continue;
      const corners = [0, 1, 2].map((k) => indices[hit.faceIndex! * 3 + k]);
      const place = (k: number): Vec => [
        positions[corners[k] * 3],
        positions[corners[k] * 3 + 1],
        positions[corners[k] * 3 + 2],
      ];
      // Well within what it paints, away from edges of what is in front.
      if (
        corners.some(
          (i) => dot(unit([normals[i * 3], normals[i * 3 + 1], normals[i * 3 + 2]]), facing) < Math.cos(Math.PI / 3),
        )
      )
        continue;
      const [a, b, c] = [place(0), place(1), place(2)];
      const n = cross([b[0] - a[0], b[1] - a[1], b[2] - a[2]], [c[0] - a[0], c[1] - a[1], c[2] - a[2]]);
      const p: Vec = [hit.point.x, hit.point.y, hit.point.z];
      const share = (q: Vec, r: Vec) =>
        dot(cross([q[0] - p[0], q[1] - p[1], q[2] - p[2]], [r[0] - p[0], r[1] - p[1], r[2] - p[2]]), n) / dot(n, n);
      const shares = [share(b, c), share(c, a), share(a, b)];
      if (Math.min(...shares) < 0.02) continue;
      const { width, height, data } = drawn.get(part.sheet)!;
      const [s, t] = [0, 1].map((k) => shares.reduce((sum, w, i) => sum + w * uvs[corners[i] * 2 + k], 0));
      const [x, y] = [s * width - 0.5, t * height - 0.5];
      const surface = surfaces.get(part.sheet)!;
      // A texel that another triangle has shows what that one wears.
      const rank = surface.rankUnder(s * surface.width, t * surface.height);
      if (rank < 0 || surface.laid.triangle[rank] !== hit.faceIndex) continue;
      const [x0, y0] = [Math.floor(x), Math.floor(y)];
      if (x0 < 0 || y0 < 0 || x0 + 1 >= width || y0 + 1 >= height) continue;
      const [fx, fy] = [x - x0, y - y0];
      const read = (k: number) => {
        const texel = (i: number, j: number) => data[((y0 + j) * width + x0 + i) * 4 + k];
        return (
          (texel(0, 0) * (1 - fx) + texel(1, 0) * fx) * (1 - fy) + (texel(0, 1) * (1 - fx) + texel(1, 1) * fx) * fy
        );
      };
      if (read(3) < 254.5) continue;
      const o = ((v + half) * region.width + u + half) * 4;
      for (let k = 0; k < 3; k++) squares += (read(k) - thrown[o + k] / 257) ** 2;
      count += 3;
    }
  expect(count / 3).toBeGreaterThan(300);
  expect(10 * Math.log10(255 ** 2 / (squares / count))).toBeGreaterThan(38);
});

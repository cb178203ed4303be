/** What is seen of a model within an outline, against three.js: its cameras project, rays of three-mesh-bvh tell what stands before what. */
import {
  BufferAttribute,
  BufferGeometry,
  DoubleSide,
  OrthographicCamera,
  PerspectiveCamera,
  Ray,
  Vector3,
  Matrix4,
  type Camera,
} from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { describe, expect, test } from 'vitest';
import type { Template } from '../livery/template.ts';
import { body, cube, turnedBody } from '../testing/bodies.ts';
import { demoBundle } from '../testing/scenes.ts';
import { spotOfTexel } from './locate.ts';
import { seenRegion, ViewDepth, ViewOutline, type ModelLook } from './seenRegion.ts';
import { SheetSurface } from './surface.ts';

function lookOf(camera: Camera, parallel: boolean): ModelLook {
  camera.updateMatrixWorld();
  const matrix = new Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse).toArray();
  const eye = parallel ? camera.getWorldDirection(new Vector3()).negate().toArray() : camera.position.toArray();
  return { matrix, eye, parallel };
}

const from = (
  camera: PerspectiveCamera | OrthographicCamera,
  at: [number, number, number],
  to: [number, number, number],
) => {
  camera.position.set(...at);
  camera.lookAt(...to);
  camera.updateProjectionMatrix();
  return camera;
};

const box = (left: number, bottom: number, right: number, top: number) =>
  Float64Array.from([left, bottom, right, bottom, right, top, left, top]);

/** Share of a sheet's texels at which ours and three.js agree, of those well inside or outside the box. */
function agreeing(template: Template, sheet: string, camera: PerspectiveCamera | OrthographicCamera, sides: number[]) {
  const parallel = 'isOrthographicCamera' in camera;
  const surface = new SheetSurface(template, sheet);
  const depth = new ViewDepth(template, lookOf(camera, parallel), []);
  const made = seenRegion(surface, depth, new ViewOutline(box(...(sides as [number, number, number, number]))), []);
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(Float32Array.from(template.mesh.positions), 3));
  geometry.setIndex([...template.mesh.indices]);
  const bvh = new MeshBVH(geometry, { indirect: true });
  const size = geometry.boundingSphere ?? (geometry.computeBoundingSphere(), geometry.boundingSphere!);
  let [all, same, covered] = [0, 0, 0];
  for (let y = 3; y < surface.height; y += 13)
    for (let x = 3; x < surface.width; x += 13) {
      if (!surface.insideAt(x, y)) continue;
      const spot = spotOfTexel(surface, x + 0.5, y + 0.5);
      if (!spot) continue;
      const place = new Vector3(...spot.position);
      const on = place.clone().project(camera);
      const within = Math.min(on.x - sides[0], sides[2] - on.x, on.y - sides[1], sides[3] - on.y);
      if (Math.abs(within) < 0.01) continue;
      const eye = parallel
        ? place.clone().addScaledVector(camera.getWorldDirection(new Vector3()), -4 * size.radius)
        : camera.position.clone();
      const way = place.clone().sub(eye);
      const facing = way
        .clone()
        .normalize()
        .dot(new Vector3(...spot.normal));
      // Edge on it is a matter of rounding.
      if (Math.abs(facing) < 0.15) continue;
      const hit = bvh.raycastFirst(new Ray(eye, way.clone().normalize()), DoubleSide);
      const seen = hit && hit.distance > way.length() - 0.012 * size.radius && facing < 0;
      const expected = within > 0 && seen ? 255 : 0;
      all++;
      if (expected > 0) covered++;
      if (Math.abs(made.data[y * made.width + x] - expected) < 128) same++;
    }
  return { share: same / all, covered, all };
}

describe('within a box of a view', () => {
  test('of a cube without perspective is the square of its face that the box is, to the texel', () => {
    const one = cube(512);
    const camera = from(new OrthographicCamera(-2, 2, 2, -2, 0.1, 20), [0, 0, 5], [0, 0, 0]);
    const surface = new SheetSurface(one, 'face');
    const depth = new ViewDepth(one, lookOf(camera, true), []);
    const { data, width } = seenRegion(surface, depth, new ViewOutline(box(-0.25, -0.25, 0.25, 0.25)), []);
    // The face to +z lies at 0.67 to 0.95 of the sheet: half of it is 0.14 of it wide.
    const [left, top] = [(0.03 + 2 * 0.32 + 0.07) * 512, (0.05 + 0.07) * 512];
    const side = 0.14 * 512;
    let all = 0;
    let beside = 0;
    data.forEach((v, i) => {
      all += v / 255;
      const [x, y] = [(i % width) + 0.5, Math.floor(i / width) + 0.5];
      if (v > 0 && !(x > left - 1 && x < left + side + 1 && y > top - 1 && y < top + side + 1)) beside++;
    });
    expect(beside).toBe(0);
    expect(Math.abs(all - side * side)).toBeLessThan(side * 2);
  });

  test('of a ball with perspective, of a barrel from inside and of the demo’s launch agree with its rays', async () => {
    const ball = body(
      256,
      ['face'],
      [
        {
          sheet: 'face',
          box: [0, 0, 1, 1],
          ...turnedBody(
            (v) => Math.sin(Math.PI * v),
            (v) => Math.cos(Math.PI * v),
          ),
          columns: 48,
          rows: 24,
        },
      ],
    );
    const eye = from(new PerspectiveCamera(40, 1, 0.1, 50), [1.5, 1.2, 3], [0, 0, 0]);
    const round = agreeing(ball, 'face', eye, [-0.4, -0.3, 0.5, 0.6]);
    expect([round.share > 0.995, round.covered > 20, round]).toEqual([true, true, round]);
    const { template } = await demoBundle('tern-tide');
    const away = from(new PerspectiveCamera(32, 1.3, 0.1, 100), [5, 3, 6], [0, 0.5, 0]);
    for (const key of ['deck', 'fan']) {
      const { share } = agreeing(template, key, away, [-0.6, -0.6, 0.6, 0.6]);
      expect([key, share > 0.985, share]).toEqual([key, true, share]);
    }
    const even = from(new OrthographicCamera(-4, 4, 3, -3, -50, 50), [3, 4, -2], [0, 0.5, 0]);
    const { share } = agreeing(template, 'hull', even, [-0.5, -0.7, 0.6, 0.7]);
    expect([share > 0.985, share]).toEqual([true, share]);
  });
});

test('parts that are left away hide nothing and get nothing; an outline beside the view, or without area, is nothing', () => {
  const two = body(
    64,
    ['face'],
    [
      {
        sheet: 'face',
        box: [0, 0, 0.5, 0.5],
        at: (u, v) => [u, 1 - v, 1],
        normal: () => [0, 0, 1],
        columns: 1,
        rows: 1,
      },
      {
        sheet: 'face',
        box: [0.5, 0.5, 0.5, 0.5],
        at: (u, v) => [u, 1 - v, 0],
        normal: () => [0, 0, 1],
        columns: 1,
        rows: 1,
      },
    ],
  );
  const look = lookOf(from(new OrthographicCamera(-1, 1, 1, -1, 0.1, 20), [0.5, 0.5, 5], [0.5, 0.5, 0]), true);
  const surface = new SheetSurface(two, 'face');
  const region = (not: string[], outline: Float64Array) =>
    seenRegion(surface, new ViewDepth(two, look, not), new ViewOutline(outline), not).data;
  const whole = box(-1, -1, 1, 1);
  const at = (data: Uint8Array, x: number, y: number) => data[y * 64 + x];
  expect([at(region([], whole), 16, 16), at(region([], whole), 48, 48)]).toEqual([255, 0]);
  expect([at(region(['p0'], whole), 16, 16), at(region(['p0'], whole), 48, 48)]).toEqual([0, 255]);
  for (const outline of [box(2, 2, 3, 3), box(0, 0, 0, 0), new Float64Array(0), box(NaN, 0, 1, 1)])
    expect(region([], outline).every((v) => v === 0)).toBe(true);
});

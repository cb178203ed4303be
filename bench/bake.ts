/**
 * Ambient occlusion: rays a second beside three-mesh-bvh in the same run, on one thread and on the same rays; then the Turnstone's hull (5,100
 * triangles), 64 rays a texel at 512 x 512, brought up to 2048, with all threads.
 */
import { readFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { BufferAttribute, BufferGeometry, DoubleSide, Ray, TorusKnotGeometry, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { Template, type Subject } from '../packages/core/src/livery/template.ts';
import { buildBvh, occluded } from '../packages/core/src/surface/bvh.ts';
import { bakeRows, fieldsAt } from '../packages/core/src/surface/occlusion.ts';
import { Pool } from '../packages/node/src/threads/pool.ts';
import { calibration } from './calibration.ts';

/** A knot of 14,000 triangles whose UVs fill the sheet. */
function knot(): Subject {
  const geometry = new TorusKnotGeometry(1, 0.35, 200, 35);
  const list = (name: string) => Array.from((geometry.getAttribute(name) as BufferAttribute).array);
  const indices = Array.from(geometry.getIndex()!.array);
  return {
    sheets: [{ key: 'knot', name: 'knot', width: 1024, height: 1024, alpha: 'none', axis: null }],
    parts: [{ key: 'knot', name: 'knot', sheet: 'knot', first: 0, count: indices.length / 3, hex: null }],
    mesh: { positions: list('position'), normals: list('normal'), uvs: list('uv'), indices },
  };
}

/** Rays from the surface over its half sphere: six numbers each. */
function raysOf({ mesh }: Subject, count: number): Float64Array {
  const out = new Float64Array(count * 6);
  let state = 7;
  const random = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
  for (let i = 0; i < count; i++) {
    const v = Math.floor(random() * (mesh.positions.length / 3)) * 3;
    const n = mesh.normals.slice(v, v + 3);
    const d = [random() - 0.5, random() - 0.5, random() - 0.5];
    const length = Math.hypot(...d);
    const facing = d[0] * n[0] + d[1] * n[1] + d[2] * n[2] < 0 ? -1 : 1;
    for (let c = 0; c < 3; c++) {
      out[i * 6 + c] = mesh.positions[v + c] + n[c] * 1e-4;
      out[i * 6 + 3 + c] = (d[c] / length) * facing;
    }
  }
  return out;
}

const COUNT = 1_000_000;
const REACH = 1.5;
const NEAR = 1e-4;
const subject = knot();
const rays = raysOf(subject, COUNT);
const ours = () => {
  const bvh = buildBvh(subject.mesh);
  const began = performance.now();
  let hits = 0;
  for (let i = 0; i < COUNT * 6; i += 6)
    if (occluded(bvh, rays[i], rays[i + 1], rays[i + 2], rays[i + 3], rays[i + 4], rays[i + 5], NEAR, REACH)) hits++;
  return { ms: performance.now() - began, hits };
};
const theirs = () => {
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(Float32Array.from(subject.mesh.positions), 3));
  geometry.setIndex(subject.mesh.indices);
  const bvh = new MeshBVH(geometry);
  const ray = new Ray(new Vector3(), new Vector3());
  const began = performance.now();
  let hits = 0;
  for (let i = 0; i < COUNT * 6; i += 6) {
    ray.origin.set(rays[i], rays[i + 1], rays[i + 2]);
    ray.direction.set(rays[i + 3], rays[i + 4], rays[i + 5]);
    if (bvh.raycastFirst(ray, DoubleSide, NEAR, REACH)) hits++;
  }
  return { ms: performance.now() - began, hits };
};
console.log(`calibrating loop: ${calibration().toFixed(0)} ms`);
for (let run = 1; run <= 3; run++) {
  const [a, b] = [ours(), theirs()];
  const rate = ({ ms }: { ms: number }) => `${(COUNT / ms / 1000).toFixed(2)} million rays a second`;
  console.log(
    `14,000 triangles, run ${run}: ours ${rate(a)}, three-mesh-bvh ${rate(b)}; answers that differ ${Math.abs(a.hits - b.hits)} of ${COUNT}`,
  );
}
{
  const began = performance.now();
  const bvh = buildBvh(subject.mesh);
  const built = performance.now();
  const map = fieldsAt(subject, 'knot', 1024, 1024);
  const open = new Float32Array(1024 * 1024);
  const rowsFrom = performance.now();
  bakeRows(subject.mesh, map, bvh, { rays: 64, reach: REACH }, 480, 512, open);
  const ms = performance.now() - rowsFrom;
  console.log(
    `tree ${(built - began).toFixed(0)} ms, map ${(rowsFrom - built).toFixed(0)} ms, 32 of 1024 rows at 64 rays ${ms.toFixed(0)} ms on one thread: ${((32 * 1024 * 64) / ms / 1000).toFixed(2)} million rays a second, all of it ${((ms * 32) / 1000).toFixed(0)} s`,
  );
}
console.log(`calibrating loop: ${calibration().toFixed(0)} ms`);

const root = path.resolve(import.meta.dirname, '..');
const template = Template.parse(JSON.parse(readFileSync(path.join(root, 'demo/out/turnstone.template.json'), 'utf8')));
const threads = os.availableParallelism();
const pool = new Pool(threads, new URL('../packages/server/dist/thread.js', import.meta.url));
for (const run of ['cold', 'warm']) {
  const began = performance.now();
  await pool.occlusion({ template, sheet: 'hull', width: 512, height: 512, rays: 64, reach: 1.5 }, () => {});
  console.log(
    `occlusion of the hull, ${threads} threads, ${run}: ${((performance.now() - began) / 1000).toFixed(1)} s`,
  );
}
await pool.close();
console.log(`calibrating loop: ${calibration().toFixed(0)} ms`);

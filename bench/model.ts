/** Layers on the model: what they add to a sheet of 4096 with forty others, and how fast they follow a hand. `npm run bench -- model` */
import os from 'node:os';
import { SourceStore } from '../packages/core/src/compose/sources.ts';
import { TileCache } from '../packages/core/src/compose/tileCache.ts';
import { unpackPixels } from '../packages/core/src/files/pixels.ts';
import { Layer } from '../packages/core/src/livery/layer.ts';
import { Template } from '../packages/core/src/livery/template.ts';
import { projectionsOf } from '../packages/core/src/projectors/index.ts';
import { fontBytes, smallLivery, smallTemplate } from '../packages/core/src/testing/scenes.ts';
import { Pool } from '../packages/node/src/threads/pool.ts';
import { BRUSHES, type Brush } from '../packages/core/src/paint/brush.ts';
import { SurfaceStroke } from '../packages/core/src/paint/surfaceStroke.ts';
import { nearestOn } from '../packages/core/src/surface/cutLine.ts';
import { SheetSurface } from '../packages/core/src/surface/surface.ts';
import { ball, SIDE } from './ball.ts';
import { calibration } from './calibration.ts';
import { layers } from './easel/stack.ts';
import { seconds } from './easel/table.ts';
import { spread } from './median.ts';
import { timed } from './timed.ts';

/** About as large as a texel of the ball's sheet, metres. */
const scale = 0.0016;
const base = { phase: 'Marks', hidden: false, locked: false, opacity: 100, blend: 'normal', parts: [] };
let made = 0;
const layer = (kind: string, on: object, rest: object): Layer =>
  Layer.parse({ kind, ...base, id: `m${++made}`, name: `On the model ${made}`, on, ...rest });

const flat = (x: number, y: number, z: number, more: object = {}) => ({
  ...{ kind: 'flat', scale, at: [x, y, z], facing: [x, y, z], up: [0, 1, 0], limit: 80, soft: 10 },
  ...more,
});
const lettering = (on: object, x = 0) =>
  layer('lettering', on, {
    ...{ text: 'HARBOUR 27', font: 'russo-one', size: 130, x, y: 0, turn: 0, paint: { hex: '#20282b' } },
    ...{ outline: { paint: { hex: '#e8e4da' }, width: 8 }, spacing: 0, slant: 8, mirrored: false },
  });
const stripe = (on: object, rest: object = {}) =>
  layer('stripe', on, { paint: { hex: '#d9573f' }, x: 0, y: 0, angle: 3, width: 90, softness: 0, ...rest });
const partner = { normal: [0, 0, 1], offset: 0, readable: true };
const cut = (offset: number) => ({ kind: 'along', scale, line: { by: 'cut', normal: [0, 1, 0], offset }, reach: 0.2 });

const EIGHT = [
  lettering(flat(0.3, 0.2, 1, { partner })),
  lettering(flat(-0.5, 0, 0.9)),
  lettering({ kind: 'folded', scale, at: [0, 0.7, 0.7], facing: [0, 1, 1], up: [0, 1, 0], reach: 0.8 }),
  stripe(flat(0, 0, 1, { partner })),
  stripe(cut(0.2), { angle: 0 }),
  stripe(cut(-0.3), { angle: 0, width: 40 }),
  layer(
    'hazard',
    { kind: 'round', scale, at: [0, 0, 0], axis: [0, 1, 0], facing: [0, 0, 1] },
    {
      ...{
        paint: { hex: '#e8b13a' },
        other: { hex: '#20282b' },
        x: 0,
        y: 300,
        width: 2000,
        height: 90,
        turn: 0,
        bar: 60,
        slant: 40,
      },
    },
  ),
  layer('chequer', flat(1, 0, 0), {
    ...{ paint: { hex: '#ffffff' }, other: { hex: '#101010' }, x: 0, y: 0, angle: 0, cell: 60, columns: 8, rows: 4 },
  }),
];

console.log(`calibrating loop ${calibration().toFixed(0)} ms`);
for (const wanted of [5_100, 100_000]) {
  // Twice as high as wide: its texels are square.
  const subject = ball(wanted);
  subject.mesh.positions = subject.mesh.positions.map((value, i) => (i % 3 === 1 ? value * 2 : value));
  const template = Template.parse({ ...smallTemplate(SIDE), ...subject });
  console.log(`${subject.mesh.indices.length / 3} triangles, ${SIDE} x ${SIDE}, forty layers`);
  const liveries = { without: smallLivery(layers, template), with: smallLivery([...layers, ...EIGHT], template) };
  for (const livery of Object.values(liveries)) livery.pins.fonts = {};
  const whole: Record<string, number> = {};
  for (const [what, livery] of Object.entries(liveries)) {
    const pool = new Pool(os.availableParallelism(), new URL('../packages/server/dist/thread.js', import.meta.url));
    const times: number[] = [];
    for (let k = 0; k < 5; k++) {
      const began = performance.now();
      await pool.flatten({ livery, template, blobs: new Map() }, 's', 'colour', {
        width: SIDE,
        height: SIDE,
      });
      times.push(performance.now() - began);
    }
    await pool.close();
    whole[what] = spread(times.slice(1)).median;
    console.log(`  whole sheet ${what} eight layers on the model: ${seconds(whole[what])}; cold ${seconds(times[0])}`);
  }
  console.log(`  that is ${(whole.with / whole.without).toFixed(2)} times (1.5 at most)`);

  for (const one of [EIGHT[0], EIGHT[2], EIGHT[4]]) {
    const times = Array.from({ length: 5 }, (_, k) =>
      timed(() => void projectionsOf({ ...one.on!, scale: scale * (1 + k * 1e-4) }, subject)),
    );
    console.log(
      `  where the plane of ${one.on!.kind} lies, worked out: ${times[0].toFixed(1)} ms, then ${spread(times).median.toFixed(1)}`,
    );
  }
  // At fit: a sixteenth of the texels; every step moves the projector, and all tiles it touches are composed anew.
  for (const [what, hot] of [
    ['a mark of 800 texels', EIGHT[0]],
    ['a stripe along the whole of it', EIGHT[3]],
  ] as const) {
    const cache = new TileCache(256 * 2 ** 20);
    const store = new SourceStore(template, {
      blob: () => Promise.reject(new Error('there are no pictures')),
      font: async (key) => fontBytes(key),
      drawSvg: () => Promise.reject(new Error('there are no drawings')),
      unpackPixels,
    });
    const steps: number[] = [];
    for (let k = 0; k < 24; k++) {
      const on =
        hot.on!.kind === 'flat' ? { ...hot.on!, at: [0.3, 0.2 + k * 0.003, 1] as [number, number, number] } : hot.on!;
      const moved = smallLivery(
        [...layers, ...EIGHT].map((one) => (one === hot ? { ...hot, on } : one)),
        template,
      );
      await store.load(moved);
      const sources = store.sources(moved);
      const began = performance.now();
      for (let tile = 0; tile < 16; tile++)
        cache.draft(moved, 's', 'colour', 2, tile % 4, tile >> 2, sources, { hot: hot.id, live: true });
      if (k > 3) steps.push(performance.now() - began);
    }
    const { median, p95 } = spread(steps);
    console.log(
      `  ${what} dragged at fit, one thread: ${median.toFixed(0)} ms a picture, 95th percentile ${p95.toFixed(0)}: ${(1000 / median).toFixed(0)} a second`,
    );
  }
  // A stroke round the hull, a point at a time as a hand gives them: what is covered anew for each.
  for (const size of [60, 600]) {
    const surface = new SheetSurface(subject, 's');
    const brush: Brush = { ...BRUSHES[0], size, smoothing: 0, pressureSize: 0 };
    const rules = { width: SIDE, height: SIDE, seed: 1, surface, perTexel: scale, mirror: null };
    const stroke = new SurfaceStroke(brush, rules);
    const triangles = Array.from({ length: subject.mesh.indices.length / 3 }, (_, t) => t);
    const points = Array.from({ length: 60 }, (_, k) => {
      const a = 0.4 + k * 0.012;
      const at = [Math.cos(a), 0.3 + k * 0.004, Math.sin(a)] as const;
      const { place, triangle } = nearestOn(subject, triangles, at)!;
      const [x, y, z] = place.map((v) => v / scale);
      return { x, y, z, triangle, pressure: 1, tiltX: 0, tiltY: 0 };
    });
    const steps = points.map((point) =>
      timed(() => {
        stroke.to(point);
        stroke.changed();
      }),
    );
    const { median, p95 } = spread(steps.slice(5));
    console.log(
      `  brush of ${size} px on it, each report: median ${median.toFixed(1)} ms, 95th percentile ${p95.toFixed(1)}`,
    );
  }
}
console.log(`calibrating loop ${calibration().toFixed(0)} ms`);

/**
 * A brush on a sheet of 4096 x 4096 with forty layers of all kinds, the painted one in the middle: from the pointer's event to the painted
 * pixels in the page's canvas, and of that what passes between asking the renderer and the canvas. And the whole sheet composited at
 * native size on one thread and on all, beside sharp on forty flat pictures.
 */
import os from 'node:os';
import sharp from 'sharp';
import { chromium } from 'playwright-core';
import config from '../playwright.config.ts';
import { renderSheet } from '../packages/core/src/compose/renderSheet.ts';
import { writeTemplatePackage } from '../packages/core/src/files/templatePackage.ts';
import { newEditId } from '../packages/core/src/livery/ids.ts';
import { Layer } from '../packages/core/src/livery/layer.ts';
import { TileCache } from '../packages/core/src/compose/tileCache.ts';
import { scoped } from '../packages/core/src/raster/arena.ts';
import { Template } from '../packages/core/src/livery/template.ts';
import { smallLivery, smallTemplate, sourcesFor } from '../packages/core/src/testing/scenes.ts';
import { startServer } from '../packages/server/src/testing/server.ts';
import { Pool } from '../packages/server/src/threads/pool.ts';
import { spread } from './median.ts';

const SIDE = 4096;
const MODES = ['multiply', 'screen', 'overlay', 'soft-light'] as const;

const layers = Array.from({ length: 40 }, (_, i): Layer => {
  const base = {
    id: `l${i}`,
    name: `Layer ${i}`,
    phase: 'Base',
    hidden: false,
    locked: false,
    opacity: i > 0 && i % 4 === 3 ? 80 : 100,
    blend: i % 4 === 2 ? MODES[(i >> 2) % 4] : 'normal',
    parts: [],
  };
  const paint = { hex: ['#d9573f', '#2f5d62', '#e8e4da', '#20282b'][i % 4] };
  const stops = [
    { at: 0, paint, opacity: 60 },
    { at: 1, paint: { hex: '#e8e4da' }, opacity: 0 },
  ];
  const at = { x: 2048, y: 100 * i };
  if (i === 0) return Layer.parse({ ...base, kind: 'solid', paint: { hex: '#e8e4da' } });
  if (i === 20) return Layer.parse({ ...base, kind: 'brush', strokes: [] });
  switch (i % 8) {
    case 0:
    case 2:
      return Layer.parse({
        ...base,
        kind: 'fade',
        shape: 'linear',
        x: 100 * i,
        y: 0,
        length: 3000,
        angle: i * 9,
        stops,
      });
    case 4:
      return Layer.parse({ ...base, kind: 'solid', paint, opacity: 20 });
    case 6:
      return Layer.parse({
        ...base,
        kind: 'stripe-set',
        paints: [paint],
        ...at,
        angle: 12,
        width: 80,
        gap: 80,
        count: 25,
        softness: 0,
      });
    case 1:
      return Layer.parse({ ...base, kind: 'stripe', paint, ...at, angle: i * 4, width: 80, softness: i % 2 ? 0 : 12 });
    case 3:
      return Layer.parse({
        ...base,
        kind: 'chequer',
        paint,
        other: null,
        ...at,
        angle: 0,
        cell: 60,
        columns: 20,
        rows: 5,
      });
    case 5:
      return Layer.parse({
        ...base,
        kind: 'hazard',
        paint,
        other: null,
        ...at,
        width: 2000,
        height: 200,
        turn: 3,
        bar: 60,
        slant: 40,
      });
    default:
      return Layer.parse({ ...base, kind: 'halftone', paint, x: 500, y: 500, length: 600, angle: 30, pitch: 24 });
  }
});

const template = Template.parse(smallTemplate(SIDE));
const livery = smallLivery(layers, template);
const sources = await sourcesFor(livery, template);
for (const pass of ['cold', 'warm']) {
  const began = performance.now();
  renderSheet(livery, 'face', 'colour', { width: SIDE, height: SIDE }, sources);
  console.log(`whole sheet, forty layers, one thread, ${pass}: ${((performance.now() - began) / 1000).toFixed(2)} s`);
}
const threads = os.availableParallelism();
const pool = new Pool(threads, new URL('../packages/server/dist/thread.js', import.meta.url));
const size = { width: SIDE, height: SIDE };
for (const pass of ['cold', 'warm']) {
  const began = performance.now();
  await pool.flatten({ livery, template, blobs: new Map() }, 'face', 'colour', size);
  console.log(`the same on ${threads} threads, ${pass}: ${((performance.now() - began) / 1000).toFixed(2)} s`);
}
await pool.close();
const flat = await sharp({
  create: { width: SIDE, height: SIDE, channels: 4, background: { r: 90, g: 120, b: 60, alpha: 0.4 } },
})
  .raw()
  .toBuffer();
const began = performance.now();
await sharp(flat, { raw: { width: SIDE, height: SIDE, channels: 4 } })
  .composite(
    layers.slice(1).map(({ blend }) => ({
      input: flat,
      raw: { width: SIDE, height: SIDE, channels: 4 },
      blend: (blend === 'normal' ? 'over' : blend) as 'over',
    })),
  )
  .raw()
  .toBuffer();
console.log(
  `the same number of flat pictures by sharp, all threads: ${((performance.now() - began) / 1000).toFixed(2)} s`,
);

/** A dab of 60 texels on the middle layer, caches warm: what is drawn anew for it. */
async function dab(count: number, side: number): Promise<number> {
  const own = Template.parse(smallTemplate(side));
  const stack = layers.slice(0, 20).concat(layers.slice(20).filter(({ blend }) => blend === 'normal'));
  const some = Array.from({ length: count }, (_, i) => {
    if (i === count >> 1)
      return Layer.parse({
        ...layers[1],
        id: 'hot',
        blend: 'normal',
        x: side / 2,
        y: side / 2,
        angle: 0,
        width: 60,
        opacity: 100,
      });
    return { ...stack[i % stack.length], id: `d${i}` } as Layer;
  });
  const doc = smallLivery(some, own);
  const from = await sourcesFor(doc, own);
  const cache = new TileCache(256 * 2 ** 20);
  const tile = Math.floor(side / 2 / 256);
  const at = { x: 100, y: 0, width: 60, height: 60 };
  const once = (k: number) => {
    const moved = { ...doc.sheets[0].maps[0].layers.find(({ id }) => id === 'hot')!, x: side / 2 + k } as Layer;
    const next = smallLivery(
      some.map((layer) => (layer.id === 'hot' ? moved : layer)),
      own,
    );
    const began = performance.now();
    scoped(() => cache.rect(next, 'face', 'colour', 0, tile, tile, at, from, 'hot'));
    return performance.now() - began;
  };
  for (let k = 0; k < 30; k++) once(k);
  return spread(Array.from({ length: 200 }, (_, k) => once(k % 7))).median;
}
for (const [what, a, b] of [
  ['10 layers and 100', [10, 1024], [100, 1024]],
  ['a sheet of 1024 and of 8192, forty layers', [40, 1024], [40, 8192]],
] as const) {
  const [first, second] = [await dab(a[0], a[1]), await dab(b[0], b[1])];
  console.log(
    `a dab of 60 px drawn anew, ${what}: ${first.toFixed(2)} and ${second.toFixed(2)} ms, ${(second / first).toFixed(2)} times`,
  );
}

const server = await startServer({ demo: false });
const sent = await fetch(`${server.url}/api/templates/packages`, {
  method: 'POST',
  headers: { 'Content-Type': 'application/octet-stream' },
  body: new Blob([
    (await writeTemplatePackage(template, new Map(), async () => new Uint8Array())) as Uint8Array<ArrayBuffer>,
  ]),
});
const { hash } = (await sent.json()) as { hash: string };
const { body } = await server.post<{ id: string }>('/liveries', { template: hash, name: 'Bench' });
const opened = await server.get<{ livery: { sheets: { key: string }[] } }>(`/liveries/${body.id}`);
const sheet = opened.livery.sheets[0].key;
await server.post(`/liveries/${body.id}/entries`, {
  base: 0,
  entries: layers.map((layer, index) => ({
    id: newEditId(),
    person: 'bench',
    edit: { do: 'add-layer', sheet, map: 'colour', layer, index },
    undoes: null,
    redoes: null,
    label: 'add',
  })),
});
const browser = await chromium.launch(config.use!.launchOptions);
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
await page.addInitScript(() => {
  // When the renderer was asked for a part of a stroke, and when its answer was there.
  const own: { asked: number; answered: number; painted: number }[] = [];
  const asked = new Map<number, number>();
  const post = Worker.prototype.postMessage;
  Worker.prototype.postMessage = function (this: Worker, message: { name?: string; n: number }, ...rest: []) {
    if (message.name === 'paintMove') {
      asked.set(message.n, performance.now());
      if (!('listens' in this)) {
        Object.assign(this, { listens: true });
        this.addEventListener('message', (event) => {
          const at = asked.get((event.data as { n: number }).n);
          if (at === undefined) return;
          // The page's own listener came first: what it painted for the answer is painted by now.
          const { benchLast = 0 } = window as unknown as { benchLast?: number };
          own.push({ asked: at, answered: event.timeStamp, painted: benchLast > event.timeStamp ? benchLast : 0 });
        });
      }
    }
    return post.call(this, message, ...rest);
  } as typeof post;
  Object.assign(window, { benchOwn: own });
});
await page.addInitScript('globalThis.__name = (f) => f; localStorage.setItem("wet-lacquer/model-rests", "yes")');
await page.addInitScript(() => {
  const painted: number[] = [];
  const draw = CanvasRenderingContext2D.prototype.drawImage as (...args: unknown[]) => void;
  CanvasRenderingContext2D.prototype.drawImage = function (this: CanvasRenderingContext2D, ...args: unknown[]) {
    draw.apply(this, args);
    if ((this.canvas as HTMLCanvasElement).dataset?.testid === 'art') painted.push(performance.now());
  } as typeof CanvasRenderingContext2D.prototype.drawImage;
  Object.assign(window, { benchPainted: painted });
});
const paintedAt = () => page.evaluate(() => (window as unknown as { benchPainted: number[] }).benchPainted);
for (const pass of ['cold', 'warm']) {
  await page.goto(`${server.url}/liveries/${body.id}?sheet=${sheet}&layer=l20`);
  await page.getByTestId('art').waitFor();
  await page.waitForTimeout(15_000);
  const there = await page.evaluate(
    (id) =>
      performance
        .getEntriesByType('resource')
        .find(({ name }) => name.endsWith(`/api/liveries/${id}`)) as PerformanceResourceTiming,
    body.id,
  );
  const times = await paintedAt();
  const since = (at: number) => ((at - there.responseEnd) / 1000).toFixed(2);
  console.log(
    `opening, ${pass}: from the livery's arrival to the first picture ${since(times[0])} s, to the last tile ${since(times.at(-1)!)} s`,
  );
}
// The opacity of a layer in the middle, dragged for three seconds at fit.
await page.getByRole('treeitem', { name: /^Layer 18,/ }).click();
await page.waitForTimeout(3000);
const thumb = (await page.getByRole('slider', { name: 'opacity' }).locator('..').boundingBox())!;
const before = (await paintedAt()).length;
await page.mouse.move(thumb.x + thumb.width / 2, thumb.y + thumb.height / 2);
await page.mouse.down();
const sliding = Date.now();
for (let k = 0; Date.now() - sliding < 3000; k++) {
  await page.mouse.move(thumb.x - 40 + (k % 30), thumb.y + thumb.height / 2);
  await page.waitForTimeout(14);
}
const drawn = (await paintedAt()).slice(before);
await page.mouse.up();
// What is painted at once is one picture.
const pictures = drawn.filter((at, i) => i === 0 || at - drawn[i - 1] > 4).length;
console.log(`opacity of one layer dragged at fit: the view was painted ${(pictures / 3).toFixed(1)} times a second`);
await page.getByRole('treeitem', { name: /^Layer 20,/ }).click();
const box = (await page.getByTestId('art').boundingBox())!;
await page.getByRole('radio', { name: 'Paint' }).click();
for (const [size, zoom, what] of [
  [60, '0', 'fit'],
  [60, '1', '1:1'],
  [600, '1', '1:1'],
] as const) {
  const field = page.getByRole('textbox', { name: 'size', exact: true });
  await field.fill(String(size));
  await field.press('Enter');
  await page.getByRole('application', { name: /^Sheet / }).focus();
  await page.keyboard.press(zoom);
  await page.waitForTimeout(6000);
  await page.mouse.move(box.x + 120, box.y + 300);
  await page.mouse.down();
  await page.waitForTimeout(1500);
  // Each report of the pointer, and the moment at which the canvas has been painted for it.
  await page.evaluate(() => {
    const art = document.querySelector<HTMLCanvasElement>('[data-testid="art"]')!;
    const ctx = art.getContext('2d')!;
    const times: number[] = [];
    let waiting: number | null = null;
    document.querySelector('[role="application"]')!.addEventListener('pointermove', (event) => {
      waiting ??= event.timeStamp;
    });
    const draw = ctx.drawImage.bind(ctx) as (...args: unknown[]) => void;
    ctx.drawImage = ((...args: unknown[]) => {
      draw(...args);
      Object.assign(window, { benchLast: performance.now() });
      if (waiting !== null) times.push(performance.now() - waiting);
      waiting = null;
    }) as typeof ctx.drawImage;
    Object.assign(window, { benchTimes: times });
  });
  // Every report is far enough from the last for another dab.
  const stride = what === 'fit' ? 2.5 : size / 10 + 2;
  for (let k = 0; k < 100; k++) {
    const along = (k * stride) % 700;
    await page.mouse.move(box.x + 110 + (along < 350 ? along : 700 - along), box.y + 300 + 40 * Math.sin(k / 9));
    await page.waitForTimeout(12);
  }
  const times = await page.evaluate(() => (window as unknown as { benchTimes: number[] }).benchTimes);
  const own = await page.evaluate(() =>
    (window as unknown as { benchOwn: { asked: number; answered: number; painted: number }[] }).benchOwn
      .slice(5)
      .filter(({ painted }) => painted > 0),
  );
  await page.keyboard.press('Escape');
  await page.mouse.up();
  const { median, p95 } = spread(times);
  const worker = spread(own.map(({ asked, answered }) => answered - asked));
  const canvas = spread(own.map(({ answered, painted }) => painted - answered));
  console.log(
    `brush of ${size} px at ${what}: event to painted canvas, median ${median.toFixed(1)} ms, 95th percentile ${p95.toFixed(1)} ms (${times.length} reports); from asking the renderer to its answer ${worker.median.toFixed(1)} (${worker.p95.toFixed(1)}), from there to the canvas ${canvas.median.toFixed(1)} (${canvas.p95.toFixed(1)})`,
  );
  await page.reload();
  await page.waitForTimeout(12_000);
  await page.getByRole('radio', { name: 'Paint' }).click();
}
await browser.close();
await server.stop();

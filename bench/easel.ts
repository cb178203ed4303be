/**
 * Edit-to-pixel time: from a key press that moves a layer of a 2048 sheet with 20 layers to the first frame of the page in which
 * the art has changed. At 100 % the frame is exact; with the whole sheet in view it is the draft.
 */
import { chromium } from 'playwright-core';
import config from '../playwright.config.ts';
import { startServer } from '../packages/server/src/testing/server.ts';
import { Layer } from '../packages/core/src/livery/layer.ts';
import { newEditId } from '../packages/core/src/livery/ids.ts';
import { spread } from './median.ts';

const EDITS = 60;

const server = await startServer({ demo: true });
const templates = await server.get<{ hash: string }[]>('/templates');
const { body } = await server.post<{ id: string }>('/liveries', { template: templates[0].hash, name: 'Bench' });
const base = (i: number) => ({
  id: `bench-${i}`,
  name: `Layer ${i}`,
  phase: 'Base',
  hidden: false,
  locked: false,
  opacity: i % 5 === 4 ? 80 : 100,
  blend: i % 7 === 6 ? 'multiply' : 'normal',
  parts: [],
});
const text = { outline: null, spacing: 4, slant: 0, mirrored: false, turn: 0, font: 'russo-one' };
const twenty = Array.from({ length: 20 }, (_, i) => {
  if (i === 0) return { ...base(i), kind: 'solid', paint: { hex: '#e8e4da' } };
  if (i === 1)
    return {
      ...base(i),
      kind: 'fade',
      shape: 'linear',
      x: 0,
      y: 0,
      length: 2048,
      angle: 30,
      stops: [
        { at: 0, paint: { hex: '#2f5d62' }, opacity: 90 },
        { at: 1, paint: { hex: '#e8e4da' }, opacity: 0 },
      ],
    };
  if (i % 3 === 0)
    return {
      ...base(i),
      kind: 'lettering',
      text: `LINE ${i}`,
      size: 90,
      x: 1024,
      y: 100 * i,
      paint: { hex: '#20282b' },
      ...text,
    };
  if (i % 3 === 1)
    return {
      ...base(i),
      kind: 'stripe',
      paint: { hex: '#d9573f' },
      x: 1024,
      y: 90 * i,
      angle: i * 4,
      width: 40,
      softness: i % 2 ? 0 : 12,
    };
  return {
    ...base(i),
    kind: 'stripe-set',
    paints: [{ hex: '#2f5d62' }],
    x: 1024,
    y: 95 * i,
    angle: 12,
    width: 8,
    gap: 8,
    count: 5,
    softness: 0,
  };
}).map((layer) => Layer.parse(layer));
// The layer in work lies in the middle of the build-up and of the sheet.
const moved = Layer.parse({
  ...base(99),
  kind: 'stripe',
  paint: { hex: '#0000ff' },
  x: 1024,
  y: 1024,
  angle: 0,
  width: 200,
  softness: 0,
});
const layers = [...twenty.slice(0, 10), moved, ...twenty.slice(11)];
await server.post(`/liveries/${body.id}/entries`, {
  base: 0,
  entries: layers.map((layer, index) => ({
    id: newEditId(),
    person: 'bench',
    edit: { do: 'add-layer', sheet: 'hull', map: 'colour', layer, index },
    undoes: null,
    redoes: null,
    label: 'add',
  })),
});

const browser = await chromium.launch(config.use!.launchOptions);
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
// The runner's compiler wraps named functions in a helper that the page does not have.
await page.addInitScript('globalThis.__name = (f) => f');
await page.goto(`${server.url}/liveries/${body.id}?sheet=hull&layer=bench-99`);
await page.getByRole('treeitem', { selected: true }).waitFor();
await page.waitForTimeout(8000);
for (const [what, keys] of [
  ['100 %, exact', ['0', '1']],
  ['whole sheet in view, draft', ['0']],
] as const) {
  await page.getByRole('application', { name: /^Sheet hull/ }).focus();
  for (const key of keys) await page.keyboard.press(key);
  await page.waitForTimeout(5000);
  const times = await page.evaluate(async (edits) => {
    const art = document.querySelector<HTMLCanvasElement>('[data-testid="art"]')!;
    const ctx = art.getContext('2d')!;
    // The row of the stripe's lower edge changes with every move of ten texels; its sum tells.
    const sum = () => {
      const { data } = ctx.getImageData(
        Math.floor(art.width / 2),
        Math.floor(art.height * 0.25),
        1,
        Math.floor(art.height * 0.5),
      );
      let n = 0;
      for (let i = 0; i < data.length; i += 4) n += data[i] * 3 + data[i + 2];
      return n;
    };
    const target = document.querySelector<HTMLElement>('[role="application"]')!;
    const all: number[] = [];
    for (let k = 0; k < edits; k++) {
      const before = sum();
      const began = performance.now();
      target.dispatchEvent(
        new KeyboardEvent('keydown', { key: k % 2 ? 'ArrowUp' : 'ArrowDown', shiftKey: true, bubbles: true }),
      );
      while (sum() === before && performance.now() - began < 5000)
        await new Promise((resolve) => requestAnimationFrame(resolve));
      all.push(performance.now() - began);
      await new Promise((resolve) => setTimeout(resolve, 900));
    }
    return all;
  }, EDITS);
  const { median, p95 } = spread(times);
  console.log(
    `edit to pixel, 2048 sheet, 20 layers, ${what}: median ${median.toFixed(0)} ms, 95th percentile ${p95.toFixed(0)} ms (${EDITS} edits)`,
  );
}
await browser.close();
await server.stop();

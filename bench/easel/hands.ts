/** The easel under a hand: opening, a stroke, a slider, a mark that is moved, and the model that follows. */
import { spread } from '../median.ts';
import { Template } from '../../packages/core/src/livery/template.ts';
import { smallTemplate } from '../../packages/core/src/testing/scenes.ts';
import { atRest, openBench, type Bench } from './page.ts';
import { layers, SIDE } from './stack.ts';
import { ms, row, seconds } from './table.ts';

/** @param model with the turntable open but still, or at rest */
export async function benchHands(model: boolean): Promise<void> {
  const bench = await openBench(Template.parse(smallTemplate(SIDE)), layers, model);
  console.log(model ? '\nwith the turntable open' : '\nthe model at rest');
  await opening(bench);
  await sliding(bench);
  for (const [size, zoom, wanted] of [
    [60, '0', 16],
    [60, '1', 16],
    [600, '1', 33],
  ] as const)
    await stroking(bench, size, zoom, wanted);
  if (model) await following(bench);
  await bench.close();
}

/** A pointer tells of its way 125 times a second, whether the page keeps up with it or not. */
async function report({ page }: Bench, x: number, y: number): Promise<void> {
  void page.mouse.move(x, y);
  await new Promise((resolve) => setTimeout(resolve, 8));
}

async function opening(bench: Bench): Promise<void> {
  for (const pass of ['cold', 'warm']) {
    await bench.open('l20');
    const there = await bench.page.evaluate(
      (id) =>
        performance
          .getEntriesByType('resource')
          .filter(({ name }) => name.endsWith(`/api/liveries/${id}`))
          .map((one) => (one as PerformanceResourceTiming).responseEnd)[0],
      bench.id,
    );
    const times = await bench.ears('painted');
    row(
      `opening, ${pass}: from the data to the first picture, to the last`,
      '1 s, 3 s',
      `${seconds(times[0] - there)}, ${seconds(times.at(-1)! - there)}`,
    );
  }
}

/** The opacity of a layer in the middle, dragged for three seconds at fit. */
async function sliding(bench: Bench): Promise<void> {
  const { page } = bench;
  for (const name of [/^Layer 18,/, /^Layer 12,/]) {
    await page.getByRole('treeitem', { name }).click();
    await atRest(bench);
    const slider = (await page.getByRole('slider', { name: 'opacity' }).locator('../..').boundingBox())!;
    const before = (await bench.ears('painted')).length;
    await page.mouse.move(slider.x + slider.width / 2, slider.y + slider.height / 2);
    await page.mouse.down();
    const began = Date.now();
    for (let k = 0; Date.now() - began < 3000; k++) {
      const along = 0.5 + 0.4 * Math.sin(k / 8);
      await report(bench, slider.x + slider.width * along, slider.y + slider.height / 2);
    }
    const drawn = (await bench.ears('painted')).slice(before);
    await page.mouse.up();
    await atRest(bench);
    // What is painted at once is one picture.
    const pictures = drawn.filter((at, i) => i === 0 || at - drawn[i - 1] > 6).length;
    row(
      `opacity of ${name.source.slice(1, -1).toLowerCase()} dragged at fit`,
      '20 a second',
      `${(pictures / 3).toFixed(1)} a second`,
    );
  }
}

async function stroking(bench: Bench, size: number, zoom: '0' | '1', wanted: number): Promise<void> {
  const { page } = bench;
  await page.getByRole('treeitem', { name: /^Layer 20,/ }).click();
  await page.getByRole('radio', { name: 'Paint' }).click();
  const field = page.getByRole('textbox', { name: 'size', exact: true });
  await field.fill(String(size));
  await field.press('Enter');
  await page.getByRole('application', { name: /^Sheet / }).focus();
  await page.keyboard.press(zoom);
  await atRest(bench);
  const box = (await page.getByTestId('art').boundingBox())!;
  const stride = zoom === '0' ? 2.5 : size / 10 + 2;
  const place = (k: number): [number, number] => {
    // Every report is far enough from the last for another dab.
    const along = (k * stride) % (2 * (box.width - 160));
    return [
      box.x + 80 + (along < box.width - 160 ? along : 2 * (box.width - 160) - along),
      box.y + box.height / 2 + 60 * Math.sin(k / 9),
    ];
  };
  for (const pass of ['cold', 'warm']) {
    await page.mouse.move(...place(0));
    const before = (await bench.ears('strokes')).length;
    await page.mouse.down();
    for (let k = 1; k < 160; k++) {
      await report(bench, ...place(k));
    }
    const parts = (await bench.ears('strokes')).slice(before);
    const times = spread(parts.map(({ event, painted }) => painted - event));
    const own = spread(parts.map(({ asked, painted }) => painted - asked));
    await page.keyboard.press('Escape');
    await page.mouse.up();
    await atRest(bench);
    row(
      `brush of ${size} px at ${zoom === '0' ? 'fit' : '1:1'}, ${pass}: event to canvas`,
      `95th ${wanted} ms`,
      `median ${ms(times.median)}, 95th ${ms(times.p95)}; of that our own work ${ms(own.median)}, 95th ${ms(own.p95)} (${parts.length} parts)`,
    );
  }
  await page.getByRole('radio', { name: 'Place' }).click();
}

/** From a mark's move by a key to the model's texture, and to the art. */
async function following(bench: Bench): Promise<void> {
  const { page } = bench;
  await page.getByRole('treeitem', { name: /^Layer 19,/ }).click();
  const sheet = page.getByRole('application', { name: /^Sheet / });
  const model: number[] = [];
  const art: number[] = [];
  for (let k = 0; k < 30; k++) {
    await atRest(bench);
    await sheet.focus();
    const at = await page.evaluate(() => performance.now());
    await page.keyboard.press(k % 2 ? 'Shift+ArrowUp' : 'Shift+ArrowDown');
    await page.waitForFunction((t) => window.ears.textures.some((one) => one > t), at, { polling: 10 });
    await page.waitForFunction((t) => window.ears.painted.some((one) => one > t), at, { polling: 10 });
    model.push((await bench.ears('textures')).find((one) => one > at)! - at);
    art.push((await bench.ears('painted')).find((one) => one > at)! - at);
  }
  row('a mark moved by a key: to the art', '', `median ${ms(spread(art).median)}, 95th ${ms(spread(art).p95)}`);
  row(
    'the same, to the model’s texture',
    '150 ms',
    `median ${ms(spread(model).median)}, 95th ${ms(spread(model).p95)}`,
  );
}

/** Layers that lie on the model: put there, slid, on both sides, over all sheets; the same on the sheet as in the delivery. */
import type { Page } from '@playwright/test';
import type { Livery } from '../packages/core/src/livery/livery.ts';
import { add, expect, hand, layers, panel, saved, startLivery, still, tabTo, test, type } from './fixture.ts';

test.use({ model: true });

const middle = (page: Page) => page.locator('svg[data-model-handles] circle[tabindex]');
const pick = async (page: Page, field: string, value: string | RegExp) => {
  await panel(page).getByRole('combobox', { name: field }).click();
  await page.getByRole('option', { name: value }).click();
};
const liveryOf = (server: { get<T>(path: string): Promise<T> }, id: string) =>
  server.get<{ livery: Livery }>(`/liveries/${id}`).then(({ livery }) => livery);
const onSheets = (livery: Livery, name: string) =>
  livery.sheets.flatMap(({ key, maps }) =>
    maps[0].layers.filter((l) => l.name === name).map((layer) => ({ key, layer })),
  );

test('a number on both sides, slid by hand, and a stripe from bow to stern over all sheets', async ({
  page,
  server,
}) => {
  const id = await startLivery(page, 'On the thing');
  await add(page, 'Base', 'Solid');
  await add(page, 'Marks', 'Number');
  await panel(page).getByRole('button', { name: 'Put on the model' }).click();
  await expect(middle(page)).toBeVisible();
  await saved(page);
  const put = onSheets(await liveryOf(server, id), 'Number');
  expect(put.map(({ key }) => key)).toEqual(['hull', 'deck', 'fan']);
  expect(new Set(put.map(({ layer }) => JSON.stringify(layer.on))).size).toBe(1);

  // The model has turned so that the mark can be taken: it is slid along the side, and its distance is said.
  const forward = () => panel(page).getByRole('textbox', { name: 'forward' }).inputValue().then(Number);
  const before = await forward();
  const dot = await still(middle(page));
  await page.mouse.move(dot.x + 7, dot.y + 7);
  await page.mouse.down();
  await page.mouse.move(dot.x - 40, dot.y + 7, { steps: 5 });
  await expect(page.locator('svg[data-model-handles] text')).toHaveText(/^\d+\.\d\d m/);
  await page.mouse.up();
  await expect.poll(forward).not.toBe(before);
  await pick(page, 'other side', 'the same, to be read');
  await panel(page).getByRole('button', { name: 'Stand upright' }).click();
  await saved(page);
  const both = onSheets(await liveryOf(server, id), 'Number');
  expect(new Set(both.map(({ layer }) => JSON.stringify(layer.on))).size).toBe(1);
  expect(both[0].layer.on).toMatchObject({ kind: 'flat', partner: { readable: true } });

  // The stripe: put on, then along a waterline. What the sheet shows is what is delivered: see preview.spec.ts.
  await add(page, 'Pattern', 'Stripe');
  await panel(page).getByRole('button', { name: 'Put on the model' }).click();
  await pick(page, 'lies', /along a line/);
  await pick(page, 'cut', 'waterline');
  await type(page, 'at', '0.5');
  await type(page, 'width', '0.12');
  await saved(page);
  const [stripe] = onSheets(await liveryOf(server, id), 'Stripe');
  expect(stripe.layer.on).toMatchObject({ kind: 'along', line: { by: 'cut', normal: [0, 1, 0], offset: 0.5 } });
  await expect(page.getByText('on the model, along a line')).toBeVisible();

  // Back on its sheet it is a layer like any other; undone it is on the model again, on all of them.
  await layers(page).filter({ hasText: 'Number' }).click();
  await panel(page).getByRole('button', { name: 'Take to the sheet' }).click();
  await saved(page);
  expect(onSheets(await liveryOf(server, id), 'Number')).toHaveLength(1);
  await page.getByRole('button', { name: 'Undo' }).click();
  await saved(page);
  expect(onSheets(await liveryOf(server, id), 'Number')).toHaveLength(3);
});

test('a line drawn on the model from place to place; one that is left changes nothing; a copy lies on all sheets', async ({
  page,
  server,
}) => {
  const id = await startLivery(page, 'By line');
  await add(page, 'Pattern', 'Stripe');
  await panel(page).getByRole('button', { name: 'Put on the model' }).click();
  await pick(page, 'lies', /along a line/);
  await saved(page);
  await still(middle(page));
  await page.getByRole('application', { name: /^The model/ }).focus();
  await page.keyboard.press('0');
  await still(middle(page));
  const box = (await page.getByRole('application', { name: /^The model/ }).boundingBox())!;
  const press = (x: number, y: number) => page.mouse.click(box.x + box.width * x, box.y + box.height * y);
  const places = page.locator('[data-line-places]');
  const line = async () => {
    const [{ layer }] = onSheets(await liveryOf(server, id), 'Stripe');
    return layer.on?.kind === 'along' ? layer.on.line : null;
  };
  const cut = await line();
  await panel(page).getByRole('button', { name: 'Draw the line on the model' }).click();
  await press(0.83, 0.6);
  await press(0.83, 0.72);
  await expect(places).toHaveAttribute('data-line-places', '2');
  await page.keyboard.press('Escape');
  await expect(places).toHaveCount(0);
  await panel(page).getByRole('button', { name: 'Draw the line on the model' }).click();
  await press(0.83, 0.6);
  await press(0.5, 0.5);
  await expect(places).toHaveAttribute('data-line-places', '2');
  await page.keyboard.press('Backspace');
  await press(0.83, 0.72);
  await page.keyboard.press('Enter');
  await saved(page);
  expect(cut).toMatchObject({ by: 'cut' });
  expect(await line()).toMatchObject({ by: 'places', places: [{ length: 3 }, { length: 3 }] });
  // Copied and put down it is one layer on all sheets again.
  await layers(page).filter({ hasText: 'Stripe' }).first().focus();
  await page.keyboard.press('Control+d');
  await expect(layers(page)).toHaveCount(2);
  await saved(page);
  const copies = onSheets(await liveryOf(server, id), 'Stripe copy');
  expect(copies).toHaveLength(3);
  expect(new Set(copies.map(({ layer }) => layer.across)).size).toBe(1);
});

test('by keyboard alone: put on, slid by the arrow keys, looked at from a side', async ({ page, server }) => {
  const id = await startLivery(page, 'By keys');
  await add(page, 'Marks', 'Number');
  await tabTo(page, /^Put on the model$/);
  await page.keyboard.press('Enter');
  await expect(middle(page)).toBeVisible();
  await saved(page);
  const at = async () => {
    const [{ layer }] = onSheets(await liveryOf(server, id), 'Number');
    return layer.on?.kind === 'flat' ? layer.on.at : null;
  };
  const begun = (await at())!;
  await middle(page).focus();
  for (let k = 0; k < 3; k++) await page.keyboard.press('Shift+ArrowRight');
  await saved(page);
  const slid = (await at())!;
  expect(Math.hypot(...slid.map((v, k) => v - begun[k]))).toBeGreaterThan(0.2);
  expect(Math.hypot(...slid.map((v, k) => v - begun[k]))).toBeLessThan(0.31);
  await page.getByRole('application', { name: /^The model/ }).focus();
  await page.keyboard.press('1');
  await page.keyboard.press('0');
});

test('painted on the model: one stroke, one step, over all sheets that it touches; rubbed out again', async ({
  page,
  server,
}) => {
  const id = await startLivery(page, 'By brush');
  await add(page, 'Base', 'Solid');
  await hand(page, 'Paint');
  await type(page, 'size', '120');
  const box = (await page.getByRole('application', { name: /^The model/ }).boundingBox())!;
  const across = async (from: [number, number], to: [number, number]) => {
    await page.mouse.move(box.x + box.width * from[0], box.y + box.height * from[1]);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width * to[0], box.y + box.height * to[1], { steps: 12 });
    await page.mouse.up();
  };
  const strokes = async () => {
    const livery = await liveryOf(server, id);
    return livery.sheets.map(({ maps }) => maps[0].layers.flatMap((l) => (l.kind === 'brush' ? l.strokes : [])).length);
  };
  // From the deck down over the side: two sheets.
  await across([0.83, 0.6], [0.83, 0.72]);
  await expect.poll(strokes).toEqual([1, 1, 0]);
  await saved(page);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(strokes).toEqual([0, 0, 0]);
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect.poll(strokes).toEqual([1, 1, 0]);
  await hand(page, 'Rub out');
  await across([0.83, 0.6], [0.83, 0.72]);
  await expect.poll(strokes).toEqual([2, 2, 0]);
  // Beside the model a press turns it, as ever.
  await across([0.1, 0.9], [0.3, 0.9]);
  await expect.poll(strokes).toEqual([2, 2, 0]);
});

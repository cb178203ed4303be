/** Layers that lie on the model: put there, slid, on both sides, over all sheets; the same on the sheet as in the delivery. */
import type { Page } from '@playwright/test';
import type { Livery } from '../packages/core/src/livery/livery.ts';
import {
  add,
  expect,
  hand,
  layers,
  openDelivery,
  panel,
  saved,
  startLivery,
  still,
  tabTo,
  test,
  type,
} from './fixture.ts';

test.use({ model: true });

const middle = (page: Page) => page.locator('svg[data-model-handles] circle[tabindex]');
const pick = async (page: Page, field: string, value: string | RegExp) => {
  await panel(page).getByRole('combobox', { name: field }).click();
  await page.getByRole('option', { name: value }).click();
  // While the menu fades out it takes the pointer.
  await expect(page.locator('.MuiPopover-root')).toHaveCount(0);
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
  await expect(panel(page).getByText(/texels a centimetre here; its capitals are \d/)).toBeVisible();
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

/** What is done over the model, by shares of its canvas. */
async function overModel(page: Page) {
  const model = page.getByRole('application', { name: /^The model/ });
  const box = (await model.boundingBox())!;
  const at = ([x, y]: [number, number]) => [box.x + box.width * x, box.y + box.height * y] as const;
  const drag = async (...way: [number, number][]) => {
    await page.mouse.move(...at(way[0]));
    await page.mouse.down();
    for (const to of way.slice(1)) await page.mouse.move(...at(to), { steps: 12 });
    await page.mouse.up();
  };
  const press = (x: number, y: number) => page.mouse.click(...at([x, y]));
  const point = (x: number, y: number) => page.mouse.move(...at([x, y]));
  return { model, drag, press, point };
}
const DECK: [number, number] = [0.8, 0.6];
const SIDE: [number, number] = [0.8, 0.66];

test('cloned from the side to the deck, by place; taped off on the model; a mask painted over sheets', async ({
  page,
  server,
}) => {
  const id = await startLivery(page, 'From here to there');
  await add(page, 'Base', 'Solid');
  const { drag, press } = await overModel(page);
  const strokesOf = async () =>
    (await liveryOf(server, id)).sheets.map(({ maps }) =>
      maps[0].layers.flatMap((l) => (l.kind === 'brush' ? l.strokes : [])),
    );
  const counts = async () => (await strokesOf()).map((all) => all.length);

  // Without a source nothing is put on, and it is said what to do.
  await hand(page, 'Clone');
  await type(page, 'size', '20');
  await drag(SIDE, [0.77, 0.66]);
  await expect(page.getByText(/Clone takes from somewhere/)).toBeVisible();
  await expect(layers(page)).toHaveCount(1);
  await page.keyboard.down('Alt');
  await press(...SIDE);
  await page.keyboard.up('Alt');
  await expect(panel(page).getByText(/^Takes from \d+, \d+;/)).toBeVisible();
  await drag(DECK, [0.77, 0.6]);
  await expect.poll(counts).toEqual([0, 1, 0]);
  expect((await strokesOf())[1][0].how).toBe('pixels');
  await saved(page);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(counts).toEqual([0, 0, 0]);

  // A box over deck and side opens a region on both sheets; a stroke right across keeps to it.
  await hand(page, 'Tape off');
  await drag([0.77, 0.6], [0.82, 0.66]);
  await expect(page.getByTestId('paints-on')).toHaveText(/Work keeps to/);
  await hand(page, 'Paint');
  await type(page, 'size', '300');
  await drag(DECK, SIDE);
  await expect.poll(counts).toEqual([1, 1, 0]);
  const taped = (await strokesOf()).map(([one]) => one?.tiles.length ?? 0);
  await hand(page, 'Tape off');
  await panel(page).getByRole('button', { name: 'Take the tape off' }).click();
  await expect(page.getByTestId('paints-on')).toHaveText('Nothing is taped off');
  await hand(page, 'Paint');
  await drag(DECK, SIDE);
  await expect.poll(counts).toEqual([2, 2, 0]);
  const open = (await strokesOf()).map((all) => all[1]?.tiles.length ?? 0);
  expect([open[0] >= taped[0], open[1] >= taped[1]]).toEqual([true, true]);

  // The mask of a stripe that lies on the model: one stroke over both sheets, one step.
  await hand(page, 'Place');
  await add(page, 'Pattern', 'Stripe');
  await panel(page).getByRole('button', { name: 'Put on the model' }).click();
  await pick(page, 'shows', 'where it is not rubbed out');
  await saved(page);
  await panel(page).getByRole('button', { name: 'Paint the mask' }).click();
  await expect(page.getByTestId('paints-on')).toHaveText('On the mask of Stripe');
  await page.getByRole('application', { name: /^The model/ }).focus();
  await page.keyboard.press('0');
  await still(page.getByRole('application', { name: /^The model/ }));
  await drag(DECK, SIDE);
  const masks = async () =>
    onSheets(await liveryOf(server, id), 'Stripe').map(({ layer }) => layer.mask?.strokes.length ?? 0);
  await expect.poll(masks).toEqual([1, 1, 0]);
  await saved(page);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(masks).toEqual([0, 0, 0]);
});

test('the view: parts left away are not painted, brought near, cut open, without perspective; sizes in millimetres', async ({
  page,
  server,
}) => {
  const id = await startLivery(page, 'By view');
  await add(page, 'Base', 'Solid');
  const { model, drag, point, press } = await overModel(page);
  const part = page.getByRole('status', { name: 'Part' });
  await press(...SIDE);
  await point(0.79, 0.66);
  await expect(part).toHaveText('starboard side');
  await page.keyboard.press('h');
  await point(0.8, 0.66);
  await expect(part.filter({ hasText: 'starboard side' })).toHaveCount(0);
  // What is left away is not met: with nothing behind it a press turns the model.
  await hand(page, 'Paint');
  await type(page, 'size', '40');
  await drag(SIDE, [0.77, 0.66]);
  await model.focus();
  await page.keyboard.press('Shift+H');
  await page.keyboard.press('0');
  await still(model);
  await point(0.79, 0.66);
  await expect(part).toHaveText('starboard side');
  const view = page.getByRole('dialog', { name: 'View of the model' });
  await page.getByRole('button', { name: 'View', exact: true }).click();
  await view.getByRole('checkbox', { name: 'deck', exact: true }).uncheck();
  await type(page, 'size', '700');
  await pick(page, 'counted in', /millimetres/);
  await drag(SIDE, [0.77, 0.66]);
  const tiles = async (sheet: string) =>
    (await liveryOf(server, id)).sheets
      .find(({ key }) => key === sheet)!
      .maps[0].layers.flatMap((l) => (l.kind === 'brush' ? l.strokes : []));
  // A brush of 70 cm would reach the deck, which is left away.
  await expect.poll(async () => (await tiles('hull')).length).toBeGreaterThan(0);
  expect(await tiles('deck')).toEqual([]);
  await view.getByRole('checkbox', { name: /keep off/ }).uncheck();
  await drag(SIDE, [0.77, 0.66]);
  await expect.poll(async () => (await tiles('deck')).length).toBeGreaterThan(0);
  await view.getByRole('button', { name: 'Show all of it' }).click();
  await hand(page, 'Place');
  await view.getByRole('combobox', { name: 'without' }).click();
  await page.getByRole('option', { name: 'starboard' }).click();
  await expect(page.locator('.MuiPopover-root')).toHaveCount(0);
  await point(...SIDE);
  await expect(part.filter({ hasText: 'starboard side' })).toHaveCount(0);
  await view.getByRole('button', { name: 'Show all of it' }).click();
  await view.getByRole('button', { name: 'Bring roof near' }).click();
  await view.getByRole('button', { name: 'Top', exact: true }).click();
  await view.getByRole('checkbox', { name: /perspective/ }).check();
  await expect(async () => {
    await point(0.51, 0.5);
    await point(0.5, 0.5);
    await expect(part).toHaveText('roof', { timeout: 500 });
  }).toPass();
  await page.keyboard.press('Escape');
});

test('a photo over the model: four places tell its camera; seen and painted through it; undone and left again', async ({
  page,
  server,
}) => {
  const id = await startLivery(page, 'By photo');
  await add(page, 'Base', 'Solid');
  const { model, press, drag } = await overModel(page);
  await press(0.05, 0.05);
  const box = (await model.boundingBox())!;
  // What the page shows is as good a photo as any: a cut of it, so that the photo's middle is the canvas' own.
  const cut = { x: box.x, y: box.y + 140, width: box.width, height: box.height - 280 };
  const buffer = await page.screenshot({ clip: cut });
  await page.getByRole('button', { name: 'View', exact: true }).click();
  const view = page.getByRole('dialog', { name: 'View of the model' });
  await view.getByLabel('Photo over the model').setInputFiles({ name: 'quay.png', mimeType: 'image/png', buffer });
  const says = page.getByTestId('matching');
  const shows = page.getByRole('button', { name: /^The photo quay/ });
  const spots: [number, number][] = [
    [0.6, 0.62],
    [0.8, 0.6],
    [0.75, 0.66],
    [0.6, 0.54],
    [0.7, 0.58],
  ];
  for (const [k, [x, y]] of spots.entries()) {
    await expect(says).toHaveText(new RegExp(`^Press on place ${k + 1} of the model`));
    await press(x, y);
    await expect(shows).toBeVisible();
    // In the photo, which is as wide as the canvas, the same pixel.
    await press(x, y);
  }
  await expect(says).toHaveText(/Off by 0\.\d % of its height/);
  await saved(page);
  const pairs = async () => (await liveryOf(server, id)).references?.[0]?.pairs?.length;
  expect(await pairs()).toBe(5);
  await page.getByRole('button', { name: 'Take back' }).click();
  await expect.poll(pairs).toBe(4);
  await page.getByRole('region', { name: 'Turntable' }).getByRole('button', { name: 'Look through' }).click();
  await expect(page.getByRole('img', { name: 'Photo quay over the model' })).toBeVisible();
  // Seen as the photo shows it: the deck is where it was, and takes paint there.
  await view.getByRole('button', { name: 'Close' }).click();
  await hand(page, 'Paint');
  await type(page, 'size', '20');
  await drag(DECK, [0.77, 0.6]);
  const strokes = async () =>
    (await liveryOf(server, id)).sheets.map(
      ({ maps }) => maps[0].layers.flatMap((l) => (l.kind === 'brush' ? l.strokes : [])).length,
    );
  await expect.poll(strokes).toEqual([0, 1, 0]);
  await page.getByRole('button', { name: 'Leave the photo' }).click();
  await expect(page.getByRole('img', { name: 'Photo quay over the model' })).toHaveCount(0);
  // A picture over the model is none beside the sheet.
  await hand(page, 'Place');
  await expect(page.getByRole('img', { name: 'Reference quay' })).toHaveCount(0);
});

test('two windows that paint one model agree, and each takes back its own stroke', async ({
  page,
  server,
  context,
}) => {
  const id = await startLivery(page, 'Two brushes');
  await add(page, 'Base', 'Solid');
  await hand(page, 'Paint');
  await type(page, 'size', '60');
  const strokesOn = async () =>
    (await liveryOf(server, id)).sheets.map(
      ({ maps }) => maps[0].layers.flatMap((l) => (l.kind === 'brush' ? l.strokes : [])).length,
    );
  await (await overModel(page)).drag(DECK, SIDE);
  await expect.poll(strokesOn).toEqual([1, 1, 0]);
  await saved(page);
  const other = await context.newPage();
  await other.goto(`/liveries/${id}`);
  await expect(layers(other)).toHaveCount(2);
  await layers(other).filter({ hasText: 'Brushwork' }).click();
  await hand(other, 'Paint');
  const there = await overModel(other);
  await expect(other.getByTestId('paints-on')).toHaveText('On Brushwork');
  await Promise.all([(await overModel(page)).drag([0.76, 0.6], [0.76, 0.66]), there.drag([0.7, 0.59], [0.7, 0.64])]);
  await expect.poll(strokesOn).toEqual([3, 3, 0]);
  await saved(page);
  await saved(other);
  await other.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(strokesOn).toEqual([2, 2, 0]);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(strokesOn).toEqual([1, 1, 0]);
  // Both show the livery as the server has it.
  const of = (on: Page) => on.getByTestId('art').evaluate((c) => (c as HTMLCanvasElement).toDataURL());
  await saved(page);
  await saved(other);
  await layers(page).filter({ hasText: 'Solid' }).click();
  await layers(other).filter({ hasText: 'Solid' }).click();
  for (const one of [page, other]) await hand(one, 'Paint');
  await expect(async () => expect(await of(other)).toBe(await of(page))).toPass();
  await other.close();
});

test('made on the model alone: a stripe over three sheets, a number on both sides, a stroke over a seam; delivered and seen in the game', async ({
  page,
  server,
}) => {
  const id = await startLivery(page, 'All on the thing');
  await add(page, 'Base', 'Solid');
  await hand(page, 'Paint');
  await type(page, 'size', '40');
  await hand(page, 'Place');
  await add(page, 'Pattern', 'Stripe');
  await panel(page).getByRole('button', { name: 'Put on the model' }).click();
  await pick(page, 'lies', /along a line/);
  await pick(page, 'cut', 'centre line');
  await add(page, 'Marks', 'Number');
  await panel(page).getByRole('button', { name: 'Put on the model' }).click();
  await pick(page, 'other side', 'the same, to be read');
  await hand(page, 'Paint');
  await page.getByRole('application', { name: /^The model/ }).focus();
  await page.keyboard.press('0');
  await still(page.getByRole('application', { name: /^The model/ }));
  await (await overModel(page)).drag(DECK, SIDE);
  await saved(page);
  const livery = await liveryOf(server, id);
  expect(onSheets(livery, 'Stripe').map(({ key }) => key)).toEqual(['hull', 'deck', 'fan']);
  expect(onSheets(livery, 'Number')[0].layer.on).toMatchObject({ partner: { readable: true } });
  for (const sheet of ['deck', 'fan']) {
    await page.getByRole('button', { name: `Sheet ${sheet}` }).click();
    await hand(page, 'Place');
    await add(page, 'Base', 'Solid');
  }
  await openDelivery(page);
  await page.getByRole('button', { name: /^Deliver \d+ files$/ }).click();
  await page.getByRole('link', { name: 'Open in the test bay' }).click();
  await expect(page.getByText(/^hull/).first()).toBeVisible();
  await expect(page.getByText('refused')).toHaveCount(0);
  await expect(page.getByText(/shown/).first()).toBeVisible();
});

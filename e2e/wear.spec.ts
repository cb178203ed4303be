/** Wear on the easel: one layer over all sheets, by the model; rubbed out by hand; its finish goes to the game. */
import type { Page } from '@playwright/test';
import { add, expect, panel, startLivery, test, type } from './fixture.ts';

/** All pixels of the sheet's view as one number. */
const looks = (page: Page): Promise<number> =>
  page.getByTestId('art').evaluate((canvas: HTMLCanvasElement) => {
    const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
    let hash = 0;
    for (let i = 0; i < data.length; i++) hash = (Math.imul(hash, 31) + data[i]) | 0;
    return hash;
  });

/** Waits until the view looks the same for a while. @returns how */
async function settled(page: Page): Promise<number> {
  let [before, now] = [NaN, await looks(page)];
  while (before !== now) {
    await page.waitForTimeout(700);
    [before, now] = [now, await looks(page)];
  }
  return now;
}

test('dust lies on every sheet as one layer, by amount; streaks run by ways that the server bakes', async ({
  page,
}) => {
  await startLivery(page, 'Worn');
  await add(page, 'Base', 'Solid');
  const plain = await settled(page);

  await test.step('one layer over all sheets, matt where it lies', async () => {
    await add(page, 'Wear', 'Dust');
    await expect(panel(page).getByRole('combobox', { name: 'finished in' })).toHaveText(/Matt/);
    await expect.poll(() => looks(page)).not.toBe(plain);
    await page.getByRole('button', { name: 'Sheet deck' }).click();
    await expect(page.getByRole('tree').getByRole('treeitem', { name: /^Dust/ })).toBeVisible();
    await page.getByRole('button', { name: 'Sheet hull' }).click();
    await page.getByRole('tree').getByRole('treeitem', { name: /^Dust/ }).click();
  });

  await test.step('none of it at 0, and back with one step', async () => {
    const dusty = await settled(page);
    await type(page, 'amount', '0');
    await expect.poll(() => looks(page)).toBe(plain);
    await page.getByRole('button', { name: /^Undo/ }).click();
    await expect.poll(() => looks(page)).toBe(dusty);
  });

  await test.step('another wear, by another field', async () => {
    const dusty = await settled(page);
    await add(page, 'Wear', 'Streaks');
    await expect.poll(() => looks(page)).not.toBe(dusty);
    await expect(panel(page).getByRole('textbox', { name: 'upwards' })).toHaveValue('-90');
  });
});

test('a livery shows at once; what goes by its model comes when that is worked out, and what goes wrong is said', async ({
  page,
}) => {
  await startLivery(page, 'Early');
  await add(page, 'Base', 'Solid');
  const plain = await settled(page);
  await add(page, 'Wear', 'Dust');
  await expect.poll(() => looks(page)).not.toBe(plain);
  await page.keyboard.press('Escape');
  const dusty = await settled(page);
  await expect(
    page
      .getByRole('status')
      .filter({ hasText: 'Saved' })
      .or(page.getByRole('button', { name: /^Saved/ })),
  ).toBeVisible();

  // The answer is held back, as that of a large model is.
  let goOn = () => {};
  const held = new Promise<void>((resolve) => (goOn = resolve));
  await page.route('**/fields/hollows', async (route) => {
    await held;
    await route.fulfill({ status: 503, json: { error: 'The machine is busy.' } });
  });
  await page.reload();
  const note = page.getByText(/^Working out the model: hollows/);
  await expect(note).toBeVisible();
  await expect.poll(() => looks(page)).toBe(plain);
  goOn();
  await expect(page.getByText(/^What goes by the model is not shown/)).toBeVisible();
  // With the next step it is tried again.
  await page.unroute('**/fields/hollows');
  await page
    .getByRole('tree')
    .getByRole('treeitem', { name: /^Solid/ })
    .click();
  await type(page, 'opacity', '99');
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect.poll(() => looks(page)).toBe(dusty);
  await expect(note).toBeHidden();
});

test('ways are baked for directions alone, and what is none is refused', async ({ page, server }) => {
  const templates = await server.get<{ hash: string }[]>('/templates');
  const ask = (name: string) => page.request.get(`${server.url}/api/templates/${templates[0].hash}/fields/${name}`);
  const { length } = await (await ask('flow-0-0')).body();
  // Four numbers of four bytes for each corner.
  expect(length % 16).toBe(0);
  expect(length).toBeGreaterThan(16 * 1000);
  for (const wrong of ['flow-360-0', 'flow-0-181', 'flow-0', 'flow-1e9-0', 'flow-0-0-0', 'drips'])
    expect([wrong, (await ask(wrong)).status()]).toEqual([wrong, 400]);
});

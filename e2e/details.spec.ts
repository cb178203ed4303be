/** The right column, the library, the list and the stops on the way: what a painter meets beside the straight path. */
import type { Page } from '@playwright/test';
import { add, colourAt, expect, layerNames, layers, saved, shows, startLivery, test, type } from './fixture.ts';

const value = (page: Page, name: string) => page.getByRole('textbox', { name, exact: true }).inputValue();
const drag = async (page: Page, from: { x: number; y: number }, to: { x: number; y: number }) => {
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move((from.x + to.x) / 2, (from.y + to.y) / 2, { steps: 3 });
  await page.mouse.move(to.x, to.y, { steps: 3 });
  await page.mouse.up();
};
const grip = async (page: Page, n: number, shape = 'rect') => {
  const box = (await page.locator(`[data-handles] ${shape}`).nth(n).boundingBox())!;
  return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
};

test('a drawing is recoloured from the scheme; its ratio can be let go; a mark moves by dragging it', async ({
  page,
}) => {
  await startLivery(page, 'Marks');
  await add(page, 'Base', 'Solid');
  await add(page, 'Marks', 'Decal');
  await page.getByRole('textbox', { name: 'Search decals' }).fill('emblem');
  await expect(page.getByRole('listitem').filter({ hasText: 'drawing' })).toHaveCount(3);
  await page.getByRole('button', { name: 'Place Tern roundel' }).click();
  await page.getByRole('button', { name: /^#f1e8d4 becomes/ }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Lettering' }).click();
  await expect(page.getByRole('button', { name: '#f1e8d4 becomes: Lettering' })).toBeVisible();

  await page.getByRole('checkbox', { name: 'Keep the ratio of width and height' }).uncheck();
  await type(page, 'width', '700');
  expect(Number(await value(page, 'height'))).toBeLessThan(400);
  await page.getByRole('checkbox', { name: 'Keep the ratio of width and height' }).check();
  expect(await value(page, 'height')).toBe('700');

  const before = [Number(await value(page, 'x')), Number(await value(page, 'y'))];
  // A first mark lies where it is seen, not in the middle of the sheet: its corners say where.
  const corners = [await grip(page, 0), await grip(page, 1), await grip(page, 2), await grip(page, 3)];
  const mean = (of: 'x' | 'y') => corners.reduce((sum, corner) => sum + corner[of], 0) / 4;
  const middle = { x: mean('x'), y: mean('y') };
  await drag(page, middle, { x: middle.x + 50, y: middle.y + 25 });
  await expect.poll(async () => Number(await value(page, 'x'))).toBeGreaterThan(before[0] + 150);
  expect(Number(await value(page, 'y'))).toBeGreaterThan(before[1] + 70);

  // The handle above turns; Escape in the middle of a drag gives up.
  const turn = await grip(page, 0, 'circle');
  await drag(page, turn, { x: turn.x + 80, y: turn.y + 80 });
  await expect.poll(async () => Number(await value(page, 'turn'))).toBeGreaterThan(20);
  const kept = await value(page, 'turn');
  const again = await grip(page, 0, 'circle');
  await page.mouse.move(again.x, again.y);
  await page.mouse.down();
  await page.mouse.move(again.x - 90, again.y, { steps: 4 });
  await page.keyboard.press('Escape');
  await page.mouse.up();
  await expect.poll(() => value(page, 'turn')).toBe(kept);
  await saved(page);
});

test('stripes and fades have handles of their own', async ({ page }) => {
  await startLivery(page, 'Lines');
  await add(page, 'Pattern', 'Stripe');
  const width = await grip(page, 1);
  await drag(page, width, { x: width.x, y: width.y + 40 });
  await expect.poll(async () => Number(await value(page, 'width'))).toBeGreaterThan(300);
  const end = await grip(page, 0, 'circle');
  await drag(page, end, { x: end.x, y: end.y + 90 });
  await expect.poll(async () => Number(await value(page, 'angle'))).toBeGreaterThan(20);

  await add(page, 'Base', 'Fade');
  const far = await grip(page, 0, 'circle');
  await page.keyboard.down('Shift');
  await drag(page, far, { x: far.x - 40, y: far.y + 60 });
  await page.keyboard.up('Shift');
  await expect.poll(async () => Number(await value(page, 'angle')) % 15).toBe(0);
  await page.getByRole('button', { name: 'Add a stop' }).click();
  await page.getByRole('button', { name: /^stop 2:/ }).click();
  await page.getByRole('button', { name: 'Take this colour out' }).click();
  await expect(page.getByRole('button', { name: /^stop/ })).toHaveCount(2);
});

test('numbers take what is typed and give back what cannot be; leaving a field makes no step', async ({ page }) => {
  await startLivery(page, 'Numbers');
  await add(page, 'Pattern', 'Stripe');
  await saved(page);
  await type(page, 'width', '12,5');
  expect(await value(page, 'width')).toBe('12.5');
  await type(page, 'width', 'wide');
  expect(await value(page, 'width')).toBe('12.5');
  await type(page, 'opacity', '250');
  expect(await value(page, 'opacity')).toBe('100');
  await type(page, 'angle', '10');
  await page.keyboard.press('Shift+ArrowUp');
  expect(await value(page, 'angle')).toBe('20');
  await saved(page);
  const steps = await page.getByRole('button', { name: /^Saved, / }).textContent();
  await page.getByRole('textbox', { name: 'x', exact: true }).focus();
  await page.getByRole('textbox', { name: 'y', exact: true }).focus();
  await page.keyboard.press('Tab');
  await saved(page);
  expect(await page.getByRole('button', { name: /^Saved, / }).textContent()).toBe(steps);
});

test('blend modes and opacity show at once; the opacity slider previews while it is dragged and is one step', async ({
  page,
}) => {
  await startLivery(page, 'Mixing');
  await add(page, 'Base', 'Solid');
  await add(page, 'Base', 'Solid');
  await page.getByRole('button', { name: /^paint:/ }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Main' }).click();
  await shows(page, 0.5, 0.5, [0x2f, 0x5d, 0x62]);
  await page.getByRole('combobox', { name: 'blend' }).click();
  await page.getByRole('option', { name: 'Multiply' }).click();
  // While the menu fades out it takes the pointer.
  await expect(page.locator('.MuiPopover-root')).toHaveCount(0);
  // Multiply, by the formula of the W3C specification: 0x2f x 0xe8 / 255 and so on, within the dither.
  const expected = [(0x2f * 0xe8) / 255, (0x5d * 0xe4) / 255, (0x62 * 0xda) / 255];
  await expect
    .poll(async () => (await colourAt(page, 0.5, 0.5)).slice(0, 3).every((v, c) => Math.abs(v - expected[c]) <= 1))
    .toBe(true);
  await saved(page);
  const slider = page.getByRole('slider', { name: 'Opacity' });
  const box = (await slider.locator('..').boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  const before = Number((await page.getByRole('button', { name: /^Saved, / }).textContent())!.match(/\d+/)![0]);
  const track = (await page.locator('.MuiSlider-root').boundingBox())!;
  await drag(
    page,
    { x: track.x + track.width - 2, y: track.y + track.height / 2 },
    { x: track.x + track.width * 0.1, y: track.y + track.height / 2 },
  );
  await expect.poll(async () => Number(await value(page, 'opacity'))).toBeLessThan(20);
  await saved(page);
  expect(Number((await page.getByRole('button', { name: /^Saved, / }).textContent())!.match(/\d+/)![0])).toBe(
    before + 1,
  );
});

test('a slider keeps where it was let go of, however quick the hand; fields follow what is undone, and what another window does', async ({
  page,
  context,
}) => {
  const id = await startLivery(page, 'Quick');
  await add(page, 'Base', 'Solid');
  await saved(page);
  const track = (await page.locator('.MuiSlider-root').boundingBox())!;
  const y = track.y + track.height / 2;
  await page.mouse.move(track.x + track.width - 2, y);
  await page.mouse.down();
  // More reports than the screen has frames, and none of them waits for the page.
  const way = Array.from({ length: 40 }, (_, k) => page.mouse.move(track.x + track.width * (1 - (k + 1) * 0.015), y));
  await way.at(-1);
  await page.mouse.up();
  await expect.poll(async () => Number(await value(page, 'opacity'))).toBe(40);
  await saved(page);
  await page.getByRole('application', { name: /^Sheet / }).focus();
  await page.keyboard.press('Control+z');
  await expect.poll(() => value(page, 'opacity')).toBe('100');
  await page.keyboard.press('Control+Shift+z');
  await expect.poll(() => value(page, 'opacity')).toBe('40');

  const other = await context.newPage();
  await other.goto(`/liveries/${id}`);
  await layers(other).first().click();
  await expect.poll(() => value(other, 'opacity')).toBe('40');
  await type(other, 'opacity', '65');
  // A field that is typed in keeps what is typed.
  await other.getByRole('textbox', { name: 'opacity' }).blur();
  await page.bringToFront();
  await expect.poll(() => value(page, 'opacity')).toBe('65');
  // The next step of this window stands on that of the other.
  await page.getByRole('textbox', { name: 'opacity' }).focus();
  await page.keyboard.press('ArrowUp');
  await expect.poll(() => value(other, 'opacity')).toBe('66');
});

test('the shelf pulled up is a list with search; layers are duplicated and deleted; the key for a bare sheet’s help comes back', async ({
  page,
}) => {
  await startLivery(page, 'Many');
  for (const maker of ['Stripe', 'Chequer', 'Stripe set']) await add(page, 'Pattern', maker);
  await page.getByRole('button', { name: 'List' }).click();
  await page.getByRole('textbox', { name: 'Search layers' }).fill('stripe');
  await expect(layers(page)).toHaveCount(2);
  await page.getByRole('textbox', { name: 'Search layers' }).fill('');
  await page.getByRole('treeitem', { name: /^Chequer/ }).click();
  await page.keyboard.press('Control+d');
  await expect.poll(() => layerNames(page)).toEqual(['Stripe', 'Chequer', 'Chequer copy', 'Stripe set']);
  await page.getByRole('button', { name: 'Put on later' }).click();
  await expect.poll(() => layerNames(page)).toEqual(['Stripe', 'Chequer', 'Stripe set', 'Chequer copy']);
  await page.getByRole('button', { name: 'List' }).click();
  for (let k = 0; k < 4; k++) {
    await layers(page).last().click();
    await page.keyboard.press('Delete');
    await expect(layers(page)).toHaveCount(3 - k);
  }
  await expect(page.getByText('This sheet is bare.')).toBeVisible();
});

test('particulars of one’s own reach lettering; a scheme colour that nothing wears can go', async ({ page }) => {
  await startLivery(page, 'Facts');
  await page.getByRole('tab', { name: 'Particulars' }).click();
  await page.getByRole('textbox', { name: 'Name of a new particular' }).fill('homePort');
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await type(page, 'homePort', 'TERN ROCK');
  await add(page, 'Marks', 'Lettering');
  await type(page, 'text', 'FROM {homePort}');
  await expect(page.getByText('Reads “FROM TERN ROCK” from the particulars.')).toBeVisible();
  await page.getByRole('combobox', { name: 'font' }).click();
  await expect(page.getByRole('option')).toHaveCount(14);
  await page.getByRole('option', { name: /^Saira Stencil One/ }).click();
  await page.getByRole('tab', { name: 'Scheme' }).click();
  await page.getByRole('button', { name: 'Add a colour' }).click();
  await type(page, 'Name of Colour 5', 'Buoy yellow');
  await page.getByRole('button', { name: 'Take Buoy yellow out' }).click();
  await expect(page.getByRole('button', { name: /^Change Buoy yellow/ })).toHaveCount(0);
  await expect(page.getByRole('button', { name: 'Take Lettering out' })).toHaveCount(0);
  await saved(page);
});

test.describe('with the model drawn', { tag: '@model' }, () => {
  test.use({ model: true });
  test('the model’s light is chosen, and it turns by keys; the surround of the sheet is switched', async ({ page }) => {
    await page.goto('/');
    await page
      .getByRole('link', { name: /Turnstone 22/ })
      .first()
      .click();
    const model = page.getByRole('application', { name: /^The model/ });
    await expect(model).toBeVisible();
    await page.waitForTimeout(1500);
    const look = () => model.screenshot();
    const first = await look();
    await page.getByRole('button', { name: 'Overcast' }).click();
    await page.getByRole('menuitem', { name: 'Unlit' }).click();
    await expect(page.getByRole('button', { name: 'Unlit' })).toBeVisible();
    await expect.poll(async () => Buffer.compare(await look(), first)).not.toBe(0);
    const unlit = await look();
    await model.focus();
    for (let k = 0; k < 4; k++) await page.keyboard.press('ArrowRight');
    await expect.poll(async () => Buffer.compare(await look(), unlit)).not.toBe(0);
    await page.getByRole('button', { name: 'Surround' }).click();
    await page.getByRole('menuitem', { name: 'White' }).click();
    await shows(page, 0.01, 0.5, [255, 255, 255]);
  });
});

test('a running delivery is cancelled, nothing is written, and it can be started again', async ({ page, server }) => {
  await startLivery(page, 'Cancelled');
  await add(page, 'Base', 'Fade');
  await saved(page);
  await page.getByRole('link', { name: 'Deliver' }).click();
  await page.getByRole('button', { name: /^Deliver 2 files/ }).click();
  await page.getByRole('button', { name: 'Cancel', exact: true }).click();
  await expect(page.getByText('Cancelled: nothing was written.')).toBeVisible();
  const { existsSync } = await import('node:fs');
  expect(existsSync(`${server.data}/games/brackwater-run/wharf/turnstone/cancelled`)).toBe(false);
  await page.getByRole('button', { name: /^Deliver 2 files/ }).click();
  await expect(page.getByText(/^Delivered 2 files/)).toBeVisible({ timeout: 120_000 });
  await page.getByRole('button', { name: 'finish.toml' }).click();
  await expect(page.getByText('Nothing changes')).toBeVisible();
  await page.getByRole('link', { name: 'Easel' }).click();
  await page.getByRole('tab', { name: 'Particulars' }).click();
  await type(page, 'number', '88');
  await saved(page);
  await page.getByRole('link', { name: 'Deliver' }).click();
  await page.getByRole('button', { name: 'finish.toml' }).click();
  await expect(page.getByText('+ number = "88"')).toBeVisible();
  await expect(page.getByText('- number = "1"')).toBeVisible();
});

test('the library takes pictures in and lets them go', async ({ page }) => {
  await page.goto('/decals');
  await expect(page.getByText('Oakum barrel')).toBeVisible();
  const svg = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><path d="M0 0h9v9z" fill="#123456"/></svg>';
  await page.getByLabel('Pictures for the library').setInputFiles([
    { name: 'Wedge.svg', mimeType: 'image/svg+xml', buffer: Buffer.from(svg) },
    { name: 'Broken.png', mimeType: 'image/png', buffer: Buffer.from('no') },
  ]);
  await expect(page.getByText('Wedge')).toBeVisible();
  await expect(page.getByRole('alert')).toContainText('Broken.png');
  await page.getByRole('button', { name: 'Take Wedge out of the library' }).click();
  await expect(page.getByText('Wedge')).toHaveCount(0);
  await page.getByRole('textbox', { name: 'Search decals' }).fill('nothing like it');
  await expect(page.getByText('Nothing is called “nothing like it”')).toBeVisible();
});

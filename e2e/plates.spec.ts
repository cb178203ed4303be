/** Plates: put on the model by hand and by keyboard, moved, fitted, painted, delivered and seen in the game; two windows agree; what stands before a mark. */
import type { Page } from '@playwright/test';
import type { Livery } from '../packages/core/src/livery/livery.ts';
import type { Plate } from '../packages/core/src/livery/plate.ts';
import { add, expect, openDelivery, panel, saved, still, test } from './fixture.ts';
import type { TestServer } from '../packages/server/src/testing/server.ts';

const shelf = (page: Page) => page.getByRole('listbox', { name: 'Plates' });
const middle = (page: Page) => page.locator('svg[data-plate-handles] circle[tabindex]');
const pick = async (page: Page, field: string, value: string) => {
  await panel(page).getByRole('combobox', { name: field }).click();
  await page.getByRole('option', { name: value }).click();
};
const platesOf = async (server: TestServer, id: string): Promise<Plate[]> =>
  (await server.get<{ livery: Livery }>(`/liveries/${id}`)).livery.plates ?? [];
const numberIn = (page: Page, name: string) =>
  panel(page).getByRole('textbox', { name, exact: true }).inputValue().then(Number);

/** A livery of the wagon with paint on its body. */
async function wagon(page: Page, server: TestServer, name: string): Promise<string> {
  const cards = await server.get<{ hash: string; name: string }[]>('/templates');
  const { hash } = cards.find((card) => card.name === 'Brock wagon')!;
  const { id } = (await server.post<{ id: string }>('/liveries', { template: hash, name })).body;
  await page.goto(`/liveries/${id}`);
  await expect(page.getByRole('region', { name: 'Flat sheet' })).toBeVisible();
  await add(page, 'Base', 'Solid');
  return id;
}

test.describe('on the turntable', () => {
  test.use({ model: true });

  test('a board with a partner, by hand: put on, slid, scaled, fitted, taken back @model', async ({ page, server }) => {
    const id = await wagon(page, server, 'By hand');
    await add(page, 'Marks', 'Plate');
    await expect(shelf(page).getByRole('option')).toHaveCount(1);
    await expect(page.locator('[data-fit]')).toHaveAttribute('data-fit', 'clear');
    await expect(middle(page)).toBeVisible();
    await pick(page, 'other side', 'the same, to be read');
    await saved(page);
    const [put] = await platesOf(server, id);
    expect(put.partner).toMatchObject({ readable: true });

    await page.getByRole('application', { name: /^The model/ }).focus();
    for (let k = 0; k < 5; k++) await page.keyboard.press('+');
    const dot = await still(middle(page));
    await page.mouse.move(dot.x + 7, dot.y + 7);
    await page.mouse.down();
    await page.mouse.move(dot.x - 50, dot.y + 16, { steps: 6 });
    await expect(page.locator('svg[data-plate-handles] text')).toHaveText(/^\d+\.\d\d m/);
    await page.mouse.up();
    await expect.poll(() => numberIn(page, 'forward')).toBeLessThan(put.at[0]);
    const corner = page.locator('svg[data-plate-handles] rect').nth(3);
    const at = await still(corner);
    await page.mouse.move(at.x + 5, at.y + 5);
    await page.mouse.down();
    await page.mouse.move(at.x + 25, at.y + 18, { steps: 4 });
    await page.mouse.up();
    await expect.poll(() => numberIn(page, 'width')).toBeGreaterThan(put.across);
    await saved(page);
    // Each is a step of its own, and is taken back.
    for (const back of ['Undo', 'Undo']) await page.getByRole('button', { name: back }).click();
    await saved(page);
    expect(await platesOf(server, id)).toEqual([put]);

    // A press on the model beside it lets it go; a press on it takes it again, when it has a picture.
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'Sheet plates' }).click();
    await add(page, 'Base', 'Solid');
    await page.getByRole('button', { name: 'Sheet body' }).click();
    await expect(panel(page).getByRole('textbox', { name: 'plate' })).toHaveCount(0);
    const canvas = (await page.getByRole('application', { name: /^The model/ }).boundingBox())!;
    await page.mouse.click(canvas.x + canvas.width / 2, canvas.y + canvas.height / 2);
    await expect(panel(page).getByRole('textbox', { name: 'plate' })).toHaveValue(put.name);
  });
});

test('by keyboard: put on, named, moved into the body and out of it, painted, delivered, seen in the game', async ({
  page,
  server,
}) => {
  const id = await wagon(page, server, 'By keys');
  await page.keyboard.press('Control+k');
  await page.keyboard.type('Put a plate');
  await page.keyboard.press('Enter');
  await expect(shelf(page).getByRole('option', { name: /^Plate 1, plate/ })).toBeVisible();
  const fill = async (name: string, value: string) => {
    const box = panel(page).getByRole('textbox', { name, exact: true });
    await box.fill(value);
    await box.press('Enter');
  };
  await fill('plate', 'Mark');
  const starboard = await numberIn(page, 'starboard');
  await fill('starboard', String(starboard * 0.75));
  await expect(page.locator('[data-fit]')).toHaveAttribute('data-fit', 'cuts');
  await expect(page.locator('[data-fit]')).toHaveText(/It lies up to \d+(\.\d)? mm in the model/);
  await openDelivery(page);
  await expect(page.getByText(/“Mark” lies up to \d+ mm in the model/)).toBeVisible();
  await expect(page.getByRole('button', { name: /^Deliver \d/ })).toBeDisabled();
  await page.getByRole('button', { name: 'Fit it to the surface' }).click();
  await expect(page.getByText(/“Mark” lies up to/)).toHaveCount(0);
  await expect(page.getByText('Nothing is painted on “Mark”')).toBeVisible();
  await page.goto(`/liveries/${id}`);
  await shelf(page).getByRole('option').focus();
  await page.keyboard.press('Enter');
  await expect(shelf(page).getByRole('option')).toHaveAttribute('aria-selected', 'true');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Sheet plates' })).toHaveAttribute('aria-current', 'true');
  await add(page, 'Marks', 'Number');
  // It lies within the picture of the plate.
  await saved(page);
  const { livery } = await server.get<{ livery: Livery }>(`/liveries/${id}`);
  const [plate] = livery.plates!;
  const mark = livery.sheets.find(({ key }) => key === 'plates')!.maps[0].layers[0] as { x: number; y: number };
  expect([mark.x, mark.y]).toEqual([plate.left + plate.width / 2, plate.top + plate.height / 2]);

  // A copy shows the same picture; hidden it is not delivered; taken off it is gone.
  await shelf(page).getByRole('option').click();
  await shelf(page).getByRole('option').focus();
  await page.keyboard.press('Control+d');
  await expect(shelf(page).getByRole('option')).toHaveCount(2);
  await shelf(page)
    .getByRole('option', { name: /^Mark copy/ })
    .focus();
  await page.keyboard.press('h');
  await expect(shelf(page).getByRole('option', { name: 'Mark copy, plate, hidden' })).toBeVisible();
  await saved(page);
  expect((await platesOf(server, id)).map(({ name, hidden }) => [name, hidden])).toEqual([
    ['Mark', undefined],
    ['Mark copy', true],
  ]);
  await page.keyboard.press('Delete');
  await expect(shelf(page).getByRole('option')).toHaveCount(1);

  await openDelivery(page);
  await page.getByRole('button', { name: /^Deliver \d+ files$/ }).click();
  await page.getByRole('link', { name: 'Open in the test bay' }).click();
  const line = page.getByRole('listitem').filter({ hasText: /^mark shown/ });
  await expect(line).toBeVisible();
  await expect(page.getByText('refused')).toHaveCount(0);
});

test('a mark that a locker stands before is told so while it is moved, and in preflight', async ({ page, server }) => {
  await wagon(page, server, 'Behind');
  await add(page, 'Marks', 'Number');
  const fill = async (name: string, value: string) => {
    const box = panel(page).getByRole('textbox', { name, exact: true });
    await box.fill(value);
    await box.press('Enter');
  };
  const told = panel(page).getByText(/^About \d+ % of it is behind lockers/);
  // Where on the starboard side the after locker stands.
  for (const [name, value] of [
    ['size', '60'],
    ['turn', '0'],
    ['x', '164'],
    ['y', '524'],
  ])
    await fill(name, value);
  await expect(told).toBeVisible();
  await openDelivery(page);
  await expect(page.getByText(/% of “Number” is behind lockers/)).toBeVisible();
  await page.goBack();
  await page.getByRole('treeitem', { name: /^Number/ }).click();
  await expect(told).toBeVisible();
  await fill('x', '520');
  await fill('y', '420');
  await expect(told).toHaveCount(0);
});

test('two windows that move one plate agree, and each takes back its own', async ({ page, server, context }) => {
  const id = await wagon(page, server, 'Two windows');
  await add(page, 'Marks', 'Plate');
  await saved(page);
  const other = await context.newPage();
  await other.goto(`/liveries/${id}`);
  await shelf(other).getByRole('option').click();
  await shelf(page).getByRole('option').click();
  const fill = async (on: Page, name: string, value: string) => {
    const box = panel(on).getByRole('textbox', { name, exact: true });
    await box.fill(value);
    await box.press('Enter');
  };
  await fill(page, 'width', '0.7');
  await fill(other, 'off', '9');
  for (const one of [page, other]) {
    await expect(panel(one).getByRole('textbox', { name: 'width', exact: true })).toHaveValue('0.7');
    await expect(panel(one).getByRole('textbox', { name: 'off', exact: true })).toHaveValue('9');
  }
  await saved(page);
  await saved(other);
  const [plate] = await platesOf(server, id);
  expect([plate.across, plate.lift]).toEqual([0.7, 0.009]);
  await other.close();
});

test('a template gets a sheet of plates; what the model wears cannot be one', async ({ page, server }) => {
  const cards = await server.get<{ hash: string; name: string }[]>('/templates');
  const { hash } = cards.find((card) => card.name === 'Whimbrel floatplane')!;
  await page.goto(`/templates/${hash}`);
  await page.getByRole('tab', { name: 'Sheet' }).click();
  await page.getByRole('combobox', { name: 'size' }).click();
  await page.getByRole('option', { name: '512 x 512' }).click();
  await page.getByRole('button', { name: 'Add a sheet of plates' }).click();
  await page.waitForURL((url) => !url.pathname.endsWith(hash));
  const made = page.url().split('/').at(-1)!;
  const { sheets } = await server.get<{ sheets: { key: string; width: number; plates?: true }[] }>(
    `/templates/${made}`,
  );
  expect(sheets.at(-1)).toMatchObject({ key: 'plates', width: 512, plates: true });
  const refused = await server.post<{ error: string }>(`/templates/${made}/changes`, {
    changes: [{ do: 'for-plates', sheet: sheets[0].key, plates: true }],
  });
  expect(refused.status).toBe(400);
  expect(refused.body.error).toBe('Parts of the model wear this sheet: it cannot be one of plates.');
});

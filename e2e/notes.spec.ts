/** Notes pinned to places: pressed on sheet and model, seen on both, turned with the paper, gone to, kept; nothing lies over the art otherwise. */
import { expect, test } from './fixture.ts';
import { problems } from './seen.ts';

test.describe('with the model drawn', { tag: '@model' }, () => {
  test.use({ model: true });

  test('a note pinned on the model is there on the sheet, and one on the sheet on the model', async ({ page }) => {
    await page.goto('/');
    await page.getByRole('link', { name: /Turnstone 7/ }).click();
    const sheet = page.getByRole('application', { name: /^Sheet hull/ });
    const model = page.getByRole('application', { name: /^The model/ });
    const pin = (where: 'Flat sheet' | 'Turntable', n: number) =>
      page.getByRole('region', { name: where }).getByRole('button', { name: new RegExp(`^Note ${n}`) });
    const say = async (text: string) => {
      await page.getByRole('textbox', { name: /^note on/ }).fill(text);
      await page.getByRole('button', { name: 'Pin it' }).click();
      await expect(page.getByRole('form', { name: 'New note' })).toHaveCount(0);
    };
    await page.getByRole('tab', { name: 'Notes' }).click();
    await expect(page.getByText('Nobody has said anything yet.')).toBeVisible();

    await test.step('on the model: it lies on the sheet of the part that was pressed on', async () => {
      await expect(model).toBeVisible();
      await page.getByRole('button', { name: 'Pin a note' }).click();
      const box = (await model.boundingBox())!;
      // A press beside the model says nothing; the next one does.
      await model.click({ position: { x: 8, y: 8 } });
      await expect(page.getByText('Press on the sheet or on the model, where')).toBeVisible();
      await expect(async () => {
        await model.click({ position: { x: box.width / 2, y: box.height / 2 } });
        await expect(page.getByRole('form', { name: 'New note' })).toBeVisible({ timeout: 3000 });
      }).toPass();
      await say('The canopy’s edge is soft here');
      await expect(pin('Turntable', 1)).toBeVisible();
      const there = (await pin('Turntable', 1).boundingBox())!;
      // The tag stands above and right of its place.
      expect(Math.hypot(there.x - 10 - box.x - box.width / 2, there.y + 26 - box.y - box.height / 2)).toBeLessThan(4);
      // When the model turns it stays where it was pinned.
      await model.focus();
      await model.press('ArrowRight');
      await expect
        .poll(async () => Math.abs((await pin('Turntable', 1).boundingBox())!.x - there.x))
        .toBeGreaterThan(2);
    });

    await test.step('on the sheet: it follows the paper, moved, turned and mirrored', async () => {
      await page.getByRole('button', { name: 'Pin a note' }).click();
      const box = (await sheet.boundingBox())!;
      await sheet.click({ position: { x: box.width * 0.4, y: box.height * 0.35 } });
      await say('Move the 7 aft by a hand');
      await expect(pin('Flat sheet', 2)).toBeVisible();
      await expect(pin('Turntable', 2)).toBeVisible();
      const at = (await pin('Flat sheet', 2).boundingBox())!;
      expect(Math.hypot(at.x - 10 - box.x - box.width * 0.4, at.y + 26 - box.y - box.height * 0.35)).toBeLessThan(3);
      await sheet.focus();
      await sheet.press('M');
      await expect.poll(async () => Math.abs((await pin('Flat sheet', 2).boundingBox())!.x - at.x)).toBeGreaterThan(20);
      await sheet.press('M');
    });

    await test.step('gone to from the list, on its own sheet; kept over a reload; not over the art when one looks at something else', async () => {
      await page.getByRole('button', { name: 'Go to note 1' }).click();
      await expect(page.getByRole('application', { name: /^Sheet deck/ })).toBeVisible();
      const view = (await page.getByRole('region', { name: 'Flat sheet' }).boundingBox())!;
      const at = (await pin('Flat sheet', 1).boundingBox())!;
      expect(Math.abs(at.x - 10 - view.x - view.width / 2)).toBeLessThan(view.width / 8);
      expect(await problems(page)).toEqual([]);
      await page.getByRole('tab', { name: 'Scheme' }).click();
      await expect(pin('Flat sheet', 1)).toHaveCount(0);
      await page.reload();
      await page.getByRole('tab', { name: 'Notes 2' }).click();
      await expect(page.getByRole('listitem', { name: 'Note 2' })).toContainText('Move the 7 aft by a hand');
      await page.getByRole('button', { name: 'Delete note 2' }).click();
      await expect(page.getByRole('listitem', { name: 'Note 2' })).toHaveCount(0);
    });
  });
});

test('in a small window the column makes room for the place, and comes back; what is written stays while one looks elsewhere; Escape leaves it', async ({
  page,
}) => {
  await page.setViewportSize({ width: 640, height: 400 });
  await page.goto('/');
  await page.getByRole('link', { name: /Turnstone 22/ }).click();
  const details = page.getByRole('button', { name: 'Details' });
  const asked = page.getByText('Press on the sheet or on the model, where');
  await details.click();
  await page.getByRole('tab', { name: 'Notes' }).click();
  for (const end of ['Escape', 'press'] as const) {
    if (end === 'press') await details.click();
    await page.getByRole('button', { name: 'Pin a note' }).click();
    await expect(asked).toBeVisible();
    await expect(page.getByRole('complementary', { name: 'Details' })).toHaveCount(0);
    if (end === 'Escape') await page.keyboard.press('Escape');
    else await page.getByRole('application', { name: /^Sheet / }).click();
    await expect(asked).toHaveCount(0);
  }
  const line = page.getByRole('textbox', { name: /^note on/ });
  await line.fill('Half a thought');
  await page.getByRole('tab', { name: 'Scheme' }).click();
  await page.getByRole('tab', { name: 'Notes' }).click();
  await expect(line).toHaveValue('Half a thought');
  await page.getByRole('button', { name: 'Leave it' }).click();
  await expect(page.getByText('Nobody has said anything yet.')).toBeVisible();
  expect(await problems(page)).toEqual([]);
});

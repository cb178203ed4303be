/** The light of the room: chosen once, kept, the same in every window; art and what lies about it stay as they are. */
import type { Page } from '@playwright/test';
import { artPixels, expect, startLivery, test } from './fixture.ts';

const choose = async (page: Page, name: string) => {
  await page.getByRole('button', { name: 'This window' }).click();
  await page.getByRole('menuitemradio', { name }).click();
  await expect(page.locator('.MuiPopover-root')).toHaveCount(0);
};
const groundOf = (page: Page, of: string) =>
  page
    .locator(of)
    .first()
    .evaluate((element) => getComputedStyle(element).backgroundColor);

test('a light room is chosen from any screen, is kept, and other windows follow', async ({ page, context }) => {
  const other = await context.newPage();
  await other.goto('/specs');
  await page.goto('/');
  expect(await groundOf(page, 'header')).toBe('rgb(42, 42, 42)');
  await choose(page, 'Light room');
  await expect.poll(() => groundOf(page, 'header')).toBe('rgb(232, 232, 232)');
  await expect.poll(() => groundOf(other, 'header')).toBe('rgb(232, 232, 232)');
  await page.reload();
  await expect.poll(() => groundOf(page, 'header')).toBe('rgb(232, 232, 232)');
  // What the browser draws by itself, its scroll bars and ticks, follows too.
  expect(await page.evaluate(() => getComputedStyle(document.documentElement).colorScheme)).toBe('light');
  // As the system has it: this one is lit, then dark.
  await choose(page, 'As the system has it');
  await page.emulateMedia({ colorScheme: 'dark' });
  await expect.poll(() => groundOf(page, 'header')).toBe('rgb(42, 42, 42)');
  await page.emulateMedia({ colorScheme: 'light' });
  await expect.poll(() => groundOf(page, 'header')).toBe('rgb(232, 232, 232)');
});

test('the sheet is drawn to the same texels in either room, and columns change sides from the same place', async ({
  page,
}) => {
  await startLivery(page, 'In two lights');
  const pixels = async () => Buffer.from(await artPixels(page)).toString('hex');
  await expect.poll(async () => (await pixels()).length).toBeGreaterThan(1000);
  await page.waitForTimeout(1500);
  const dark = await pixels();
  await choose(page, 'Light room');
  await expect.poll(() => groundOf(page, 'header')).toBe('rgb(232, 232, 232)');
  await page.waitForTimeout(500);
  expect(await pixels()).toBe(dark);
  // By its name in the finder too.
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: 'Find' }).fill('Dark room');
  await page.keyboard.press('Enter');
  await expect.poll(() => groundOf(page, 'header')).toBe('rgb(42, 42, 42)');
  const leftOf = async (name: string) =>
    (await page.getByRole('tablist', { name }).or(page.getByRole('region', { name })).first().boundingBox())!.x;
  const before = await leftOf('Flat sheet');
  await page.getByRole('button', { name: 'This window' }).click();
  await page.getByRole('menuitemcheckbox', { name: 'Columns on the other side' }).click();
  await expect.poll(() => leftOf('Flat sheet')).toBeGreaterThan(before + 100);
});

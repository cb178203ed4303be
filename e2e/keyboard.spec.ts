/** Adding, placing, reordering and delivering with the keyboard alone. */
import { expect, layerNames, saved, tabTo, test } from './fixture.ts';

test('a livery is started, painted, reordered and delivered without a mouse', async ({ page }) => {
  await page.goto('/');
  await tabTo(page, /^Start a livery$/);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('textbox', { name: 'Name' })).toBeFocused();
  await page.keyboard.type('By hand');
  await page.keyboard.press('Enter');
  await page.waitForURL(/\/liveries\/[0-9a-f-]{36}$/);

  // Adding: Base, first maker; then Marks, the number.
  await expect(page.getByRole('button', { name: 'Add to Base' })).toBeVisible();
  await tabTo(page, /^Add to Base$/);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('menuitem').first()).toBeFocused();
  await page.keyboard.press('Enter');
  await expect.poll(() => layerNames(page)).toEqual(['Solid']);
  await expect(page.getByRole('menu')).toHaveCount(0);
  await tabTo(page, /^Add to Marks$/);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('menuitem').first()).toBeFocused();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect.poll(() => layerNames(page)).toEqual(['Solid', 'Number']);
  await expect(page.getByRole('menu')).toHaveCount(0);

  // Placing: nudged on the sheet, then typed.
  await tabTo(page, /^Sheet hull\. Arrow keys/, true);
  const x = page.getByRole('textbox', { name: 'x', exact: true });
  const before = Number(await x.inputValue());
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Shift+ArrowRight');
  await expect(x).toHaveValue(String(before + 11));
  await tabTo(page, /^size/);
  await page.keyboard.type('260');
  await page.keyboard.press('Enter');
  await page.keyboard.press('ArrowUp');
  await expect(page.getByRole('textbox', { name: 'size', exact: true })).toHaveValue('261');

  // Reordering, renaming, hiding.
  await tabTo(page, /^Number, Lettering/, true);
  await page.keyboard.press('Alt+ArrowLeft');
  await expect.poll(() => layerNames(page)).toEqual(['Number', 'Solid']);
  await expect(page.getByText('Number is now 1 of 2')).toBeAttached();
  await page.keyboard.press('Alt+ArrowRight');
  await expect.poll(() => layerNames(page)).toEqual(['Solid', 'Number']);
  await page.keyboard.press('ArrowLeft');
  await expect(page.getByRole('treeitem', { name: /^Solid/ })).toBeFocused();
  await page.keyboard.press('F2');
  await expect(page.getByRole('textbox', { name: 'name' })).toBeFocused();
  await page.keyboard.type('Ground coat');
  await page.keyboard.press('Enter');
  await expect.poll(() => layerNames(page)).toEqual(['Ground coat', 'Number']);
  await page.keyboard.press('Control+z');
  await saved(page);

  // Finding.
  await page.keyboard.press('Control+k');
  await page.keyboard.type('deliver');
  await page.keyboard.press('Enter');
  await page.waitForURL(/\/deliver$/);

  // Delivering.
  // Only what can be pressed is reached: preflight comes first.
  await expect(page.getByRole('button', { name: /^Deliver \d/ })).toBeEnabled({ timeout: 120_000 });
  await tabTo(page, /^Deliver \d/);
  await page.keyboard.press('Enter');
  await expect(page.getByText(/^Delivered 2 files/)).toBeVisible({ timeout: 120_000 });
});

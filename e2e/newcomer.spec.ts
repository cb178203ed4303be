/** From nothing to the first own livery in a stand-in game, as somebody would who has never seen this: by what the page itself says. */
import { expect, saved, tabTo, test } from './fixture.ts';

test.use({ lead: true });

test('led from fact to fact, in under 15 actions; then the line is gone', async ({ page }) => {
  let actions = 0;
  const act = async (work: Promise<unknown>) => {
    actions++;
    await work;
  };
  await page.goto('/');
  await act(page.getByRole('link', { name: 'Start a livery' }).click());
  await act(page.getByRole('textbox', { name: 'Name' }).fill('My first'));
  // What it will be called in the game is said before there is anything.
  await expect(page.getByRole('region', { name: 'Files to be' }).getByText(/my-first_hull\.dds$/)).toBeVisible();
  await act(page.getByRole('button', { name: 'Start the livery' }).click());
  const next = page.getByRole('region', { name: 'What is next' });
  await expect(next.getByText('Put a ground on')).toBeVisible();
  await act(next.getByRole('button', { name: 'Add a solid' }).click());
  await expect(next.getByText('Lay a stripe or a band')).toBeVisible();
  await act(next.getByRole('button', { name: 'Add a stripe' }).click());
  await expect(next.getByText('Add its number')).toBeVisible();
  await act(next.getByRole('button', { name: 'Add the number' }).click());
  await saved(page);
  // The number lies on a part of the craft, not beside it.
  await expect(next.getByRole('strong')).toHaveText('Look at the proof');
  await act(next.getByRole('button', { name: 'Look at the proof' }).click());
  await expect(page).toHaveURL(/\/proof$/);
  await expect(page.getByText('Painted').first()).toBeVisible();
  await act(page.getByRole('link', { name: 'Easel' }).click());
  await expect(next.getByRole('strong')).toHaveText('Deliver it');
  await act(next.getByRole('button', { name: 'Deliver it' }).click());
  await act(page.getByRole('button', { name: /^Deliver \d/ }).click());
  await expect(page.getByText('Delivered', { exact: true })).toBeVisible({ timeout: 90_000 });
  await act(page.getByRole('link', { name: 'Open in the test bay' }).click());
  await expect(
    page
      .getByRole('complementary', { name: 'What the game made of it' })
      .getByRole('listitem')
      .filter({ hasText: /^hull/ }),
  ).toContainText('shown');
  expect(actions).toBeLessThan(15);

  // All done: the line has checked itself off.
  await page.goBack();
  await page.getByRole('link', { name: 'Easel' }).click();
  await expect(page.getByRole('tree')).toBeVisible();
  await expect(next).toHaveCount(0);
});

test('the line can be put away for good', async ({ page }) => {
  await page.goto('/start');
  await page.getByRole('textbox', { name: 'Name' }).fill('Old hand');
  await page.getByRole('button', { name: 'Start the livery' }).click();
  const next = page.getByRole('region', { name: 'What is next' });
  await next.getByRole('button', { name: 'Put this line away for good' }).click();
  await expect(next).toHaveCount(0);
  await page.reload();
  await expect(page.getByRole('region', { name: 'Flat sheet' })).toBeVisible();
  await expect(next).toHaveCount(0);
});

test('the same by keyboard alone, in under 60 presses', async ({ page }) => {
  let presses = 0;
  const press = async (key: string) => {
    presses++;
    await page.keyboard.press(key);
  };
  const goTo = async (name: RegExp) => {
    presses += await tabTo(page, name);
  };
  await page.goto('/');
  await expect(page.getByText('Turnstone 7').first()).toBeVisible();
  await goTo(/^Start a livery$/);
  await press('Enter');
  await expect(page.getByRole('textbox', { name: 'Name' })).toBeFocused();
  await page.keyboard.type('By keys');
  await press('Enter');
  const next = page.getByRole('region', { name: 'What is next' });
  await expect(next.getByText('Put a ground on')).toBeVisible();
  await goTo(/^Add a solid$/);
  await press('Enter');
  await expect(next.getByRole('button', { name: 'Add a stripe' })).toBeFocused();
  await press('Enter');
  await expect(next.getByRole('button', { name: 'Add the number' })).toBeFocused();
  await press('Enter');
  await expect(next.getByRole('button', { name: 'Look at the proof' })).toBeFocused();
  await saved(page);
  await press('Enter');
  await expect(page).toHaveURL(/\/proof$/);
  await expect(page.getByText('Painted').first()).toBeVisible();
  await goTo(/^Deliver$/);
  await press('Enter');
  await expect(page.getByRole('button', { name: /^Deliver \d/ })).toBeEnabled();
  await goTo(/^Deliver \d/);
  await press('Enter');
  await expect(page.getByText('Delivered', { exact: true })).toBeVisible({ timeout: 90_000 });
  await goTo(/^Open in the test bay$/);
  await press('Enter');
  await expect(page).toHaveURL(/\/bay\//);
  expect(presses).toBeLessThan(60);
});

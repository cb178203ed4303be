/** The demo world as it stands after a first start: every game shows its livery, beside its own, near and far, by night; several stand in a row. */
import { test as base, expect, serverOf } from './fixture.ts';
import { until, type TestServer } from '../packages/server/src/testing/server.ts';

const test = base.extend<object, { server: TestServer }>({
  server: serverOf({ demo: 'delivered' }, (server) =>
    until(
      () => server.get<{ lastDelivery: string | null }[]>('/liveries'),
      (all) => all.every(({ lastDelivery }) => lastDelivery !== null),
    ),
  ),
});

test('eight games in a row, each with a picture of what it loaded', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('link', { name: 'Test bay' }).click();
  const games = page.getByRole('list', { name: 'Games' }).getByRole('listitem');
  await expect(games).toHaveCount(8);
  for (const [game, says] of [
    ['Brackwater Run', 'and 2 others'],
    ['Ninth Meridian', 'Whimbrel 12, Tern & Tide Air Mail'],
    ['Ferrywarden’s Oath', 'Lanternfish warden 31'],
    ['Pebblewick', 'post harbour'],
    ['Marshkin', 'Ember of the rescue'],
    ['Harbour Watch', 'Slot 22'],
    ['Longhaul', 'Brock 41, Ebbline Freight'],
  ])
    await expect(games.filter({ hasText: game })).toContainText(says, { timeout: 90_000 });
  // Each picture has come, and none is flat or like another.
  const pictures = await page.locator('main img').evaluateAll(async (all) =>
    Promise.all(
      (all as HTMLImageElement[]).map(async (img) => {
        await img.decode();
        const canvas = new OffscreenCanvas(56, 36);
        const context = canvas.getContext('2d')!;
        context.drawImage(img, 0, 0, 56, 36);
        const { data } = context.getImageData(0, 0, 56, 36);
        return {
          colours: new Set(Array.from({ length: 56 * 36 }, (_, i) => data.slice(i * 4, i * 4 + 3).join())).size,
          data: data.join(),
        };
      }),
    ),
  );
  expect(pictures).toHaveLength(8);
  for (const { colours } of pictures) expect(colours).toBeGreaterThan(50);
  expect(new Set(pictures.map(({ data }) => data)).size).toBe(8);
});

test('a level is a level: from the side, in the colours of its boxes', async ({ page }) => {
  await page.goto('/bay/pebblewick');
  const level = page.getByRole('img', { name: 'The level in the game' });
  await expect(level).toBeVisible();
  // The sky's upper colour is the livery's own, out of its box.
  const top = await level.evaluate((canvas) => [
    ...(canvas as HTMLCanvasElement).getContext('2d')!.getImageData(600, 0, 1, 1).data,
  ]);
  expect(top).toEqual([0x5f, 0x7f, 0x96, 255]);
  await expect(page.getByText('Sky, top')).toBeVisible();
  // Beside it the level with a bare sheet: as wide, and another sky.
  await page.getByRole('button', { name: 'Beside a bare sheet' }).click();
  const own = page.getByRole('img', { name: 'The level with a bare sheet' });
  await expect(own).toBeVisible();
  const [theirs, width] = await own.evaluate(async (image) => {
    const picture = image as HTMLImageElement;
    await picture.decode();
    const context = new OffscreenCanvas(picture.naturalWidth, picture.naturalHeight).getContext('2d')!;
    context.drawImage(picture, 0, 0);
    return [[...context.getImageData(600, 0, 1, 1).data], picture.naturalWidth] as const;
  });
  expect(theirs).not.toEqual(top);
  expect(width).toBe(
    await page
      .getByRole('img', { name: 'The level as delivered' })
      .evaluate((canvas) => (canvas as HTMLCanvasElement).width),
  );
});

test.describe('with the model drawn', { tag: '@model' }, () => {
  test.use({ model: true });

  test('beside its own, near and far, and by lamplight', async ({ page }) => {
    await page.goto('/bay/ninth-meridian');
    const mine = page.getByRole('img', { name: 'The craft in the game' });
    await expect(mine).toBeVisible();
    await page.getByRole('button', { name: 'Beside its own' }).click();
    await expect(page.getByRole('img', { name: 'The craft as the game ships it' })).toBeVisible();
    const delivered = page.getByRole('img', { name: 'The craft as delivered' });
    await expect(delivered).toBeVisible();
    const shot = async () => (await delivered.screenshot()).toString('base64');
    await page.getByRole('button', { name: 'near', exact: true }).click();
    await expect(page.getByRole('button', { name: 'near', exact: true })).toHaveAttribute('aria-pressed', 'true');
    await page.waitForTimeout(500);
    const near = await shot();
    await page.getByRole('button', { name: 'far', exact: true }).click();
    await expect.poll(async () => (await shot()) !== near).toBe(true);
    const day = await shot();
    await page.getByRole('button', { name: 'night', exact: true }).click();
    await expect.poll(async () => (await shot()) !== day).toBe(true);
    await expect(page.getByRole('button', { name: 'Overcast' })).toBeDisabled();
  });

  test('several liveries are chosen and stand on one turntable', async ({ page }) => {
    await page.goto('/');
    for (const name of ['Turnstone 7, Tern & Tide Post', 'Whimbrel 12, Tern & Tide Air Mail', 'Post harbour'])
      await page.getByRole('checkbox', { name: `Choose ${name} for a line-up` }).check();
    await page.getByRole('link', { name: 'Line up 3' }).click();
    const row = page.getByRole('img', { name: '3 liveries on one turntable' });
    await expect(row).toBeVisible();
    await expect(page.getByRole('list', { name: 'In the line-up' }).getByRole('link')).toHaveCount(3);
    await expect(page.getByRole('progressbar', { name: 'Sheets' })).toHaveCount(0, { timeout: 120_000 });
    const own = (await row.screenshot()).toString('base64');
    await page.getByRole('button', { name: 'All one size' }).click();
    await expect.poll(async () => (await row.screenshot()).toString('base64') !== own).toBe(true);
    await page.getByRole('link', { name: 'Post harbour' }).click();
    await expect(page).toHaveURL(/\/liveries\/[0-9a-f-]{36}$/);
  });
});

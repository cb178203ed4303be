/** Fingers on the sheet: two of them move, widen and turn it; what one had begun to paint is given up. */
import { add, expect, hand, layers, test } from './fixture.ts';
import { startLivery } from './fixture.ts';

test.use({ hasTouch: true });

test('two fingers zoom and turn the sheet, and leave no stroke behind', async ({ page }) => {
  await startLivery(page, 'Fingers');
  await add(page, 'Base', 'Solid');
  await hand(page, 'Paint');
  const box = (await page.getByTestId('art').boundingBox())!;
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  const client = await page.context().newCDPSession(page);
  const touch = (type: 'touchStart' | 'touchMove' | 'touchEnd', ...points: [number, number][]) =>
    client.send('Input.dispatchTouchEvent', {
      type,
      touchPoints: points.map(([px, py], id) => ({ x: px, y: py, id })),
    });
  const zoom = async () =>
    Number(/\d+/.exec((await page.getByRole('button', { name: /^Zoom / }).getAttribute('aria-label'))!)![0]);
  const before = await zoom();
  await touch('touchStart', [x - 40, y]);
  await touch('touchMove', [x - 44, y + 4]);
  await touch('touchStart', [x - 44, y + 4], [x + 40, y]);
  for (const k of [1, 2, 3, 4]) await touch('touchMove', [x - 40 - 20 * k, y + 15 * k], [x + 40 + 20 * k, y - 15 * k]);
  await touch('touchEnd', [x + 120, y - 60]);
  await touch('touchMove', [x + 60, y - 20]);
  await touch('touchEnd');
  await expect.poll(zoom).toBeGreaterThan(before * 2);
  // They turned by some 27 degrees, of which 8 are what fingers do.
  await expect(page.getByRole('button', { name: /^Zoom / })).toContainText(/-(1[5-9]|2[0-2])°/);
  // Nothing was painted: there is the ground alone, and a stroke with one finger still paints.
  await expect(layers(page)).toHaveCount(1);
  await touch('touchStart', [x - 30, y]);
  for (const k of [1, 2, 3]) await touch('touchMove', [x - 30 + 20 * k, y]);
  await touch('touchEnd');
  await expect(layers(page)).toHaveCount(2);
});

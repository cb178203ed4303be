/** An atlas without a model: its cells are found by number, named, kept to and taped off. The atlas is made by ImageMagick. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { PNG } from 'pngjs';
import { add, expect, hand, makeTemplate, panel, saved, test } from './fixture.ts';

let folder: string;
test.beforeAll(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'wl-cells-'));
  execFileSync('convert', [
    ...['-size', '256x256', 'gradient:grey20-grey90', '-type', 'TrueColor', path.join(folder, 'Dock_Props.png')],
  ]);
});
test.afterAll(() => rmSync(folder, { recursive: true }));

test('two cells become a place by their name; a layer keeps to them to the texel; the tape takes them', async ({
  page,
}) => {
  await page.goto('/templates');
  await page.getByLabel('Files to bring in').setInputFiles(path.join(folder, 'Dock_Props.png'));
  await page.waitForURL(/\/templates\/bring\//);
  await makeTemplate(page, 'Docks');

  // Nobody said how it is divided: eight by eight, as the locator shows it.
  await page.getByRole('button', { name: 'Locator', exact: true }).click();
  await page.getByRole('button', { name: 'Cell 10', exact: true }).click();
  await page.getByRole('button', { name: 'Cell 11', exact: true }).click({ modifiers: ['Shift'] });
  await page.getByRole('tab', { name: 'Parts' }).click();
  await page.getByRole('textbox', { name: 'call it' }).fill('Crate');
  await page.getByRole('textbox', { name: 'call it' }).press('Enter');
  await expect(page.getByRole('button', { name: 'Crate 10, 11' })).toBeVisible();
  await page.getByRole('tab', { name: 'What is where' }).click();
  await page.getByRole('button', { name: 'Start a livery' }).click();
  await page.waitForURL(/\/liveries\//);
  const id = page.url().split('/').at(-1)!;
  await add(page, 'Base', 'Solid');
  await page.getByRole('combobox', { name: 'keeps to' }).click();
  // Neither islands nor the board are spoken of.
  await expect(page.getByRole('option', { name: /board|Dock/i })).toHaveCount(0);
  await page.getByRole('option', { name: 'Crate' }).click();
  await page.keyboard.press('Escape');
  await expect(panel(page).getByText('Solid, Crate')).toBeVisible();
  await saved(page);
  const picture = async () =>
    PNG.sync.read(await (await page.request.get(`/api/liveries/${id}/sheets/dock-props`)).body());
  const changed = async () => {
    const { data, width, height } = await picture();
    const box = { left: width, top: height, right: 0, bottom: 0, n: 0 };
    for (let i = 0; i < data.length; i += 4) {
      // The atlas is grey, and the paint is not.
      if (Math.max(data[i], data[i + 1], data[i + 2]) - Math.min(data[i], data[i + 1], data[i + 2]) < 8) continue;
      const [x, y] = [(i / 4) % width, Math.floor(i / 4 / width)];
      box.n++;
      box.left = Math.min(box.left, x);
      box.right = Math.max(box.right, x + 1);
      box.top = Math.min(box.top, y);
      box.bottom = Math.max(box.bottom, y + 1);
    }
    return box;
  };
  // Cells 10 and 11 of eight by eight over 256 texels; a sheet as small as that is shown texel by texel.
  await expect.poll(changed).toEqual({ left: 32, top: 32, right: 96, bottom: 64, n: 64 * 32 });

  await hand(page, 'Tape off');
  const by = panel(page).getByRole('combobox', { name: 'by' });
  await by.click();
  await expect(page.getByRole('option', { name: /island|part/ })).toHaveCount(0);
  await page.getByRole('option', { name: /^a cell/ }).click();
  // While the list fades out it takes the pointer.
  await expect(page.locator('.MuiPopover-root')).toHaveCount(0);
  const art = (await page.getByTestId('art').boundingBox())!;
  const side = Math.min(art.width, art.height);
  const spot = { x: 2.5 / 8, y: 1.5 / 8 };
  const scale =
    Number(/\d+/.exec((await page.getByRole('button', { name: /^Zoom / }).getAttribute('aria-label'))!)![0]) / 100;
  await page.mouse.click(
    art.x + art.width / 2 + (spot.x - 0.5) * 256 * scale,
    art.y + art.height / 2 + (spot.y - 0.5) * 256 * scale,
  );
  await expect(panel(page).getByText('64 x 32 texels are open')).toBeVisible();
  expect(side).toBeGreaterThan(100);
});

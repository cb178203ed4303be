/** A painter brings in what a game gives out, settles what it is, and paints on the right sheet. */
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { PNG } from 'pngjs';
import { pixels, writePsd } from '../packages/core/src/testing/layeredFiles.ts';
import { demoBytes } from '../packages/core/src/testing/scenes.ts';
import { colourSheet, normalSheet } from '../packages/core/src/testing/textures.ts';
import type { Image8 } from '../packages/core/src/raster/image.ts';
import { expect, layerNames, makeTemplate, saved, shows, test } from './fixture.ts';

let folder: string;
const SIDE = 256;
const PAINT = [30, 90, 160] as const;

test.beforeAll(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'wl-pack-'));
  const pack = path.join(folder, 'quay pack');
  mkdirSync(path.join(pack, 'tex'), { recursive: true });
  const save = (name: string, { width, height, data }: Image8) => {
    const png = new PNG({ width, height });
    png.data = Buffer.from(data);
    writeFileSync(path.join(pack, name), PNG.sync.write(png));
  };
  writeFileSync(path.join(pack, 'skimmer.glb'), demoBytes('turnstone.glb'));
  save('tex/skimmer_deck.png', colourSheet(4, SIDE));
  save('tex/skimmer_deck_n.png', normalSheet(5, SIDE));
  writeFileSync(path.join(pack, 'tex/broken.tga'), 'no');
  writeFileSync(
    path.join(pack, 'skimmer hull.psd'),
    writePsd(
      [
        { name: 'paint', imageData: pixels(SIDE, SIDE, () => [...PAINT, 255]) },
        {
          name: 'UV wire',
          imageData: pixels(SIDE, SIDE, (x, y) => (x % 16 && y % 16 ? [0, 0, 0, 0] : [0, 0, 0, 255])),
        },
        { name: 'plate 7', imageData: pixels(40, 20, () => [240, 240, 240, 255]), left: 8, top: 8 },
      ],
      SIDE,
      SIDE,
    ),
  );
});
test.afterAll(() => rmSync(folder, { recursive: true }));

test(
  'a folder becomes a template: files told apart, roles corrected, the livery begins with the art and without the guides',
  { tag: '@model' },
  async ({ page }) => {
    await page.goto('/templates');
    await expect(page.getByRole('list', { name: 'Templates' }).getByRole('listitem')).not.toHaveCount(0);
    await page.getByLabel('Folder to bring in').setInputFiles(path.join(folder, 'quay pack'));
    await page.waitForURL(/\/templates\/bring\//);
    const files = page.getByRole('region', { name: 'Files' });
    await expect(files.getByText('5 files')).toBeVisible();
    await expect(page.getByRole('status').getByRole('progressbar')).toHaveCount(0, { timeout: 120_000 });
    await expect(files.getByText(/cut off|TGA/)).toBeVisible();
    await expect(page.getByRole('combobox', { name: /What .*skimmer_deck_n.png is/ })).toHaveText('normal');

    // What was understood of the layered file, and one correction.
    await page.getByRole('button', { name: /Look at .*skimmer hull.psd/ }).click();
    await expect(page.getByRole('combobox', { name: 'What UV wire is' })).toHaveText('guide');
    await page.getByRole('combobox', { name: 'What plate 7 is' }).click();
    await page.getByRole('option', { name: 'guide, never delivered' }).click();
    await expect(page.getByText('You said so.')).toBeVisible();

    // The sheets were put together by name; the fan has no file and was left out.
    const make = page.getByRole('region', { name: 'The template' });
    await expect(make.getByText('2 sheets')).toBeVisible();
    await expect(make.getByRole('button', { name: 'Needs the game' })).toBeDisabled();
    await makeTemplate(page, 'Quay Racers');

    // Islands by number, problems with "show me", the same number on the model.
    await expect(page.getByText(/lie on one another/).first()).toBeVisible();
    await page.getByRole('button', { name: 'Show me' }).first().click();
    await expect(page.getByRole('button', { name: /^Island \d+$/, pressed: true })).toHaveCount(2);
    await page.getByRole('textbox', { name: 'island' }).fill('3');
    await page.getByRole('textbox', { name: 'island' }).press('Enter');
    await expect(page.getByRole('heading', { name: 'Island 3' })).toBeVisible();
    await expect(page.getByRole('button', { name: 'Island 3', exact: true })).toHaveAttribute('aria-pressed', 'true');

    await page.getByRole('button', { name: 'Start a livery' }).click();
    await page.waitForURL(/\/liveries\//);
    await expect(page.getByRole('tree')).toBeVisible();
    expect(await layerNames(page)).toEqual(['paint']);
    await shows(page, 0.5, 0.5, PAINT);
    await saved(page);

    // The wire and the plate are guides: above the art, and not in it.
    await page.getByRole('button', { name: /^Guides:/ }).click();
    await expect(page.getByRole('menuitem', { name: 'plate 7' })).toBeVisible();
    await page.getByRole('menuitem', { name: 'UV wire' }).click();
    await page.keyboard.press('Escape');
    const drawn = () =>
      page.getByTestId('guides').evaluate((canvas) => {
        const { width, height } = canvas as HTMLCanvasElement;
        const { data } = (canvas as HTMLCanvasElement).getContext('2d')!.getImageData(0, 0, width, height);
        return data.reduce((n, v, i) => n + ((i & 3) === 3 && v > 0 ? 1 : 0), 0);
      });
    await expect.poll(drawn).toBeGreaterThan(20_000);
    await shows(page, 0.5, 0.5, PAINT);

    // The locator and a number, from the keyboard.
    await page.keyboard.press('Control+k');
    await page.getByRole('combobox', { name: 'Find' }).fill('island 4');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('button', { name: /^Guides: 5/ })).toBeVisible();
  },
);

test('files are let go of, and an address that is gone says so', async ({ page }) => {
  await page.goto('/templates');
  await page.getByLabel('Files to bring in').setInputFiles(path.join(folder, 'quay pack/tex/skimmer_deck.png'));
  await page.waitForURL(/\/templates\/bring\//);
  const address = page.url();
  await expect(page.getByText('1 sheet', { exact: true })).toBeVisible({ timeout: 60_000 });
  await page.getByRole('button', { name: 'Let go of these files' }).click();
  await page.waitForURL(/\/templates$/);
  await page.goto(address);
  await expect(page.getByText('These files are not here')).toBeVisible();
});

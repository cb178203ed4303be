/** Somebody's finished skin on a subject that is here: chosen in Start, settled sheet by sheet, painted over, handed back. Files by ImageMagick. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { pixels, writePsd } from '../packages/core/src/testing/layeredFiles.ts';
import { add, expect, makeTemplate, saved, test } from './fixture.ts';

let folder: string;
test.beforeAll(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'wl-over-'));
  for (const [name, side] of [
    ['ferry_hull.tga', 2048],
    ['ferry_deck.png', 1024],
  ] as const)
    execFileSync('convert', [
      '-size',
      `${side}x${side}`,
      'gradient:navy-tan',
      '-type',
      'TrueColor',
      path.join(folder, name),
    ]);
});
test.afterAll(() => rmSync(folder, { recursive: true }));

test('a finished skin is settled on the sheets it fits, painted over on one, and the other goes out byte for byte', async ({
  page,
  server,
}) => {
  await page.goto('/');
  await page.getByRole('link', { name: 'Start a livery' }).click();
  await page.getByRole('radio', { name: /Turnstone/ }).check();
  await page
    .getByLabel('Files of a finished skin')
    .setInputFiles(['ferry_hull.tga', 'ferry_deck.png'].map((name) => path.join(folder, name)));
  await page.waitForURL(/\/templates\/bring\//);
  const over = page.getByRole('region', { name: 'A livery over a finished skin' });
  await expect(over.getByText('its name says “hull”')).toBeVisible({ timeout: 120_000 });
  await expect(over.getByText('its name says “deck”')).toBeVisible();
  await expect(over.getByText('none of them is 512 x 512')).toBeVisible();
  await over.getByRole('textbox', { name: 'name' }).fill('Over the ferry');
  await over.getByRole('textbox', { name: 'name' }).press('Enter');
  await over.getByRole('button', { name: 'Start the livery' }).click();
  await page.waitForURL(/\/liveries\//, { timeout: 120_000 });
  await expect(page.getByRole('tree').getByText('Original')).toBeVisible();
  await add(page, 'Pattern', 'Stripe');
  await saved(page);
  await page.getByRole('link', { name: 'Deliver' }).click();
  const tree = page.getByRole('region', { name: 'What will be written' });
  await expect(tree.getByRole('button', { name: /hull\.tga$/ })).toBeVisible({ timeout: 120_000 });
  await expect(tree.getByRole('button', { name: /deck\.png$/ })).toBeVisible();
  await page.getByRole('button', { name: /^Deliver \d+ files/ }).click();
  await expect(page.getByText(/^Delivered \d+ files? of step \d+/)).toBeVisible({ timeout: 90_000 });
  const root = path.join(server.data, 'games');
  const written = readdirSync(root, { recursive: true, encoding: 'utf8' }).map((name) => path.join(root, name));
  const is = (name: string) =>
    readFileSync(written.find((file) => file.endsWith(name))!).equals(readFileSync(path.join(folder, name)));
  expect(is('ferry_deck.png')).toBe(true);
  expect(is('ferry_hull.tga')).toBe(false);
});

test('a finished 2048 TGA with the layered template of the same car: above its paint, under its shading and guides', async ({
  page,
  server,
}) => {
  const big = path.join(folder, 'hatch_body.psd');
  const grow = (
    name: string,
    blendMode: string,
    value: (x: number, y: number) => [number, number, number, number],
  ) => ({
    ...{ name, blendMode, imageData: { ...pixels(2048, 2048, value) } },
  });
  writeFileSync(
    big,
    writePsd(
      [
        grow('factory paint', 'normal', () => [150, 150, 150, 255]),
        grow('shading', 'multiply', (x) => [255 - (x >> 5), 255 - (x >> 5), 255 - (x >> 5), 255]),
        grow('UV wire', 'normal', (x, y) => [0, 0, 0, x % 256 < 3 || y % 256 < 3 ? 255 : 0]),
      ] as never,
      2048,
      2048,
    ),
  );
  const skin = path.join(folder, 'team_hatch_body.tga');
  execFileSync('convert', [
    ...['-size', '2048x2048', 'gradient:maroon-gold', '-type', 'TrueColor', '-compress', 'none', skin],
  ]);
  await page.goto('/templates');
  await page.getByLabel('Files to bring in').setInputFiles(big);
  await page.waitForURL(/\/templates\/bring\//);
  await expect(page.getByRole('status').getByRole('progressbar')).toHaveCount(0, { timeout: 90_000 });
  await makeTemplate(page, 'Hatch Cup');
  await page.getByLabel('Files of a finished skin').setInputFiles(skin);
  await page.waitForURL(/\/templates\/bring\//);
  const over = page.getByRole('region', { name: 'A livery over a finished skin' });
  await expect(over.getByRole('button', { name: 'Start the livery' })).toBeEnabled({ timeout: 120_000 });
  await over.getByRole('button', { name: 'Start the livery' }).click();
  await page.waitForURL(/\/liveries\//, { timeout: 120_000 });
  const spines = page.getByRole('tree').getByRole('treeitem');
  await expect(spines.filter({ hasText: 'Original' })).toBeVisible();
  const names = await spines.allInnerTexts();
  const at = (name: string) => names.findIndex((text) => text.includes(name));
  expect(at('factory paint')).toBeLessThan(at('Original'));
  expect(at('Original')).toBeLessThan(at('shading'));
  // The wire is a guide: in the list of guides, not in the art.
  expect(at('UV wire')).toBe(-1);
  await page.getByRole('link', { name: 'Deliver' }).click();
  const tree = page.getByRole('region', { name: 'What will be written' });
  await expect(tree.getByRole('button', { name: /team_hatch_body\.tga$/ })).toBeVisible({ timeout: 120_000 });
  await page.getByRole('button', { name: /^Deliver \d+ files?/ }).click();
  await expect(page.getByText(/^Delivered \d+ files? of step \d+/)).toBeVisible({ timeout: 90_000 });
  const root = path.join(server.data, 'games/hatch-cup');
  const [own] = readdirSync(root, { recursive: true, encoding: 'utf8' }).filter((name) => name.endsWith('.tga'));
  // Nobody painted: it is the skin, byte for byte.
  expect(readFileSync(path.join(root, own)).equals(readFileSync(skin))).toBe(true);
});

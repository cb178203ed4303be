/** A skin put out under a new name, by hand in the browser, with no spec's text touched: files by ImageMagick, texts written here. */
import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { Page } from '@playwright/test';
import { filesBelow } from '../packages/core/src/testing/trees.ts';
import { add, expect, makeTemplate, saved, test } from './fixture.ts';

let folder: string;
test.beforeAll(() => (folder = mkdtempSync(path.join(os.tmpdir(), 'wl-new-name-'))));
test.afterAll(() => rmSync(folder, { recursive: true }));

function write(name: string, content: string | Buffer): void {
  const file = path.join(folder, name);
  mkdirSync(path.dirname(file), { recursive: true });
  writeFileSync(file, content);
}

/** A texture by ImageMagick, each of another picture. */
function texture(name: string, seed: number, side: number, ...how: string[]): void {
  mkdirSync(path.dirname(path.join(folder, name)), { recursive: true });
  execFileSync('convert', [
    ...['-size', `${side}x${side}`, '-seed', String(seed), 'plasma:sienna-navy', ...how, '-strip'],
    path.join(folder, name),
  ]);
}

/** Brings a folder, makes its template, starts a livery and paints one stripe on its first sheet. */
async function paintedOver(page: Page, name: string, game: string, files: number): Promise<void> {
  await page.goto('/templates');
  await page.getByLabel('Folder to bring in').setInputFiles(path.join(folder, name));
  await page.waitForURL(/\/templates\/bring\//);
  await expect(page.getByText(`${files} files`)).toBeVisible();
  await expect(page.getByRole('status').getByRole('progressbar')).toHaveCount(0, { timeout: 90_000 });
  await makeTemplate(page, game);
  await page.getByRole('button', { name: 'Start a livery' }).click();
  await page.waitForURL(/\/liveries\//);
  await expect(page.getByRole('tree')).toBeVisible();
  await add(page, 'Pattern', 'Stripe');
  await saved(page);
}

async function words(page: Page, rows: readonly [string, string][]): Promise<void> {
  for (const [i, [word, by]] of rows.entries()) {
    if (i > 0) await page.getByRole('button', { name: 'Another word' }).click();
    await page.getByRole('textbox', { name: `Word ${i + 1}`, exact: true }).fill(word);
    await page.getByRole('textbox', { name: `What word ${i + 1} becomes` }).fill(by);
  }
}

async function deliver(page: Page, files: number): Promise<void> {
  await page.getByRole('button', { name: /^Deliver \d+ files?/ }).click();
  await expect(page.getByText(new RegExp(`^Delivered ${files} files of step`))).toBeVisible({ timeout: 90_000 });
}

test('rail vehicle: fifteen textures in subfolders and a property text, three words and a path', async ({
  page,
  server,
}) => {
  const names = [
    ...['body', 'roof', 'ends', 'doors', 'windows'].map((part) => `coach/body/marsh_line_${part}`),
    ...['frame', 'wheels', 'springs', 'axle', 'brakes'].map((part) => `coach/bogie/marsh_line_${part}`),
    ...['seats', 'floor', 'walls', 'lamps', 'signs'].map((part) => `coach/inside/marsh_line_${part}`),
  ];
  names.forEach((name, i) =>
    i % 3 === 2 ? texture(`${name}.tga`, i, 128, '-compress', 'none') : texture(`${name}.dds`, i, 128),
  );
  const property =
    '; properties\r\n[vehicle]\r\nname = Marsh Line coach\r\nnumber = ML-01\r\nskin = marsh_line\r\nbody = coach/body/marsh_line_body.dds\r\n[marshland]\r\nkeep = marsh lines\r\n';
  write('coach/coach.prop', Buffer.from(property));

  await paintedOver(page, 'coach', 'Branch Lines', 16);
  await page.getByRole('link', { name: 'Deliver' }).click();
  await page.getByRole('link', { name: 'Put it out under a new name' }).click();
  await expect(page.getByRole('textbox', { name: 'Word 1', exact: true })).toHaveValue('marsh_line');
  await words(page, [
    ['marsh_line', 'fen_line'],
    ['Marsh Line', 'Fen Line'],
    ['ML-01', 'FL-01'],
    ['coach/body', 'coach/fen_body'],
  ]);
  // Every line that changes, and nothing else of it.
  const preview = page.getByRole('region', { name: 'What becomes of the files' });
  const text = preview.getByRole('region', { name: /coach\.prop/ });
  await expect(text.getByText('4 lines of it, and nothing else.')).toBeVisible();
  await expect(text.getByText('name = Fen Line coach')).toBeVisible();
  await expect(text.getByText('keep = marsh lines')).toHaveCount(0);
  await expect(preview.getByRole('row')).toHaveCount(15);
  await page.getByRole('button', { name: 'Put out 16 files otherwise' }).click();
  await page.waitForURL(/\/deliver$/);
  const tree = page.getByRole('region', { name: 'What will be written' });
  await expect(tree.getByRole('button', { name: /fen_line_body/ })).toBeVisible({ timeout: 120_000 });
  await deliver(page, 16);

  const root = path.join(server.data, 'games/branch-lines');
  const [own] = readdirSync(root);
  const out = path.join(root, own);
  const renamed = (name: string) => name.replace(/^body\//, 'body/').replaceAll('marsh_line', 'fen_line');
  const expected = filesBelow(path.join(folder, 'coach')).map(renamed);
  expect(filesBelow(out).toSorted()).toEqual(expected.toSorted());
  const unlike = filesBelow(path.join(folder, 'coach')).filter(
    (name) => !readFileSync(path.join(out, renamed(name))).equals(readFileSync(path.join(folder, 'coach', name))),
  );
  // The painted sheet and the text.
  expect(unlike).toHaveLength(2);
  expect(readFileSync(path.join(out, 'coach.prop')).toString()).toBe(
    property
      .replaceAll('coach/body', 'coach/fen_body')
      .replaceAll('marsh_line', 'fen_line')
      .replaceAll('Marsh Line', 'Fen Line')
      .replaceAll('ML-01', 'FL-01'),
  );
});

test('soldier package: a side in front of names, two scripts, textures in a folder of their own, one list shared', async ({
  page,
  server,
}) => {
  const parts = ['coat', 'boots', 'helmet', 'pack'];
  parts.forEach((part, i) =>
    texture(`scout/textures/ash_scout/ash_scout_${part}.tga`, i + 40, 64, '-compress', 'none'),
  );
  const script = 'unit ash_scout\n{\n\tskin "textures/ash_scout/ash_scout_coat.tga"\n\tname "Ash scout"\n}\n';
  const roster = 'roster\n{\n  unit heron_guard\n  {\n    cost 3\n  }\n  unit ash_scout\n  {\n    cost 2\n  }\n}\n';
  write('scout/scripts/ash_scout.script', script);
  write('scout/scripts/roster.script', roster);
  write('scout/mesh.bin', Buffer.from([0, 1, 2, ...Buffer.from('ash_scout_coat.tga'), 0]));

  await paintedOver(page, 'scout', 'Hedge War', 7);
  await page.getByRole('link', { name: 'Deliver' }).click();
  await page.getByRole('link', { name: 'Put it out under a new name' }).click();
  await words(page, [
    ['ash_scout', 'elm_scout'],
    ['Ash scout', '{{particulars.name}}'],
  ]);
  // The list keeps its old entry.
  await page.getByRole('region', { name: 'Texts' }).getByRole('combobox', { name: 'is' }).nth(1).click();
  await page.getByRole('option', { name: 'new entries beside the old ones' }).click();
  await expect(page.getByText('1 file that is no text names these words, and is left alone: mesh.bin.')).toBeVisible();
  await page.getByRole('button', { name: /^Put out \d files otherwise/ }).click();
  await page.waitForURL(/\/deliver$/);
  await expect(
    page.getByRole('region', { name: 'What will be written' }).getByRole('button', { name: /elm_scout_coat/ }),
  ).toBeVisible({ timeout: 120_000 });
  await deliver(page, 6);
  const root = path.join(server.data, 'games/hedge-war');
  const [own] = readdirSync(root);
  const out = path.join(root, own);
  expect(filesBelow(out).toSorted()).toEqual(
    [
      ...parts.map((part) => `textures/elm_scout/elm_scout_${part}.tga`),
      'scripts/elm_scout.script',
      'scripts/roster.script',
    ].toSorted(),
  );
  const livery = 'Scout livery';
  expect(readFileSync(path.join(out, 'scripts/elm_scout.script'), 'utf8')).toBe(
    script.replaceAll('ash_scout', 'elm_scout').replace('Ash scout', livery),
  );
  expect(readFileSync(path.join(out, 'scripts/roster.script'), 'utf8')).toBe(
    roster.replace('cost 2\n  }\n', 'cost 2\n  }\n  unit elm_scout\n  {\n    cost 2\n  }\n'),
  );
  // Nobody painted three of the four: they go along under their new names, byte for byte.
  const same = parts.filter((part) =>
    readFileSync(path.join(out, `textures/elm_scout/elm_scout_${part}.tga`)).equals(
      readFileSync(path.join(folder, `scout/textures/ash_scout/ash_scout_${part}.tga`)),
    ),
  );
  expect(same).toHaveLength(3);
});

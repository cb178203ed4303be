/** Over a finished skin, through the interface: nothing but the paint goes out, the last stroke is in it, and what is shown is delivered. */
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { makeForeignSkin } from '../packages/core/src/testing/foreignSkin.ts';
import { filesBelow, hashOfFile } from '../packages/core/src/testing/trees.ts';
import { add, expect, makeTemplate, saved, startLivery, test } from './fixture.ts';

let folder: string;
test.beforeAll(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'wl-exact-'));
  makeForeignSkin(folder);
});
test.afterAll(() => rmSync(folder, { recursive: true }));

test('a folder of sixteen files: brought in, one sheet painted, delivered in its own tree with all else byte for byte', async ({
  page,
  server,
}) => {
  await page.goto('/templates');
  await page.getByLabel('Folder to bring in').setInputFiles(path.join(folder, 'skin'));
  await page.waitForURL(/\/templates\/bring\//);
  await expect(page.getByText('16 files')).toBeVisible();
  await expect(page.getByRole('status').getByRole('progressbar')).toHaveCount(0, { timeout: 90_000 });
  const make = page.getByRole('region', { name: 'The template' });
  await expect(make.getByText('11 sheets')).toBeVisible();
  await expect(page.getByText('In another light:').first()).toBeVisible();
  // What is in no sheet is listed with the reason, and can go along.
  const beside = make.getByRole('region', { name: 'In no sheet' });
  for (const name of ['skin/conf/skin.ini', 'skin/conf/model.bin'])
    await beside.getByRole('checkbox', { name }).check();
  await makeTemplate(page, 'Wharf Racers');
  await page.getByRole('button', { name: 'Start a livery' }).click();
  await page.waitForURL(/\/liveries\//);
  await expect(page.getByRole('tree')).toBeVisible();
  await add(page, 'Pattern', 'Stripe');
  await saved(page);

  await page.getByRole('link', { name: 'Deliver' }).click();
  const tree = page.getByRole('region', { name: 'What will be written' });
  await expect(tree.getByRole('button', { name: 'cloth/light/coat_wet.png' })).toBeVisible({ timeout: 120_000 });
  await expect(tree.getByRole('row', { name: /skin\.ini/ })).toContainText('as it came');
  // Both beside each other, with figures.
  await tree
    .getByRole('button', { name: /\.dds$/ })
    .first()
    .click();
  const details = page.getByRole('complementary', { name: 'The chosen file' });
  await expect(details.getByRole('region', { name: 'Against the original' })).toContainText('where nobody painted');
  // A copy in another light: beside its master, as it will go out.
  await tree.getByRole('button', { name: 'cloth/light/coat_wet.png' }).click();
  const wet = details.getByRole('region', { name: 'cloth/light/coat_wet.png beside its master' });
  await expect(wet.getByRole('img', { name: /as it goes out/ })).toBeVisible();
  await expect(wet).toContainText(/In its light the master is \d\.\d of 255 on average/);
  await page.getByRole('button', { name: 'Deliver 16 files' }).click();
  await expect(page.getByText(/^Delivered 16 files of step \d+/)).toBeVisible({ timeout: 90_000 });

  const root = path.join(server.data, 'games/wharf-racers');
  const [own] = readdirSync(root);
  expect(filesBelow(path.join(root, own))).toEqual(filesBelow(path.join(folder, 'skin')));
  const unlike = filesBelow(path.join(root, own)).filter(
    (name) => hashOfFile(path.join(root, own, name)) !== hashOfFile(path.join(folder, 'skin', name)),
  );
  // One sheet was painted; it is as long as it was, behind the same header.
  expect(unlike.length).toBe(1);
  const [before, after] = [path.join(folder, 'skin'), path.join(root, own)].map((dir) =>
    readFileSync(path.join(dir, unlike[0])),
  );
  expect(after.length).toBe(before.length);
  expect(after.subarray(0, 128).equals(before.subarray(0, 128))).toBe(true);

  // The proof shows the file that was delivered: most of its blocks are the original's.
  await page.getByRole('link', { name: 'Proof' }).click();
  const facts = page.getByRole('complementary', { name: 'What the encoding does' });
  await expect(facts).toContainText('the original’s');
  const shown = Number(/the original’s([\d.]+) % of blocks/.exec((await facts.textContent())!)?.[1]);
  // BC1: blocks of 8 bytes behind a header of 128.
  expect(unlike).toEqual(['body/bc1.dds']);
  const blocks = (128 / 4) ** 2;
  let kept = 0;
  for (let at = 128; at < 128 + blocks * 8; at += 8) if (before.compare(after, at, at + 8, at, at + 8) === 0) kept++;
  // A block that was painted may come out as it was.
  expect(shown).toBeLessThanOrEqual((kept / blocks) * 100 + 0.01);
  expect(shown).toBeGreaterThan((kept / blocks) * 100 - 3);
});

test('steps that cannot be sent hold the delivery until somebody knows it, and go along when they arrive', async ({
  page,
}) => {
  const id = await startLivery(page, 'Late');
  await add(page, 'Base', 'Solid');
  await saved(page);
  await page.route('**/entries', (route) => (route.request().method() === 'POST' ? route.abort() : route.continue()));
  await add(page, 'Pattern', 'Stripe');
  await page.getByRole('link', { name: 'Deliver' }).click();
  const asks = page.getByRole('dialog', { name: /step is not saved yet/ });
  await expect(asks).toBeVisible();
  await asks.getByRole('button', { name: 'Leave; send it later' }).click();
  await page.waitForURL(`**/liveries/${id}/deliver`);
  await expect(page.getByText('1 step is not saved yet.')).toBeVisible();
  const deliver = page.getByRole('button', { name: /^Deliver \d+ file/ });
  await expect(deliver).toBeDisabled();
  await page.getByRole('button', { name: /^Deliver step \d+ without it/ }).click();
  await expect(page.getByRole('button', { name: 'Wait for it' })).toBeVisible();
  await page.unroute('**/entries');
  await expect(page.getByText('1 step is not saved yet.')).toHaveCount(0, { timeout: 60_000 });
  await expect(page.getByText(/, the newest\./)).toBeVisible();
  // What arrived is in what is shown.
  const { revision } = (await (await page.request.get(`/api/liveries/${id}`)).json()) as { revision: number };
  await expect(page.getByText(`Step ${revision}, the newest.`)).toBeVisible();
});

test('another spec shows its own tree at once, and what is shown is delivered', async ({ page }) => {
  await startLivery(page, 'Other rules');
  await add(page, 'Base', 'Solid');
  await saved(page);
  await page.getByRole('link', { name: 'Deliver' }).click();
  await expect(page.getByRole('button', { name: /^Deliver \d+ file/ })).toBeVisible();
  await page.route('**/preflight?*', async (route) => {
    if (route.request().url().includes('harbour-watch')) await new Promise((done) => setTimeout(done, 3000));
    await route.continue();
  });
  await page.getByRole('combobox', { name: 'and also by' }).click();
  await page.getByRole('option', { name: /Harbour Watch/ }).click();
  // Greyed, with the new names, and nothing to press.
  const tree = page.getByRole('region', { name: 'What will be written' }).first();
  await expect(tree).toHaveAttribute('aria-busy', 'true');
  await expect(tree.getByText(/launch-/).first()).toBeVisible();
  await expect(page.getByRole('button', { name: /^Deliver \d+ file/ })).toBeHidden();
  await expect(page.getByRole('button', { name: /^Deliver \d+ files? by 2 specs/ })).toBeVisible({ timeout: 45_000 });
});

/** Night by hand: what is lit by day's own layers, seen in the dark on sheet and model, delivered beside the day and read by the game. */
import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import type { Page } from '@playwright/test';
import { flipRows } from '../packages/core/src/raster/image.ts';
import { readWithPillow } from '../packages/core/src/testing/independent.ts';
import { hashOfFile } from '../packages/core/src/testing/trees.ts';
import { add, colourAt, expect, panel, rgb, saved, test, type, wear } from './fixture.ts';

const MIDDLE = [0.5, 0.5] as const;
const show = async (page: Page, command: string) => {
  await page.keyboard.press('Control+k');
  await page.keyboard.type(command);
  await page.keyboard.press('Enter');
};

test('what is lit stays bright in the dark, shines, and is delivered; moved by day it is moved by night', async ({
  page,
  server,
}) => {
  await page.goto('/start');
  await page.getByRole('radio', { name: 'Whimbrel floatplane' }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('Dusk post');
  await page.getByRole('button', { name: 'Start the livery' }).click();
  await page.waitForURL(/\/liveries\/[0-9a-f-]{36}$/);

  await test.step('the paint is dark, what is lit is as by day', async () => {
    await add(page, 'Base', 'Solid');
    await wear(page, '#a06030');
    await add(page, 'Pattern', 'Stripe');
    await wear(page, '#40d0ff');
    await page.getByRole('checkbox', { name: 'Lit', exact: true }).check();
    await type(page, 'shines as far as', '0.4');
    await show(page, 'Show night alone');
    await expect(page.getByRole('region', { name: 'What is shown' })).toHaveText(/In the dark/);
    await expect.poll(async () => (await colourAt(page, ...MIDDLE)).slice(0, 3)).toEqual(rgb('#40d0ff'));
  });

  await test.step('the night is set on the sheet, for all of them', async () => {
    await page.getByRole('button', { name: 'Sheet bow' }).click();
    await expect(panel(page).getByRole('checkbox', { name: 'Follows the day' })).toBeChecked();
    await type(page, 'light left', '50');
    await type(page, 'colour left', '100');
    await page.getByRole('button', { name: /^Undo/ }).click();
    await expect(panel(page).getByRole('textbox', { name: 'colour left' })).toHaveValue('55');
    await show(page, 'Show the paint');
    await page.getByRole('button', { name: 'Sheet stern' }).click();
    await add(page, 'Base', 'Solid');
    await page.getByRole('tab', { name: 'Particulars' }).click();
    await type(page, 'registration', 'NM-31');
    await page.getByRole('tab', { name: 'Chosen' }).click();
  });

  const folder = path.join(server.data, 'games/ninth-meridian/wraps/dusk-post');
  const file = (name: string) => path.join(folder, `dusk-post_${name}.dds`);
  const deliver = async () => {
    await saved(page);
    await page.getByRole('link', { name: 'Deliver', exact: true }).click();
    await page.getByRole('button', { name: /^Deliver \d+ files/ }).click();
    await expect(page.getByText(/^Delivered \d/)).toBeVisible({ timeout: 240_000 });
  };
  const texel = (name: string, x: number, y: number) => {
    const picture = flipRows(readWithPillow(readFileSync(file(name)), 'dds'));
    const i = (y * picture.width + x) * 4;
    return [...picture.data.subarray(i, i + 3)];
  };
  const near = (found: number[], wanted: readonly number[], by: number) =>
    expect(
      Math.max(...wanted.map((v, i) => Math.abs(v - found[i]))),
      `${found.join()} is ${wanted.join()}`,
    ).toBeLessThan(by);

  await test.step('day and night are delivered, each as the game takes it', async () => {
    await deliver();
    near(texel('bow', 1024, 1024), rgb('#40d0ff'), 12);
    near(texel('bow_night', 1024, 1024), rgb('#40d0ff'), 12);
    near(texel('bow', 1024, 60), rgb('#a06030'), 12);
    // Luma of ITU-R BT.709, 55 % of the colour, half the light, the tint of a new livery.
    const y = 0.2126 * 160 + 0.7152 * 96 + 0.0722 * 48;
    const tint = rgb('#aebfe0').map((v) => v / 255);
    near(
      texel('bow_night', 1024, 60),
      rgb('#a06030').map((v, i) => (y + (v - y) * 0.55) * 0.5 * tint[i]),
      12,
    );
    // It shines over the cut on to the next sheet, and not as far as its end; where nothing was painted the game keeps its own.
    expect(texel('stern_night', 46, 1024)[2]).toBeGreaterThan(texel('stern_night', 1900, 1024)[2] + 60);
    expect(existsSync(file('wings_night'))).toBe(false);
  });

  await test.step('the game reads its nights', async () => {
    await page.getByRole('link', { name: 'Open in the test bay' }).click();
    await expect(page.getByText('bow/night shown')).toBeVisible({ timeout: 120_000 });
  });

  await test.step('the stripe is moved by day: its light has moved, and sheets that it does not change stay as they are', async () => {
    const before = ['bow', 'bow_night', 'stern'].map((name) => hashOfFile(file(name)));
    await page.goBack();
    await page.getByRole('link', { name: 'Easel' }).click();
    await page.getByRole('button', { name: 'Sheet bow' }).click();
    await page.getByRole('treeitem', { name: /^Stripe, / }).click();
    await type(page, 'y', '400');
    await deliver();
    await expect
      .poll(() => ['bow', 'bow_night', 'stern'].map((name) => hashOfFile(file(name))), { timeout: 120_000 })
      .not.toEqual(before);
    const after = ['bow', 'bow_night', 'stern'].map((name) => hashOfFile(file(name)));
    expect(after.map((hash, i) => hash === before[i])).toEqual([false, false, true]);
    near(texel('bow_night', 1024, 400), rgb('#40d0ff'), 12);
    expect(Math.max(...texel('bow_night', 1024, 1024))).toBeLessThan(120);
  });
});

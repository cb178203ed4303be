/** Finishes from the hand to the game: worn by layers, seen as zones, delivered as the game wants them, and read by it. */
import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { parse } from 'smol-toml';
import { FIRST_FINISHES, shownAs } from '../packages/core/src/livery/finish.ts';
import { readWithPillow } from '../packages/core/src/testing/independent.ts';
import { hashOfFile } from '../packages/core/src/testing/trees.ts';
import { add, expect, startLivery, test } from './fixture.ts';
import type { Page } from '@playwright/test';

const finish = async (page: Page, name: string) => {
  await page.getByRole('combobox', { name: 'finished in' }).click();
  await page.getByRole('option', { name, exact: true }).click();
};
const find = async (page: Page, command: string) => {
  await page.keyboard.press('Control+k');
  await page.keyboard.type(command);
  await page.keyboard.press('Enter');
};
const spine = (page: Page, name: string) => page.getByRole('treeitem', { name: new RegExp(`^${name}, `) });
const zoneOf = (hex: string) => ({ '#d02020': 'shell', '#20a020': 'band', '#2040d0': 'trim', '#202020': 'grip' })[hex];

/** Every colour of a delivered coat map, by another's reader. */
function coloursIn(file: string): Set<string> {
  const { data } = readWithPillow(readFileSync(file), 'dds');
  const words = new Set(new Uint32Array(data.buffer.slice(0, data.length)));
  return new Set(
    [...words].map(
      (w) => `#${[w & 255, (w >> 8) & 255, (w >> 16) & 255].map((v) => v.toString(16).padStart(2, '0')).join('')}`,
    ),
  );
}

test('layers wear finishes; zones, values and the game’s own reading follow from them, and only what changed is made again', async ({
  page,
  server,
}) => {
  await startLivery(page, 'Glint');
  await test.step('a layer is finished by hand, said on its spine, and taken back in one step', async () => {
    await add(page, 'Base', 'Solid');
    await finish(page, 'Matt');
    await expect(spine(page, 'Solid')).toHaveAttribute('aria-label', /finished in Matt/);
    await page.getByRole('button', { name: /^Undo/ }).click();
    await expect(spine(page, 'Solid')).not.toHaveAttribute('aria-label', /finished in/);
    await page.getByRole('button', { name: /^Redo|^Do again/ }).click();
    await expect(spine(page, 'Solid')).toHaveAttribute('aria-label', /finished in Matt/);
    await add(page, 'Pattern', 'Stripe');
    await finish(page, 'Chrome');
  });

  await test.step('the sheet shows its finishes, each with its share', async () => {
    await find(page, 'Show finishes alone');
    const legend = page.getByRole('list', { name: 'Finishes of hull' });
    await expect(legend.getByRole('listitem')).toHaveText([/Matt\d+ %/, /Chrome(<1|\d+) %/]);
    const shown = FIRST_FINISHES.map(({ id }) => shownAs({}, id));
    await expect
      .poll(() =>
        page.getByTestId('art').evaluate((canvas: HTMLCanvasElement) => {
          const ctx = canvas.getContext('2d')!;
          const { data } = ctx.getImageData(canvas.width / 2, 0, 1, canvas.height);
          const hexes = new Set<string>();
          for (let i = 0; i < data.length; i += 4)
            hexes.add(`#${[data[i], data[i + 1], data[i + 2]].map((v) => v.toString(16).padStart(2, '0')).join('')}`);
          return [...hexes];
        }),
      )
      .toContain(shown[2]);
    await find(page, 'Show the paint');
    await expect(page.getByRole('region', { name: 'What is shown' })).toHaveCount(0);
  });

  await test.step('a finish is changed in one place, for all that wear it', async () => {
    await page.getByRole('button', { name: 'Change the finishes' }).click();
    const finishes = page.getByRole('region', { name: 'Finishes' });
    await finishes.getByRole('button', { name: /^Matt/ }).click();
    const roughness = finishes.getByRole('textbox', { name: 'roughness', exact: true });
    await roughness.fill('77');
    await roughness.press('Enter');
    await expect(finishes.getByRole('button', { name: 'Take Matt out' })).toBeDisabled();
  });

  const folder = path.join(server.data, 'games/brackwater-run/wharf/turnstone/glint');
  const at = (name: string) => path.join(folder, name);
  const deliver = async (files: string) => {
    // At once: what was just done goes along all the same.
    await page.getByRole('link', { name: 'Deliver', exact: true }).click();
    await page.getByRole('button', { name: files }).click();
    await expect(page.getByText(/^Delivered \d/)).toBeVisible({ timeout: 120_000 });
  };
  await test.step('the delivery: a coat map in the game’s own colours, and its values', async () => {
    await deliver('Deliver 3 files');
    const colours = [...coloursIn(at('glint_hull_coatmap.dds'))];
    const toml = parse(readFileSync(at('finish.toml'), 'utf8')) as {
      zone: { key: string; kind: string; roughness: number }[];
    };
    expect(colours.map(zoneOf).sort()).toEqual(toml.zone.map(({ key }) => key).sort());
    expect(toml.zone.find(({ kind }) => kind === 'matt')!.roughness).toBe(0.77);
    expect(toml.zone.map(({ kind }) => kind).sort()).toEqual(['chrome', 'matt']);
    expect(existsSync(at('glint_deck_coatmap.dds'))).toBe(false);
  });

  await test.step('the game reads it', async () => {
    await page.getByRole('link', { name: 'Open in the test bay' }).click();
    await expect(page.getByText('hull/zones shown')).toBeVisible({ timeout: 120_000 });
    await expect(page.getByText(/chrome, roughness 0.05, metal 1/)).toBeVisible();
  });

  await test.step('the stripe is wider: colour and zones follow; of a finish alone only values do', async () => {
    const hashes = () =>
      ['glint_hull.dds', 'glint_hull_coatmap.dds', 'finish.toml'].map((name) => hashOfFile(at(name)));
    const first = hashes();
    await page.goBack();
    await page.getByRole('link', { name: 'Easel' }).click();
    await spine(page, 'Stripe').click();
    await page.getByRole('textbox', { name: 'width' }).fill('400');
    await page.getByRole('textbox', { name: 'width' }).press('Enter');
    await deliver('Deliver 3 files');
    await expect.poll(() => hashes()[1], { timeout: 120_000 }).not.toBe(first[1]);
    const second = hashes();
    expect(second.map((hash, i) => hash === first[i])).toEqual([false, false, true]);
    await page.getByRole('link', { name: 'Easel' }).click();
    await page.getByRole('tab', { name: 'Scheme' }).click();
    const finishes = page.getByRole('region', { name: 'Finishes' });
    await finishes.getByRole('button', { name: /^Chrome/ }).click();
    await finishes.getByRole('textbox', { name: 'roughness', exact: true }).fill('9');
    await finishes.getByRole('textbox', { name: 'roughness', exact: true }).press('Enter');
    await deliver('Deliver 3 files');
    await expect.poll(() => hashes()[2], { timeout: 120_000 }).not.toBe(second[2]);
    expect(hashes().map((hash, i) => hash === second[i])).toEqual([true, true, false]);
  });
});

test('a spec gets zones by hand: the map, its colours, what each takes', async ({ page }) => {
  await page.goto('/specs/harbour-watch');
  await page.getByRole('button', { name: 'Duplicate' }).click();
  await expect(page).toHaveURL(/harbour-watch-2$/);
  const zones = page.getByRole('region', { name: 'Finish zones' });
  await zones.getByRole('checkbox', { name: 'It has zones of finish' }).check();
  await zones.getByRole('button', { name: 'Add a zone' }).click();
  await zones.getByRole('textbox', { name: 'name' }).nth(1).fill('Brightwork');
  await zones.getByRole('textbox', { name: 'name' }).nth(1).press('Enter');
  await zones.getByRole('combobox', { name: 'takes' }).nth(1).click();
  await page.getByRole('option', { name: 'chrome' }).click();
  await page.keyboard.press('Escape');
  await expect(zones.getByRole('combobox', { name: 'takes' }).nth(1)).toHaveText('chrome');
  await expect(page.getByText('zones of every sheet')).toBeVisible();
  // A colour that another zone has is not taken.
  const colours = zones.locator('input[type=color]');
  await colours.nth(1).fill(await colours.nth(0).inputValue());
  await expect(colours.nth(1)).not.toHaveValue(await colours.nth(0).inputValue());
});

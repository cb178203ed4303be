/** A person's path from an empty livery to the stand-in game and a bundle, in the order of the work. */
import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { readWithPillow } from '../packages/core/src/testing/independent.ts';
import { add, colourAt, expect, layerNames, layers, saved, shows, startLivery, test, type } from './fixture.ts';

test('the demo liveries stand on the first screen with picture and checklist', async ({ page }) => {
  await page.goto('/');
  const card = (name: string) => page.getByRole('listitem').filter({ hasText: name });
  for (const name of [
    'Turnstone 7, Tern & Tide Post',
    'Turnstone 22, Ebbline Freight',
    'Turnstone 114, Lanternfish Rescue',
  ]) {
    await expect(card(name)).toHaveCount(1);
    await expect(card(name).getByRole('img', { name: 'hull: ready' })).toBeVisible();
  }
  await expect(card('Lanternfish').getByRole('img', { name: 'fan: ready' })).toBeVisible();
  // The picture is one: it has come, and it is not flat.
  await expect
    .poll(() =>
      page
        .locator('main img')
        .first()
        .evaluate((img: HTMLImageElement) => img.naturalWidth),
    )
    .toBe(560);
});

test('from a bare template to the test bay and a bundle', async ({ page, server }) => {
  const id = await startLivery(page, 'Heron Line');

  await test.step('a bare sheet says what to do', async () => {
    await expect(page.getByText('This sheet is bare.')).toBeVisible();
  });

  await test.step('a base, and the sheet is covered', async () => {
    await add(page, 'Base', 'Solid');
    await shows(page, 0.5, 0.5, [0xe8, 0xe4, 0xda]);
    await expect(layers(page)).toHaveCount(1);
  });

  await test.step('a stripe: typed numbers, the axis, softness', async () => {
    await add(page, 'Pattern', 'Stripe');
    await type(page, 'y', '1024');
    await type(page, 'width', '300');
    await shows(page, 0.5, 0.5, [0xd9, 0x57, 0x3f]);
    await type(page, 'angle', '90');
    await page.getByRole('button', { name: 'Centre on the axis' }).click();
    await expect(page.getByRole('textbox', { name: 'x', exact: true })).toHaveValue('1009');
    await type(page, 'softness', '40');
    await type(page, 'angle', '0');
  });

  await test.step('a stripe set, a chequer and a fade', async () => {
    await add(page, 'Pattern', 'Stripe set');
    await type(page, 'stripes', '6');
    await add(page, 'Pattern', 'Chequer');
    await type(page, 'across', '5');
    await add(page, 'Base', 'Radial fade');
    await page.getByRole('button', { name: 'Add a stop' }).click();
    await expect(page.getByRole('button', { name: /^stop 3:/ })).toBeVisible();
    expect(await layerNames(page)).toEqual(['Solid', 'Stripe', 'Stripe set', 'Chequer', 'Radial fade']);
    await page.getByRole('button', { name: 'Delete' }).click();
    await expect(layers(page)).toHaveCount(4);
  });

  await test.step('a number bound to the particulars, with an outline', async () => {
    await add(page, 'Marks', 'Number');
    await expect(page.getByText('Reads “1” from the particulars.')).toBeVisible();
    await page.getByRole('checkbox', { name: 'Outline' }).check();
    await page.getByRole('tab', { name: 'Particulars' }).click();
    await type(page, 'number', '31');
    await page.getByRole('tab', { name: 'Chosen' }).click();
    await expect(page.getByText('Reads “31” from the particulars.')).toBeVisible();
  });

  await test.step('a decal from the library', async () => {
    await add(page, 'Marks', 'Decal');
    await page.getByRole('button', { name: 'Place Saltglass bottle' }).click();
    await expect.poll(async () => (await layerNames(page)).at(-1)).toBe('Saltglass bottle');
  });

  await test.step('the corner handle scales with the ratio kept; the numbers follow', async () => {
    const number = async (name: string) => Number(await page.getByRole('textbox', { name, exact: true }).inputValue());
    const [w, h] = [await number('width'), await number('height')];
    const corner = page.locator('[data-handles="decal"] rect').nth(2);
    const box = (await corner.boundingBox())!;
    await page.mouse.move(box.x + 5, box.y + 5);
    await page.mouse.down();
    await page.mouse.move(box.x + 25, box.y + 40, { steps: 5 });
    await page.mouse.up();
    await expect.poll(() => number('width')).toBeGreaterThan(w * 1.1);
    expect((await number('width')) / (await number('height'))).toBeCloseTo(w / h, 2);
  });

  await test.step('blend mode, opacity, parts, name, lock and hide', async () => {
    await page.getByRole('combobox', { name: 'blend' }).click();
    await expect(page.getByRole('option')).toHaveCount(25);
    await page.getByRole('option', { name: 'Multiply' }).click();
    await type(page, 'opacity', '80');
    await page.getByRole('combobox', { name: 'keeps to' }).click();
    await page.getByRole('option', { name: 'port side' }).click();
    await page.keyboard.press('Escape');
    await type(page, 'name', 'Sponsor');
    await expect(page.getByRole('treeitem', { name: 'Sponsor, Decal, port side' })).toBeVisible();
    await page.getByRole('button', { name: 'Lock', exact: true }).click();
    await expect(page.getByText('Locked: unlock it to change it.')).toBeVisible();
    await expect(page.getByRole('button', { name: 'Delete' })).toBeDisabled();
    await page.getByRole('button', { name: 'Unlock' }).click();
    await page.getByRole('button', { name: 'Hide' }).click();
    await expect(page.getByRole('treeitem', { name: /Sponsor.*hidden/ })).toBeVisible();
    await page.getByRole('button', { name: 'Show', exact: true }).click();
  });

  await test.step('reorder by drag', async () => {
    const spine = (await page.getByRole('treeitem', { name: /^Stripe set/ }).boundingBox())!;
    const first = (await page.getByRole('treeitem', { name: /^Solid/ }).boundingBox())!;
    await page.mouse.move(spine.x + 10, spine.y + 40);
    await page.mouse.down();
    await page.mouse.move(first.x + 14, first.y + 40, { steps: 12 });
    await page.mouse.move(first.x + 8, first.y + 40, { steps: 3 });
    await page.mouse.up();
    await expect.poll(async () => (await layerNames(page)).indexOf('Stripe set')).toBeLessThan(2);
    await page.keyboard.press('Control+z');
    await expect
      .poll(() => layerNames(page))
      .toEqual(['Solid', 'Stripe', 'Stripe set', 'Chequer', 'Number', 'Sponsor']);
  });

  await test.step('a scheme colour changes, and every layer that wears it follows', async () => {
    await page.getByRole('tab', { name: 'Scheme' }).click();
    await page.getByRole('button', { name: /^Change Ground/ }).click();
    await page.getByRole('textbox', { name: 'Hex value of Ground' }).fill('#204060');
    await page.getByRole('button', { name: 'Take it' }).click();
    await shows(page, 0.2, 0.87, [0x20, 0x40, 0x60]);
    await page.getByRole('tab', { name: 'Chosen' }).click();
  });

  await test.step('undo and redo over a reload', async () => {
    await page.keyboard.press('Control+z');
    await shows(page, 0.2, 0.87, [0xe8, 0xe4, 0xda]);
    await saved(page);
    await page.reload();
    await shows(page, 0.2, 0.87, [0xe8, 0xe4, 0xda]);
    await page.getByRole('button', { name: 'Redo' }).click();
    await shows(page, 0.2, 0.87, [0x20, 0x40, 0x60]);
    await saved(page);
  });

  await test.step('the other sheets: one painted, one kept on purpose', async () => {
    await page.getByRole('button', { name: 'Sheet deck' }).click();
    await add(page, 'Base', 'Solid');
    await page.getByRole('button', { name: 'Sheet fan' }).click();
    await page.getByRole('checkbox', { name: 'Leave it to the game on purpose' }).check();
    await expect(page.getByRole('img', { name: 'fan: left to the game on purpose' })).toBeVisible();
    await saved(page);
  });

  await test.step('a bad key stops the delivery, and its fix mends it', async () => {
    await page.getByRole('tab', { name: 'Particulars' }).click();
    await type(page, 'key', 'Heron Line');
    await saved(page);
    await page.getByRole('link', { name: 'Deliver' }).click();
    await expect(page.getByText('The livery’s key has a capital letter')).toBeVisible();
    await expect(page.getByRole('button', { name: /^Deliver \d/ })).toBeDisabled();
    await page.getByRole('button', { name: 'Make it heron-line' }).click();
    await expect(page.getByRole('button', { name: 'Deliver 3 files' })).toBeEnabled();
    await expect(page.getByRole('row', { name: /heron-line_fan\.dds.*left to the game.*left out/ })).toBeVisible();
  });

  await test.step('the delivery: progress, where it went, the files on disk', async () => {
    await page.getByRole('button', { name: 'Deliver 3 files' }).click();
    await expect(page.getByRole('progressbar', { name: 'Delivery' })).toBeVisible();
    await expect(page.getByText('Delivered 3 files')).toBeVisible({ timeout: 120_000 });
    const folder = path.join(server.data, 'games/brackwater-run/wharf/turnstone/heron-line');
    for (const name of ['heron-line_hull.dds', 'heron-line_deck.dds', 'finish.toml'])
      expect(existsSync(path.join(folder, name))).toBe(true);
    const deck = readWithPillow(readFileSync(path.join(folder, 'heron-line_deck.dds')), 'dds');
    expect([...deck.data.subarray(0, 4)]).toEqual([0x20, 0x40, 0x60, 255]);
    await expect(page.getByRole('row', { name: /heron-line_hull\.dds/ })).toContainText('unchanged');
    const [zip] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('link', { name: 'Save the zip' }).click(),
    ]);
    expect(zip.suggestedFilename()).toBe('heron-line.zip');
  });

  await test.step('the stand-in game shows it', async () => {
    await page.getByRole('link', { name: 'Open in the test bay' }).click();
    await expect(page.getByText('hull shown')).toBeVisible({ timeout: 120_000 });
    await expect(page.getByText('fan the game’s own')).toBeVisible();
    await expect(page.getByRole('img', { name: 'The craft in the game' })).toBeVisible();
  });

  await test.step('saved as a bundle and opened again, complete', async () => {
    await page.goto('/');
    await page.getByRole('button', { name: 'More for Heron Line' }).click();
    const [file] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('menuitem', { name: 'Save as a bundle' }).click(),
    ]);
    expect(file.suggestedFilename()).toBe('heron-line.livery');
    await page.getByLabel('Livery bundle').setInputFiles(await file.path());
    await page.waitForURL(/\/liveries\/[0-9a-f-]{36}$/);
    expect(page.url()).not.toContain(id);
    await expect
      .poll(() => layerNames(page))
      .toEqual(['Solid', 'Stripe', 'Stripe set', 'Chequer', 'Number', 'Sponsor']);
    await shows(page, 0.2, 0.87, [0x20, 0x40, 0x60]);
    expect((await colourAt(page, 0.2, 0.87))[3]).toBe(255);
  });

  await test.step('put into the bin, taken out again, and deleted for ever after a question', async () => {
    await page.goto('/');
    const card = () => page.getByRole('button', { name: 'More for Heron Line' });
    await card().first().click();
    await page.getByRole('menuitem', { name: 'Put into the bin' }).click();
    await expect(card()).toHaveCount(1);
    await page.getByRole('button', { name: 'Take it out' }).click();
    await expect(card()).toHaveCount(2);
    await card().first().click();
    await page.getByRole('menuitem', { name: 'Put into the bin' }).click();
    await expect(card()).toHaveCount(1);
    await page.getByRole('button', { name: 'Bin', exact: true }).click();
    const bin = page.getByRole('dialog', { name: 'Bin' });
    await bin.getByRole('button', { name: 'Take out' }).click();
    await expect(bin.getByText('The bin is empty')).toBeVisible();
    await bin.getByRole('button', { name: 'Close' }).click();
    await card().first().click();
    await page.getByRole('menuitem', { name: 'Put into the bin' }).click();
    await page.getByRole('button', { name: 'Bin', exact: true }).click();
    await bin.getByRole('button', { name: 'Delete for ever' }).click();
    await page.getByRole('button', { name: 'Delete the livery' }).click();
    await expect(bin.getByText('The bin is empty')).toBeVisible();
    await bin.getByRole('button', { name: 'Close' }).click();
    await expect(page.getByText('Heron Line')).toHaveCount(1);
  });
});

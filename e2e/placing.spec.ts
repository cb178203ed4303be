/** Where things go: snapping, lining up, partners, copies by the clipboard; the view turned and mirrored; keys and the finder; decals' grounds. */
import type { Page } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { PNG } from 'pngjs';
import {
  add,
  artPixels,
  expect,
  ground,
  hand,
  layerNames,
  layers,
  panel,
  rgb,
  saved,
  shows,
  startLivery,
  test,
  type,
  wear,
} from './fixture.ts';

const sheetView = (page: Page) => page.getByRole('application', { name: /^Sheet / });
const value = (page: Page, field: string) =>
  panel(page).getByRole('textbox', { name: field, exact: true }).inputValue();

/** Drags from the middle of the chosen layer's handles, so many screen pixels. */
async function dragChosen(page: Page, dx: number, dy: number, free = false): Promise<void> {
  const outline = (await page.locator('[data-handles] path').first().boundingBox())!;
  const [x, y] = [outline.x + outline.width / 2, outline.y + outline.height / 2];
  if (free) await page.keyboard.down('Alt');
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + dx, y + dy, { steps: 6 });
  await expect(page.getByTestId('drag-numbers')).toBeVisible();
  await page.mouse.up();
  if (free) await page.keyboard.up('Alt');
  await expect(page.getByTestId('drag-numbers')).toBeHidden();
}

test('what is dragged snaps to the axis unless Alt is held; Escape puts it back; several line up; copies and partners', async ({
  page,
  server,
}) => {
  const id = await startLivery(page, 'Placed');
  const { livery } = await server.get<{ livery: { pins: { template: string } } }>(`/liveries/${id}`);
  const { sheets } = await server.get<{ sheets: { axis: { at: number } }[] }>(`/templates/${livery.pins.template}`);
  const axis = sheets[0].axis.at;
  const x = async () => Number(await value(page, 'x'));
  const onAxis = () => expect.poll(async () => Math.abs((await x()) - axis)).toBeLessThanOrEqual(0.051);
  await add(page, 'Pattern', 'Hazard stripes');
  for (const [field, to] of [
    ['x', '700'],
    ['y', '611'],
    ['width', '300'],
    ['height', '90'],
  ] as const)
    await type(page, field, to);
  // At fit a texel is about a quarter of a pixel.
  const name = await page.getByRole('button', { name: /^Zoom / }).getAttribute('aria-label');
  const scale = Number(/\d+/.exec(name!)![0]) / 100;
  await dragChosen(page, (axis - 700) * scale - 1, 0);
  await onAxis();
  await dragChosen(page, 4, 0, true);
  expect(Math.abs((await x()) - axis)).toBeGreaterThan(1);
  await page.getByRole('button', { name: 'Undo' }).click();
  await onAxis();

  const outline = (await page.locator('[data-handles] path').first().boundingBox())!;
  await page.mouse.move(outline.x + outline.width / 2, outline.y + outline.height / 2);
  await page.mouse.down();
  await page.mouse.move(outline.x + 90, outline.y + 90, { steps: 5 });
  await page.keyboard.press('Escape');
  await page.mouse.up();
  await onAxis();
  await expect(panel(page).getByRole('textbox', { name: 'name' })).toHaveValue('Hazard stripes');

  await type(page, 'x', '500');
  await type(page, 'y', '611');
  await panel(page).getByRole('textbox', { name: 'in a row', exact: true }).fill('3');
  await panel(page).getByRole('textbox', { name: 'in a row', exact: true }).press('Enter');
  await page.getByRole('button', { name: 'Put on 2 copies' }).click();
  await expect.poll(() => layerNames(page)).toEqual(['Hazard stripes', 'Hazard stripes 2', 'Hazard stripes 3']);
  expect(await x()).toBe(700);

  await type(page, 'y', '900');
  await page.getByRole('treeitem', { name: /^Hazard stripes,/ }).click({ modifiers: ['Control'] });
  await page.getByRole('treeitem', { name: /^Hazard stripes 2,/ }).click({ modifiers: ['Control'] });
  await page.getByRole('button', { name: 'Top', exact: true }).click();
  await expect.poll(() => value(page, 'y')).toBe('611');

  await page.getByRole('treeitem', { name: /^Hazard stripes 3,/ }).click();
  const on = panel(page).getByRole('combobox', { name: 'on' });
  if ((await on.textContent()) !== 'across the axis') {
    await on.click();
    await page.getByRole('option', { name: 'across the axis' }).click();
  }
  await page.getByRole('button', { name: 'Put the partner on' }).click();
  await expect.poll(async () => Math.abs((await x()) - (2 * axis - 700))).toBeLessThanOrEqual(0.51);
  await saved(page);
});

test('the layer under the pointer is named, and a press chooses it', async ({ page }) => {
  await startLivery(page, 'Named');
  await ground(page);
  await add(page, 'Pattern', 'Stripe');
  await expect.poll(() => layerNames(page)).toEqual(['Solid', 'Stripe']);
  await hand(page, 'Place');
  const box = (await page.getByTestId('art').boundingBox())!;
  const to = (x: number, y: number) => page.mouse.move(box.x + box.width * x, box.y + box.height * y);
  const under = page.getByTestId('under-pointer');
  await to(0.5, 0.5);
  await expect(under).toHaveText('over Stripe');
  await to(0.5, 0.25);
  await expect(under).toHaveText('over Solid');
  await page.mouse.down();
  await page.mouse.up();
  await expect(page.getByRole('treeitem', { name: /^Solid/, selected: true })).toBeVisible();
  await to(-0.1, 0.5);
  await expect(under).toHaveCount(0);
  // With a brush in hand the layer that it works on stands there instead.
  await hand(page, 'Paint');
  await to(0.5, 0.5);
  await expect(page.getByTestId('paints-on')).toContainText('On new brushwork above');
  await expect(under).toHaveCount(0);
});

test('turned and mirrored, the pointer paints where it is; keys and the finder do the same things', async ({
  page,
}) => {
  await startLivery(page, 'Turned');
  await ground(page);
  await sheetView(page).focus();
  await page.keyboard.press('m');
  await page.keyboard.press('Control+k');
  await page.keyboard.type('turn the view to the ri');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: /^Zoom / })).toContainText('15°');
  await expect(page.getByRole('button', { name: /^Zoom / })).toContainText('mirrored');
  await hand(page, 'Paint');
  await type(page, 'size', '120');
  await wear(page, '#c02080');
  // Aslant and mirrored: what is on the screen there is what the pointer went over.
  const box = (await page.getByRole('region', { name: 'Flat sheet' }).boundingBox())!;
  const spot = { x: Math.round(box.x + box.width * 0.62), y: Math.round(box.y + box.height * 0.4) };
  await page.mouse.move(spot.x, spot.y);
  await page.mouse.down();
  await page.mouse.move(spot.x + 2, spot.y, { steps: 2 });
  await page.mouse.up();
  await page.mouse.move(box.x + 5, box.y + box.height - 60);
  const onScreen = async () => {
    const shot = PNG.sync.read(await page.screenshot({ clip: { x: spot.x, y: spot.y, width: 1, height: 1 } }));
    return [...shot.data.subarray(0, 3)];
  };
  await expect.poll(onScreen).toEqual(rgb('#c02080'));
  await sheetView(page).focus();
  await page.keyboard.press('u');
  await expect(page.getByRole('button', { name: /^Zoom / })).not.toContainText('°');
  await expect.poll(onScreen).not.toEqual(rgb('#c02080'));

  await page.keyboard.press('F1');
  const keys = page.getByRole('dialog', { name: 'Keys' });
  await keys.getByRole('textbox', { name: 'Search keys' }).fill('mirror');
  await expect(keys.getByText('Mirror the view')).toBeVisible();
  await expect(keys.getByText('Duplicate')).toBeHidden();
  await page.keyboard.press('Escape');
  await expect(keys).toBeHidden();
});

test('layers go by the clipboard to another sheet and back, with their group; a picture from elsewhere becomes a decal', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await startLivery(page, 'Carried');
  await add(page, 'Base', 'Solid');
  await add(page, 'Pattern', 'Stripe');
  await page.getByRole('treeitem', { name: /^Solid/ }).click({ modifiers: ['Control'] });
  await sheetView(page).focus();
  await page.keyboard.press('Control+g');
  await expect.poll(() => layerNames(page)).toContain('Group');
  await page.keyboard.press('Control+c');
  await page.getByRole('button', { name: 'Sheet deck' }).click();
  await expect.poll(() => layerNames(page)).toEqual([]);
  await sheetView(page).focus();
  await page.keyboard.press('Control+v');
  await expect.poll(() => layerNames(page)).toEqual(expect.arrayContaining(['Solid', 'Stripe', 'Group']));
  await page.keyboard.press('Control+x');
  await expect.poll(() => layerNames(page)).toEqual([]);
  await page.keyboard.press('Control+z');
  await expect(layers(page)).toHaveCount(3);
  await saved(page);

  await sheetView(page).evaluate(async (target) => {
    const canvas = new OffscreenCanvas(30, 20);
    const ctx = canvas.getContext('2d')!;
    ctx.fillStyle = '#00a040';
    ctx.fillRect(0, 0, 30, 20);
    const clipboardData = new DataTransfer();
    clipboardData.items.add(new File([await canvas.convertToBlob()], 'image.png', { type: 'image/png' }));
    target.dispatchEvent(new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true }));
  });
  await expect.poll(() => layerNames(page)).toContain('From the clipboard');
});

test('a box that comes along with a picture is said, and its ground knocked out', async ({ page }) => {
  await startLivery(page, 'Boxed');
  const base = await ground(page);
  await page.getByRole('button', { name: 'Add to Marks' }).click();
  await page
    .getByRole('menuitem')
    .filter({ hasText: /^Decal/ })
    .click();
  const logo = new PNG({ width: 200, height: 200 });
  for (let y = 0; y < 200; y++)
    for (let x = 0; x < 200; x++)
      logo.data.set(Math.hypot(x - 100, y - 100) < 60 ? [30, 60, 160, 255] : [255, 255, 255, 255], (y * 200 + x) * 4);
  await page
    .getByLabel('Pictures for the library')
    .setInputFiles({ name: 'Roundel.png', mimeType: 'image/png', buffer: PNG.sync.write(logo) });
  await expect(panel(page).getByText('brings a box along')).toBeVisible();
  await type(page, 'x', '1024');
  await type(page, 'y', '1024');
  await type(page, 'width', '1200');
  const corner = async (colour: readonly number[]) => {
    // The handles' corners lie on the picture's: a little inside there is ground.
    const outline = (await page.locator('[data-handles] path').first().boundingBox())!;
    const art = (await page.getByTestId('art').boundingBox())!;
    await shows(page, (outline.x + 16 - art.x) / art.width, (outline.y + 16 - art.y) / art.height, colour);
  };
  await corner([255, 255, 255]);
  await page.getByRole('button', { name: 'Knock it out' }).click();
  await corner(base);
  await expect(panel(page).getByText('brings a box along')).toBeHidden();
  await page.getByRole('button', { name: 'Put it back' }).click();
  await corner([255, 255, 255]);

  // In perspective: its top left corner dragged to its middle leaves the ground free there, and the mark in one step.
  const choose = async (name: string) => {
    await panel(page).getByRole('combobox', { name: 'lies' }).click();
    await page.getByRole('option', { name }).click();
    // While the menu fades out it takes the pointer.
    await expect(page.locator('.MuiPopover-root')).toHaveCount(0);
  };
  const spot = async (k: number) => {
    const { x, y, width, height } = (await page.getByTestId(`warp-${k}`).boundingBox())!;
    return [x + width / 2, y + height / 2] as const;
  };
  const whole = await page.getByTestId('art').boundingBox();
  const [top, other] = [await (await choose('In perspective'), spot(0)), await spot(2)];
  const inside = [(top[0] * 2 + other[0]) / 3, (top[1] * 2 + other[1]) / 3] as const;
  const at = ([x, y]: readonly [number, number]) =>
    [(x - whole!.x) / whole!.width, (y - whole!.y) / whole!.height] as const;
  await page.mouse.move(...top);
  await page.mouse.down();
  await page.keyboard.down('Alt');
  await page.mouse.move(...inside, { steps: 5 });
  await page.mouse.up();
  await page.keyboard.up('Alt');
  await shows(page, ...at([top[0] + 24, top[1] + 24]), base);
  await shows(page, ...at([other[0] - 16, other[1] - 16]), [255, 255, 255]);
  await expect(page.getByRole('button', { name: /^Saved, / })).toBeVisible();
  // Corners that cross are refused, and the mark stays as it is.
  await type(page, 'along', '200');
  await expect(panel(page).getByText('cannot cross or be hollow')).toBeVisible();
  await choose('Flat');
  await corner([255, 255, 255]);
});

test('a scheme takes tokens and a picture’s colours in, says who wears what, merges two, and is kept as tokens', async ({
  page,
}) => {
  await startLivery(page, 'Schemed');
  await add(page, 'Base', 'Solid');
  await page.getByRole('tab', { name: 'Scheme' }).click();
  const bring = (name: string, mimeType: string, bytes: Buffer) =>
    page.getByLabel('Palette, picture or kit').setInputFiles({ name, mimeType, buffer: bytes });
  const tokens = { harbour: { $type: 'color', tide: { $value: '#123457' }, rope: { $value: '#c8a060' } } };
  await bring('harbour.tokens.json', 'application/json', Buffer.from(JSON.stringify(tokens)));
  await page.getByRole('button', { name: 'Add 2 colours' }).click();
  await expect(page.getByRole('textbox', { name: 'Name of harbour tide' })).toBeVisible();
  await bring('broken.json', 'application/json', Buffer.from('{"a":'));
  await expect(panel(page).getByRole('alert')).toContainText('not JSON');

  const worn = page.getByRole('button', { name: 'worn by 1 layer' });
  await worn.click();
  await expect(page.getByRole('menuitem', { name: /^Solid/ })).toBeVisible();
  // Listed twice: to be worn instead, and to be merged into.
  await page.getByRole('menuitem', { name: 'harbour tide' }).last().click();
  await shows(page, 0.5, 0.5, rgb('#123457'));
  await expect(worn).toHaveCount(1);

  await page.getByRole('button', { name: 'Keep as' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('menuitem', { name: 'Design tokens (W3C)' }).click();
  const kept = JSON.parse(readFileSync(await (await download).path(), 'utf8')) as { scheme: Record<string, unknown> };
  expect(kept.scheme['harbour tide']).toMatchObject({ $value: { colorSpace: 'srgb', hex: '#123457' } });
});

test('a team’s kit is kept as a file, asks part by part where its marks go, shows it, and is one step', async ({
  page,
  server,
}) => {
  const cards = await server.get<{ hash: string; name: string }[]>('/templates');
  const liveries = await server.get<{ id: string; name: string }[]>('/liveries');
  await page.goto(`/liveries/${liveries.find(({ name }) => name.includes('Turnstone 22'))!.id}`);
  await expect(page.getByRole('region', { name: 'Flat sheet' })).toBeVisible();
  await page.getByRole('tab', { name: 'Scheme' }).click();
  await page.getByRole('button', { name: 'Keep as' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('menuitem', { name: 'A kit: the scheme and the marks' }).click();
  const file = await download;
  expect(file.suggestedFilename()).toMatch(/\.kit$/);
  const bytes = readFileSync(await file.path());

  const { hash } = cards.find(({ name }) => name === 'Brock wagon')!;
  const { id } = (await server.post<{ id: string }>('/liveries', { template: hash, name: 'Kitted' })).body;
  await page.goto(`/liveries/${id}`);
  await page.getByRole('tab', { name: 'Scheme' }).click();
  const bring = (buffer: Buffer) =>
    page.getByLabel('Palette, picture or kit').setInputFiles({ name: 'team.kit', mimeType: '', buffer });
  await bring(bytes.subarray(0, bytes.length - 60));
  await expect(panel(page).getByRole('alert')).toContainText('it is not a zip, or it is cut off');
  expect(await layerNames(page)).toEqual([]);
  await bring(bytes);
  const kit = page.getByRole('region', { name: 'A kit' });
  const parts = kit.getByRole('list', { name: 'Parts of the kit' }).getByRole('listitem');
  const goesTo = (part: string) => parts.filter({ hasText: part }).getByRole('combobox');
  await expect(goesTo('port side').first()).toContainText('port');
  await expect(goesTo('starboard side')).toContainText('starboard');
  // What is proposed is seen on the sheet before anything is put down: no layer, no step.
  const colours = async () => new Set(new Uint32Array((await artPixels(page)).buffer)).size;
  await expect.poll(colours).toBeGreaterThan(30);
  expect(await layerNames(page)).toEqual([]);
  // Left, it leaves nothing behind.
  await kit.getByRole('button', { name: 'Leave it' }).click();
  await expect(kit).toHaveCount(0);
  await expect.poll(colours).toBeLessThan(30);
  await page.getByRole('tab', { name: 'Scheme' }).click();
  await bring(bytes);
  await kit.getByRole('button', { name: 'Show where the marks of starboard side go' }).click();
  // A part is settled otherwise, by the painter.
  const many = async () =>
    Number(/Put down (\d+) marks?/.exec((await kit.getByRole('button', { name: /^Put down/ }).textContent())!)![1]);
  const all = await many();
  await goesTo('roof').click();
  await page.getByRole('option', { name: 'nowhere: they are left out' }).click();
  expect(await many()).toBeLessThan(all);
  await kit.getByRole('button', { name: /^Put down/ }).click();
  await expect(kit).toHaveCount(0);
  await expect.poll(async () => (await layerNames(page)).length).toBeGreaterThan(3);
  await saved(page);
  const { livery } = await server.get<{ livery: { scheme: { name: string }[]; sheets: unknown[] } }>(`/liveries/${id}`);
  const { livery: from } = await server.get<{ livery: { scheme: { name: string }[] } }>(
    `/liveries/${liveries.find(({ name }) => name.includes('Turnstone 22'))!.id}`,
  );
  const names = livery.scheme.map(({ name }) => name);
  expect(from.scheme.every(({ name }) => names.includes(name))).toBe(true);
  // One step, and gone in one.
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(() => layerNames(page)).toEqual([]);
});

test('a version is kept by name, stands beside the livery as it is, and is returned to in one step', async ({
  page,
}) => {
  await startLivery(page, 'Versioned');
  await ground(page);
  await saved(page);
  await sheetView(page).focus();
  await page.keyboard.press('F4');
  const dialog = page.getByRole('dialog', { name: 'Versions' });
  await dialog.getByRole('textbox', { name: 'Name of the livery as it is' }).fill('Plain');
  await dialog.getByRole('button', { name: 'Keep this version' }).click();
  await expect(dialog.getByRole('option', { name: /^Plain/ })).toBeVisible();
  await dialog.getByRole('button', { name: 'Close' }).click();
  await add(page, 'Pattern', 'Stripe');
  await saved(page);
  await page.getByRole('button', { name: /^Saved, / }).click();
  // The list shows what each step changed: the last put a stripe on the solid.
  const picture = page.getByTestId('step-picture').first();
  const colours = () =>
    picture.evaluate((canvas: HTMLCanvasElement) => {
      const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
      return new Set(new Uint32Array(data.buffer)).size;
    });
  await expect.poll(colours).toBeGreaterThan(1);
  await page.getByRole('menuitem', { name: /^Versions/ }).click();
  await expect(dialog.getByText('Since then added: Stripe.')).toBeVisible();
  await expect(dialog.getByRole('tab', { name: 'hull changed' })).toBeVisible();
  await expect(dialog.getByRole('tab', { name: 'deck the same' })).toBeVisible();
  // The two pictures differ where the stripe is, and nowhere else.
  await expect(dialog.getByRole('img')).toHaveCount(2);
  const share = await dialog.evaluate((element) => {
    const [then, now] = [...element.querySelectorAll('canvas')].map((canvas) => {
      const { width, height } = canvas;
      return canvas.getContext('2d')!.getImageData(0, 0, width, height).data;
    });
    return then.filter((v, i) => v !== now[i]).length / then.length;
  });
  expect(share).toBeGreaterThan(0.01);
  expect(share).toBeLessThan(0.13);
  await dialog.getByRole('button', { name: 'Return to Plain' }).click();
  await expect(dialog).toBeHidden();
  expect(await layerNames(page)).toEqual(['Solid']);
  await page.getByRole('button', { name: 'Undo' }).click();
  expect(await layerNames(page)).toEqual(['Solid', 'Stripe']);
  await saved(page);
});

/** Subjects as painters settle them, and what the easel does with it: parts, boxes, maps, channels, pinned pictures, one surface over sheets. */
import { zipSync, strToU8, unzipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import type { Page } from '@playwright/test';
import { add, expect, hand, layerNames, panel, rgb, saved, shows, stroke, test, type, wear } from './fixture.ts';

async function openTemplate(page: Page, name: string): Promise<void> {
  await page.goto('/templates');
  await page.getByRole('list', { name: 'Templates' }).getByText(name, { exact: true }).click();
  await expect(page.getByRole('button', { name: 'Start a livery' })).toBeVisible();
}

async function startFrom(page: Page, name: string): Promise<string> {
  await openTemplate(page, name);
  await page.getByRole('button', { name: 'Start a livery' }).click();
  await page.waitForURL(/\/liveries\/[0-9a-f-]{36}$/);
  await expect(page.getByRole('region', { name: 'Flat sheet' })).toBeVisible();
  return page.url().split('/').at(-1)!;
}

/** The art's colour at a share of the sheet. */
const artAt = (page: Page, u: number, v: number) =>
  page.getByTestId('art').evaluate(
    (canvas: HTMLCanvasElement, [x, y]) => {
      const context = canvas.getContext('2d')!;
      return [...context.getImageData(Math.round(canvas.width * x), Math.round(canvas.height * y), 1, 1).data];
    },
    [u, v],
  );

test('islands become a part, a box is drawn, and the last change is taken back', async ({ page }) => {
  await openTemplate(page, 'Tollbarge sails');
  const flat = page.getByRole('group', { name: 'Islands of sails' });
  const islands = flat.getByRole('button');
  await islands.nth(0).click();
  await islands.nth(1).click({ modifiers: ['Shift'] });
  await page.getByRole('tab', { name: 'Parts' }).click();
  await page.getByRole('textbox', { name: 'call it' }).fill('Both sails');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: /^Both sails/ })).toBeVisible();
  await page.getByRole('textbox', { name: 'Search parts' }).fill('both');
  await expect(page.getByRole('button', { name: /^sail/ })).toHaveCount(0);

  await page.getByRole('tab', { name: 'Sheet', exact: true }).click();
  await page.getByRole('button', { name: 'Draw a box' }).click();
  await expect(page.getByText('Drag over the sheet')).toBeVisible();
  const box = (await flat.boundingBox())!;
  const middle = { x: box.x + box.width / 2, y: box.y + box.height / 2 };
  await page.mouse.move(middle.x, middle.y);
  await page.mouse.down();
  await page.mouse.move(middle.x + 40, middle.y + 20, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByRole('button', { name: 'Take Box 1 out' })).toBeVisible({ timeout: 120_000 });
  await page.getByRole('textbox', { name: 'unless set' }).fill('#112233');
  await page.keyboard.press('Tab');
  await expect(page.getByRole('textbox', { name: 'unless set' })).toHaveValue('#112233ff');

  await page.getByRole('tab', { name: 'What is where' }).click();
  await page.getByRole('button', { name: 'Take the last change back' }).click();
  await page.getByRole('tab', { name: 'Sheet', exact: true }).click();
  await expect(page.getByRole('textbox', { name: 'unless set' })).toHaveValue('#808080ff');
});

test('changes made before the last one has arrived are all made, one on top of the other', async ({ page }) => {
  await openTemplate(page, 'Tollbarge sails');
  // The way to the server is slow, and the first change the slowest.
  let many = 0;
  await page.route('**/api/templates/*/changes', async (route) => {
    if (many++ === 0) await new Promise((resolve) => setTimeout(resolve, 3000));
    await route.continue();
  });
  await page.getByRole('tab', { name: 'Sheet', exact: true }).click();
  await page.getByRole('textbox', { name: 'columns' }).fill('2');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Draw a box' }).click();
  const box = (await page.getByRole('group', { name: 'Islands of sails' }).boundingBox())!;
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 40, y + 20, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByRole('button', { name: 'Take Box 1 out' })).toBeVisible({ timeout: 120_000 });
  await expect(page.getByRole('progressbar', { name: 'Making the change' })).toHaveCount(0);
  await expect(page.getByRole('button', { name: 'Take Box 1 out' })).toBeVisible();
  await expect(page.getByRole('textbox', { name: 'columns' })).toHaveValue('2');
  // Each was asked for once.
  expect(many).toBe(2);
});

test('a drawing becomes a safe frame', async ({ page }) => {
  await openTemplate(page, 'Lampkin');
  await page.getByRole('tab', { name: 'Sheet', exact: true }).click();
  const svg =
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 192 96"><rect id="rect12" x="8" y="8" width="40" height="20"/>' +
    '<g id="left_eye"><circle cx="90" cy="40" r="12"/></g></svg>';
  const input = page.getByLabel('Drawing with outlines');
  await input.setInputFiles({ name: 'face.svg', mimeType: 'image/svg+xml', buffer: Buffer.from(svg) });
  // Each shape is one of its own: called by its own id, that of the group around it, or after the file.
  await expect(page.getByRole('button', { name: 'face 1 safe frame' })).toBeVisible();
  await page.getByRole('button', { name: 'left eye, safe frame' }).press('Enter');
  await expect(page.getByRole('button', { name: 'Take left eye out' })).toBeVisible();
  const hash = page.url().split('/').at(-1)!;
  const template = (await (await page.request.get(`/api/templates/${hash}`)).json()) as {
    outlines: { rings: number[][] }[];
  };
  // The drawing is twice as large as the sheet: its units are halves of texels.
  const ring = template.outlines[0].rings[0];
  expect([Math.min(...ring.filter((_, i) => i % 2 === 0)), Math.max(...ring.filter((_, i) => i % 2 === 1))]).toEqual([
    4, 14,
  ]);
  await input.setInputFiles({ name: 'no.svg', mimeType: 'image/svg+xml', buffer: Buffer.from('<p>') });
  await expect(page.getByRole('alert')).toContainText('no.svg: This is not an SVG drawing.');
});

test('a parameter box is a colour: set, shown in its pixels, and back', async ({ page }) => {
  await startFrom(page, 'Pebblewick level');
  await page.getByRole('button', { name: /^Set Sky, top/ }).click();
  await page.getByRole('textbox', { name: 'Hex value of Sky, top' }).fill('#ff0000ff');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Set Sky, top, now #ff0000ff' })).toBeVisible();
  await expect(page.getByText('Saved, 1 step')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('button', { name: 'Set Sky, top, now #4d7ea8ff' })).toBeVisible();
});

test('maps are painted on their own, and one channel is seen alone', async ({ page }) => {
  await startFrom(page, 'Warden courier');
  await page.getByRole('radio', { name: 'Packed' }).click();
  await expect.poll(() => layerNames(page)).toEqual(['Original']);
  // The packed original says occlusion 255, roughness 180, metal 0.
  await expect.poll(() => artAt(page, 0.5, 0.4)).toEqual([255, 180, 0, 255]);
  await page.getByRole('button', { name: /^Channel/ }).click();
  await page.getByRole('menuitem', { name: 'Green alone' }).click();
  await expect.poll(() => artAt(page, 0.5, 0.4)).toEqual([180, 180, 180, 255]);
  await add(page, 'Base', 'Solid');
  await expect.poll(async () => (await layerNames(page)).length).toBe(2);
  await page.getByRole('radio', { name: 'Colour' }).click();
  await expect.poll(() => layerNames(page)).toEqual([]);
  await page.getByRole('button', { name: 'Sheet hair' }).click();
  await expect(page.getByText('Followed by 2 files')).toBeVisible();
});

test('a picture is pinned beside the sheet, and a click on it takes its colour into the scheme', async ({ page }) => {
  await startFrom(page, 'Lampkin');
  const raw = { width: 40, height: 30, channels: 3 as const, background: '#3a7bd5' };
  const buffer = await sharp({ create: raw }).png().toBuffer();
  await page.getByLabel('Picture to pin').setInputFiles({ name: 'lamp.png', mimeType: 'image/png', buffer });
  const pinned = page.getByRole('img', { name: 'Reference lamp' });
  await expect(pinned).toBeVisible();
  await expect.poll(async () => (await pinned.boundingBox())!.width).toBeGreaterThan(20);
  await expect(pinned).toHaveAttribute('aria-busy', 'false');
  await pinned.click();
  await expect(page.getByText('#3a7bd5').first()).toBeVisible();
  await expect(page.getByRole('textbox', { name: 'Name of From lamp' })).toBeVisible();
});

test('on one surface over three sheets a stripe is put on all of them, moved and deleted together', async ({
  page,
}) => {
  await startFrom(page, 'Dunlin launch');
  await page.getByRole('button', { name: 'Hull as one' }).click();
  await add(page, 'Pattern', 'Stripe');
  await expect(page.getByText('Runs over several sheets')).toBeVisible();
  await page.getByRole('textbox', { name: 'y', exact: true }).fill('300');
  await page.keyboard.press('Enter');
  for (const sheet of ['middle', 'stern']) {
    await page.getByRole('button', { name: `Sheet ${sheet}` }).click();
    await page
      .getByRole('tree')
      .getByRole('treeitem', { name: /Stripe/ })
      .click();
    await expect(page.getByRole('textbox', { name: 'y', exact: true })).toHaveValue('300');
  }
  await page.getByRole('button', { name: 'Delete' }).click();
  await page.getByRole('button', { name: 'Sheet bow' }).click();
  await expect.poll(() => layerNames(page)).toEqual([]);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => (await layerNames(page)).length).toBe(1);
});

test('a belt lies on the model: one layer over all sheets, changed once, copied as a whole', async ({ page }) => {
  const id = await startFrom(page, 'Dunlin launch');
  await add(page, 'Pattern', 'Belt');
  await expect(page.getByText('Runs over several sheets')).toBeVisible();
  await type(page, 'from', '0.4');
  await type(page, 'to', '0.55');
  const belts = async () => {
    const { livery } = (await (await page.request.get(`/api/liveries/${id}`)).json()) as {
      livery: { sheets: { key: string; maps: { layers: { kind: string; from: number; to: number }[] }[] }[] };
    };
    const bySheet = livery.sheets.map(({ maps }) => maps[0].layers.map(({ from, to }) => [from, to]));
    expect(bySheet.length).toBeGreaterThan(3);
    for (const sheet of bySheet) expect(sheet).toEqual(bySheet[0]);
    return bySheet[0];
  };
  await expect.poll(belts).toEqual([[0.4, 0.55]]);
  // Along another direction, from the keyboard.
  await panel(page).getByRole('combobox', { name: 'along' }).press('Enter');
  await page.getByRole('option', { name: 'length' }).click();
  await expect(panel(page).getByRole('combobox', { name: 'along' })).toHaveText('length');
  // A copy is a layer of its own, on every sheet.
  await page.getByRole('button', { name: 'Duplicate' }).click();
  await type(page, 'to', '0.9');
  await expect.poll(belts).toEqual([
    [0.4, 0.55],
    [0.4, 0.9],
  ]);
  await page.getByRole('button', { name: 'Delete' }).click();
  await expect.poll(belts).toEqual([[0.4, 0.55]]);
  // What a sheet draws of it is what a press picks there.
  await page.getByRole('button', { name: 'Sheet stern' }).click();
  await expect.poll(() => layerNames(page)).toEqual(['Belt']);
});

test('a mask by the shape of the model: worked out once on the server, drawn alike in preview and delivery', async ({
  page,
}) => {
  const id = await startFrom(page, 'Dunlin launch');
  await add(page, 'Base', 'Solid');
  const asked: string[] = [];
  page.on('request', (request) => request.url().includes('/fields/') && asked.push(request.url()));
  for (const [how, field] of [
    ['by height', 'height'],
    ['in hollows', 'hollows'],
    ['on edges', 'edges'],
  ] as const) {
    const before = await picture(page);
    await panel(page).getByRole('combobox', { name: 'shows' }).click();
    await page.getByRole('option', { name: how }).click();
    await expect.poll(() => picture(page), { timeout: 60_000 }).not.toBe(before);
    await saved(page);
    expect(asked.some((url) => url.endsWith(`/fields/${field}`))).toBe(true);
  }
  await expect(panel(page).getByText('Shows by the model’s own shape')).toBeVisible();
  // The server draws the same sheet in threads of its own, and there is paint on it.
  const sheet = await page.request.get(`/api/liveries/${id}/sheets/bow`);
  const { data, info } = await sharp(Buffer.from(await sheet.body()))
    .raw()
    .toBuffer({ resolveWithObject: true });
  const alphas = Array.from({ length: info.width * info.height }, (_, k) => data[k * info.channels + 3]);
  expect(new Set(alphas.filter((_, k) => k % 97 === 0)).size).toBeGreaterThan(3);
});

/** What the flat view shows, as a text. */
const picture = (page: Page) => page.getByTestId('art').evaluate((canvas) => (canvas as HTMLCanvasElement).toDataURL());

test('on one surface a stroke runs over the sheets as one step; clone says that it does not', async ({ page }) => {
  const id = await startFrom(page, 'Dunlin launch');
  await page.getByRole('button', { name: 'Hull as one' }).click();
  await add(page, 'Base', 'Solid');
  await hand(page, 'Paint');
  await type(page, 'size', '300');
  await wear(page, '#d02050');
  await stroke(page, [0.1, 0.5], [0.9, 0.5]);
  for (const x of [0.15, 0.5, 0.85]) await shows(page, x, 0.5, rgb('#d02050'));
  const strokes = async () => {
    const { livery } = (await (await page.request.get(`/api/liveries/${id}`)).json()) as {
      livery: {
        sheets: { key: string; maps: { layers: { kind: string; across?: string; strokes?: unknown[] }[] }[] }[];
      };
    };
    return livery.sheets.flatMap(({ maps }) => maps[0].layers.filter(({ kind }) => kind === 'brush'));
  };
  await expect.poll(async () => (await strokes()).map((layer) => layer.strokes!.length)).toEqual([1, 1, 1]);
  const three = await strokes();
  expect(new Set(three.map(({ across }) => across)).size).toBe(1);
  // A second one goes on the same brushwork, and is taken back alone, on all of them.
  await stroke(page, [0.1, 0.55], [0.9, 0.55]);
  await expect.poll(async () => (await strokes()).map((layer) => layer.strokes!.length)).toEqual([2, 2, 2]);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => (await strokes()).map((layer) => layer.strokes!.length)).toEqual([1, 1, 1]);
  await page.reload();
  await page.getByRole('button', { name: 'Hull as one' }).click();
  for (const x of [0.15, 0.85]) await shows(page, x, 0.5, rgb('#d02050'));
  await hand(page, 'Clone');
  await stroke(page, [0.3, 0.5], [0.4, 0.5]);
  await expect(page.getByText('Clone works on one sheet at a time')).toBeVisible();
});

test('a newer template is offered with what it changes, taken over when told to, and taken back', async ({ page }) => {
  const id = await startFrom(page, 'Brock wagon');
  const pinOf = async () =>
    ((await (await page.request.get(`/api/liveries/${id}`)).json()) as { livery: { pins: { template: string } } })
      .livery.pins.template;
  const before = await pinOf();
  const data = { changes: [{ do: 'set-part', part: 'nose', set: { name: 'Snout' } }] };
  const made = await page.request.post(`/api/templates/${before}/changes`, { data });
  const { hash } = (await made.json()) as { hash: string };
  await page.reload();
  await page.getByRole('button', { name: '1 difference' }).click();
  await expect(page.getByText('The part nose is now called Snout.')).toBeVisible();
  await page.getByRole('button', { name: 'Take it over' }).click();
  await expect.poll(pinOf).toBe(hash);
  await expect(page.getByText('has a newer version')).toHaveCount(0);
  await expect(page.getByRole('listitem').filter({ hasText: 'Snout' })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(pinOf).toBe(before);
  await expect(page.getByText('has a newer version')).toBeVisible();
  // Where islands moved, layers go by their places on the model instead.
  await page.getByRole('link', { name: 'By position' }).click();
  await expect(page.getByRole('list', { name: 'Parts' }).getByRole('listitem').first()).toContainText('fits');
});

test('a container is searched, an entry replaced, and saved with all else as it was', async ({ page }) => {
  const pack = zipSync({
    'tex/coat.dds': strToU8('COAT'),
    'ship.xml': strToU8('<ship skin="coat.dds"/>'),
    'in.crate': zipSync({ 'hair.dds': strToU8('HAIR') }),
  });
  await page.goto('/templates');
  await page.getByRole('link', { name: 'Open a container' }).click();
  await page
    .getByLabel('Container to open')
    .setInputFiles({ name: 'skins.bale', mimeType: 'application/zip', buffer: Buffer.from(pack) });
  await page.getByRole('textbox', { name: 'Search in the container' }).fill('hair');
  await expect(page.getByText('1 file', { exact: true })).toBeVisible();
  await page
    .getByLabel('Put a file in the place of in.crate › hair.dds')
    .setInputFiles({ name: 'mine.dds', mimeType: 'application/octet-stream', buffer: Buffer.from('MINE') });
  await expect(page.getByText('mine.dds is in the place of in.crate › hair.dds')).toBeVisible();
  // Added, called otherwise, and a text edited where it stands.
  await page
    .getByLabel('File to add')
    .setInputFiles({ name: 'new.dds', mimeType: 'application/octet-stream', buffer: Buffer.from('NEW') });
  await expect(page.getByText('in.crate › new.dds is new')).toBeVisible();
  await page.getByRole('button', { name: 'More of in.crate › new.dds' }).click();
  await page.getByRole('textbox', { name: 'called' }).fill('  wig.dds ');
  await page.getByRole('textbox', { name: 'called' }).press('Enter');
  await expect(page.getByText('in.crate › new.dds is called wig.dds')).toBeVisible();
  await page.getByRole('textbox', { name: 'Search in the container' }).fill('ship');
  await page.getByRole('button', { name: 'More of ship.xml' }).click();
  await page.getByRole('button', { name: 'Edit the text' }).click();
  await page.getByRole('textbox', { name: 'Text of ship.xml' }).fill('<ship skin="wig.dds"/>');
  await page.getByRole('button', { name: 'Put it back' }).click();
  await expect(page.getByText('ship.xml has other words in it')).toBeVisible();
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Save it with 4 changes' }).click();
  const saved = unzipSync(new Uint8Array(readFileSync(await (await download).path())));
  expect(new TextDecoder().decode(unzipSync(saved['in.crate'])['hair.dds'])).toBe('MINE');
  expect(new TextDecoder().decode(unzipSync(saved['in.crate'])['wig.dds'])).toBe('NEW');
  expect(new TextDecoder().decode(saved['ship.xml'])).toBe('<ship skin="wig.dds"/>');
  expect(saved['tex/coat.dds']).toEqual(strToU8('COAT'));
});

/** Every screen: axe-core finds nothing, the model and the sheet are linked, pictures can be dropped, the bay says what is wrong. */
import { renameSync } from 'node:fs';
import path from 'node:path';
import type { Page } from '@playwright/test';
import { PNG } from 'pngjs';
import { problems } from './seen.ts';
import { add, expect, layerNames, layers, saved, shows, startLivery, test } from './fixture.ts';

const open = async (page: Page, name: RegExp) => {
  await page.goto('/');
  await page.getByRole('link', { name }).first().click();
  await expect(page.getByRole('tree')).toBeVisible();
};

test('axe-core finds no problem of any weight on any screen', async ({ page }) => {
  const looked: Record<string, string[]> = {};
  await page.goto('/');
  await expect(page.getByText('Turnstone 7').first()).toBeVisible();
  looked.liveries = await problems(page);
  await page.getByRole('link', { name: 'Start a livery' }).click();
  await expect(page.getByRole('radio', { name: 'Whimbrel floatplane' })).toBeVisible();
  looked.start = await problems(page);
  await open(page, /Turnstone 22, Ebbline/);
  looked.sheet = await problems(page);
  for (const kind of ['Lettering', 'Decal', 'Stripe', 'Chequer']) {
    const layer = page.getByRole('treeitem', { name: new RegExp(`, ${kind},`) }).first();
    if ((await layer.count()) === 0) continue;
    await layer.click();
    looked[kind] = await problems(page);
  }
  for (const tab of ['Scheme', 'Particulars']) {
    await page.getByRole('tab', { name: tab }).click();
    looked[tab] = await problems(page);
  }
  await page.getByRole('button', { name: 'List' }).click();
  looked.list = await problems(page);
  await page.getByRole('button', { name: 'Add to Marks' }).click();
  // An open menu lies outside the landmarks by its nature: the focus is in it, and the rest is hidden meanwhile.
  looked.menu = (await problems(page)).filter((problem) => !problem.startsWith('region,'));
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+k');
  await expect(page.getByRole('combobox', { name: 'Find' })).toBeVisible();
  looked.find = await problems(page);
  await page.keyboard.press('Escape');
  await page.getByRole('link', { name: 'Proof' }).click();
  await expect(page.getByRole('heading', { name: 'Findings' })).toBeVisible();
  await expect(page.getByRole('navigation', { name: 'Mip levels' }).getByRole('button')).toHaveCount(12);
  looked.proof = await problems(page);
  await page.getByRole('link', { name: 'Deliver' }).click();
  await expect(page.getByRole('heading', { name: 'Preflight' })).toBeVisible();
  looked.deliver = await problems(page);
  await page.goto('/decals');
  await expect(page.getByText('Tern roundel')).toBeVisible();
  looked.decals = await problems(page);
  await page.goto('/specs');
  await expect(page.getByRole('link', { name: 'Longhaul' })).toBeVisible();
  looked.specs = await problems(page);
  await page.getByRole('link', { name: 'Longhaul' }).click();
  await expect(page.getByRole('region', { name: 'As it would be' })).toBeVisible();
  looked.spec = await problems(page);
  await page.goto('/bay');
  await expect(page.getByRole('link', { name: /Ninth Meridian/ })).toBeVisible();
  looked.bay = await problems(page);
  await page.goto('/bay/ninth-meridian');
  await expect(page.getByRole('heading', { name: 'What the game made of it' })).toBeVisible();
  looked.game = await problems(page);
  await page.goto('/help/one-cell-of-an-atlas');
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
  looked.help = await problems(page);
  await page.goto('/help/keys');
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
  looked.keys = await problems(page);
  await page.goto('/line-up');
  await expect(page.getByText('Nobody is in the line-up')).toBeVisible();
  looked.lineUp = await problems(page);
  await page.goto('/');
  for (const name of ['Turnstone 22, Ebbline Freight', 'Ember of the rescue'])
    await page.getByRole('checkbox', { name: `Choose ${name} for a line-up` }).check();
  await page.getByRole('button', { name: 'Make a team of 2' }).click();
  await expect(page.getByRole('table')).toBeVisible();
  looked.team = await problems(page);
  await page.getByRole('button', { name: /^Set / }).first().click();
  looked.item = (await problems(page)).filter((problem) => !problem.startsWith('region,'));
  await page.keyboard.press('Escape');
  await page.getByRole('link', { name: 'Deliver all' }).click();
  await expect(page.getByRole('button', { name: /^Deliver \d/ })).toBeVisible({ timeout: 90_000 });
  looked.teamDelivery = await problems(page);
  // Others look for these liveries by their names.
  await page.goBack();
  await page.getByRole('button', { name: 'Let the team go' }).click();
  await expect(page.getByText(/is let go; its liveries stay/)).toBeVisible();
  expect(Object.fromEntries(Object.entries(looked).filter(([, problems]) => problems.length > 0))).toEqual({});
});

test.describe('with the model drawn', { tag: '@model' }, () => {
  test.use({ model: true });
  test('what is under the pointer on the sheet lights up on the model, and the other way round; a click on the model chooses', async ({
    page,
  }) => {
    await open(page, /Turnstone 7, Tern/);
    const flat = (await page.getByTestId('art').boundingBox())!;
    const model = page.getByRole('application', { name: /^The model/ });
    await expect(model).toBeVisible();
    // The middle of the transom.
    await page.mouse.move(flat.x + flat.width * 0.2, flat.y + flat.height * 0.55);
    await expect(page.getByRole('status', { name: 'Part' })).toHaveText('transom');
    const box = (await model.boundingBox())!;
    // The starboard side faces the camera; somewhere along the middle row is its paint.
    let at = 0;
    for (const share of [0.4, 0.45, 0.5, 0.35, 0.55]) {
      at = share;
      await page.mouse.move(box.x + box.width * share, box.y + box.height * 0.6);
      await page.waitForTimeout(150);
      if (await page.getByTestId('model-spot').isVisible()) break;
    }
    await expect(page.getByTestId('model-spot')).toBeVisible();
    await expect(page.getByRole('status', { name: 'Part' })).toHaveText('starboard side');
    await page.getByRole('button', { name: 'Sheet deck' }).click();
    await page.mouse.click(box.x + box.width * at, box.y + box.height * 0.6);
    await expect(page.getByRole('button', { name: 'Sheet hull' })).toHaveAttribute('aria-current', 'true');
    await expect(page.getByRole('treeitem', { selected: true })).toHaveCount(1);
    await expect(page.getByRole('textbox', { name: 'name' })).toHaveValue(/starboard|Cream|roundel|Quillback/);
  });
});

test('a click on the art chooses the topmost layer there; the keyboard zooms and fits', async ({ page }) => {
  await open(page, /Turnstone 7, Tern/);
  const flat = (await page.getByTestId('art').boundingBox())!;
  await shows(page, 0.5, 0.88, [0xf1, 0xe8, 0xd4]);
  await page.mouse.click(flat.x + flat.width * 0.5, flat.y + flat.height * 0.88);
  await expect(page.getByRole('textbox', { name: 'name' })).toHaveValue('Cream');
  await page.keyboard.press('1');
  await expect(page.getByRole('button', { name: 'Zoom 100 percent' })).toBeVisible();
  await page.keyboard.press('+');
  await expect(page.getByRole('button', { name: 'Zoom 141 percent' })).toBeVisible();
  await page.keyboard.press('0');
  await expect(page.getByRole('button', { name: /Zoom 2\d percent/ })).toBeVisible();
  // The wheel zooms at the pointer: what is under it stays.
  await page.mouse.move(flat.x + 100, flat.y + 200);
  const before = await page.getByRole('status', { name: 'Position' }).textContent();
  await page.mouse.wheel(0, -400);
  await page.mouse.move(flat.x + 101, flat.y + 200);
  await page.mouse.move(flat.x + 100, flat.y + 200);
  const numbers = (text: string | null) => (text ?? '').match(/\d+/g)!.map(Number);
  const after = numbers(await page.getByRole('status', { name: 'Position' }).textContent());
  numbers(before).forEach((value, i) => expect(Math.abs(after[i] - value)).toBeLessThanOrEqual(8));
});

test('guides are switched one by one, above the art', async ({ page }) => {
  await open(page, /Turnstone 22, Ebbline/);
  const ink = () =>
    page.getByTestId('guides').evaluate((canvas) =>
      (canvas as HTMLCanvasElement)
        .getContext('2d')!
        .getImageData(0, 0, (canvas as HTMLCanvasElement).width, (canvas as HTMLCanvasElement).height)
        .data.reduce((n, v, i) => n + (i % 4 === 3 && v > 0 ? 1 : 0), 0),
    );
  await page.getByRole('button', { name: /^Guides/ }).click();
  await page.getByRole('menuitem', { name: 'All off' }).click();
  await expect.poll(ink).toBe(0);
  let last = 0;
  for (const guide of ['Seams', 'Wire', 'Names of places', 'Symmetry axis']) {
    await page.getByRole('menuitem', { name: guide }).click();
    await expect.poll(ink).toBeGreaterThan(last);
    last = await ink();
  }
  // The block grid shows when there is room for it.
  await page.getByRole('menuitem', { name: /^Block grid/ }).click();
  await page.keyboard.press('Escape');
  expect(await ink()).toBe(last);
  await page.getByRole('button', { name: /^Zoom/ }).click();
  await page.getByRole('menuitem', { name: '400 %' }).click();
  await expect.poll(ink).toBeGreaterThan(last);
});

test('a picture dropped on the sheet becomes a decal there; what is no picture is refused in a sentence', async ({
  page,
}) => {
  await startLivery(page, 'Dropped');
  await add(page, 'Base', 'Solid');
  await shows(page, 0.5, 0.5, [0xe8, 0xe4, 0xda]);
  const png = new PNG({ width: 40, height: 40 });
  for (let i = 0; i < 1600; i++) png.data.set([0, 90, 200, 255], i * 4);
  const drop = async (name: string, type: string, bytes: Buffer) => {
    const data = await page.evaluateHandle(
      ([fileName, mime, base64]) => {
        const transfer = new DataTransfer();
        transfer.items.add(new File([Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))], fileName, { type: mime }));
        return transfer;
      },
      [name, type, bytes.toString('base64')],
    );
    const box = (await page.getByTestId('art').boundingBox())!;
    await page
      .getByRole('application', { name: /^Sheet hull/ })
      .dispatchEvent('drop', { dataTransfer: data, clientX: box.x + box.width / 2, clientY: box.y + box.height / 2 });
  };
  await drop('Blue square.png', 'image/png', PNG.sync.write(png));
  await expect.poll(() => layerNames(page)).toEqual(['Solid', 'Blue square']);
  await shows(page, 0.5, 0.5, [0, 90, 200]);
  await drop('notes.txt', 'text/plain', Buffer.from('not a picture'));
  await expect(page.getByRole('alert').filter({ hasText: 'notes.txt' })).toContainText(
    'not a picture that can be read',
  );
  await expect(layers(page)).toHaveCount(2);
  await saved(page);
});

test('the steps are listed with their times, and any can be gone back to', async ({ page }) => {
  await startLivery(page, 'Steps');
  for (const maker of ['Stripe', 'Chequer', 'Stripe set']) await add(page, 'Pattern', maker);
  await saved(page);
  await page.getByRole('button', { name: 'Saved, 3 steps' }).click();
  await expect(page.getByRole('menuitem')).toHaveCount(4);
  await page.getByRole('menuitem', { name: /^Add Stripe today/ }).click();
  await expect.poll(() => layerNames(page)).toEqual(['Stripe']);
  await saved(page);
  await page.getByRole('button', { name: 'Redo' }).click();
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect(layers(page)).toHaveCount(3);
});

test('the game shows the pattern and says why when a name is off by one letter, and loads it again when it is right', async ({
  page,
  server,
}) => {
  await startLivery(page, 'Misnamed');
  await page.getByRole('button', { name: 'Sheet fan' }).click();
  await add(page, 'Base', 'Solid');
  await saved(page);
  await page.getByRole('link', { name: 'Deliver' }).click();
  await expect(page.getByText('Sheet hull is still bare')).toBeVisible();
  await page.getByRole('button', { name: /^Deliver 2 files/ }).click();
  await page.getByRole('link', { name: 'Open in the test bay' }).click({ timeout: 90_000 });
  await expect(page.getByText('fan shown')).toBeVisible({ timeout: 120_000 });
  const folder = path.join(server.data, 'games/brackwater-run/wharf/turnstone/misnamed');
  renameSync(path.join(folder, 'misnamed_fan.dds'), path.join(folder, 'misnamed_Fan.dds'));
  await expect(page.getByText('fan missing')).toBeVisible();
  await expect(page.getByText(/character 10 is "F" and should be "f"/).first()).toBeVisible();
  renameSync(path.join(folder, 'misnamed_Fan.dds'), path.join(folder, 'misnamed_fan.dds'));
  await expect(page.getByText('fan shown')).toBeVisible();
});

test('a livery that is not there says so, and leads back', async ({ page }) => {
  await page.goto('/liveries/00000000-0000-4000-8000-000000000000');
  await expect(page.getByText('There is no such livery')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Try again' })).toBeVisible();
  await page.getByRole('link', { name: 'Liveries', exact: true }).first().click();
  await expect(page.getByText('Turnstone 7').first()).toBeVisible();
});

test('an address that no screen has says so, with ways on; a game without a stand-in opens no other', async ({
  page,
}) => {
  await page.goto('/liverys/7');
  await expect(page.getByRole('heading', { name: 'No such page' })).toBeAttached();
  await expect(page.getByText('/liverys/7')).toBeVisible();
  await expect(page.getByText('has stopped working')).toHaveCount(0);
  await page.getByRole('main').getByRole('link', { name: 'Templates' }).click();
  await expect(page).toHaveURL(/\/templates$/);
  await page.goto('/bay/somebody-elses-game');
  await expect(page.getByText('There is no stand-in for “somebody-elses-game” here')).toBeVisible();
  await page.getByRole('main').getByRole('link', { name: 'Marshkin' }).click();
  await expect(page).toHaveURL(/\/bay\/marshkin$/);
});

test('a file key that is not the name’s own is said, and one press makes it so', async ({ page }) => {
  await startLivery(page, 'Red tide');
  await page.getByRole('tab', { name: 'Particulars' }).click();
  const key = page.locator('#particular-key');
  await expect(key).toHaveValue('red-tide');
  await expect(page.getByText('the name would make it')).toHaveCount(0);
  await page.locator('#particular-name').fill('Blue tide {number}');
  await page.locator('#particular-name').press('Enter');
  await expect(page.getByText('the name would make it')).toBeVisible();
  await expect(key).toHaveValue('red-tide');
  await page.getByRole('button', { name: 'Make it so' }).click();
  await expect(key).toHaveValue('blue-tide-1');
  await expect(page.getByText('the name would make it')).toHaveCount(0);
});

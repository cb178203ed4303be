/** A team by hand: what liveries share is changed once and seen first, kept as versions, settled where it differs, delivered in one go. */
import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { layersIn, type Livery } from '../packages/core/src/livery/livery.ts';
import { readWithPillow } from '../packages/core/src/testing/independent.ts';
import type { TestServer } from '../packages/server/src/testing/server.ts';
import { expect, serverOf, test as base } from './fixture.ts';

/** A world that nobody else changes. */
const test = base.extend<object, { server: TestServer }>({ server: serverOf({ demo: true }) });

const CRAFT = 'Turnstone 7, Tern & Tide Post';
const PLANE = 'Whimbrel 12, Tern & Tide Air Mail';
const HARBOUR = 'Post harbour';

/** Liveries of these names, as the server has them. */
async function stored(page: Page, names: readonly string[]): Promise<(Livery & { revision: number })[]> {
  const get = async <T>(path: string) => (await (await page.request.get(`/api${path}`)).json()) as T;
  const cards = await get<{ id: string; name: string }[]>('/liveries');
  return Promise.all(
    names.map(async (name) => {
      const { id } = cards.find((card) => card.name === name)!;
      const { livery, revision } = await get<{ livery: Livery; revision: number }>(`/liveries/${id}`);
      return { ...livery, revision };
    }),
  );
}
const hexOf = ({ scheme }: Livery, name: string) => scheme.find((colour) => colour.name === name)?.hex;

async function make(page: Page, names: readonly string[]): Promise<void> {
  await page.goto('/');
  for (const name of names) await page.getByRole('checkbox', { name: `Choose ${name} for a line-up` }).check();
  await page.getByRole('button', { name: `Make a team of ${names.length}` }).click();
  await expect(page.getByRole('region', { name: 'Versions' })).toBeVisible();
}

/** Chooses a colour as the browser's chooser does. */
async function paint(page: Page, name: string, hex: string): Promise<void> {
  await page.getByLabel(`Colour ${name} of the team`).evaluate((input: HTMLInputElement, value) => {
    input.value = value;
    input.dispatchEvent(new Event('change'));
  }, hex);
}
const cell = (page: Page, livery: string, item: string, words: string) =>
  page.getByRole('button', { name: `${livery}, ${item}: ${words}` });
async function settle(page: Page, livery: string, item: string, words: string, deed: string): Promise<void> {
  await cell(page, livery, item, words).click();
  await page.getByRole('menuitem', { name: deed }).click();
  await expect(page.getByRole('menu')).toHaveCount(0);
}

test('shared things are changed for all: first a draft, then one step in each; its own, differing, lacking; taken back', async ({
  page,
}) => {
  const names = [CRAFT, PLANE, HARBOUR];
  await make(page, names);
  const before = await stored(page, names);
  // What two have the same of is shared; what each must have its own of is not, and is named where it is not so.
  await expect(page.getByText('number “7” is on')).toContainText(`${CRAFT} and ${HARBOUR}`);
  for (const name of names) await expect(cell(page, name, 'Cream', 'shared')).toBeVisible();

  await paint(page, 'Signal coral', '#2a9d4a');
  await settle(page, PLANE, 'Cream', 'shared', 'Let it have its own');
  await paint(page, 'Cream', '#ffe8a0');
  await expect(cell(page, CRAFT, 'Cream', 'gets it')).toBeVisible();
  await expect(page.getByText('Shown on 3 liveries; not given yet.')).toBeVisible();
  // Nothing is done before it is said; step by step back, and forward again.
  expect((await stored(page, names)).map(({ revision }) => revision)).toEqual(before.map(({ revision }) => revision));
  await page.getByRole('button', { name: 'Step back' }).click();
  await expect(page.getByLabel('Colour Cream of the team')).toHaveValue(hexOf(before[0], 'Cream')!);
  await paint(page, 'Cream', '#ffe8a0');
  // Leaving asks.
  await page.getByRole('link', { name: 'Decals' }).click();
  await expect(page.getByText('What is changed here was not given to the liveries yet.')).toBeVisible();
  await page.getByRole('button', { name: 'Stay' }).click();
  await page.getByRole('button', { name: 'Give to 3 liveries' }).click();
  await expect(page.getByText(/^Given to 3 liveries, at \d+ places\.$/)).toBeVisible();
  const after = await stored(page, names);
  expect(after.map((one) => hexOf(one, 'Signal coral'))).toEqual(['#2a9d4a', '#2a9d4a', '#2a9d4a']);
  expect(after.map((one) => hexOf(one, 'Cream'))).toEqual(['#ffe8a0', hexOf(before[1], 'Cream'), '#ffe8a0']);
  expect(after.map(({ revision }, n) => revision - before[n].revision)).toEqual([1, 1, 1]);

  // On the easel it is a step like any other.
  await page.getByRole('link', { name: HARBOUR }).first().click();
  await expect(page.getByRole('tree')).toBeVisible();
  await page.goBack();

  // Another picture for the mark, out of the library.
  await page.getByRole('button', { name: 'Set Tern roundel' }).click();
  await page.getByRole('button', { name: 'Another picture' }).click();
  await page
    .getByRole('button', { name: /^Take Quillback/ })
    .first()
    .click();
  await page.getByRole('button', { name: /^Give to 3/ }).click();
  await expect(page.getByText(/^Given to 3 liveries/)).toBeVisible();
  const marked = await stored(page, names);
  const blobs = (one: Livery) => layersIn(one).flatMap((layer) => (layer.kind === 'decal' ? [layer.blob] : []));
  const old = blobs(before[1]).find((blob) => blobs(before[2]).includes(blob))!;
  for (const [n, one] of marked.entries()) {
    expect(blobs(one)).not.toContain(old);
    expect(blobs(one)).toHaveLength(blobs(before[n]).length);
  }

  // A fact that one lacks is put in; one that differs is settled.
  await page.getByRole('button', { name: 'Share something more' }).click();
  await page.getByRole('menuitem', { name: /^Lamp light/ }).click();
  await settle(page, CRAFT, 'Lamp light', 'not in it', 'Put it in');
  await page.getByRole('button', { name: 'Give to 1 livery' }).click();
  await expect(page.getByText('Given to 1 livery, at 1 place.')).toBeVisible();
  expect((await stored(page, names)).map((one) => hexOf(one, 'Lamp light') !== undefined)).toEqual([true, true, false]);

  // Back, step by step, to what it was.
  for (const words of ['Lamp light', 'Tern roundel', 'Cream, Signal coral']) {
    await page.getByRole('button', { name: new RegExp(`^Take back: ${words}`) }).click();
    await expect(page.getByRole('button', { name: new RegExp(`^Do again: ${words}`) })).toBeVisible();
  }
  const back = await stored(page, names);
  for (const [n, one] of back.entries()) expect({ ...one, revision: 0 }).toEqual({ ...before[n], revision: 0 });
});

test('versions are put on and off; another livery joins; the team goes and comes back; all by keyboard', async ({
  page,
}) => {
  await make(page, ['Turnstone 22, Ebbline Freight', 'Brock 41, Ebbline Freight']);
  const versions = page.getByRole('region', { name: 'Versions' });
  await versions.getByRole('textbox', { name: 'name' }).focus();
  await page.keyboard.type('Winter');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Keep', exact: true }).press('Enter');
  await expect(page.getByText('Kept; no livery changed.')).toBeVisible();
  await expect(versions.getByText('is on')).toBeVisible();
  const first = page.getByRole('textbox', { name: 'called', exact: true });
  await expect(first).not.toHaveValue('');
  const colour = (await page.locator('input[type=color]').first().getAttribute('aria-label'))!.replace(
    /^Colour (.*) of the team$/,
    '$1',
  );
  const was = await page.getByLabel(`Colour ${colour} of the team`).inputValue();
  await paint(page, colour, '#7a1f6b');
  await page.getByRole('button', { name: 'Give to 2 liveries' }).press('Enter');
  await expect(page.getByText(/^Given to 2 liveries/)).toBeVisible();
  await versions.getByRole('button', { name: 'Put Winter on' }).press('Enter');
  await expect(page.getByLabel(`Colour ${colour} of the team`)).toHaveValue(was);
  await page.getByRole('button', { name: 'Give to 2 liveries' }).press('Enter');
  await expect(page.getByText(/^Given to 2 liveries/)).toBeVisible();
  // Ctrl Z takes the last one back.
  await page.locator('body').press('Control+z');
  await expect(page.getByLabel(`Colour ${colour} of the team`)).toHaveValue('#7a1f6b');
  await expect(page.getByRole('button', { name: /^Do again: / })).toBeEnabled();
  await page.locator('body').press('Control+Shift+z');
  await expect(page.getByLabel(`Colour ${colour} of the team`)).toHaveValue(was);

  await page.getByRole('button', { name: 'Add a livery' }).press('Enter');
  await page.getByRole('menuitem', { name: /Ebbline barge 22/ }).press('Enter');
  await expect(page.getByRole('columnheader', { name: 'Ebbline barge 22' })).toBeVisible();
  await page.getByRole('button', { name: 'Keep', exact: true }).press('Enter');
  await expect(page.getByText('Kept; no livery changed.')).toBeVisible();

  const name = await first.inputValue();
  await page.getByRole('button', { name: 'Let the team go' }).press('Enter');
  await expect(page.getByText(`The team “${name}” is let go; its liveries stay.`)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('region', { name: 'Teams' }).getByRole('link', { name })).toContainText(
    'Ebbline barge 22',
  );
});

test('all in one go: looked through, delivered with one progress, ended by one cancel', async ({ page }) => {
  await make(page, [HARBOUR, 'Ember of the rescue']);
  await page.getByRole('link', { name: 'Deliver all' }).click();
  const list = page.getByRole('list', { name: 'Liveries' });
  await expect(list.getByRole('listitem').first()).toContainText('nothing stops it', { timeout: 90_000 });
  // One can stay behind.
  await page.getByRole('checkbox', { name: HARBOUR }).uncheck();
  await expect(page.getByRole('button', { name: 'Deliver 1 livery' })).toBeVisible();
  await page.getByRole('checkbox', { name: HARBOUR }).check();
  await page.getByRole('button', { name: 'Deliver 2 liveries' }).click();
  for (const name of [HARBOUR, 'Ember of the rescue'])
    await expect(page.getByRole('region', { name }).getByText('Delivered')).toBeVisible({ timeout: 120_000 });
  await page
    .getByRole('region', { name: 'Ember of the rescue' })
    .getByRole('link', { name: 'Open in the test bay' })
    .click();
  await expect(page.getByRole('heading', { name: 'What the game made of it' })).toBeVisible();
  // The big ones are given up at once.
  await make(page, [CRAFT, PLANE]);
  await page.getByRole('link', { name: 'Deliver all' }).click();
  await page.getByRole('button', { name: 'Deliver 2 liveries' }).click({ timeout: 120_000 });
  await page.getByRole('button', { name: 'Cancel' }).click();
  await expect(page.getByRole('region', { name: PLANE }).getByText('Cancelled: nothing was written.')).toBeVisible();
});

test.describe('with the models drawn', { tag: '@model' }, () => {
  test.use({ model: true });
  test('a draft is seen on the turntable before it is given; the line-up is kept as a picture of 4096 pixels', async ({
    page,
  }) => {
    await make(page, [HARBOUR, 'Ember of the rescue']);
    const rest = () => expect(page.getByRole('progressbar', { name: 'Sheets' })).toHaveCount(0, { timeout: 120_000 });
    const seen = page.getByRole('img', { name: '2 liveries on one turntable' });
    await expect(seen).toBeVisible();
    await rest();
    const shot = async () => (await seen.screenshot()).toString('base64');
    const before = await shot();
    await page.getByRole('button', { name: 'Share something more' }).click();
    await page
      .getByRole('menuitem', { name: /^Signal coral/ })
      .first()
      .click();
    await paint(page, 'Signal coral', '#00ff40');
    await expect.poll(async () => (await shot()) !== before, { timeout: 60_000 }).toBe(true);
    await page.getByRole('button', { name: 'Drop it all' }).click();
    await expect.poll(async () => (await shot()) === before, { timeout: 60_000 }).toBe(true);
    await rest();
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Save as a picture' }).click();
    const picture = readWithPillow(readFileSync(await (await download).path()), '.png');
    expect([picture.width, picture.height]).toEqual([4096, 2304]);
    // Something is on it, with names in letters as light as the page's own.
    const colours = new Set<number>();
    for (let o = 0; o < picture.data.length; o += 4 * 97)
      colours.add((picture.data[o] << 16) | (picture.data[o + 1] << 8) | picture.data[o + 2]);
    expect(colours.size).toBeGreaterThan(200);
    expect(colours.has(0xededed)).toBe(true);
  });
});

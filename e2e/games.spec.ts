/** Every stand-in game from the painter's side: painted, delivered with its one button, and looked at in the test bay. */
import { readFileSync, renameSync } from 'node:fs';
import path from 'node:path';
import type { Page } from '@playwright/test';
import type { TestServer } from '../packages/server/src/testing/server.ts';
import { add, expect, hand, openDelivery, panel, stroke, test, type, wear } from './fixture.ts';

/** A livery of a subject, with the particulars that games ask for, open in its easel. */
async function begin(page: Page, server: TestServer, subject: string, name: string): Promise<string> {
  const cards = await server.get<{ hash: string; name: string }[]>('/templates');
  const { hash } = cards.find((card) => card.name === subject)!;
  const { id } = (await server.post<{ id: string }>('/liveries', { template: hash, name })).body;
  await page.goto(`/liveries/${id}`);
  await expect(page.getByRole('region', { name: 'Flat sheet' })).toBeVisible();
  return id;
}

async function particulars(page: Page, values: Record<string, string>): Promise<void> {
  await page.getByRole('tab', { name: 'Particulars' }).click();
  for (const [key, value] of Object.entries(values)) await type(page, key, value);
}

async function deliver(page: Page): Promise<void> {
  await page.getByRole('button', { name: /^Deliver \d/ }).click();
  await expect(page.getByText('Delivered', { exact: true })).toBeVisible({ timeout: 90_000 });
}
const sheet = (page: Page, key: string, says: string) =>
  page
    .getByRole('complementary', { name: 'What the game made of it' })
    .getByRole('listitem')
    .filter({ hasText: new RegExp(`^${key} ?${says}`) });

test(
  'Ninth Meridian: the list goes on with its next entry, shown before it is written; a name off by a letter is found',
  { tag: '@model' },
  async ({ page, server }) => {
    await begin(page, server, 'Whimbrel floatplane', 'Spring Tide');
    await page.getByRole('button', { name: 'Sheet tail' }).click();
    await add(page, 'Base', 'Solid');
    await openDelivery(page);
    const preflight = page.getByRole('region', { name: 'Preflight' });
    await expect(preflight.getByText('The livery has no registration')).toBeVisible();
    await expect(page.getByRole('button', { name: /^Deliver \d/ })).toBeDisabled();
    await preflight.getByRole('listitem').filter({ hasText: 'no registration' }).getByRole('button').click();
    await type(page, 'registration', 'NM-88');
    await openDelivery(page);
    await page.getByRole('button', { name: 'hangar.list' }).click();
    await expect(page.getByLabel('Text of hangar.list')).toContainText('+ entry 2 {');
    await deliver(page);
    await page.getByRole('link', { name: 'Open in the test bay' }).click();
    await expect(sheet(page, 'tail', 'shown')).toBeVisible();
    await expect(page.getByText('NM-88')).toBeVisible();
    const wrap = path.join(server.data, 'games/ninth-meridian/wraps/spring-tide');
    renameSync(path.join(wrap, 'spring-tide_tail.dds'), path.join(wrap, 'spring-tide_tal.dds'));
    await expect(
      page.getByText(/the game looks for spring-tide_tail.dds; character 15 is "l" and should be "i"/),
    ).toBeVisible();
    renameSync(path.join(wrap, 'spring-tide_tal.dds'), path.join(wrap, 'spring-tide_tail.dds'));
    await expect(sheet(page, 'tail', 'shown')).toBeVisible();
  },
);

test('Tollbarge: a brush stroke on one sail goes into the game’s atlas, and is taken back', async ({
  page,
  server,
}) => {
  const id = await begin(page, server, 'Tollbarge sails', 'Red cross');
  await hand(page, 'Paint');
  await wear(page, '#c01818');
  await stroke(page, [0.06, 0.06], [0.18, 0.18]);
  await expect(page.getByTestId('paints-on')).toHaveText('On Brushwork');
  await openDelivery(page);
  await deliver(page);
  await page.getByRole('link', { name: 'Open in the test bay' }).click();
  await expect(sheet(page, 'sails', 'shown')).toBeVisible();
  await page.goto(`/liveries/${id}/deliver`);
  await page.getByRole('button', { name: 'Take back' }).click();
  await expect(page.getByText('Taken back: what it replaced is in its place again.')).toBeVisible();
});

test('Harbour Watch: the next free slot, both sizes', async ({ page, server }) => {
  await begin(page, server, 'Dunlin launch', 'Patrol Nine');
  await page.getByRole('button', { name: 'Sheet house' }).click();
  await add(page, 'Base', 'Solid');
  await openDelivery(page);
  await expect(page.getByText(/slot 22$/)).toBeVisible();
  await deliver(page);
  await page.getByRole('link', { name: 'Open in the test bay' }).click();
  await expect(sheet(page, 'house', 'shown')).toBeVisible();
  await expect(sheet(page, 'house/far', 'shown')).toBeVisible();
});

for (const { game, subject, name, shown, values } of [
  { game: 'Ferrywarden’s Oath', subject: 'Warden courier', name: 'Storm coat', shown: 'coat', values: {} },
  {
    game: 'Pebblewick',
    subject: 'Pebblewick level',
    name: 'Salt marsh',
    shown: 'level',
    values: { author: 'Ann Reed' },
  },
  { game: 'Marshkin', subject: 'Lampkin', name: 'Glow', shown: 'skin', values: {} },
  { game: 'Longhaul', subject: 'Brock wagon', name: 'Oakum Pitch', shown: 'body', values: {} },
])
  test(`${game}: painted, delivered and loaded`, async ({ page, server }) => {
    await begin(page, server, subject, name);
    await add(page, 'Base', 'Solid');
    await particulars(page, values);
    await openDelivery(page);
    await deliver(page);
    await page.getByRole('link', { name: 'Open in the test bay' }).click();
    await expect(sheet(page, shown, 'shown')).toBeVisible();
    await expect(page.getByText('refused')).toHaveCount(0);
    await expect(page.getByText('missing')).toHaveCount(0);
  });

test('two specs in one go: each is looked at, one progress for both, both in their places', async ({
  page,
  server,
}) => {
  await page.goto('/specs/brackwater-run');
  await page.getByRole('button', { name: 'Duplicate' }).click();
  await expect(page).toHaveURL(/brackwater-run-2$/);
  await page.getByRole('textbox', { name: 'folder' }).fill('wharf/{craft.key}/{livery.key}-2/');
  await page.getByRole('textbox', { name: 'folder' }).press('Enter');
  await page.getByRole('button', { name: 'Save as version 2' }).click();
  await expect(page.getByText('brackwater-run-2, version 2')).toBeVisible();
  await begin(page, server, 'Turnstone skimmer', 'Twice');
  await add(page, 'Base', 'Solid');
  await openDelivery(page);
  await page.getByRole('combobox', { name: 'and also by' }).click();
  await page.getByRole('option', { name: /brackwater-run-2/ }).click();
  const list = page.getByRole('list', { name: 'Delivered by' });
  await expect(list.getByRole('listitem')).toHaveCount(2);
  await expect(page.getByRole('radio', { name: /brackwater-run-2$/ })).toBeChecked();
  await expect(page.getByText('wharf / turnstone / twice-2 /')).toBeVisible();
  await page.getByRole('button', { name: /^Deliver 4 files by 2 specs$/ }).click();
  await expect(page.getByRole('progressbar', { name: 'Delivery' })).toBeVisible();
  await expect(page.getByText('Delivered', { exact: true })).toHaveCount(2, { timeout: 90_000 });
  await expect(page.getByRole('row', { name: /twice_hull.dds/ }).getByText('unchanged')).toBeVisible();
  const at = path.join(server.data, 'games/brackwater-run/wharf/turnstone');
  const [one, other] = ['twice', 'twice-2'].map((name) => readFileSync(path.join(at, name, 'twice_hull.dds')));
  expect(one.equals(other)).toBe(true);
  await page.getByRole('button', { name: 'No longer deliver by brackwater-run-2' }).click();
  await expect(page.getByRole('button', { name: 'Deliver 2 files' })).toBeVisible();

  // What the game has now is a skin that works: it becomes a spec, with its guesses marked.
  await page.goto('/specs');
  await page.getByLabel('Folder to bring in').setInputFiles(path.join(at, 'twice'));
  await expect(page.getByRole('heading', { name: '2 files' })).toBeVisible();
  await page.getByRole('combobox', { name: 'skin of' }).click();
  await page.getByRole('option', { name: /Turnstone/ }).click();
  await page.getByRole('button', { name: 'Take the spec from them' }).click();
  await expect(page).toHaveURL(/\/specs\/from-twice$/);
  await expect(page.getByRole('textbox', { name: 'name', exact: true })).toHaveValue('{livery.key}_{sheet.key}.dds');
  const guesses = page.getByRole('region', { name: 'To be confirmed' });
  await expect(guesses.getByText('6 guesses to be confirmed')).toBeVisible();
  await guesses.getByRole('button', { name: /^Confirm folder/ }).click();
  await expect(guesses.getByText('5 guesses to be confirmed')).toBeVisible();
  await page.getByRole('button', { name: 'Save as version 2' }).click();
  await expect(page.getByText('from-twice, version 2')).toBeVisible();
  await expect(guesses.getByText('5 guesses to be confirmed')).toBeVisible();
});

test('a spec is duplicated, changed by field and by text, tried on a livery, saved and taken', async ({
  page,
  server,
}) => {
  await page.goto('/specs');
  await page.getByRole('link', { name: 'Marshkin' }).click();
  await expect(page.getByText('It stays as it is; a duplicate can be changed.')).toBeVisible();
  await page.getByRole('button', { name: 'Duplicate' }).click();
  await expect(page).toHaveURL(/\/specs\/marshkin-2$/);
  const text = page.getByRole('textbox', { name: 'The spec as text' });
  await page.getByRole('textbox', { name: 'package' }).fill('crates/{livery.key|uper}.crate');
  await page.getByRole('textbox', { name: 'package' }).press('Enter');
  await expect(text).toContainText('{livery.key|uper}.crate');
  await expect(page.getByText(/uses the filter "uper", which is not known/)).toBeVisible();
  await page.getByRole('textbox', { name: 'package' }).fill('crates/new-{livery.key}.crate');
  await page.getByRole('textbox', { name: 'package' }).press('Enter');
  await expect(page.getByRole('region', { name: 'As it would be' }).getByText(/^crates\/new-/)).toBeVisible();
  // A word in the text that no spec has.
  await text.click();
  await page.keyboard.press('Control+Home');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('End');
  await page.keyboard.type(' "colour": 3,');
  await expect(page.getByText('The text is not a spec yet')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Save as version 2' })).toBeDisabled();
  for (let i = 0; i < ' "colour": 3,'.length; i++) await page.keyboard.press('Backspace');
  await page.getByRole('button', { name: 'Save as version 2' }).click();
  await expect(page.getByText('marshkin-2, version 2')).toBeVisible();

  await begin(page, server, 'Lampkin', 'Dusk');
  await add(page, 'Base', 'Solid');
  await openDelivery(page);
  await page.getByRole('combobox', { name: 'spec' }).click();
  await page.getByRole('option', { name: /marshkin-2, version 2/ }).click();
  await expect(page.getByText('in crates/new-dusk.crate')).toBeVisible();
  await deliver(page);
  await page.getByRole('link', { name: 'Open in the test bay' }).click();
  await expect(page.getByRole('combobox', { name: 'livery' })).toContainText('new-dusk');
  await expect(panel(page)).toHaveCount(0);
});

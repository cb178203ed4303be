/** Two people, each with a server and games of their own: handed on, found, seen, put in, seen again, gone on from. */
import type { Page } from '@playwright/test';
import type { LiveryCard } from '../packages/sync/src/answers.ts';
import { startServer, type TestServer } from '../packages/server/src/testing/server.ts';
import { expect, tabTo, test } from './fixture.ts';
import { lookOver } from './seen.ts';

let other: TestServer;
test.beforeAll(async () => {
  other = await startServer({ demo: true });
});
test.afterAll(() => other.stop());
test.describe.configure({ mode: 'serial' });

const about = (page: Page) => page.getByRole('complementary', { name: 'About this skin' });

/** Delivers a livery from its screen and opens what hands it on. */
async function toHandOn(page: Page, server: TestServer, name: string): Promise<void> {
  const { id } = (await server.get<LiveryCard[]>('/liveries')).find((card) => card.name.includes(name))!;
  await page.goto(`/liveries/${id}/deliver`);
  await page.getByRole('button', { name: /^Deliver \d/ }).click();
  await expect(page.getByText(/^Delivered \d/)).toBeVisible({ timeout: 120_000 });
  await page.getByRole('button', { name: 'Hand it on …' }).click();
  await expect(page.getByRole('dialog', { name: 'Hand it on' })).toBeVisible();
}

test('handed on here, put into a game there, and each sees what the other has', async ({ page, server }) => {
  await page.goto('/exchange');
  await expect(page.getByText('Nothing has been handed on yet')).toBeVisible();
  await toHandOn(page, server, 'Ember');
  const dialog = page.getByRole('dialog', { name: 'Hand it on' });
  await expect(dialog.getByRole('button', { name: 'Put it into the exchange' })).toBeDisabled();
  await dialog.getByRole('textbox', { name: 'made by' }).fill('Maren');
  await dialog.getByRole('textbox', { name: 'crew' }).fill('Lanternfish Rescue');
  await dialog.getByRole('textbox', { name: 'about it' }).fill('Seen from far in rain.');
  await dialog.getByRole('checkbox', { name: /^Others may go on from it/ }).check();
  await dialog.getByRole('button', { name: 'Put it into the exchange' }).click();
  await expect(page.getByRole('heading', { name: 'Ember of the rescue' })).toBeVisible();
  await expect(about(page)).toContainText('by Maren, Lanternfish Rescue');
  await expect(about(page)).toContainText('Nobody has said so yet');

  const there = await page.context().newPage();
  await there.goto(`${other.url}/exchange`);
  await there.getByRole('button', { name: 'Other servers …' }).click();
  const others = there.getByRole('dialog', { name: 'Other servers' });
  await others.getByRole('textbox', { name: 'its address' }).fill('http://192.0.2.7');
  await others.getByRole('button', { name: 'Listen to it' }).click();
  await expect(others.getByRole('alert')).toContainText('is not one of the servers that this one may ask');
  await others.getByRole('textbox', { name: 'its address' }).fill(server.url);
  await others.getByRole('button', { name: 'Listen to it' }).click();
  await expect(others.getByRole('list', { name: 'Servers that are listened to' })).toContainText('1 skin');
  await others.getByRole('button', { name: 'Close' }).click();
  await there.getByRole('textbox', { name: 'words' }).fill('ember nothing');
  await expect(there.getByText('Nothing here is like that')).toBeVisible();
  await there.getByRole('textbox', { name: 'words' }).fill('ember');
  await there.getByRole('list', { name: 'Skins' }).getByRole('link').click();
  await about(there).getByRole('button', { name: 'Put it into the game' }).click();
  await expect(about(there).getByText(/^In the game since/)).toBeVisible();
  await about(there).getByRole('link', { name: 'Open in the test bay' }).click();
  await expect(there.getByRole('complementary', { name: 'What the game made of it' })).toContainText('shown');

  // Here it is told who has it; through their eyes it is there, through those of somebody who has none of it, it is not.
  await page.reload();
  await expect(about(page).getByRole('region', { name: 'Who has it' })).toContainText('a painter version 1');
  await page.goto('/bay/marshkin');
  const made = page.getByRole('complementary', { name: 'What the game made of it' });
  const eyes = async (name: string | RegExp) => {
    await made.getByRole('combobox', { name: 'seen by' }).click();
    await page.getByRole('option', { name }).click();
  };
  await expect(made).toContainText('shown');
  await eyes(/^a painter/);
  await expect(made).toContainText('shown');
  await eyes('somebody who has none of it');
  await expect(page.getByText('The game finds no livery')).toBeVisible();
  await eyes('you: this folder');
  await expect(made).toContainText('shown');
});

test('gone on from by another painter, taken out again by keyboard, said against, taken down', async ({
  page,
  server,
}) => {
  await page.goto(`${other.url}/exchange?words=ember`);
  await page.getByRole('list', { name: 'Skins' }).getByRole('link').click();
  await about(page).getByRole('button', { name: 'Go on from it' }).click();
  await page.waitForURL(/\/liveries\/[0-9a-f-]{36}$/);
  await expect(page.getByRole('region', { name: 'Flat sheet' })).toBeVisible();
  await page.goBack();
  await expect(about(page).getByRole('button', { name: 'Take it out' })).toBeVisible();
  await tabTo(page, /^Take it out$/);
  await page.keyboard.press('Enter');
  await expect(about(page).getByText('It is out of the game; what was there before is back.')).toBeVisible();
  await about(page).getByRole('button', { name: 'Say something against it …' }).click();
  await page.getByRole('textbox', { name: 'why' }).fill('It is ours.');
  await page.getByRole('button', { name: 'Say it' }).click();
  await expect(about(page).getByRole('region', { name: 'What was said against it' })).toContainText('It is ours.');

  await page.goto(`${server.url}/exchange`);
  await page.getByRole('list', { name: 'Skins' }).getByRole('link').click();
  await expect(about(page).getByRole('region', { name: 'Who has it' })).toContainText('Nobody has said so yet');
  await about(page).getByRole('button', { name: 'Take it down …' }).click();
  await page.getByRole('textbox', { name: 'why' }).fill('A newer one comes.');
  await page.getByRole('button', { name: 'Take it down', exact: true }).click();
  await expect(about(page)).toContainText('It was taken down: A newer one comes.');
  await page.getByRole('link', { name: 'Exchange' }).first().click();
  await expect(page.getByText('Nothing has been handed on yet')).toBeVisible();
  await page.goBack();
  await about(page).getByRole('button', { name: 'List it again' }).click();
  await expect(about(page).getByRole('button', { name: 'Take it down …' })).toBeVisible();
});

test('every screen of it at every size, and axe-core finds nothing', async ({ page, server }) => {
  const found: Record<string, string[]> = {};
  const look = (name: string) => lookOver(page, name, found);
  await page.goto('/exchange');
  await expect(page.getByRole('list', { name: 'Skins' })).toBeVisible();
  await look('exchange');
  await page.getByRole('button', { name: 'Other servers …' }).click();
  await expect(page.getByText('None yet.')).toBeVisible();
  await look('other servers');
  await page.getByRole('button', { name: 'Close' }).click();
  await page.getByRole('list', { name: 'Skins' }).getByRole('link').click();
  await expect(about(page).getByRole('heading', { name: 'Ember of the rescue' })).toBeVisible();
  await look('a skin');
  await about(page).getByRole('button', { name: 'Say something against it …' }).click();
  await expect(page.getByRole('textbox', { name: 'why' })).toBeFocused();
  await look('saying something');
  await page.goto('/exchange/00000000-0000-4000-8000-000000000000');
  await expect(page.getByText('This skin is not here')).toBeVisible();
  await look('no skin');
  await toHandOn(page, server, 'Ember');
  await look('handing on');
  expect(found).toEqual({});
});

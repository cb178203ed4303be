/** A livery goes onto another model, by hand: chosen, looked at, corrected, taken over; and the new one is painted on and delivered. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Page } from '@playwright/test';
import { writeTemplatePackage } from '../packages/core/src/files/templatePackage.ts';
import { layersIn, type Livery } from '../packages/core/src/livery/livery.ts';
import type { Template } from '../packages/core/src/livery/template.ts';
import { repacked, reshaped } from '../packages/core/src/testing/sisters.ts';
import { expect, test } from './fixture.ts';

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

/** What axe-core finds on the page as it stands. */
async function looked(page: Page): Promise<string[]> {
  await page.evaluate(axe);
  return page.evaluate(async () => {
    const { axe: run } = window as unknown as { axe: { run(): Promise<{ violations: { id: string }[] }> } };
    return (await run.run()).violations.map(({ id }) => id);
  });
}

/** A sister of the Lampkin, taller and cut otherwise, beside the demo's own. @returns the livery that goes over */
async function sisterOf(page: Page): Promise<string> {
  const get = async <T>(path: string) => (await (await page.request.get(`/api${path}`)).json()) as T;
  const { id } = (await get<{ id: string; template: string }[]>('/liveries')).find(
    (one) => one.template === 'Lampkin',
  )!;
  const { livery } = await get<{ livery: Livery }>(`/liveries/${id}`);
  const template = await get<Template>(`/templates/${livery.pins.template}`);
  const sister = reshaped(repacked(template, 256, 2), ([x, y, z]) => [x, y * 1.15, z]);
  const data = Buffer.from(await writeTemplatePackage(sister, new Map(), () => Promise.resolve(new Uint8Array())));
  const headers = { 'Content-Type': 'application/octet-stream' };
  expect((await page.request.post('/api/templates/packages', { headers, data })).status()).toBe(201);
  return id;
}

test.describe('with the models drawn', { tag: '@model' }, () => {
  test.use({ model: true });

  test('from its card to the easel of a sister: seen over each other, corrected, taken back, taken over', async ({
    page,
  }) => {
    const id = await sisterOf(page);
    await page.goto('/');
    const card = page.getByRole('listitem').filter({ hasText: 'Lampkin' }).first();
    await card.getByRole('button', { name: /^More for/ }).click();
    await page.getByRole('menuitem', { name: 'Take onto another model' }).click();
    await expect(page.getByRole('button', { name: 'Lay them over each other' })).toBeDisabled();
    await page.getByRole('radio', { name: 'Lampkin, sister' }).check();
    expect(await looked(page)).toEqual([]);
    await page.getByRole('button', { name: 'Lay them over each other' }).click();
    const parts = page.getByRole('list', { name: 'Parts' });
    await expect(parts.getByRole('listitem').first()).toContainText('sized as the whole');
    await expect(page.getByRole('progressbar')).toHaveCount(0);
    expect(await looked(page)).toEqual([]);

    // Places that are clicked on both: one pair moves the old model, and it is laid by it.
    const canvas = page.getByRole('img', { name: /^Lampkin and Lampkin, sister/ });
    await page.getByRole('button', { name: 'Click places on both' }).click();
    await page.getByRole('button', { name: 'Lampkin', exact: true }).click();
    await canvas.click();
    await expect(page.getByText('Now the same place on the other model.')).toBeVisible();
    await canvas.click();
    await page.getByRole('button', { name: 'Lay by 1 pair' }).click();
    await expect(page.getByRole('progressbar')).toHaveCount(0);
    await page.getByRole('button', { name: 'Take the last change back' }).click();
    await expect(page.getByRole('progressbar')).toHaveCount(0);
    await page.getByRole('button', { name: 'Stop clicking places' }).click();

    // A part that comes from nothing stays bare, and is red where it is looked at.
    const first = parts.getByRole('combobox').first();
    await first.click();
    await page.getByRole('option', { name: 'nothing' }).click();
    await expect(parts.getByRole('listitem').first()).toContainText('stays bare');
    await page.getByRole('button', { name: 'How it fits' }).click();
    await expect(page.getByRole('list', { name: 'Colours' })).toContainText('no counterpart');
    await page.getByRole('button', { name: 'Take the last change back' }).click();
    await expect(parts.getByRole('listitem').first()).toContainText('sized as the whole');

    await page.getByRole('textbox', { name: 'Name of the new livery' }).fill('Ember the tall');
    await page.getByRole('button', { name: 'Take it over' }).click();
    await expect(page.getByRole('heading', { level: 1, name: 'Ember the tall' })).toBeVisible();
    await expect(page.getByRole('region', { name: 'In their place on the new sheets' })).toContainText('Muzzle');
    expect(await looked(page)).toEqual([]);
    await page.getByRole('link', { name: 'Open it on the easel' }).click();
    await expect(page.getByRole('tree')).toBeVisible();
    const made = page.url().split('/').at(-1)!;
    expect(made).not.toBe(id);
    const livery = async (of: string) =>
      ((await (await page.request.get(`/api/liveries/${of}`)).json()) as { livery: Livery }).livery;
    expect(layersIn(await livery(made)).length).toBeGreaterThan(15);
    expect((await livery(id)).particulars.name).not.toContain('tall');
  });
});

test('it is cancelled by a button, and no livery is left of it; what cannot be is said in a sentence', async ({
  page,
}) => {
  const id = await sisterOf(page);
  const many = async () => ((await (await page.request.get('/api/liveries')).json()) as unknown[]).length;
  const before = await many();
  await page.goto(`/liveries/${id}/onto`);
  await page.getByRole('radio', { name: 'Lampkin, sister' }).first().check();
  await page.getByRole('button', { name: 'Lay them over each other' }).click();
  await page.getByRole('button', { name: 'Take it over' }).click();
  await page.getByRole('button', { name: 'Cancel' }).click();
  await expect(page.getByRole('button', { name: 'Take it over' })).toBeEnabled();
  await expect.poll(many).toBe(before);
  await page.route('**/api/transfers', (route) => route.abort());
  await page.getByRole('button', { name: 'Take it over' }).click();
  await expect(page.getByRole('alert')).toContainText('The server does not answer');
});

/** What went wrong is shown with ways on: a livery that cannot be read, steps that were set aside, what is stored. */
import pg from 'pg';
import { add, expect, saved, startLivery, test } from './fixture.ts';
import type { PoolHealth } from '../packages/node/src/threads/pool.ts';

async function ask(databaseUrl: string, sql: string, values: unknown[]): Promise<void> {
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  await client.query(sql, values);
  await client.end();
}
const step = (id: string, edit: object, label: string) => ({
  ...{ id, person: 'somebody', edit, undoes: null, redoes: null, label },
});

test('a livery that cannot be read hides no other, is saved as far as it goes, and goes on from its last good step', async ({
  page,
  server,
}) => {
  const { body: made } = await server.post<{ id: string }>('/liveries', {
    template: (await server.get<{ hash: string }[]>('/templates'))[0].hash,
    name: 'Torn {number}',
  });
  // A step that no version could make: this server has not read the livery since.
  const bad = { do: 'remove-layer', layer: 'nobody' };
  const insert = `insert into edit (livery_id, revision, id, person, edit, inverse, label) values ($1, $2, $3, 'p', $4, $4, 'x')`;
  await ask(server.databaseUrl, insert, [made.id, 1, 'one', { do: 'set-particular', key: 'number', value: '31' }]);
  await ask(server.databaseUrl, insert, [made.id, 2, 'two', bad]);
  await ask(server.databaseUrl, 'update livery set revision = 2 where id = $1', [made.id]);
  await page.goto('/');
  const card = page.getByRole('listitem', { name: 'Torn 31' });
  await expect(card).toContainText(
    'It cannot be opened. Step 2: The layer that this change is for is no longer there.',
  );
  await expect(card).toContainText('It can be read up to step 1 of 2');
  await expect(page.getByRole('link', { name: /Turnstone 7, Tern & Tide/ })).toBeVisible();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    card.getByRole('link', { name: 'Save what is there' }).click(),
  ]);
  expect(file.suggestedFilename()).toMatch(/\.livery$/);
  await card.getByRole('button', { name: 'Go on from step 1' }).click();
  await page.getByRole('link', { name: /Torn 31/ }).click();
  await expect(page.getByRole('region', { name: 'Flat sheet' })).toBeVisible();
  // The step itself is not lost.
  await expect(page.getByText('Set aside: “x”.')).toBeVisible();
  await page.getByRole('button', { name: 'Let it go' }).click();
  await expect(page.getByText('Set aside')).toHaveCount(0);
});

test('steps that were set aside stay over a reload, go to a file, and are put on another layer', async ({
  page,
  server,
}) => {
  const id = await startLivery(page, 'Aside');
  await add(page, 'Base', 'Solid');
  await saved(page);
  const gone = step('gone', { do: 'set-layer', layer: 'nobody', set: { opacity: 40 } }, 'Opacity');
  const twice = step('twice', { do: 'remove-layer', layer: 'nobody' }, 'Delete');
  for (const entry of [gone, twice])
    await ask(server.databaseUrl, 'insert into set_aside (livery_id, id, entry, why) values ($1, $2, $3, $4)', [
      ...[id, entry.id, entry, 'The layer that this change is for is no longer there.'],
    ]);
  for (let k = 0; k < 2; k++) {
    await page.reload();
    await expect(page.getByText('Set aside: “Opacity”.')).toContainText('And 1 more.');
  }
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save to a file' }).click(),
  ]);
  expect(file.suggestedFilename()).toBe('aside-set-aside.json');
  await page.getByRole('treeitem', { name: /^Solid/ }).click();
  await page.getByRole('button', { name: /^Put it on Solid/ }).click();
  const details = page.getByRole('complementary', { name: 'Details' });
  await expect(details.getByRole('textbox', { name: 'opacity', exact: true })).toHaveValue('40');
  await saved(page);
  await page.getByRole('button', { name: 'Let it go' }).click();
  await page.reload();
  await expect(page.getByRole('treeitem', { name: /^Solid/ })).toBeVisible();
  await expect(page.getByText('Set aside')).toHaveCount(0);
});

test('what is stored is said livery by livery', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'Storage' }).click();
  const table = page.getByRole('dialog', { name: 'Storage' });
  await expect(table.getByRole('row', { name: /Tern & Tide Post.*KiB/ })).toBeVisible();
  await expect(table).toContainText('are free on this disk');
  await page.keyboard.press('Escape');
  await expect(table).toHaveCount(0);
});

test('an answer that has to wait for others’ heavy work says so, and comes', async ({ page, server }) => {
  const rects = '<rect width="100" height="100"/>'.repeat(14_000);
  const slow = `<svg xmlns="http://www.w3.org/2000/svg" width="100" height="100">${rects}</svg>`;
  await page.goto('/decals');
  await expect(page.getByText('Oakum barrel')).toBeVisible();
  const heavy = Array.from({ length: 4 }, () =>
    fetch(`${server.url}/api/decals?name=slow`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/octet-stream' },
      body: slow,
    }),
  );
  const drawing = '<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><path d="M0 0h9v9z"/></svg>';
  // Every thread has one of them, and one waits.
  await expect.poll(async () => (await server.get<PoolHealth>('/health/threads')).waiting).toBeGreaterThan(0);
  await page.getByLabel('Pictures for the library').setInputFiles({
    ...{ name: 'Wedge.svg', mimeType: 'image/svg+xml', buffer: Buffer.from(drawing) },
  });
  const waiting = page.getByText('comes in its turn');
  await expect(waiting).toBeVisible();
  await Promise.all(heavy);
  await expect(page.getByText('Wedge').first()).toBeVisible();
  await expect(waiting).toBeHidden();
});

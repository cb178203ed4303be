/** Two windows on one livery, a server that goes away, and steps whose target is gone. */
import { add, expect, layerNames, layers, openDelivery, saved, startLivery, test, type } from './fixture.ts';
import { startServer } from '../packages/server/src/testing/server.ts';
import { test as plain } from '@playwright/test';

test('a second window follows, and edits of both are kept', async ({ page, context }) => {
  const id = await startLivery(page, 'Two windows');
  await add(page, 'Base', 'Solid');
  await saved(page);
  const other = await context.newPage();
  await other.goto(`/liveries/${id}`);
  await expect(layers(other)).toHaveCount(1);
  await add(other, 'Pattern', 'Stripe');
  await expect(layers(page)).toHaveCount(2);
  await Promise.all([add(page, 'Pattern', 'Chequer'), add(other, 'Marks', 'Lettering')]);
  for (const window of [page, other]) {
    await expect(layers(window)).toHaveCount(4);
    await saved(window);
  }
  expect(await layerNames(page)).toEqual(await layerNames(other));
});

test('a stale window rebases; a step whose layer is gone is set aside, shown, and can be put on another layer', async ({
  page,
  context,
}) => {
  const id = await startLivery(page, 'Set aside');
  await add(page, 'Base', 'Solid');
  await add(page, 'Pattern', 'Stripe');
  await saved(page);
  const other = await context.newPage();
  await other.goto(`/liveries/${id}`);
  await expect(layers(other)).toHaveCount(2);
  await other.getByRole('treeitem', { name: /^Stripe/ }).click();
  // The other window hears and sends nothing for a while.
  await context.setOffline(true);
  await other.evaluate(() => new Promise((resolve) => setTimeout(resolve, 200)));
  await type(other, 'opacity', '55');
  await expect(other.getByRole('button', { name: 'Not saved yet' })).toBeVisible();
  await context.setOffline(false);
  // Meanwhile the layer goes: before the waiting step is sent again.
  await page.request.post(`/api/liveries/${id}/entries`, {
    data: {
      base: await page.evaluate(
        async (which) => ((await (await fetch(`/api/liveries/${which}`)).json()) as { revision: number }).revision,
        id,
      ),
      entries: [
        {
          id: 'removal',
          person: 'somebody else',
          edit: {
            do: 'remove-layer',
            layer: await other.getByRole('treeitem', { name: /^Stripe/ }).getAttribute('data-layer'),
          },
          undoes: null,
          redoes: null,
          label: 'Delete Stripe',
        },
      ],
    },
  });
  const aside = other.getByText('Set aside: “Opacity of Stripe”');
  await expect(aside.or(other.getByRole('treeitem', { name: /^Stripe/ })).first()).toBeVisible();
  await expect(layers(other)).toHaveCount(1);
  await expect(aside).toBeVisible();
  await other.getByRole('treeitem', { name: /^Solid/ }).click();
  await other.getByRole('button', { name: 'Put it on Solid' }).click();
  await expect(other.getByRole('textbox', { name: 'opacity' })).toHaveValue('55');
  await expect(aside).toHaveCount(0);
  await saved(other);
});

plain('a killed server: work goes on, and everything is saved when it is back', async ({ page }) => {
  let server = await startServer({ demo: true });
  const port = new URL(server.url).port;
  await page.goto(server.url);
  await page.getByRole('link', { name: /Turnstone 22/ }).click();
  await expect(page.getByRole('tree')).toBeVisible();
  const before = (await layerNames(page)).length;
  await server.kill();
  await add(page, 'Base', 'Solid');
  await expect(page.getByRole('button', { name: 'Not saved yet' })).toBeVisible();
  await add(page, 'Pattern', 'Stripe');
  expect(await layerNames(page)).toHaveLength(before + 2);
  server = await startServer({ databaseUrl: server.databaseUrl, data: server.data, port: Number(port) });
  await saved(page);
  await page.reload();
  await expect(layers(page)).toHaveCount(before + 2);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(layers(page)).toHaveCount(before + 1);

  // Killed again, and the window closed before it is back: what was not sent is in the browser and is sent at the next opening.
  await saved(page);
  await server.kill();
  await add(page, 'Pattern', 'Chequer');
  const address = page.url();
  await page.goto('about:blank');
  server = await startServer({ databaseUrl: server.databaseUrl, data: server.data, port: Number(port) });
  await page.goto(address);
  await expect(layers(page)).toHaveCount(before + 2);
  await expect(page.getByRole('treeitem', { name: /^Chequer/ })).toBeVisible();
  await saved(page);
  await server.stop();
});

test('a step that somebody makes while one looks at what would be delivered is told, and looked at', async ({
  page,
  server,
}) => {
  const id = await startLivery(page, 'Meanwhile');
  await openDelivery(page);
  await expect(page.getByText(/, the newest/)).toBeVisible();
  const { revision } = await server.get<{ revision: number }>(`/liveries/${id}`);
  await server.post(`/liveries/${id}/entries`, {
    base: revision,
    entries: [
      {
        ...{ id: 'meanwhile', person: 'somebody', undoes: null, redoes: null, label: 'Number' },
        edit: { do: 'set-particular', key: 'number', value: '61' },
      },
    ],
  });
  await expect(page.getByText(/1 newer step/)).toBeVisible();
  await page.getByRole('button', { name: 'Look at the newest' }).click();
  await expect(page.getByText(/, the newest/)).toBeVisible();
});

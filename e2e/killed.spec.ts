/** A browser, a server or a database that is killed in the middle of a stroke: at most that stroke is lost. */
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { chromium, type Browser, type Page } from '@playwright/test';
// The start scripts are plain JavaScript: they run before anything is installed.
import { startPostgres } from '../scripts/postgres.mjs';
import { startServer, type TestServer } from '../packages/server/src/testing/server.ts';
import config from '../playwright.config.ts';
import { add, colourAt, expect, hand, rgb, saved, shows, startLivery, stroke, test, type, wear } from './fixture.ts';

const BLUE = '#2050c0';

interface Opened {
  livery: { sheets: { maps: { layers: { kind: string; strokes?: { id: string }[] }[] }[] }[] };
  log: { label: string }[];
}

/** The strokes of the brushwork on the first sheet. */
async function strokesOf(server: TestServer, id: string): Promise<string[]> {
  const { livery } = await server.get<Opened>(`/liveries/${id}`);
  const brushwork = livery.sheets[0].maps[0].layers.find(({ kind }) => kind === 'brush');
  return brushwork?.strokes?.map((one) => one.id) ?? [];
}

/** Takes a large blue brush and makes one stroke that is saved. */
async function begin(page: Page): Promise<void> {
  await hand(page, 'Paint');
  await type(page, 'size', '160');
  await wear(page, BLUE);
  await stroke(page, [0.4, 0.4], [0.6, 0.4]);
  await shows(page, 0.5, 0.4, rgb(BLUE));
  await saved(page);
}

/** Goes half of a second stroke, and keeps the button down. */
async function half(page: Page): Promise<{ x: number; y: number; width: number; height: number }> {
  const box = (await page.getByTestId('art').boundingBox())!;
  await page.mouse.move(box.x + box.width * 0.4, box.y + box.height * 0.6);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.6, box.y + box.height * 0.6, { steps: 6 });
  await shows(page, 0.5, 0.6, rgb(BLUE));
  return box;
}

/** Goes on where `half` stopped, and lets go. */
async function end(page: Page, box: { x: number; y: number; width: number; height: number }): Promise<void> {
  await page.mouse.move(box.x + box.width * 0.6, box.y + box.height * 0.7, { steps: 4 });
  await page.mouse.up();
}

/** Both strokes are shown, and each is there once. */
async function bothThere(page: Page, server: TestServer, id: string): Promise<void> {
  await expect.poll(() => strokesOf(server, id), { timeout: 40_000 }).toHaveLength(2);
  await saved(page);
  await page.reload();
  await shows(page, 0.5, 0.4, rgb(BLUE));
  await shows(page, 0.6, 0.65, rgb(BLUE));
  const { log } = await server.get<Opened>(`/liveries/${id}`);
  expect(new Set(await strokesOf(server, id)).size).toBe(2);
  expect(log).toHaveLength(4);
}

test('the browser: that stroke alone is lost', async ({ page, server }) => {
  const id = await startLivery(page, 'Browser killed');
  await add(page, 'Base', 'Solid');
  await saved(page);
  const hosted = await chromium.launchServer(config.use!.launchOptions);
  const browser: Browser = await chromium.connect(hosted.wsEndpoint());
  const other = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await other.addInitScript(() => localStorage.setItem('wet-lacquer/model-rests', 'yes'));
  await other.goto(`${server.url}/liveries/${id}`);
  await expect.poll(async () => (await colourAt(other, 0.5, 0.5))[3]).toBe(255);
  await begin(other);
  await half(other);
  hosted.process().kill('SIGKILL');
  await page.reload();
  await shows(page, 0.5, 0.4, rgb(BLUE));
  expect((await colourAt(page, 0.5, 0.6)).slice(0, 3)).not.toEqual(rgb(BLUE));
  expect(await strokesOf(server, id)).toHaveLength(1);
});

interface Rig {
  postgres: Awaited<ReturnType<typeof startPostgres>>;
  server: TestServer;
  /** Another cluster in the same folder, after a crash. */
  startAgain(): Promise<void>;
}

/** A server on a cluster of its own: killing the one of the other tests would be unkind to them. */
const killable = test.extend<object, { rig: Rig }>({
  rig: [
    // eslint-disable-next-line no-empty-pattern -- Playwright reads the names of fixtures from the pattern
    async ({}, use) => {
      const folder = mkdtempSync(path.join(os.tmpdir(), 'wl-killed-'));
      const postgres = await startPostgres(path.join(folder, 'pg'));
      const databaseUrl = await postgres.database('killed');
      const server = await startServer({ databaseUrl, data: path.join(folder, 'data'), demo: true });
      const rig: Rig = {
        postgres,
        server,
        async startAgain() {
          rig.postgres = await startPostgres(path.join(folder, 'pg'), postgres.port);
        },
      };
      await use(rig);
      await rig.server.kill();
      await rig.postgres.stop();
      rmSync(folder, { recursive: true, force: true });
    },
    { scope: 'worker', timeout: 120_000 },
  ],
  baseURL: async ({ rig }, use) => use(rig.server.url),
});

killable('the server: the stroke is there once, whole, when another one has taken its place', async ({ page, rig }) => {
  const id = await startLivery(page, 'Server killed');
  await add(page, 'Base', 'Solid');
  await begin(page);
  const box = await half(page);
  await rig.server.kill();
  await end(page, box);
  await expect(page.getByRole('button', { name: /^Not saved yet/ })).toBeVisible();
  await shows(page, 0.6, 0.65, rgb(BLUE));
  const { databaseUrl, data, url } = rig.server;
  rig.server = await startServer({ databaseUrl, data, port: Number(new URL(url).port) });
  await bothThere(page, rig.server, id);
});

killable('the database: the same server goes on, and the stroke is there once, whole', async ({ page, rig }) => {
  const id = await startLivery(page, 'Database killed');
  await add(page, 'Base', 'Solid');
  await begin(page);
  const box = await half(page);
  rig.postgres.kill();
  await end(page, box);
  await expect(page.getByRole('button', { name: /^Not saved yet/ })).toBeVisible();
  await shows(page, 0.6, 0.65, rgb(BLUE));
  await rig.startAgain();
  await bothThere(page, rig.server, id);
});

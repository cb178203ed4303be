/** What is seen is what is delivered: the page's tiles against the command line, the canvas against the tiles, guides against nothing. */
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { Page } from '@playwright/test';
import { demoBundle, insideOf } from '../packages/core/src/testing/scenes.ts';
import { psnrWhere, readWithImageMagick, readWithPillow } from '../packages/core/src/testing/independent.ts';
import type { Image8 } from '../packages/core/src/raster/image.ts';
import type { TestServer } from '../packages/server/src/testing/server.ts';
import { expect, saved, test } from './fixture.ts';

const lacquer = path.resolve(import.meta.dirname, '../bin/lacquer');
const TILE = 256;

interface Tile {
  sheet: string;
  tx: number;
  ty: number;
  pixels: Uint8ClampedArray<ArrayBuffer>;
}

/** Keeps every native tile that the page gets from its workers: a spy around Worker, nothing in the product. */
async function spyOnTiles(page: Page): Promise<void> {
  await page.addInitScript(() => {
    const kept = new Map<string, Tile>();
    (globalThis as unknown as { tiles: typeof kept }).tiles = kept;
    const Original = Worker;
    globalThis.Worker = class extends Original {
      private readonly asked = new Map<
        number,
        { name: string; ask: { sheet: string; level: number; tx: number; ty: number } }
      >();
      constructor(url: string | URL, options?: WorkerOptions) {
        super(url, options);
        this.addEventListener('message', ({ data }: MessageEvent) => {
          const asked = this.asked.get(data.n);
          if (asked?.name !== 'tile' || asked.ask.level !== 0 || !data.answer?.pixels) return;
          const { sheet, tx, ty } = asked.ask;
          kept.set(`${sheet}/${tx}/${ty}`, { sheet, tx, ty, pixels: data.answer.pixels.slice() });
        });
      }
      override postMessage(message: never, ...rest: never[]) {
        this.asked.set((message as { n: number }).n, message);
        super.postMessage(message, ...rest);
      }
    };
  });
}

/** The livery's id by a part of its name. */
const idOf = async (server: TestServer, name: string) =>
  (await server.get<{ id: string; name: string }[]>('/liveries')).find((card) => card.name.includes(name))!.id;

function flatten(server: TestServer, id: string, sheet: string, folder: string): Image8 {
  const file = path.join(folder, `${sheet}.png`);
  execFileSync('node', [lacquer, 'flatten', id, file, '--sheet', sheet], {
    env: { ...process.env, DATABASE_URL: server.databaseUrl },
  });
  return readWithPillow(readFileSync(file), 'png');
}

let folder: string;
test.beforeAll(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'wl-preview-'));
});
test.afterAll(() => rmSync(folder, { recursive: true }));

test('the tiles that the page draws at 1:1 are the command line’s flattened sheet, alpha included; so is the canvas', async ({
  page,
  server,
}) => {
  await spyOnTiles(page);
  const id = await idOf(server, 'Turnstone 7');
  await page.goto(`/liveries/${id}`);
  await page.getByRole('button', { name: 'Sheet fan' }).click();
  // An open sheet with half-clear paint, so that alpha has something to say.
  await page.getByRole('treeitem').first().click();
  await page.getByRole('textbox', { name: 'opacity' }).fill('37');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: /^Guides/ }).click();
  await page.getByRole('menuitem', { name: 'All off' }).click();
  await page.keyboard.press('Escape');
  await saved(page);
  await page.getByRole('application', { name: /^Sheet fan/ }).focus();
  await page.keyboard.press('Escape');
  await page.keyboard.press('0');
  await page.keyboard.press('1');
  await expect(page.getByRole('button', { name: 'Zoom 100 percent' })).toBeVisible();
  const flat = flatten(server, id, 'fan', folder);
  const wanted = (tx: number, ty: number) => {
    const rows = Array.from({ length: TILE }, (_, y) => ((ty * TILE + y) * 512 + tx * TILE) * 4);
    const tile = Buffer.concat(rows.map((at) => flat.data.subarray(at, at + TILE * 4)));
    return createHash('sha256').update(tile).digest('hex');
  };
  /** SHA-256 of a tile as the page has it. */
  const got = (tx: number, ty: number) =>
    page.evaluate(async (key) => {
      const tile = (globalThis as unknown as { tiles: Map<string, Tile> }).tiles.get(key);
      if (!tile) return 'not there yet';
      const digest = await crypto.subtle.digest('SHA-256', tile.pixels);
      return [...new Uint8Array(digest)].map((b) => b.toString(16).padStart(2, '0')).join('');
    }, `fan/${tx}/${ty}`);
  for (const [tx, ty] of [
    [0, 0],
    [1, 0],
    [0, 1],
    [1, 1],
  ])
    await expect.poll(() => got(tx, ty)).toBe(wanted(tx, ty));
  expect(new Set(flat.data.filter((_v, i) => i % 4 === 3)).size).toBeGreaterThan(2);

  // Opaque texels read back from the canvas: the sheet lies at whole pixels, its left edge is where the surround ends.
  const shot = await page.getByTestId('art').evaluate((canvas) => {
    const art = canvas as HTMLCanvasElement;
    const { width, height } = art;
    return { width, height, data: [...art.getContext('2d')!.getImageData(0, 0, width, height).data] };
  });
  const surround = (i: number) => [0, 1, 2].every((c) => shot.data[i * 4 + c] === 0x77);
  const middle = Math.floor(shot.height / 2) * shot.width;
  let left = 0;
  while (surround(middle + left)) left++;
  let top = 0;
  while (surround(top * shot.width + left + 100)) top++;
  let compared = 0;
  const unlike: string[] = [];
  for (let y = 0; y < 512 && top + y < shot.height; y++) {
    for (let x = 0; x < 512 && left + x < shot.width; x++) {
      const o = (y * 512 + x) * 4;
      if (flat.data[o + 3] !== 255) continue;
      const s = ((top + y) * shot.width + left + x) * 4;
      if ([0, 1, 2].some((c) => shot.data[s + c] !== flat.data[o + c])) unlike.push(`${x}, ${y}`);
      compared++;
    }
  }
  expect(unlike).toEqual([]);
  expect(compared).toBeGreaterThan(20_000);
});

test('delivered files: at least 38 dB in BC7 and 33 dB in BC1 and BC3 against the flattened sheets, by Pillow and ImageMagick', async () => {
  for (const key of ['ebbline', 'lanternfish'] as const) {
    const bundle = path.resolve(import.meta.dirname, `../demo/out/${key}.livery`);
    const run = (...args: string[]) => execFileSync('node', [lacquer, ...args]);
    run('deliver', bundle, '--out', path.join(folder, key));
    run('flatten', bundle, path.join(folder, 'deck.png'), '--sheet', 'deck');
    const painted = readWithPillow(readFileSync(path.join(folder, 'deck.png')), 'png');
    const { template } = await demoBundle(key);
    const inside = insideOf(template, 'deck');
    const file = readFileSync(path.join(folder, key, `wharf/turnstone/${key}/${key}_deck.dds`));
    expect(psnrWhere(painted, readWithPillow(file, 'dds'), inside)).toBeGreaterThan(38);
    for (const format of ['bc1', 'bc3']) {
      run(
        'encode',
        path.join(folder, 'deck.png'),
        path.join(folder, `${format}.dds`),
        '--format',
        format,
        '--mips',
        'none',
      );
      const bytes = readFileSync(path.join(folder, `${format}.dds`));
      expect(psnrWhere(painted, readWithPillow(bytes, 'dds'), inside)).toBeGreaterThan(33);
      expect(psnrWhere(painted, readWithImageMagick(bytes, 'dds', 1024, 1024), inside)).toBeGreaterThan(33);
    }
  }
});

test('guides are never delivered: the same bytes with all of them on and with all of them off, and the same delivery twice', async ({
  page,
  server,
}) => {
  const original = await (
    await fetch(`${server.url}/api/liveries/${await idOf(server, 'Turnstone 22')}/bundle`)
  ).arrayBuffer();
  const file = path.join(folder, 'copy.livery');
  writeFileSync(file, Buffer.from(original));
  await page.goto('/');
  await page.getByLabel('Livery bundle').setInputFiles(file);
  await page.waitForURL(/\/liveries\/[0-9a-f-]{36}$/);
  const id = page.url().split('/').at(-1)!;
  const hashes: string[] = [];
  for (const guides of ['All off', 'All on']) {
    await page.goto(`/liveries/${id}`);
    await page.getByRole('button', { name: /^Guides/ }).click();
    if (guides === 'All on') {
      await page.getByRole('menuitem', { name: 'All off' }).click();
    }
    await page.getByRole('menuitem', { name: guides }).click();
    await page.keyboard.press('Escape');
    await expect(page.getByRole('button', { name: guides === 'All on' ? 'Guides: 7' : 'Guides: none' })).toBeVisible();
    await page.getByRole('link', { name: 'Deliver' }).click();
    await page.getByRole('button', { name: /^Deliver \d/ }).click();
    await expect(page.getByText(/^Delivered 7 files/)).toBeVisible({ timeout: 120_000 });
    const zip = await page.getByRole('link', { name: 'Save the zip' }).getAttribute('href');
    hashes.push(
      createHash('sha256')
        .update(Buffer.from(await (await fetch(server.url + zip)).arrayBuffer()))
        .digest('hex'),
    );
  }
  expect(hashes[0]).toBe(hashes[1]);
  // And from the command line, which knows no guides and no cache.
  execFileSync('node', [
    lacquer,
    'deliver',
    file,
    '--out',
    path.join(folder, 'cli'),
    '--zip',
    path.join(folder, 'cli.zip'),
  ]);
  expect(
    createHash('sha256')
      .update(readFileSync(path.join(folder, 'cli.zip')))
      .digest('hex'),
  ).toBe(hashes[0]);
});

/** A server of the tests' own, and what a person does, in words. */
import { test as base, expect, type Locator, type Page } from '@playwright/test';
import { startServer, type ServerOptions, type TestServer } from '../packages/server/src/testing/server.ts';

type ServerOf = [
  (nothing: object, use: (server: TestServer) => Promise<void>) => Promise<void>,
  { scope: 'worker'; timeout: number },
];

/** A server for the tests of a worker. @param ready waits until it is as they want it */
export const serverOf = (options: ServerOptions, ready?: (server: TestServer) => Promise<unknown>): ServerOf => [
  // eslint-disable-next-line no-empty-pattern -- Playwright reads the names of fixtures from the pattern
  async ({}, use) => {
    const server = await startServer(options);
    await ready?.(server);
    await use(server);
    await server.stop();
  },
  { scope: 'worker', timeout: 300_000 },
];

export const test = base.extend<{ errors: string[]; model: boolean; lead: boolean }, { server: TestServer }>({
  /** Whether the line that leads through a first livery is there: most painters have put it away. */
  lead: [false, { option: true }],
  /** Whether the model is drawn: in software that takes most of the machine, so only where a test looks at it. */
  model: [false, { option: true }],
  server: serverOf({ demo: true }),
  baseURL: async ({ server }, use) => use(server.url),
  /** What the page complained of; every test ends with none. */
  errors: [
    async ({ context, page, model, lead }, use) => {
      if (!lead) await context.addInitScript(() => localStorage.setItem('wet-lacquer/lead', 'away'));
      if (!model) await context.addInitScript(() => localStorage.setItem('wet-lacquer/model-rests', 'yes'));
      const errors: string[] = [];
      page.on('pageerror', (error) => errors.push(error.message));
      await use(errors);
      expect(errors).toEqual([]);
    },
    { auto: true },
  ],
});
export { expect };

/** Starts a livery by hand and waits for its easel. @returns its id */
export async function startLivery(page: Page, name: string): Promise<string> {
  await page.goto('/');
  await page.getByRole('link', { name: 'Start a livery' }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill(name);
  await page.getByRole('button', { name: 'Start the livery' }).click();
  await page.waitForURL(/\/liveries\/[0-9a-f-]{36}$/);
  await expect(page.getByRole('region', { name: 'Flat sheet' })).toBeVisible();
  return page.url().split('/').at(-1)!;
}

/** Says which game an intake is of, makes its template and waits for its screen. */
export async function makeTemplate(page: Page, game: string): Promise<void> {
  const make = page.getByRole('region', { name: 'The template' });
  await make.getByRole('textbox', { name: 'game' }).fill(game);
  await make.getByRole('textbox', { name: 'game' }).press('Enter');
  await make.getByRole('button', { name: 'Make the template' }).click();
  await page.waitForURL(/\/templates\/[0-9a-f]{64}$/, { timeout: 120_000 });
}

/** Adds a layer from one of the shelf's menus. */
export async function add(page: Page, phase: string, maker: string): Promise<void> {
  await page.getByRole('button', { name: `Add to ${phase}` }).click();
  const item = page.getByRole('menuitem').filter({ has: page.getByText(maker, { exact: true }) });
  await item.click();
  // A window in the background can lose a click while it is busy: the menu then stands open still.
  const gone = await page
    .getByRole('menu')
    .waitFor({ state: 'detached', timeout: 8_000 })
    .then(
      () => true,
      () => false,
    );
  if (!gone) await item.click();
  // While the menu fades out it takes the pointer.
  await expect(page.locator('.MuiPopover-root')).toHaveCount(0);
}

/** Tabs until what has the focus is called so. @returns how often it was pressed @throws after a hundred stops */
export async function tabTo(page: Page, name: RegExp, backwards = false): Promise<number> {
  for (let k = 0; k < 100; k++) {
    const found = await page.evaluate(() => {
      const at = document.activeElement;
      const labelled = at?.getAttribute('aria-labelledby');
      return (
        at?.getAttribute('aria-label') ??
        (labelled ? document.getElementById(labelled)?.textContent : null) ??
        (at as HTMLInputElement | null)?.labels?.[0]?.textContent ??
        at?.textContent ??
        ''
      );
    });
    if (name.test(found.trim())) return k;
    await page.keyboard.press(backwards ? 'Shift+Tab' : 'Tab');
  }
  throw new Error(`The keyboard does not reach ${name}.`);
}

export const layers = (page: Page) => page.getByRole('tree').getByRole('treeitem');
export const layerNames = async (page: Page): Promise<string[]> =>
  (await layers(page).evaluateAll((items) => items.map((item) => item.getAttribute('aria-label') ?? ''))).map(
    (label) => label.split(', ')[0],
  );

/** Types a value into a field of the right column and takes it. */
export async function type(page: Page, field: string | RegExp, value: string): Promise<void> {
  const box = page
    .getByRole('complementary', { name: 'Details' })
    .getByRole('textbox', { name: field, exact: typeof field === 'string' });
  await box.fill(value);
  await box.press('Enter');
}

export const saved = (page: Page) => expect(page.getByRole('button', { name: /^Saved, / })).toBeVisible();

/** Where something is when it has come to rest. */
export async function still(what: Locator) {
  let before = '';
  await expect
    .poll(
      async () => {
        const now = JSON.stringify(await what.boundingBox());
        const same = now === before;
        before = now;
        return same;
      },
      { intervals: [250] },
    )
    .toBe(true);
  return (await what.boundingBox())!;
}

/** From the easel to what would be delivered, when preflight is through. */
export async function openDelivery(page: Page): Promise<void> {
  await saved(page);
  await page.getByRole('link', { name: 'Deliver' }).click();
  await expect(page.getByRole('button', { name: /^Deliver \d/ })).toBeVisible();
}

/** The colour of the flat view's canvas at a share of its size. */
export const colourAt = (page: Page, x: number, y: number): Promise<number[]> =>
  page.getByTestId('art').evaluate(
    (canvas, [px, py]) => {
      const art = canvas as HTMLCanvasElement;
      return [
        ...art.getContext('2d')!.getImageData(Math.round(art.width * px), Math.round(art.height * py), 1, 1).data,
      ];
    },
    [x, y],
  );

/** Waits until the flat view shows a colour at a share of its size. */
export const shows = (page: Page, x: number, y: number, colour: readonly number[]) =>
  expect.poll(async () => (await colourAt(page, x, y)).slice(0, 3), { timeout: 60_000 }).toEqual(colour);

type Spot = readonly [x: number, y: number];

/** Presses at one share of the sheet's view, goes along others, and lets go. */
export async function stroke(page: Page, ...spots: Spot[]): Promise<void> {
  const box = (await page.getByTestId('art').boundingBox())!;
  const at = ([x, y]: Spot) => [box.x + box.width * x, box.y + box.height * y] as const;
  await page.mouse.move(...at(spots[0]));
  await page.mouse.down();
  for (const spot of spots.slice(1)) await page.mouse.move(...at(spot), { steps: 12 });
  await page.mouse.up();
}
export const hand = (page: Page, name: string) => page.getByRole('radio', { name, exact: true }).click();
export const panel = (page: Page) => page.getByRole('complementary', { name: 'Details' });

/** Puts a plain ground on and waits for it. @returns its colour */
export async function ground(page: Page, x = 0.5, y = 0.5): Promise<number[]> {
  const before = (await colourAt(page, x, y)).slice(0, 3);
  await add(page, 'Base', 'Solid');
  await expect.poll(async () => (await colourAt(page, x, y)).slice(0, 3), { timeout: 60_000 }).not.toEqual(before);
  return (await colourAt(page, x, y)).slice(0, 3);
}

export const rgb = (hex: string) => [1, 3, 5].map((i) => Number.parseInt(hex.slice(i, i + 2), 16));

/** Gives the brush a colour of its own. */
export async function wear(page: Page, hex: string): Promise<void> {
  await panel(page)
    .getByRole('button', { name: /^paint: / })
    .first()
    .click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('textbox').fill(hex);
  await dialog.getByRole('textbox').press('Enter');
  await expect(dialog).toBeHidden();
  // What it lay on catches presses until it has faded.
  await expect(page.locator('.MuiPopover-root')).toHaveCount(0);
}

/** All pixels of the sheet's canvas as it stands, RGBA. */
export const artPixels = async (page: Page): Promise<Uint8Array> => {
  const text = await page.getByTestId('art').evaluate((canvas: HTMLCanvasElement) => {
    const copy = document.createElement('canvas');
    [copy.width, copy.height] = [canvas.width, canvas.height];
    const context = copy.getContext('2d')!;
    context.drawImage(canvas, 0, 0);
    return context.getImageData(0, 0, copy.width, copy.height).data.join();
  });
  return Uint8Array.from(text.split(','), Number);
};

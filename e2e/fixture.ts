/** A server of the tests' own, and what a person does, in words. */
import { test as base, expect, type Page } from '@playwright/test';
import { startServer, type TestServer } from '../packages/server/src/testing/server.ts';

export const test = base.extend<{ errors: string[]; model: boolean }, { server: TestServer }>({
  /** Whether the model is drawn: in software that takes most of the machine, so only where a test looks at it. */
  model: [false, { option: true }],
  server: [
    // eslint-disable-next-line no-empty-pattern -- Playwright reads the names of fixtures from the pattern
    async ({}, use) => {
      const server = await startServer({ demo: true });
      await use(server);
      await server.stop();
    },
    { scope: 'worker', timeout: 120_000 },
  ],
  baseURL: async ({ server }, use) => use(server.url),
  /** What the page complained of; every test ends with none. */
  errors: [
    async ({ context, page, model }, use) => {
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
  await page.getByRole('button', { name: 'Start a livery' }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill(name);
  await page.getByRole('button', { name: 'Start the livery' }).click();
  await page.waitForURL(/\/liveries\/[0-9a-f-]{36}$/);
  await expect(page.getByRole('region', { name: 'Flat sheet' })).toBeVisible();
  return page.url().split('/').at(-1)!;
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
  expect.poll(async () => (await colourAt(page, x, y)).slice(0, 3), { timeout: 30_000 }).toEqual(colour);

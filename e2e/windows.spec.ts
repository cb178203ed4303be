/** Every screen at every size of window: nothing that can be pressed lies outside it or under something else, no text is cut, nothing scrolls sideways. */
import type { Page } from '@playwright/test';
import type { Livery } from '../packages/core/src/livery/livery.ts';
import { proposeTeam } from '../packages/core/src/team/propose.ts';
import { expect, test } from './fixture.ts';
import { problems, SIZES, small, wrongs } from './seen.ts';

const idOf = async (page: Page) => {
  const all = (await (await page.request.get('/api/liveries')).json()) as { id: string; name: string }[];
  return all.find(({ name }) => name.startsWith('Turnstone 22'))!.id;
};

const SCREENS: readonly [
  name: string,
  path: (ids: { livery: string; turnstone: string; team: string }) => string,
  ready: (page: Page) => Promise<unknown>,
][] = [
  ['liveries', () => '/', (page) => page.getByText('Turnstone 22').first().waitFor()],
  ['start', () => '/start', (page) => page.getByRole('radio').first().waitFor()],
  ['templates', () => '/templates', (page) => page.getByText('Brock wagon').waitFor()],
  [
    'template',
    ({ turnstone }) => `/templates/${turnstone}`,
    (page) => page.getByRole('tab', { name: 'Parts' }).waitFor(),
  ],
  ['decals', () => '/decals', (page) => page.getByText('Tern roundel').waitFor()],
  ['specs', () => '/specs', (page) => page.getByRole('link', { name: 'Longhaul' }).waitFor()],
  ['spec', () => '/specs/longhaul', (page) => page.getByRole('region', { name: 'As it would be' }).waitFor()],
  [
    'zones of a spec',
    () => '/specs/brackwater-run',
    (page) => page.getByRole('region', { name: 'Finish zones' }).waitFor(),
  ],
  ['bay', () => '/bay', (page) => page.getByRole('link', { name: /Ninth Meridian/ }).waitFor()],
  ['game', () => '/bay/tollbarge', (page) => page.getByRole('heading', { level: 1 }).waitFor()],
  ['help', () => '/help/a-set-of-maps', (page) => page.getByRole('heading', { level: 1 }).waitFor()],
  [
    'another model',
    ({ livery }) => `/liveries/${livery}/onto`,
    (page) => page.getByRole('radio', { name: 'Brock wagon' }).waitFor(),
  ],
  [
    'two models',
    ({ livery, turnstone }) => `/liveries/${livery}/onto?to=${turnstone}`,
    (page) => page.getByRole('list', { name: 'Parts' }).waitFor(),
  ],
  [
    'team',
    ({ team }) => `/teams/${team}`,
    async (page) => {
      await page.getByRole('table').waitFor();
      // Who waits is told over the page; here nobody does any more.
      await expect(page.getByRole('progressbar', { name: 'Sheets' })).toHaveCount(0, { timeout: 120_000 });
    },
  ],
  [
    'delivery of a team',
    ({ team }) => `/teams/${team}/deliver`,
    (page) => page.getByRole('button', { name: /^Deliver \d/ }).waitFor({ timeout: 90_000 }),
  ],
  ['easel', ({ livery }) => `/liveries/${livery}`, (page) => page.getByRole('tree').waitFor()],
  [
    'proof',
    ({ livery }) => `/liveries/${livery}/proof`,
    (page) => page.getByRole('heading', { name: 'Findings' }).waitFor(),
  ],
  [
    'deliver',
    ({ livery }) => `/liveries/${livery}/deliver`,
    (page) => page.getByRole('button', { name: /^Deliver \d/ }).waitFor(),
  ],
];

/** A team of two. @returns its id */
async function teamOf(page: Page, livery: string): Promise<string> {
  const cards = (await (await page.request.get('/api/liveries')).json()) as { id: string }[];
  const ids = [livery, cards.find(({ id }) => id !== livery)!.id];
  const all = await Promise.all(
    ids.map(async (id) => ({
      id,
      ...((await (await page.request.get(`/api/liveries/${id}`)).json()) as { livery: Livery }),
    })),
  );
  const data = { team: proposeTeam('Two of a kind', all), person: 'test' };
  return ((await (await page.request.post('/api/teams', { data })).json()) as { id: string }).id;
}

/** The same screen at 1280 x 800 under fingers, after another window has lit the room. */
async function withFingersInTheLight(page: Page): Promise<void> {
  await page.setViewportSize({ width: 1280, height: 800 });
  const devtools = await page.context().newCDPSession(page);
  await devtools.send('Emulation.setTouchEmulationEnabled', { enabled: true, maxTouchPoints: 5 });
  await page.evaluate(() => {
    localStorage.setItem('wet-lacquer/room', 'light');
    dispatchEvent(new StorageEvent('storage', { key: 'wet-lacquer/room', newValue: 'light' }));
  });
  await expect
    .poll(() => page.evaluate(() => [matchMedia('(pointer: coarse)').matches, document.documentElement.dataset.room]))
    .toEqual([true, 'light']);
  await page.waitForTimeout(400);
}

for (const [name, at, ready] of SCREENS)
  test(`${name} in windows from 640 x 400 to 3840 x 2160, then with fingers in a light room`, async ({ page }) => {
    const templates = (await (await page.request.get('/api/templates')).json()) as { hash: string; key: string }[];
    const turnstone = templates.find(({ key }) => key === 'turnstone')!.hash;
    const [[width, height]] = SIZES;
    await page.setViewportSize({ width, height });
    const livery = await idOf(page);
    await page.goto(at({ livery, turnstone, team: name.includes('team') ? await teamOf(page, livery) : '' }));
    const looked: Record<string, string[]> = {};
    for (const [wide, high] of SIZES) {
      await page.setViewportSize({ width: wide, height: high });
      await ready(page);
      await page.waitForTimeout(400);
      looked[`${wide} x ${high}`] = await wrongs(page);
    }
    expect(Object.fromEntries(Object.entries(looked).filter(([, all]) => all.length > 0))).toEqual({});
    await withFingersInTheLight(page);
    expect({ small: await small(page), wrong: await wrongs(page), axe: await problems(page) }).toEqual({
      small: [],
      wrong: [],
      axe: [],
    });
  });

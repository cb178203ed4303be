/** Every screen at every size of window: nothing that can be pressed lies outside it or under something else, no text is cut, nothing scrolls sideways. */
import type { Page } from '@playwright/test';
import type { Livery } from '../packages/core/src/livery/livery.ts';
import { proposeTeam } from '../packages/core/src/team/propose.ts';
import { expect, test } from './fixture.ts';

/** 640 x 400 is 1280 x 800 at 200 %. */
const SIZES = [
  [640, 400],
  [960, 600],
  [1024, 700],
  [1280, 800],
  [1920, 1080],
  [3840, 2160],
] as const;

/** What is wrong with a screen as it stands, in words. */
const wrongs = (page: Page): Promise<string[]> =>
  page.evaluate(() => {
    const found: string[] = [];
    const nameOf = (element: Element) =>
      `${element.tagName.toLowerCase()} "${(element.getAttribute('aria-label') ?? element.textContent ?? '').trim().slice(0, 40)}"`;
    const shown = (element: Element) => {
      const { width, height } = element.getBoundingClientRect();
      const { visibility, opacity } = getComputedStyle(element);
      // What is folded away has its boxes still.
      return width > 1 && height > 1 && visibility !== 'hidden' && opacity !== '0' && element.checkVisibility();
    };
    /** The box that an element is seen in: cut by everything around it that scrolls or hides. */
    const seenIn = (
      element: Element,
    ): { left: number; top: number; right: number; bottom: number; scrolls: boolean } => {
      let box = { left: 0, top: 0, right: innerWidth, bottom: innerHeight };
      let scrolls = false;
      for (let at = element.parentElement; at; at = at.parentElement) {
        const { overflowX, overflowY } = getComputedStyle(at);
        if (overflowX === 'visible' && overflowY === 'visible') continue;
        const own = at.getBoundingClientRect();
        box = {
          left: Math.max(box.left, own.left),
          top: Math.max(box.top, own.top),
          right: Math.min(box.right, own.right),
          bottom: Math.min(box.bottom, own.bottom),
        };
        if (
          (/auto|scroll/.test(overflowY) && at.scrollHeight > at.clientHeight) ||
          (/auto|scroll/.test(overflowX) && at.scrollWidth > at.clientWidth)
        )
          scrolls = true;
      }
      return { ...box, scrolls };
    };
    if (document.documentElement.scrollWidth > innerWidth + 1) found.push('the page scrolls sideways');
    const pressables = [
      ...document.querySelectorAll('button, a[href], input, [role="tab"], [role="combobox"], [role="treeitem"]'),
    ];
    for (const one of pressables) {
      if (!shown(one) || one.closest('[aria-hidden="true"]')) continue;
      const box = one.getBoundingClientRect();
      const seen = seenIn(one);
      // What can be scrolled to is within reach.
      const [x, y] = [(box.left + box.right) / 2, (box.top + box.bottom) / 2];
      const inside = x >= seen.left && x <= seen.right && y >= seen.top && y <= seen.bottom;
      if (!inside) {
        if (!seen.scrolls) found.push(`${nameOf(one)} is out of reach`);
        continue;
      }
      const top = document.elementFromPoint(x, y);
      if (top && top !== one && !one.contains(top) && !top.contains(one) && !one.closest('label')?.contains(top))
        found.push(`${nameOf(one)} lies under ${nameOf(top)}`);
    }
    // Text that is cut without a sign of it.
    for (const one of document.querySelectorAll('h1, h2, h3, button, label, p, li, td, th, dt, dd, legend')) {
      if (!shown(one) || one.children.length > 0) continue;
      const { overflowX, textOverflow } = getComputedStyle(one);
      if (overflowX === 'hidden' && textOverflow !== 'ellipsis' && one.scrollWidth > one.clientWidth + 1)
        found.push(`${nameOf(one)} is cut`);
    }
    return [...new Set(found)];
  });

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

for (const [name, at, ready] of SCREENS)
  test(`${name} in windows from 640 x 400 to 3840 x 2160`, async ({ page }) => {
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
  });

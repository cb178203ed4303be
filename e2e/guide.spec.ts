/** The guide is walked through as it is written: every step is done by its own words, and what it says is shown is looked for. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { Locator, Page } from '@playwright/test';
import { test as base, expect, serverOf } from './fixture.ts';
import type { TestServer } from '../packages/server/src/testing/server.ts';

/** A world that nobody has changed: the guide names what comes along. */
const test = base.extend<object, { server: TestServer }>({ server: serverOf({ demo: true }) });

const GUIDE = path.resolve(import.meta.dirname, '../docs/guide');
let folder: string;
test.beforeAll(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'wl-guide-'));
  const texture = (side: number, name: string) =>
    execFileSync('convert', [
      '-size',
      `${side}x${side}`,
      'plasma:navy-orange',
      '-type',
      'TrueColor',
      path.join(folder, name),
    ]);
  texture(2048, 'ferry_hull.tga');
  texture(1024, 'ferry_deck.png');
  texture(256, 'crate.png');
});
test.afterAll(() => rmSync(folder, { recursive: true }));

/** What the pages call "the files". */
const files = (page: string): string[] => {
  const demo = path.resolve(import.meta.dirname, '../demo/out');
  return {
    'over-a-finished-skin': ['ferry_hull.tga', 'ferry_deck.png'].map((name) => path.join(folder, name)),
    'from-a-model': [path.join(demo, 'turnstone.glb')],
  }[page]!;
};

/** A name as the guide writes it: "…" stands for what differs from time to time. */
const named = (text: string) =>
  new RegExp(
    `^${text
      .split('…')
      .map((part) => part.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'))
      .join('.*')}$`,
  );

/** What answers to a name: whatever can be pressed, the first that is there. */
function pressable(page: Page, name: string): Locator {
  const by = named(name);
  const roles = ['button', 'link', 'tab', 'radio', 'menuitem', 'option', 'checkbox'] as const;
  const [first, ...rest] = roles.map((role) => page.getByRole(role, { name: by }));
  const starts = page.getByRole('menuitem').filter({ has: page.getByText(name, { exact: true }) });
  return rest
    .reduce((all, one) => all.or(one), first)
    .or(starts)
    .or(page.getByRole('link').filter({ has: page.getByText(name, { exact: true }) }))
    .first();
}

const SENTENCE =
  /[Pp]ress \*\*(.+?)\*\*|, then \*\*(.+?)\*\*|Type `(.+?)` into \*\*(.+?)\*\*|Choose \*\*(.+?)\*\* under \*\*(.+?)\*\*|Give \*\*(.+?)\*\*|\*\*([^*]+?)\*\* (?:is|are) shown/g;

async function walk(page: Page, key: string): Promise<number> {
  const text = readFileSync(path.join(GUIDE, `${key}.md`), 'utf8');
  const steps = [...text.matchAll(/^\d+\. (.*)$/gm)].map(([, step]) => step);
  let done = 0;
  for (const [i, step] of steps.entries())
    await test.step(`${i + 1}. ${step.replaceAll('*', '')}`, async () => {
      const before = done;
      for (const [, press, then, value, into, option, under, give, shown] of step.matchAll(SENTENCE)) {
        done++;
        if (press ?? then) {
          const what = pressable(page, (press ?? then)!);
          await expect(what).toBeVisible();
          await expect(what).toBeEnabled({ timeout: 40_000 });
          await what.click();
          await page
            .locator('.MuiPopover-root .MuiBackdrop-root[style*="opacity: 0"]')
            .waitFor({ state: 'detached' })
            .catch(() => {});
        } else if (value && into) {
          const box = page.getByRole('textbox', { name: into, exact: true }).first();
          await box.fill(value);
          if (into !== 'Name') await box.press('Enter');
        } else if (option && under) {
          await page.getByRole('combobox', { name: under }).click();
          await page.getByRole('option', { name: new RegExp(option) }).click();
          await page.keyboard.press('Escape');
        } else if (give) await page.getByLabel(give).first().setInputFiles(files(key));
        else if (shown) await expect(page.getByText(shown).first()).toBeVisible({ timeout: 90_000 });
      }
      expect(done, `step ${i + 1} says what to do: ${step}`).toBeGreaterThan(before);
    });
  return done;
}

const PAGES = readdirSync(GUIDE).map((name) => name.replace(/\.md$/, ''));

for (const key of PAGES)
  test(`the guide's page "${key}" is true`, async ({ page }) => {
    await page.goto('/');
    expect(await walk(page, key)).toBeGreaterThan(6);
  });

test('the guide is reached from everywhere, and every page of it opens', async ({ page }) => {
  await page.goto('/decals');
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
  // The key is heard when the page has settled.
  await expect(async () => {
    await page.keyboard.press('F1');
    await expect(page).toHaveURL(/\/help$/, { timeout: 2000 });
  }).toPass();
  const nav = page.getByRole('navigation', { name: 'Guide' });
  await expect(nav.getByRole('link')).toHaveCount(PAGES.length + 2);
  for (const key of [...PAGES, 'keys']) {
    await nav.locator(`a[href="/help/${key}"]`).click();
    await expect(page.getByRole('heading', { level: 1 })).toHaveCount(1);
    await expect(page.getByRole('heading', { level: 1 })).not.toHaveText('');
  }
  await page.goto('/help/nothing');
  await expect(page.getByText('The guide has no such page')).toBeVisible();
});

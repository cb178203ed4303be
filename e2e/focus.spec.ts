/** Whatever the keyboard reaches shows that it is there, compared in pixels (WCAG 2.2, 2.4.7, and 2.4.13 in spirit). */
import type { Page } from '@playwright/test';
import sharp from 'sharp';
import { expect, startLivery, test } from './fixture.ts';

/** Stops of the keyboard that are looked at on each screen. */
const STOPS = 40;
/** A ring of 2 px about anything is more than this; a caret or a shade of the ground is less. */
const LEAST = 40;

/** Relative luminance (WCAG 2.2) of a pixel. */
function luminance(r: number, g: number, b: number): number {
  const [x, y, z] = [r, g, b].map((v) => {
    const s = v / 255;
    return s <= 0.04045 ? s / 12.92 : ((s + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * x + 0.7152 * y + 0.0722 * z;
}

/** How many pixels are another colour now, with a contrast of 3 to 1 or more to what was there. */
async function changed(before: Buffer, after: Buffer): Promise<number> {
  const [a, b] = await Promise.all(
    [before, after].map((shot) => sharp(shot).removeAlpha().raw().toBuffer({ resolveWithObject: true })),
  );
  if (a.data.length !== b.data.length) return 0;
  let count = 0;
  for (let i = 0; i < a.data.length; i += 3) {
    const [one, two] = [a, b].map(({ data }) => luminance(data[i], data[i + 1], data[i + 2]));
    if ((Math.max(one, two) + 0.05) / (Math.min(one, two) + 0.05) >= 3) count++;
  }
  return count;
}

/** Goes through a screen by Tab. @returns names of what does not show that it has the focus */
async function unseen(page: Page): Promise<string[]> {
  await page.addStyleTag({
    content:
      '*, *::before, *::after { animation: none !important; transition: none !important; caret-color: transparent !important; }',
  });
  const hidden: string[] = [];
  const met = new Set<string>();
  for (let stop = 0; stop < STOPS; stop++) {
    await page.keyboard.press('Tab');
    const at = await page.evaluate(() => {
      const element = document.activeElement as HTMLElement | null;
      if (!element || element === document.body) return null;
      // A tick's own box lies clear over what is drawn of it.
      const shown = element.closest<HTMLElement>('.MuiButtonBase-root, .MuiSlider-thumb') ?? element;
      shown.scrollIntoView({ block: 'nearest', inline: 'nearest' });
      const { left, top, width, height } = shown.getBoundingClientRect();
      const name = element.getAttribute('aria-label') ?? element.textContent?.trim().slice(0, 40) ?? '';
      return { left, top, width, height, name: `${element.tagName.toLowerCase()} ${name}` };
    });
    if (!at) break;
    const key = `${at.name} ${Math.round(at.left)} ${Math.round(at.top)}`;
    if (met.has(key)) break;
    met.add(key);
    const clip = {
      x: Math.max(0, at.left - 5),
      y: Math.max(0, at.top - 5),
      width: Math.min(1280 - Math.max(0, at.left - 5), at.width + 10),
      height: Math.min(800 - Math.max(0, at.top - 5), at.height + 10),
    };
    if (clip.width < 4 || clip.height < 4) continue;
    const focused = await page.screenshot({ clip });
    await page.evaluate(() => {
      (globalThis as { left?: Element | null }).left = document.activeElement;
      (document.activeElement as HTMLElement).blur();
    });
    const plain = await page.screenshot({ clip });
    await page.evaluate(() => ((globalThis as { left?: HTMLElement | null }).left as HTMLElement).focus());
    if ((await changed(plain, focused)) < LEAST) hidden.push(at.name);
  }
  expect(met.size).toBeGreaterThan(4);
  return hidden;
}

for (const [name, address] of [
  ['liveries', '/'],
  ['templates', '/templates'],
  ['specs', '/specs'],
  ['a spec', '/specs/brackwater-run'],
  ['decals', '/decals'],
  ['the test bay', '/bay/marshkin'],
] as const)
  test(`the focus is seen on ${name}`, async ({ page }) => {
    await page.goto(address);
    await expect(page.getByRole('heading', { level: 1 }).first()).toBeVisible();
    await page.waitForLoadState('networkidle');
    expect(await unseen(page)).toEqual([]);
  });

test('the focus is seen on easel and deliver', async ({ page }) => {
  const id = await startLivery(page, 'Focus');
  expect(await unseen(page)).toEqual([]);
  await page.goto(`/liveries/${id}/deliver`);
  await expect(page.getByRole('heading', { name: 'Preflight' })).toBeVisible();
  expect(await unseen(page)).toEqual([]);
});

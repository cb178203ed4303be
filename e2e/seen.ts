/** Looks at a screen as it stands: what axe-core finds, and what lies outside, under something else, or is cut. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Page } from '@playwright/test';

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

/** What axe-core finds. */
export async function problems(page: Page): Promise<string[]> {
  await page.evaluate(axe);
  return page.evaluate(async () => {
    // What is just fading in is paler than it will be.
    const frame = () => new Promise((resolve) => requestAnimationFrame(resolve));
    await frame();
    await frame();
    const ending = document.getAnimations().filter((one) => one.effect?.getComputedTiming().iterations !== Infinity);
    await Promise.allSettled(ending.map((one) => one.finished));
    const { violations } = await (
      globalThis as unknown as {
        axe: {
          run(what: object): Promise<{ violations: { id: string; impact: string; nodes: { html: string }[] }[] }>;
        };
      }
    ).axe // Under a dialog everything is dimmed, and hidden from whoever does not see it.
      .run({ exclude: ['#root[aria-hidden="true"]'] });
    return violations.map((v) => `${v.id}, ${v.impact}: ${v.nodes[0].html.slice(0, 160)}`);
  });
}

/** 640 x 400 is 1280 x 800 at 200 %. */
export const SIZES = [
  [640, 400],
  [960, 600],
  [1024, 700],
  [1280, 800],
  [1920, 1080],
  [3840, 2160],
] as const;

/** What is wrong with a screen as it stands, in words. */
export const wrongs = (page: Page): Promise<string[]> =>
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

/** What can be pressed and is smaller than fingers need: 44 CSS pixels each way (WCAG 2.2, 2.5.5, which leaves links within a text aside). */
export const small = (page: Page): Promise<string[]> =>
  page.evaluate(() => {
    const found = new Set<string>();
    const PRESSED =
      'button, summary, select, input, a[href], [role="button"], [role="tab"], [role="option"], [role="combobox"], [role^="menuitem"], [role="treeitem"], [role="radio"], [role="slider"]';
    for (const one of document.querySelectorAll<HTMLElement>(PRESSED)) {
      // Handles upon art are told by the point, not by their box, and have their numbers beside it.
      if (
        !one.checkVisibility({ visibilityProperty: true, opacityProperty: true }) ||
        one.closest('svg, [data-on-art]')
      )
        continue;
      if (getComputedStyle(one).display === 'inline') continue;
      const boxes = [
        one,
        one.closest('label'),
        ...(one.closest('label, [role="radio"]')
          ? []
          : [one.closest('.MuiCheckbox-root, .MuiRadio-root, .MuiSwitch-root, .MuiInputBase-root, .MuiSlider-root')]),
      ]
        .filter((element) => element !== null)
        .map((element) => element.getBoundingClientRect());
      if (boxes[0].width < 2 && boxes.length === 1) continue;
      const [width, height] = [Math.max(...boxes.map((b) => b.width)), Math.max(...boxes.map((b) => b.height))];
      if (width < 43.5 || height < 43.5)
        found.add(
          `${one.tagName.toLowerCase()} ${one.getAttribute('role') ?? ''} "${(one.getAttribute('aria-label') ?? one.textContent ?? '').trim().slice(0, 30)}" ${Math.round(width)} x ${Math.round(height)}`,
        );
    }
    return [...found];
  });

/** Looks at a screen in windows of every size, and with axe-core. @param found what is wrong, by screen and window */
export async function lookOver(page: Page, name: string, found: Record<string, string[]>): Promise<void> {
  const note = (at: string, wrong: string[]) => {
    if (wrong.length > 0) found[`${name}, ${at}`] = wrong;
  };
  for (const [width, height] of SIZES) {
    await page.setViewportSize({ width, height });
    await page.waitForTimeout(150);
    note(`${width} x ${height}`, await wrongs(page));
  }
  await page.setViewportSize({ width: 1280, height: 800 });
  note('axe-core', await problems(page));
}

/** The proof screen, as a painter uses it. */
import type { Page } from '@playwright/test';
import sharp from 'sharp';
import { add, expect, saved, test, type } from './fixture.ts';

const finished = (page: Page) =>
  expect(page.getByRole('progressbar', { name: 'How far the proof is' })).toHaveCount(0, { timeout: 90_000 });
const pane = (page: Page, name: string | RegExp) => page.getByRole('application', { name });

async function openProof(page: Page): Promise<void> {
  await page.goto('/');
  await page.getByRole('link', { name: /Tern/ }).first().click();
  await page.getByRole('link', { name: 'Proof' }).click();
  await expect(page.getByRole('heading', { name: 'Findings' })).toBeVisible();
  await page.waitForTimeout(300);
  await finished(page);
}

/** Mean of the three channels in the middle of a pane, as it is drawn. */
const middle = (page: Page, name: string | RegExp) =>
  pane(page, name).evaluate((canvas) => {
    const { width, height } = canvas as HTMLCanvasElement;
    const ctx = (canvas as HTMLCanvasElement).getContext('2d')!;
    return [...ctx.getImageData(Math.floor(width / 2), Math.floor(height / 2), 1, 1).data.subarray(0, 3)];
  });

test(
  'painted and encoded stand side by side; a coarse format brings findings, their remedy a second encoding beside it',
  { tag: '@model' },
  async ({ page }) => {
    await openProof(page);
    const facts = page.getByRole('complementary', { name: 'What the encoding does' });
    await expect(facts).toContainText('as deliveredBC7');
    await expect(page.getByText('Nothing stands out')).toBeVisible();
    const ladder = page.getByRole('navigation', { name: 'Mip levels' });
    await expect(ladder.getByRole('button')).toHaveCount(12);
    await expect(ladder.getByRole('button', { name: 'Level 1, 1024 x 1024' })).toContainText('dB');

    await page.getByRole('combobox', { name: 'as' }).click();
    await page.getByRole('option', { name: 'BC1', exact: true }).click();
    await expect(facts).toContainText('in proofBC1');
    await finished(page);
    await expect(facts).toContainText(/Rubber shifts in BC1/);
    const fringes = facts.getByRole('listitem').filter({ hasText: 'gets fringes in BC1' }).first();
    const before = await page.getByRole('status', { name: 'Zoom' }).textContent();
    await fringes.getByRole('button', { name: 'Show' }).click();
    await expect(page.getByRole('status', { name: 'Zoom' })).not.toHaveText(before!);
    await fringes.getByRole('button', { name: 'Try BC7' }).click();
    await expect(pane(page, /^Beside it, BC7/)).toBeVisible();
    await finished(page);
    await expect(page.getByRole('region', { name: 'Charts by mip level' })).toContainText('- - BC7');

    // All panes share one view, by keyboard too.
    await pane(page, /^Painted/).focus();
    await page.keyboard.press('0');
    await expect(page.getByRole('status', { name: 'Zoom' })).not.toHaveText('359 %');
    await page.keyboard.press('1');
    await expect(page.getByRole('status', { name: 'Zoom' })).toHaveText('100 %');
    await ladder.getByRole('button', { name: 'Level 4, 128 x 128' }).click();
    await page.getByRole('button', { name: 'As the game magnifies' }).click();
    await page.getByRole('button', { name: 'On the model' }).click();
    await expect(page.getByRole('region', { name: 'On the model' })).not.toContainText('The model comes when', {
      timeout: 60_000,
    });
  },
);

test('a finding’s step changes the livery, and the proof follows; so does a change from another window', async ({
  page,
  request,
}) => {
  // A copy: the other tests want the demo as it is.
  const all = (await (await request.get('/api/liveries')).json()) as { id: string; name: string }[];
  const bundle = await request.get(`/api/liveries/${all.find(({ name }) => name.includes('Turnstone 7'))!.id}/bundle`);
  const copy = await request.post('/api/liveries/open', {
    data: await bundle.body(),
    headers: { 'content-type': 'application/octet-stream' },
  });
  const { id } = (await copy.json()) as { id: string };
  await page.goto(`/liveries/${id}/proof`);
  await page.waitForTimeout(300);
  await finished(page);
  await page.getByRole('combobox', { name: 'as' }).click();
  await page.getByRole('option', { name: 'BC1', exact: true }).click();
  await page.waitForTimeout(300);
  await finished(page);
  const fix = page.getByRole('button', { name: /^Make it #/ });
  const hex = (await fix.textContent())!.slice('Make it '.length);
  await fix.click();
  await expect(page.getByText('Rubber shifts in BC1')).toHaveCount(0, { timeout: 120_000 });
  const scheme = async () =>
    (
      (await (await request.get(`/api/liveries/${id}`)).json()) as {
        livery: { scheme: { name: string; hex: string }[] };
      }
    ).livery.scheme;
  const rubber = async () => (await scheme()).find((c) => c.name === 'Rubber')?.hex;
  await expect.poll(rubber).toBe(hex);
  await page.keyboard.press('Control+z');
  await expect.poll(rubber).toBe('#2a2d2f');
  await finished(page);

  // Somebody else paints the whole ground another colour on the easel.
  const other = await page.context().newPage();
  await other.goto(`/liveries/${id}`);
  const cream = await middle(page, /^Painted/);
  await other.getByRole('tab', { name: 'Scheme' }).click();
  await other.getByRole('button', { name: /^Change Cream/ }).click();
  await other.getByRole('textbox', { name: 'Hex value of Cream' }).fill('#123456');
  await other.keyboard.press('Enter');
  await expect.poll(() => middle(page, /^Painted/), { timeout: 60_000 }).not.toEqual(cream);
  await finished(page);
  const [painted, encoded] = [await middle(page, /^Painted/), await middle(page, /^Encoded/)];
  expect(Math.max(...painted.map((v, i) => Math.abs(v - encoded[i])))).toBeLessThan(12);
});

test('what a game stores upside down is proofed as it was painted, and as stored when asked', async ({ page }) => {
  await page.goto('/templates');
  await page.getByRole('list', { name: 'Templates' }).getByText('Whimbrel floatplane').click();
  await page.getByRole('button', { name: 'Start a livery' }).click();
  await page.waitForURL(/\/liveries\/[0-9a-f-]{36}$/);
  // Paint at the head of the sheet alone.
  await add(page, 'Pattern', 'Stripe');
  await type(page, 'y', '200');
  await type(page, 'width', '300');
  await saved(page);
  await page.getByRole('link', { name: 'Proof' }).click();
  const pane = page.getByRole('application', { name: /^Painted/ });
  /** How much redder the upper half of the pane is than the lower: red less blue, of 255. The stripe is as light as the grey beside it. */
  const above = async () => {
    const { data, info } = await sharp(await pane.screenshot())
      .raw()
      .toBuffer({ resolveWithObject: true });
    const half = Math.floor(info.height / 2) * info.width * info.channels;
    const redness = (part: Uint8Array) => {
      let sum = 0;
      for (let at = 0; at < part.length; at += info.channels) sum += part[at] - part[at + 2];
      return (sum * info.channels) / part.length;
    };
    return redness(data.subarray(0, half)) - redness(data.subarray(half));
  };
  await expect.poll(async () => Math.abs(await above()), { timeout: 120_000 }).toBeGreaterThan(2);
  const upright = await above();
  await page.getByRole('button', { name: 'As stored, upside down' }).click();
  await expect.poll(async () => Math.sign(await above())).toBe(-Math.sign(upright));
  await page.getByRole('button', { name: 'As stored, upside down' }).click();
  await expect.poll(async () => Math.abs((await above()) - upright)).toBeLessThan(1);
});

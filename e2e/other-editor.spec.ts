/** A sheet goes out as a layered file, is painted on elsewhere, and comes back: what changed becomes pixels, the rest stays what it is. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { readPsd, writePsdUint8Array } from 'ag-psd';
import '../packages/core/src/layered/withoutCanvas.ts';
import { add, expect, layerNames, layers, saved, startLivery, test } from './fixture.ts';

test('out as PSD, one layer painted on, one added, back again; one step to undo', async ({ page, server }) => {
  const id = await startLivery(page, 'Out and back');
  await page.getByRole('button', { name: 'Sheet fan' }).click();
  await add(page, 'Base', 'Solid');
  await add(page, 'Pattern', 'Stripe');
  await saved(page);
  // No layer is chosen: the right column is about the sheet.
  await page.getByRole('button', { name: 'Sheet fan' }).click();
  const link = page.getByRole('link', { name: 'Take out as PSD' });
  await expect(link).toBeVisible();
  const address = await link.getAttribute('href');
  expect(address).toContain(id);
  const bytes = new Uint8Array(await (await fetch(`${server.url}${address}`)).arrayBuffer());

  const psd = readPsd(bytes, { useImageData: true });
  const [ground, stripe] = psd.children!;
  expect([ground.name, stripe.name]).toEqual(['Solid', 'Stripe']);
  stripe.imageData!.data.fill(120, 0, 4000);
  psd.children!.push({
    name: 'patch',
    left: 40,
    top: 40,
    imageData: { width: 8, height: 8, data: new Uint8ClampedArray(256).fill(255) },
  });
  const folder = mkdtempSync(path.join(os.tmpdir(), 'wl-back-'));
  const file = path.join(folder, 'fan.psd');
  writeFileSync(file, writePsdUint8Array(psd, { generateThumbnail: false, noBackground: true }));

  await page.getByLabel('Layered file to bring back').setInputFiles(file);
  await expect(page.getByText('1 layer became pixels, 1 is new, 1 is as it was.')).toBeVisible({ timeout: 60_000 });
  expect(await layerNames(page)).toEqual(['Solid', 'Stripe', 'patch']);
  await expect(layers(page).nth(1)).toHaveAttribute('aria-label', /Picture/);
  await expect(layers(page).nth(0)).toHaveAttribute('aria-label', /Solid/);
  await saved(page);
  await page.keyboard.press('Control+z');
  await expect.poll(() => layerNames(page)).toEqual(['Solid', 'Stripe']);
  await expect(layers(page).nth(1)).toHaveAttribute('aria-label', /Stripe/);

  // A file of another size is not this sheet.
  writeFileSync(file, writePsdUint8Array({ width: 16, height: 16, children: [] }, { generateThumbnail: false }));
  await page.getByLabel('Layered file to bring back').setInputFiles(file);
  await expect(page.getByRole('alert')).toContainText('16 x 16');
  rmSync(folder, { recursive: true });
});

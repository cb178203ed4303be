/** JavaScript that the first screen loads, and the easel after it, gzip, as the server sends it. */
import { chromium } from 'playwright-core';
import config from '../playwright.config.ts';
import { gzipSync } from 'node:zlib';
import { startServer } from '../packages/server/src/testing/server.ts';

const server = await startServer({ demo: true });
const browser = await chromium.launch(config.projects![0].use!.launchOptions);
const page = await browser.newPage();
let scripts = new Map<string, number>();
page.on('response', async (response) => {
  if (!/\.m?js($|\?)/.test(response.url())) return;
  const bytes = await response.body().catch(() => null);
  if (bytes) scripts.set(response.url(), gzipSync(bytes).length);
});
const total = () => ([...scripts.values()].reduce((a, b) => a + b, 0) / 1000).toFixed(0);
await page.goto(server.url);
await page.getByText('Turnstone 7').waitFor();
await page.waitForTimeout(1500);
console.log(`JavaScript for the first screen: ${total()} kB gzip`);
scripts = new Map();
await page.getByRole('link', { name: /Tern/ }).first().click();
await page.getByRole('application', { name: /^The model/ }).waitFor();
await page.waitForTimeout(3000);
console.log(`more for the easel, workers and the model's view with it: ${total()} kB gzip`);
await browser.close();
await server.stop();

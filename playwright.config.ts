import { defineConfig } from '@playwright/test';

const QUIET = [
  '--no-sandbox',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];
const chromium = (...args: string[]) => ({
  launchOptions: { executablePath: '/usr/bin/chromium', args: [...QUIET, ...args] },
});

/**
 * Debian's Chromium. Tests that look at a model or at WebGL are tagged @model and have it in software; that takes much of the machine,
 * so all others go without. Every worker has a server and a database of its own, see e2e/fixture.ts.
 */
export default defineConfig({
  testDir: 'e2e',
  testMatch: '*.spec.ts',
  // A machine that is busy with others takes several times as long: what hangs is told from what is slow by minutes.
  timeout: 300_000,
  expect: { timeout: 45_000 },
  workers: 2,
  retries: process.env.CI ? 1 : 0,
  reporter: [['list'], ['json']],
  use: { viewport: { width: 1280, height: 800 }, actionTimeout: 60_000, trace: 'on-first-retry' },
  projects: [
    { name: 'paper', grepInvert: /@model/, use: chromium('--disable-gpu') },
    {
      name: 'model',
      grep: /@model/,
      // What draws in software takes all processors as it is.
      workers: 1,
      use: chromium('--enable-unsafe-swiftshader'),
    },
  ],
});

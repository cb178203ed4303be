import { defineConfig } from 'vitest/config';
import { kernels } from './scripts/kernels.mjs';

await kernels();

export default defineConfig({
  test: {
    include: ['packages/*/src/**/*.test.ts'],
    testTimeout: 60_000,
    hookTimeout: 120_000,
    // Two files at a time: the encoders inside use all processors already.
    maxWorkers: 2,
  },
});

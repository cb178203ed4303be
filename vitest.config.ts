import { defineConfig } from 'vitest/config';
import { kernels } from './scripts/kernels.mjs';

await kernels();

export default defineConfig({
  test: {
    include: ['packages/*/src/**/*.test.ts'],
    // A machine that is busy with others takes several times as long: what hangs is told from what is slow by minutes.
    testTimeout: 480_000,
    hookTimeout: 480_000,
    // Two files at a time: the encoders inside use all processors already.
    maxWorkers: 2,
  },
});

// The short unit tests, each file by itself, with bugs planted in what they load (mutants.mjs).
import { availableParallelism } from 'node:os';
import { configDefaults, defineConfig } from 'vitest/config';

export default defineConfig({
  root: process.cwd(),
  test: {
    include: ['{src,demo}/**/*.test.{ts,tsx}'],
    exclude: [...configDefaults.exclude, '**/*.long.test.ts'],
    globalSetup: ['demo/demo-for-tests.ts'],
    setupFiles: ['scripts/planted-setup.mjs'],
    maxWorkers: availableParallelism(),
    testTimeout: 60_000,
  },
});

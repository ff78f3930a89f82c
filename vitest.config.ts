import { availableParallelism } from 'node:os';
import { configDefaults, defineConfig } from 'vitest/config';

/** Statistics of many runs are long; the rest is short. `TESTS` says which are run: short unless told. */
const wanted = process.env['TESTS'] ?? 'short';

export default defineConfig({
  test: {
    include: wanted === 'long' ? ['{src,demo}/**/*.long.test.ts'] : ['src/**/*.test.{ts,tsx}', 'demo/**/*.test.ts'],
    exclude: [...configDefaults.exclude, ...(wanted === 'short' ? ['**/*.long.test.ts'] : [])],
    globalSetup: wanted === 'long' ? [] : ['demo/demo-for-tests.ts'],
    // One for each core: vitest would leave one idle.
    maxWorkers: availableParallelism(),
    testTimeout: 30_000,
  },
});

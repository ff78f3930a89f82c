import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: { include: ['src/**/*.test.{ts,tsx}', 'demo/**/*.test.ts'], testTimeout: 30_000 },
});

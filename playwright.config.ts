import { defineConfig } from '@playwright/test';

/** Tests tagged @long are run by `npm run test:long`, the others by `npm test`; TESTS=all runs both. */
const wanted = process.env['TESTS'] ?? 'all';
const grep = wanted === 'long' ? { grep: /@long/ } : wanted === 'short' ? { grepInvert: /@long/ } : {};

export default defineConfig({
  ...grep,
  testDir: 'e2e',
  outputDir: 'test-results/browser',
  // One for each core; what measures how much a locked store lets through has the machine to itself.
  workers: 2,
  projects: [
    { name: 'pages', testIgnore: 'locked-store.spec.ts' },
    { name: 'alone', testMatch: 'locked-store.spec.ts', dependencies: ['pages'] },
  ],
  timeout: 120_000,
  expect: { timeout: 10_000 },
  forbidOnly: true,
  reporter: [['list'], ['json', { outputFile: 'test-results/browser.json' }]],
  globalSetup: './e2e/make-demo.ts',
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: process.env['CHROMIUM_PATH'] ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
});

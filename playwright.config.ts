import { defineConfig } from '@playwright/test';

/** Journeys against a running Ecoute with the demo world; `e2e/support/runAll.mjs` starts it and names its address. */
export default defineConfig({
  testDir: 'e2e',
  testMatch: '*.spec.ts',
  fullyParallel: false,
  // Two journeys at a time: most of their time is spent waiting for a clock. Those of one file follow each other.
  workers: 2,
  timeout: 240_000,
  expect: { timeout: 30_000 },
  forbidOnly: true,
  reporter: [['list'], ['json', { outputFile: 'test-results/playwright.json' }]],
  outputDir: 'test-results/playwright',
  use: {
    baseURL: process.env.ECOUTE_URL ?? 'http://127.0.0.1:4310',
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    permissions: ['microphone'],
    // Without pictures of each moment: those cost half of a processor.
    trace: { mode: 'retain-on-failure', screenshots: false, snapshots: true, sources: false },
  },
});

import { defineConfig } from '@playwright/test';

/** Each part of a run has a report of its own. */
const results = process.env.ECOUTE_JOURNEY_RESULTS ?? 'test-results/playwright';

/** Journeys against a running Ecoute with the demo world; `e2e/support/runAll.mjs` starts it and names its address. */
export default defineConfig({
  testDir: 'e2e',
  testMatch: '*.spec.ts',
  fullyParallel: false,
  // Three journeys at a time: half of their time is spent waiting for a clock. Those of one file follow each other.
  // Those tagged @alone are run after them with one worker.
  workers: 3,
  timeout: 240_000,
  expect: { timeout: 30_000 },
  // A machine that stumbles costs one journey its time, and no more: it is tried again, and said at the end of the run.
  retries: 2,
  forbidOnly: true,
  reporter: [['list'], ['json', { outputFile: `${results}.json` }]],
  outputDir: results,
  use: {
    baseURL: process.env.ECOUTE_URL ?? 'http://127.0.0.1:4310',
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    permissions: ['microphone'],
    // A trace of each journey is a sixth of all the work; ECOUTE_TRACE=1 keeps them while one is looked into.
    trace: process.env.ECOUTE_TRACE ? 'retain-on-failure' : 'off',
    screenshot: 'only-on-failure',
    // A step that never comes says which one it was, instead of taking the whole journey's time.
    actionTimeout: 90_000,
    navigationTimeout: 90_000,
  },
});

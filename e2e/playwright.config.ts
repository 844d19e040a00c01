import { defineConfig } from '@playwright/test';

// Each worker has a server and a database of its own, so that no test takes what another's shelf holds.
const lists = (name: string) => (process.env[name] ?? '').split(' ').filter(Boolean);
const [urls, databaseUrls] = [lists('ESTUARINE_URL'), lists('DATABASE_URL')];
if (urls.length === 0) throw new Error('ESTUARINE_URL is not set: run these by `npm test`');
const lane = process.env.TEST_PARALLEL_INDEX;
if (lane !== undefined) {
  process.env.ESTUARINE_URL = urls[Number(lane)] ?? '';
  process.env.DATABASE_URL = databaseUrls[Number(lane)] ?? '';
}

export default defineConfig({
  testDir: 'tests',
  outputDir: 'out/results',
  fullyParallel: false,
  workers: urls.length,
  retries: 0,
  // caps for what hangs, not measures: a whole walk takes some twenty seconds on a quiet machine, and ten times that on a busy one
  timeout: 300_000,
  expect: { timeout: 40_000 },
  reporter: [['line'], ['json', { outputFile: 'out/results.json' }]],
  use: {
    baseURL: urls[Number(lane ?? 0)] ?? '',
    viewport: { width: 1280, height: 800 },
    browserName: 'chromium',
    locale: 'en-GB',
    timezoneId: 'UTC',
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
      args: ['--no-sandbox', '--disable-dev-shm-usage', '--font-render-hinting=none'],
    },
    // a trace takes a picture of the whole page at every act, a fifth of all time: `--trace on` where one is wanted
    trace: 'off',
    screenshot: 'only-on-failure',
  },
  projects: [
    { name: 'tests', testIgnore: /shots|speed|trials|presses/ },
    { name: 'shots', testMatch: /shots/ },
    { name: 'speed', testMatch: /speed/ },
    { name: 'trials', testMatch: /trials/ },
    { name: 'presses', testMatch: /presses/ },
  ],
});

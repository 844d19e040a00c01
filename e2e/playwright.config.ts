import { defineConfig } from '@playwright/test';

const url = process.env.ESTUARINE_URL;
if (!url) throw new Error('ESTUARINE_URL is not set: run these by `npm test`');

export default defineConfig({
  testDir: 'tests',
  outputDir: 'out/results',
  fullyParallel: false,
  // one shelf for all tests: two at once would take each other's modules
  workers: 1,
  retries: 0,
  timeout: 90_000,
  expect: { timeout: 15_000 },
  reporter: [['line'], ['json', { outputFile: 'out/results.json' }]],
  use: {
    baseURL: url,
    viewport: { width: 1280, height: 800 },
    browserName: 'chromium',
    locale: 'en-GB',
    timezoneId: 'UTC',
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
      args: ['--no-sandbox', '--disable-dev-shm-usage', '--font-render-hinting=none'],
    },
    trace: 'retain-on-failure',
  },
  projects: [
    { name: 'tests', testIgnore: /shots|speed|trials/ },
    { name: 'shots', testMatch: /shots/ },
    // a trace takes a picture of the whole page at every key
    { name: 'speed', testMatch: /speed/, use: { trace: 'off' } },
    { name: 'trials', testMatch: /trials/, use: { trace: 'off' } },
  ],
});

/** `npm test`: on a fresh machine all set-up, then format, lint, types, unit, server and browser tests. The last line counts them. */
import fs from 'node:fs';
import path from 'node:path';
import { Postgres } from './parts/postgres.mjs';
import { must, run } from './parts/run.mjs';
import { main, ROOT, say, showTools } from './parts/say.mjs';
import { checkNode, ensureBuilt, ensureDebianPackages, ensureNodeModules } from './parts/setup.mjs';
import { Supervisor } from './parts/supervisor.mjs';

/** The browser tests sign in again and again from one address. */
const MANY_TRIES = { ESTUARINE_TRIES_PER_MINUTE: '1000' };
/** At once: each spec, and each browser, has a database of its own. */
const WORKERS = 2;
const withBrowser = !process.argv.includes('--without-browser');
const jestResults = path.join(ROOT, 'node_modules/.cache/jest-results.json');
const browserResults = path.join(ROOT, 'e2e/out/results.json');

await main(async () => {
  showTools();
  checkNode();
  await ensureDebianPackages(['postgresql', 'openssl', ...(withBrowser ? ['chromium'] : [])]);
  await ensureNodeModules();
  await must('Format', 'npm', ['run', '-s', 'format:check'], { quiet: true });
  await ensureBuilt({ web: withBrowser });
  const failures = [];
  const check = async (what, promise) => {
    const { code, output } = await promise;
    if (code === 0) say(`${what}: fine`);
    else failures.push(`${what}\n${output}`);
  };
  await Promise.all([
    // the build of the screens has looked at their templates
    check('types', run('npm', ['run', '-s', withBrowser ? 'typecheck:code' : 'typecheck'], { quiet: true })),
    check('lint', run('npm', ['run', '-s', 'lint'], { quiet: true })),
  ]);
  for (const failure of failures) say(failure);

  const unit = await runUnitTests();
  const browser = withBrowser && failures.length === 0 ? await runBrowserTests() : { passed: 0, failed: 0 };
  const passed = unit.passed + browser.passed;
  const failed = unit.failed + browser.failed + failures.length;
  process.stdout.write(`${passed} passed, ${failed} failed\n`);
  process.exit(failed === 0 && passed > 0 ? 0 : 1);
});

async function runUnitTests() {
  const postgres = new Postgres({ purpose: 'unit', isDurable: false });
  postgres.wipe();
  fs.rmSync(jestResults, { force: true });
  try {
    await postgres.start();
    const env = { DATABASE_URL: postgres.url, NODE_OPTIONS: '--experimental-vm-modules --no-warnings' };
    await run('npx', ['jest', '--ci', `--maxWorkers=${WORKERS}`, '--json', `--outputFile=${jestResults}`], { env });
  } finally {
    await postgres.stop();
  }
  if (!fs.existsSync(jestResults)) return { passed: 0, failed: 1 };
  const { numPassedTests, numFailedTests, numFailedTestSuites } = JSON.parse(fs.readFileSync(jestResults, 'utf8'));
  return { passed: numPassedTests, failed: Math.max(numFailedTests, numFailedTestSuites) };
}

/** Some at a time, each with a server and a database of its own. */
async function runBrowserTests() {
  fs.rmSync(browserResults, { force: true });
  const supervisors = Array.from({ length: WORKERS }, (_, i) => {
    const purpose = `browser-${i + 1}`;
    new Postgres({ purpose, isDurable: false }).wipe();
    const seed = path.join(ROOT, 'seed/dist/main.js');
    return new Supervisor({ purpose, port: 0, isDurable: false, seed, env: MANY_TRIES });
  });
  try {
    const urls = [];
    for (const supervisor of supervisors) urls.push(await supervisor.start());
    const env = { ESTUARINE_URL: urls.join(' '), DATABASE_URL: supervisors.map((s) => s.databaseUrl).join(' ') };
    await run('npx', ['playwright', 'test', '-c', 'e2e/playwright.config.ts', '--project', 'tests'], { env });
  } finally {
    for (const supervisor of supervisors) await supervisor.stop();
  }
  if (!fs.existsSync(browserResults)) return { passed: 0, failed: 1 };
  const { stats } = JSON.parse(fs.readFileSync(browserResults, 'utf8'));
  return { passed: stats.expected, failed: stats.unexpected + stats.flaky };
}

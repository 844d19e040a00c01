/**
 * Walks through a demonstration of its own in a browser: `node ops/walk.mjs shots` renews docs/screenshots, `node ops/walk.mjs presses`
 * counts what a hand does from an opened job to a chosen match.
 */
import { main, ROOT, say, showTools } from './parts/say.mjs';
import { Postgres } from './parts/postgres.mjs';
import { must } from './parts/run.mjs';
import { setUp } from './parts/setup.mjs';
import { Supervisor } from './parts/supervisor.mjs';
import path from 'node:path';

const WALKS = { shots: 'Taking the pictures', presses: 'Counting presses' };

await main(async () => {
  const [project] = process.argv.slice(2);
  const doing = WALKS[project];
  if (!doing) {
    say(`Say which walk: ${Object.keys(WALKS).join(' or ')}.`);
    process.exit(2);
  }
  showTools();
  await setUp({ packages: ['postgresql', 'chromium'] });
  new Postgres({ purpose: project, isDurable: false }).wipe();
  const supervisor = new Supervisor({
    purpose: project,
    port: 0,
    isDurable: false,
    seed: path.join(ROOT, 'seed/dist/main.js'),
    env: { ESTUARINE_TRIES_PER_MINUTE: '1000' },
  });
  try {
    const url = await supervisor.start();
    await must(doing, 'npx', ['playwright', 'test', '-c', 'e2e/playwright.config.ts', '--project', project], {
      env: { ESTUARINE_URL: url, DATABASE_URL: supervisor.databaseUrl },
    });
  } finally {
    await supervisor.stop();
  }
  process.exit(0);
});

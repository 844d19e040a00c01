/** `npm run shots`: renews docs/screenshots from a demonstration of its own. */
import { main, ROOT, showTools } from './parts/say.mjs';
import { Postgres } from './parts/postgres.mjs';
import { must } from './parts/run.mjs';
import { setUp } from './parts/setup.mjs';
import { Supervisor } from './parts/supervisor.mjs';
import path from 'node:path';

await main(async () => {
  showTools();
  await setUp({ packages: ['postgresql', 'chromium'] });
  new Postgres({ purpose: 'shots', isDurable: false }).wipe();
  const supervisor = new Supervisor({
    purpose: 'shots',
    port: 0,
    isDurable: false,
    seed: path.join(ROOT, 'server/dist/seed/main.js'),
    env: { ESTUARINE_TRIES_PER_MINUTE: '1000' },
  });
  try {
    const url = await supervisor.start();
    await must('Taking the pictures', 'npx', ['playwright', 'test', '-c', 'e2e/playwright.config.ts', '--project', 'shots'], {
      env: { ESTUARINE_URL: url },
    });
  } finally {
    await supervisor.stop();
  }
  process.exit(0);
});

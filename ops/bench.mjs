/** `npm run bench`: speed and size as ratios against a yardstick run at the same time on the same machine. */
import path from 'node:path';
import { Postgres } from './parts/postgres.mjs';
import { run } from './parts/run.mjs';
import { main, ROOT, say, showTools } from './parts/say.mjs';
import { setUp } from './parts/setup.mjs';
import { Supervisor } from './parts/supervisor.mjs';

await main(async () => {
  showTools();
  await setUp({ packages: ['postgresql', 'chromium'] });
  const source = ['--conditions=@estuarine/source', '--import', 'tsx'];
  const bench = (file, env = {}) => run(process.execPath, [...source, path.join(ROOT, file)], { env });
  say('— core —');
  await bench('core/bench/core.bench.ts');
  const postgres = new Postgres({ purpose: 'bench', isDurable: true });
  say('— server —');
  // each has a log of its own: nothing of another is replayed
  for (const what of ['server', 'stream', 'remake']) {
    postgres.wipe();
    try {
      await postgres.start();
      const env = { DATABASE_URL: postgres.url, NODE_ENV: 'production', PG_DUMP: path.join(postgres.bin, 'pg_dump') };
      await bench(`server/bench/${what}.bench.ts`, env);
    } finally {
      await postgres.stop();
    }
  }
  await bench('server/bench/report.bench.ts');
  say('— screens —');
  const supervisor = new Supervisor({
    purpose: 'bench-screens',
    port: 0,
    isDurable: false,
    seed: path.join(ROOT, 'seed/dist/main.js'),
  });
  try {
    const url = await supervisor.start();
    await run('npx', ['playwright', 'test', '-c', 'e2e/playwright.config.ts', '--project', 'speed'], { env: { ESTUARINE_URL: url } });
  } finally {
    await supervisor.stop();
  }
  process.exit(0);
});

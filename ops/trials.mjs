/**
 * `npm run trials [states] [first seed]`: long and hostile, run by hand. Random work held against a plain model of the pack; malformed
 * requests and files, forged acts; then outages again and again while people type. `ESTUARINE_OUTAGES=kills,restarts,cuts` makes it shorter.
 */
import path from 'node:path';
import { Postgres } from './parts/postgres.mjs';
import { run } from './parts/run.mjs';
import { main, ROOT, say, showTools } from './parts/say.mjs';
import { setUp } from './parts/setup.mjs';
import { Supervisor } from './parts/supervisor.mjs';

const PURPOSE = 'trials';

await main(async () => {
  showTools();
  await setUp({ packages: ['postgresql', 'chromium'] });
  say('— what screens show —');
  const source = ['--conditions=@estuarine/source', '--import', 'tsx'];
  let { code } = await run(process.execPath, [...source, path.join(ROOT, 'core/test/run-trials.ts'), ...process.argv.slice(2)]);
  say('— malformed files —');
  const files = await run(process.execPath, [...source, path.join(ROOT, 'web/src/test/run-malformed-files.ts')]);
  code ||= files.code;
  new Postgres({ purpose: PURPOSE, isDurable: true }).wipe();
  const supervisor = new Supervisor({
    purpose: PURPOSE,
    port: 0,
    seed: path.join(ROOT, 'seed/dist/main.js'),
    env: { ESTUARINE_TRIES_PER_MINUTE: '1000' },
  });
  let outages;
  try {
    const url = await supervisor.start();
    say('— malformed requests —');
    const malformed = await run(process.execPath, [...source, path.join(ROOT, 'server/test/run-malformed.ts')], {
      env: { DATABASE_URL: supervisor.databaseUrl },
    });
    code ||= malformed.code;
    say('— forged acts —');
    const forged = await run(process.execPath, [...source, path.join(ROOT, 'server/test/run-forged.ts')], {
      env: { DATABASE_URL: supervisor.databaseUrl },
    });
    code ||= forged.code;
    say('— outages —');
    const env = { ESTUARINE_URL: url, ESTUARINE_STATE: path.join(ROOT, 'var', `${PURPOSE}.json`) };
    outages = await run('npx', ['playwright', 'test', '-c', 'e2e/playwright.config.ts', '--project', 'trials'], { env });
    const verified = await run(process.execPath, [path.join(ROOT, 'ops/log.mjs'), 'verify'], {
      env: { DATABASE_URL: supervisor.databaseUrl },
    });
    if (verified.code !== 0) outages = verified;
  } finally {
    await supervisor.stop();
  }
  process.exit(code || outages.code);
});

/** `npm run verify` checks every hash chain; `npm run remake` makes the cross-job tables anew. `-- --demo` means the demonstration's data. */
import path from 'node:path';
import { Postgres } from './parts/postgres.mjs';
import { run } from './parts/run.mjs';
import { main, ROOT } from './parts/say.mjs';
import { setUp } from './parts/setup.mjs';

await main(async () => {
  await setUp({ web: false });
  const [mode, ...rest] = process.argv.slice(2);
  const tool = (url) => run(process.execPath, [path.join(ROOT, 'server/dist/log-tool.js'), mode], { env: { DATABASE_URL: url } });
  if (process.env.DATABASE_URL) return (await tool(process.env.DATABASE_URL)).code;
  const postgres = new Postgres({ purpose: rest.includes('--demo') ? 'demo' : 'shop', isDurable: true });
  const isRunning = postgres.findRunning();
  if (!isRunning) await postgres.start();
  try {
    return (await tool(postgres.url)).code;
  } finally {
    if (!isRunning) await postgres.stop();
  }
});

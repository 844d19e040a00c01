/** `npm run dev`: server and screens in watch mode, on the demonstration's kind of data in a database of its own. */
import { spawn } from 'node:child_process';
import path from 'node:path';
import { Postgres } from './parts/postgres.mjs';
import { must } from './parts/run.mjs';
import { main, ROOT, say, showTools } from './parts/say.mjs';
import { setUp } from './parts/setup.mjs';

await main(async () => {
  showTools();
  await setUp({ web: false });
  const postgres = new Postgres({ purpose: 'dev', isDurable: false });
  const children = [];
  const stop = async () => {
    for (const child of children) child.kill('SIGTERM');
    await postgres.stop();
    process.exit(0);
  };
  for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => void stop());
  await postgres.start();
  const env = {
    ...process.env,
    DATABASE_URL: postgres.url,
    PORT: '4180',
    ESTUARINE_SECRET: 'only for development, never for a shop',
    ESTUARINE_LOG: 'info',
  };
  await must('Writing the demonstration data', process.execPath, [path.join(ROOT, 'seed/dist/main.js')], { quiet: true, env });
  const watched = ['--watch', '--conditions=@estuarine/source', '--import', 'tsx', 'server/src/main.ts'];
  children.push(spawn(process.execPath, watched, { cwd: ROOT, env, stdio: 'inherit' }));
  children.push(spawn('npx', ['ng', 'serve', 'web', '--host', '127.0.0.1', '--port', '4280'], { cwd: ROOT, env, stdio: 'inherit' }));
  say('Screens at http://127.0.0.1:4280, their requests go to the server at 4180. Ctrl-C stops both.');
});

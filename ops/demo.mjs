/** `npm run demo`: everything on a fresh machine, with the demonstration's invented data. */
import path from 'node:path';
import { main, ROOT, say } from './parts/say.mjs';
import { setUp } from './parts/setup.mjs';
import { claim, Supervisor } from './parts/supervisor.mjs';

await main(async () => {
  const begin = Date.now();
  const running = await claim('demo');
  if (running) {
    say(`Estuarine is running already at ${running}`);
    return 0;
  }
  await setUp();
  const supervisor = new Supervisor({
    purpose: 'demo',
    port: Number(process.env.PORT ?? 4180),
    seed: path.join(ROOT, 'seed/dist/main.js'),
  });
  const url = await supervisor.start();
  say(`\nEstuarine (demonstration) is ready at ${url} after ${((Date.now() - begin) / 1000).toFixed(1)} s. Ctrl-C stops it.`);
});

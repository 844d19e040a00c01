/** `npm start`: the real thing, without demonstration data. */
import { main, say, Stop } from './parts/say.mjs';
import { setUp } from './parts/setup.mjs';
import { findRunning, Supervisor } from './parts/supervisor.mjs';

await main(async () => {
  if (process.argv.includes('--shop'))
    throw new Stop('Serving the network of the shop is not built yet; it comes with sign-in. Without --shop it serves this machine.');
  const running = await findRunning('shop');
  if (running) {
    say(`Estuarine is running already at ${running}`);
    return 0;
  }
  await setUp();
  const url = await new Supervisor({ purpose: 'shop', port: Number(process.env.PORT ?? 4170) }).start();
  say(`\nEstuarine is ready at ${url}. Ctrl-C stops it.`);
});

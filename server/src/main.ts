/** Starts the server on loopback: migrates, makes the shop where there is none, listens, stops on a signal. */
import { buildApp, SHOP_ID } from './app.ts';
import { readConfig } from './config.ts';
import { createPool, migrate } from './database/database.ts';
import { ensureShop } from './seed/shop.ts';

try {
  const config = readConfig(process.env);
  await migrate(config.databaseUrl);
  const pool = createPool(config.databaseUrl);
  await ensureShop(pool, SHOP_ID);
  let hosts: ReadonlySet<string> = new Set();
  const app = await buildApp({
    pool,
    databaseUrl: config.databaseUrl,
    shopId: SHOP_ID,
    secret: config.secret,
    clock: () => new Date(),
    hosts: () => hosts,
    webRoot: config.webRoot,
    logLevel: config.logLevel,
  });
  await app.listen({ host: config.host, port: config.port });
  const address = app.server.address();
  const port = typeof address === 'object' && address ? address.port : config.port;
  hosts = new Set(['127.0.0.1', 'localhost', '[::1]'].map((name) => `${name}:${port}`));
  process.stdout.write(`listening http://${config.host}:${port}\n`);
  let isStopping = false;
  for (const signal of ['SIGINT', 'SIGTERM'] as const)
    process.on(signal, () => {
      if (isStopping) return;
      isStopping = true;
      void app
        .close()
        .then(() => pool.end())
        .then(() => process.exit(0));
    });
} catch (error) {
  const { code, message } = error as { code?: string; message?: string };
  process.stderr.write(
    code === 'EADDRINUSE' ? 'The port is taken by another program. Set PORT to a free one.\n' : `${message ?? String(error)}\n`,
  );
  process.exit(1);
}

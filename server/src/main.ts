/** Starts the server, on loopback unless TLS and an address are given: migrates, makes the shop where there is none, listens, stops on a signal. */
import { readFileSync } from 'node:fs';
import QRCode from 'qrcode';
import { buildApp } from './app.ts';
import { readConfig, SHOP_ID } from './config.ts';
import { createPool, migrate } from './database/database.ts';
import { makeFirstCode } from './persons/routes.ts';
import { remakeWhereOtherFold } from './remake.ts';
import { ensureShop } from './shop/begin.ts';

try {
  const config = readConfig(process.env);
  await migrate(config.databaseUrl);
  const pool = createPool(config.databaseUrl);
  // tables that another release computed are made anew before anybody is answered from them
  const replayed = await remakeWhereOtherFold(pool);
  if (replayed > 0) process.stdout.write(`cross-job tables made anew from ${replayed} events of an earlier release\n`);
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
    dataFolder: config.dataFolder,
    logLevel: config.logLevel,
    triesPerMinute: config.triesPerMinute,
    tls: config.tls && { key: readFileSync(config.tls.key, 'utf8'), cert: readFileSync(config.tls.cert, 'utf8') },
  });
  await app.listen({ host: config.host, port: config.port });
  const address = app.server.address();
  const port = typeof address === 'object' && address ? address.port : config.port;
  const isLoopback = config.host === '127.0.0.1';
  hosts = new Set((isLoopback ? ['127.0.0.1', 'localhost', '[::1]'] : [config.host]).map((name) => `${name}:${port}`));
  const url = `${config.tls ? 'https' : 'http'}://${config.host}:${port}`;
  const code = await makeFirstCode(pool, SHOP_ID);
  if (code) process.stdout.write(`code for the first lead ${code}\n`);
  if (config.tls) process.stdout.write(`${await QRCode.toString(url, { type: 'terminal', small: true })}\n`);
  process.stdout.write(`listening ${url}\n`);
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

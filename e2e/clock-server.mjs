/**
 * A server of the browser tests whose clock they set: the same application, started by the test and never shipped. A message
 * `{ advance: milliseconds }` moves its time on.
 */
import { buildApp } from '../server/dist/app.js';
import { SHOP_ID } from '../server/dist/config.js';
import { createPool } from '../server/dist/database/database.js';

const [HOUR, DAY] = [3_600_000, 86_400_000];

/** An air test holds for the day: near its end the tests begin on the next one, so that none runs across midnight. */
const left = DAY - (Date.now() % DAY);
let ahead = left > 2 * HOUR ? 0 : left;
const pool = createPool(process.env.DATABASE_URL);
let hosts = new Set();
const app = await buildApp({
  ...{ pool, databaseUrl: process.env.DATABASE_URL, shopId: SHOP_ID, secret: process.env.ESTUARINE_SECRET },
  ...{ clock: () => new Date(Date.now() + ahead), hosts: () => hosts, webRoot: process.env.ESTUARINE_WEB, triesPerMinute: null },
});
const url = await app.listen({ host: '127.0.0.1', port: 0 });
hosts = new Set([new URL(url).host]);
process.on('message', ({ advance }) => {
  ahead += advance;
  process.send({ ahead });
});
process.on('disconnect', () => void app.close().then(() => process.exit(0)));
process.send({ url });

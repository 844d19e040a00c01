/** `export <file>` writes the whole shop of DATABASE_URL as a zip, `import <file>` brings one into an empty database. */
import fs from 'node:fs';
import { pipeline } from 'node:stream/promises';
import { SHOP_ID } from './config.ts';
import { createPool, migrate } from './database/database.ts';
import { importShop, NotTaken } from './record/shop-in.ts';
import { exportShop } from './record/shop-out.ts';
import { remake } from './remake.ts';

const [mode, file] = process.argv.slice(2);
const url = process.env.DATABASE_URL;
if (!url) throw new Error('DATABASE_URL is not set');
if (!file || (mode !== 'export' && mode !== 'import')) throw new Error('export <file>, or import <file>');
await migrate(url);
const pool = createPool(url);
try {
  if (mode === 'export') await pipeline(exportShop(pool, SHOP_ID, new Date()), fs.createWriteStream(file, { flags: 'wx' }));
  else {
    await importShop(pool, SHOP_ID, file);
    process.stdout.write(`${await remake(pool)} events taken\n`);
  }
} catch (error) {
  if (!(error instanceof NotTaken)) throw error;
  process.stderr.write(`${error.message}\n`);
  process.exitCode = 2;
} finally {
  await pool.end();
}

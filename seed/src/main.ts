/** Fills the database of DATABASE_URL with the demonstration, once. */
import { createPool, migrate, SHOP_ID } from '@estuarine/server';
import { seedDemo } from './demo.ts';

const url = process.env.DATABASE_URL;
if (!url) throw new Error('DATABASE_URL is not set');
await migrate(url);
const pool = createPool(url);
const isNew = await seedDemo(pool, SHOP_ID, new Date());
process.stdout.write(isNew ? 'demonstration data written\n' : 'demonstration data stands\n');
await pool.end();

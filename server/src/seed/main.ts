/** Fills the database of DATABASE_URL with the demonstration, once. */
import { SHOP_ID } from '../config.ts';
import { createPool, migrate } from '../database/database.ts';
import { seedDemo } from './demo.ts';

const url = process.env.DATABASE_URL;
if (!url) throw new Error('DATABASE_URL is not set');
await migrate(url);
const pool = createPool(url);
const isNew = await seedDemo(pool, SHOP_ID, new Date());
process.stdout.write(isNew ? 'demonstration data written\n' : 'demonstration data stands\n');
await pool.end();

/** `remake` makes the cross-job tables anew, `verify` checks the hash chains. Exit 1 when a chain is broken. */
import { createPool, inSnapshot, migrate } from './database/database.ts';
import { verifyChains } from './log/verify.ts';
import { remake } from './remake.ts';

const url = process.env.DATABASE_URL;
if (!url) throw new Error('DATABASE_URL is not set');
await migrate(url);
const pool = createPool(url);
if (process.argv[2] === 'remake') {
  const count = await remake(pool);
  process.stdout.write(`cross-job tables made anew from ${count} events\n`);
} else {
  const { streams, events, faults } = await inSnapshot(pool, verifyChains);
  for (const { stream, number, reason } of faults) process.stdout.write(`${stream} event ${number}: ${reason}\n`);
  process.stdout.write(`${events} events in ${streams} streams checked, ${faults.length} faults\n`);
  process.exitCode = faults.length > 0 ? 1 : 0;
}
await pool.end();

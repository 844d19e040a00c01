/** How the time of a remake grows with the log: 25, 50 and 100 thousand events in jobs of 500. */
import { canonicalText } from '@estuarine/contract';
import { mixedEvents, versionOf } from '@estuarine/core';
import type pg from 'pg';
import { createPool, migrate } from '../src/database/database.ts';
import { chainHash } from '../src/log/chain.ts';
import { remake } from '../src/remake.ts';
import { ensureShop, readShippedProfile } from '../src/shop/begin.ts';

const SHOP = 'shop';
const A_JOB = 500;
const url = process.env.DATABASE_URL ?? '';

await migrate(url);
const pool = createPool(url);
await ensureShop(pool, SHOP);
const profile = readShippedProfile('dunlin-28');
const events = mixedEvents(profile, A_JOB);

/** One job of mixed events, written as the log holds them. */
async function writeJob(db: pg.Pool, index: number): Promise<void> {
  const stream = `rebuilt-${index}`;
  let hash: Buffer = Buffer.alloc(0);
  const rows = events.map((event) => {
    const opened = event.type === 'job.opened';
    const body = opened
      ? { ...event.body, number: 1000 + index, moduleIds: event.body.moduleIds.map((id) => `${stream}-${id}`) }
      : event.body;
    const { number, type, at, deviceAt, by, commandId } = event;
    const text = canonicalText({ stream, number, type, version: versionOf(event), at, deviceAt, by, commandId, body });
    hash = chainHash(hash, text);
    return { number, type, commandId, text, hash };
  });
  await db.query('insert into stream (shop_id, stream, head, hash) values ($1, $2, $3, $4)', [SHOP, stream, rows.length, hash]);
  await db.query(
    `insert into log_event (shop_id, stream, number, type, command_id, text, hash, position)
     select $1, $2, given.*, nextval('log_position')
     from unnest($3::int[], $4::text[], $5::text[], $6::text[], $7::bytea[]) as given`,
    [SHOP, stream, rows.map((r) => r.number), rows.map((r) => r.type), rows.map((r) => r.commandId), rows.map((r) => r.text), rows.map((r) => r.hash)], // prettier-ignore
  );
}

const times: number[] = [];
let jobs = 0;
for (const size of [25_000, 50_000, 100_000]) {
  for (; jobs < size / A_JOB; jobs++) await writeJob(pool, jobs);
  await pool.query('analyze log_event');
  await remake(pool);
  const begin = performance.now();
  await remake(pool);
  times.push(performance.now() - begin);
}
const [least = 1, , most = 1] = times;
const exponent = Math.log(most / least) / Math.log(4);
const spelled = times.map((t) => `${(t / 1000).toFixed(1)} s`).join(', ');
process.stdout.write(
  `${`remake of 25k, 50k, 100k events (${spelled}), exponent`.padEnd(62)} ${exponent.toFixed(2).padStart(16)}   budget at most 1.15\n`,
);
await pool.end();

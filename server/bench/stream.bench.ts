/**
 * From the commit of an act to its arrival at a browser, by the stream of another process: quiet, and beside a transaction that somebody
 * left open, one that holds the row of the shop, and a running dump. Ratio of the 99th percentiles.
 */
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { setTimeout as sleep } from 'node:timers/promises';
import { buildApp } from '../src/app.ts';
import { createPool, migrate } from '../src/database/database.ts';
import { keepJobAct } from '../src/jobs/acts.ts';
import type { JobActs } from '../src/jobs/asked.ts';
import { JobStates } from '../src/jobs/job-states.ts';
import { Tail } from '../src/log/tail.ts';
import { References } from '../src/profiles/references.ts';
import { seedDemo } from '@estuarine/seed';
import { signIn } from '../test/support.ts';

const SHOP = 'shop';
const EVENTS = 1000;
const ROUNDS = 10;
const PAUSE_MILLISECOND = 3;
const OM = { id: 'om', role: 'technician', competences: [] } as const;
const url = process.env.DATABASE_URL ?? '';

await migrate(url);
const pool = createPool(url, 8);
await seedDemo(pool, SHOP, new Date());

const references = new References(SHOP);
const tail = new Tail(url, pool, SHOP);
await tail.open();
const desk: JobActs = {
  ...{ pool, shopId: SHOP, references, states: new JobStates(SHOP, references), clock: () => new Date() },
  announce: (stream, head) => tail.announce(stream, head),
};
// the browser hangs on another server, with connections of its own
// requests of the network, and those that are handed in
const hosts = new Set(['localhost:80']);
const others = createPool(url, 8);
const app = await buildApp({
  ...{ pool: others, databaseUrl: url, shopId: SHOP, secret: 'x'.repeat(40), clock: () => new Date(), hosts: () => hosts },
  ...{ requestsPerMinute: null, triesPerMinute: null },
});
const address = await app.listen({ host: '127.0.0.1', port: 0 });
hosts.add(new URL(address).host);
const cookie = await signIn(app);

const arrived = new Map<string, number>();
const end = new AbortController();
const stream = await fetch(`${address}/api/stream`, { headers: { cookie }, signal: end.signal });
void listen();
async function listen(): Promise<void> {
  const decoder = new TextDecoder();
  let text = '';
  try {
    for await (const bytes of (stream.body ?? []) as AsyncIterable<Uint8Array>) {
      const now = performance.now();
      text += decoder.decode(bytes, { stream: true });
      const words = text.split('\n\n');
      text = words.pop() ?? '';
      for (const word of words) {
        const id = /"commandId":"(t-\d+)"/.exec(word)?.[1];
        if (id !== undefined) arrived.set(id, now);
      }
    }
  } catch {
    // closed at the end
  }
}

let serial = 0;
/** Milliseconds from each commit to its arrival. */
async function play(count: number): Promise<number[]> {
  const kept = new Map<string, number>();
  for (let i = 0; i < count; i++) {
    const commandId = `t-${++serial}`;
    const act = { type: 'fact.stated', body: { stage: 'isolate', fact: { kind: 'plug', isIn: serial % 2 === 0 } } } as const;
    await keepJobAct(desk, 'demo-turnstone', { commandId, deviceAt: new Date().toISOString(), by: 'om', version: 3, act }, OM);
    kept.set(commandId, performance.now());
    await sleep(PAUSE_MILLISECOND);
  }
  const last = performance.now() + 15_000;
  while ([...kept.keys()].some((id) => !arrived.has(id)) && performance.now() < last) await sleep(10);
  return [...kept].map(([id, at]) => Math.max(0, (arrived.get(id) ?? Infinity) - at));
}

/** Begins what stands in the way of everybody; gives how to end it. */
async function disturb(): Promise<() => Promise<void>> {
  const [idle, holder] = [await others.connect(), await others.connect()];
  await idle.query('begin');
  await idle.query(`create temporary table left_open (n integer)`);
  await holder.query('begin');
  await holder.query('select from shop where shop_id = $1 for update', [SHOP]);
  // what it writes is read by nobody yet: it stands in the middle of its snapshot
  const dump = spawn(process.env.PG_DUMP ?? 'pg_dump', [url], { stdio: ['ignore', 'pipe', 'ignore'] });
  await once(dump.stdout, 'readable');
  return async () => {
    dump.kill();
    await once(dump, 'exit');
    for (const client of [idle, holder]) {
      await client.query('rollback');
      client.release();
    }
  };
}

const percentile = (all: readonly number[], share: number): number =>
  [...all].sort((a, b) => a - b)[Math.min(all.length - 1, Math.floor(share * all.length))] ?? NaN;

await play(100);
const [quiet, disturbed]: [number[], number[]] = [[], []];
for (let round = 0; round < ROUNDS; round++) {
  quiet.push(...(await play(EVENTS / ROUNDS)));
  const stop = await disturb();
  disturbed.push(...(await play(EVENTS / ROUNDS)));
  await stop();
}
const [p99, worse] = [percentile(quiet, 0.99), percentile(disturbed, 0.99)];
const name = `commit to stream, 99 of 100 of ${EVENTS}, beside others over quiet`;
process.stdout.write(`${name.padEnd(62)} ${(worse / p99).toFixed(2).padStart(16)}   budget at most 1.5\n`);
process.stdout.write(
  `${'  quiet, beside others'.padEnd(62)} ${`${p99.toFixed(1)}, ${worse.toFixed(1)} ms`.padStart(16)}   budget printed only\n`,
);
end.abort();
await app.close();
await tail.close();
await pool.end();
process.exit(0);

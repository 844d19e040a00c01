/**
 * Speed of keeping an act and of reading a job, each as a ratio to a yardstick run in turn with it: the same statements written by
 * hand in one transaction, a bare insert of one row, and a server that only says hello.
 */
import autocannon from 'autocannon';
import Fastify from 'fastify';
import { createHash } from 'node:crypto';
import { buildApp } from '../src/app.ts';
import { createPool, migrate } from '../src/database/database.ts';
import { JobStates } from '../src/jobs/job-states.ts';
import { keepJobAct, type JobActs } from '../src/jobs/acts.ts';
import { References } from '../src/profiles/references.ts';
import { DEMO_ACCOUNTS } from '../src/practice/accounts.ts';
import { seedDemo } from '../src/seed/demo.ts';

const JOBS = 10;
const ROUNDS = 4;
const ROUND_MILLISECOND = 1500;
const SHOP = 'shop';
const url = process.env.DATABASE_URL ?? '';

await migrate(url);
const pool = createPool(url, JOBS + 2);
await seedDemo(pool, SHOP, new Date());
await pool.query('create table if not exists bench_row (id bigserial primary key, text text)');

function report(name: string, value: string, budget: string): void {
  process.stdout.write(`${name.padEnd(62)} ${value.padStart(16)}   budget ${budget}\n`);
}

const OM = { id: 'om', role: 'technician', competences: [] } as const;
let serial = 0;
const references = new References(SHOP);
const jobs: JobActs = { pool, shopId: SHOP, references, states: new JobStates(SHOP, references), clock: () => new Date() };
const act = (stage: 'isolate', isIn: boolean) => ({ type: 'fact.stated', body: { stage, fact: { kind: 'plug', isIn } } }) as const;

for (let i = 0; i < JOBS; i++)
  await keepJobAct(
    jobs,
    `bench-${i}`,
    {
      ...{ commandId: `open-${i}`, deviceAt: new Date().toISOString(), by: 'om', version: 2 },
      papers: { vehicle: { name: 'bench', plate: '', odometerKilometre: null, note: '' }, customer: null },
      act: {
        type: 'job.opened',
        body: {
          ...{ number: 1, kind: 'wholeRepair', profileId: 'dunlin-28', profileVersion: 2, policyVersion: 1 },
          ...{ vehicle: { id: `bench-${i}`, hash: '0'.repeat(64) }, customer: null, comebackOf: null },
          moduleIds: Array.from({ length: 28 }, (_, m) => `b${i}-${m}`),
        },
      },
    },
    OM,
  );

/** Runs the work on all connections at once for a while; gives how often it was done in a second. */
async function rate(work: (lane: number) => Promise<unknown>): Promise<number> {
  const end = performance.now() + ROUND_MILLISECOND;
  let count = 0;
  await Promise.all(
    Array.from({ length: JOBS }, async (_, lane) => {
      while (performance.now() < end) {
        await work(lane);
        count++;
      }
    }),
  );
  return (1000 * count) / ROUND_MILLISECOND;
}

const service = (lane: number): Promise<unknown> =>
  keepJobAct(
    jobs,
    `bench-${lane}`,
    { commandId: `s-${++serial}`, deviceAt: new Date().toISOString(), by: 'om', version: 2, act: act('isolate', serial % 2 === 0) },
    OM,
  );

const summary = JSON.stringify(
  (await pool.query<{ body: unknown }>("select body from job_summary where job_id = 'bench-0'")).rows[0]?.body,
);
const hash = createHash('sha256').update('x').digest();
const heads = new Map<number, number>();
for (let i = 0; i < JOBS; i++) {
  await pool.query("insert into stream (shop_id, stream) values ('shop', $1)", [`hand-${i}`]);
  await pool.query(`insert into job_summary (shop_id, job_id, number, body) values ('shop', $1, $2, '{}')`, [`hand-${i}`, 900_000 + i]);
}
/** What the service does to the database, statement by statement, with nothing decided or computed. */
async function byHand(lane: number): Promise<void> {
  const id = `h-${++serial}`;
  const stream = `hand-${lane}`;
  const number = (heads.get(lane) ?? 0) + 1;
  heads.set(lane, number);
  await pool.query({
    name: 'h0',
    text: 'select outcome, body_hash from log_command where shop_id = $1 and command_id = $2',
    values: [SHOP, id],
  });
  const client = await pool.connect();
  try {
    await client.query('begin');
    await client.query({
      name: 'h1',
      text: 'select head, hash from stream where shop_id = $1 and stream = $2 for update',
      values: [SHOP, stream],
    });
    await client.query({
      name: 'h2',
      text: 'insert into job_summary (shop_id, job_id, number, body) values ($1, $2, $3, $4) on conflict (shop_id, job_id) do update set body = excluded.body',
      values: [SHOP, stream, 900_000 + lane, summary],
    });
    await client.query({
      name: 'h3',
      text: `insert into log_event (shop_id, stream, number, type, command_id, text, hash)
             select $1, $2, * from unnest($3::int[], $4::text[], $5::text[], $6::text[], $7::bytea[])`,
      values: [SHOP, stream, [number], ['fact.stated'], [id], ['{"number":1}'.padEnd(300)], [hash]],
    });
    await client.query({
      name: 'h4',
      text: 'update stream set head = $3, hash = $4 where shop_id = $1 and stream = $2',
      values: [SHOP, stream, number, hash],
    });
    await client.query({
      name: 'h5',
      text: 'insert into log_command (shop_id, command_id, body_hash, outcome) values ($1, $2, $3, $4)',
      values: [SHOP, id, hash, '{"kind":"kept","stream":"hand","first":1,"last":1,"at":""}'],
    });
    await client.query({ name: 'h6', text: `select pg_notify('estuarine', $1)`, values: [`${SHOP}:${stream}:${number}`] });
    await client.query('commit');
  } finally {
    client.release();
  }
}
const bare = (): Promise<unknown> => pool.query({ name: 'b', text: 'insert into bench_row (text) values ($1)', values: ['x'.repeat(300)] });

const rates = { service: 0, byHand: 0, bare: 0 };
await rate(service);
for (let round = 0; round < ROUNDS; round++) {
  rates.service += await rate(service);
  rates.byHand += await rate(byHand);
  rates.bare += await rate(bare);
}
report('one act kept, over the same statements by hand', (rates.service / rates.byHand).toFixed(2), 'at least 0.7');
report('  over a bare insert of one row', (rates.service / rates.bare).toFixed(2), 'printed only');

const hosts = new Set<string>();
const app = await buildApp({
  pool,
  databaseUrl: url,
  shopId: SHOP,
  secret: 'x'.repeat(40),
  clock: () => new Date(),
  hosts: () => hosts,
  requestsPerMinute: null,
  triesPerMinute: null,
});
const hello = Fastify();
hello.get('/', () => ({ hello: 'world' }));
const [address, yardstick] = await Promise.all([app, hello].map((a) => a.listen({ host: '127.0.0.1', port: 0 })));
hosts.add(new URL(address ?? '').host);

async function requests(target: string, headers: Record<string, string> = {}): Promise<number> {
  const result = await autocannon({ url: target, connections: 10, duration: 2, headers });
  if (result.non2xx > 0 && !headers['if-none-match']) throw new Error(`${result.non2xx} answers were no answers`);
  return result.requests.average;
}
const path = `${address}/api/jobs/demo-turnstone`;
const account = DEMO_ACCOUNTS[0];
const signed = await fetch(`${address}/api/session`, {
  method: 'POST',
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify({ personId: account?.id, passphrase: account?.passphrase }),
});
const cookie = (signed.headers.get('set-cookie') ?? '').split(';')[0] ?? '';
const size = Buffer.byteLength(await (await fetch(path, { headers: { cookie } })).text());
const etag = (await fetch(path, { headers: { cookie } })).headers.get('etag') ?? '';
const total = { hello: 0, whole: 0, unchanged: 0 };
await requests(yardstick ?? '');
for (let round = 0; round < 3; round++) {
  total.hello += await requests(yardstick ?? '');
  total.whole += await requests(path, { cookie });
  total.unchanged += await requests(path, { cookie, 'if-none-match': etag });
}
report(`a job's state (${(size / 1000).toFixed(1)} kB), over a bare hello`, (total.whole / total.hello).toFixed(2), 'at least 0.4');
report('  unchanged (304), over a bare hello', (total.unchanged / total.hello).toFixed(2), 'at least 0.6');
await app.close();
await hello.close();
await pool.end();

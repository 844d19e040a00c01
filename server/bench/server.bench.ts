/**
 * Speed of keeping an act and of reading a job, each as a ratio to a yardstick run in turn with it: the same statement with everything
 * decided beforehand, one row inserted under the same kind of lock, a bare insert of one row, and a server that only says hello.
 */
import Fastify from 'fastify';
import { createHash } from 'node:crypto';
import { buildApp } from '../src/app.ts';
import { createPool, migrate } from '../src/database/database.ts';
import { JobStates } from '../src/jobs/job-states.ts';
import { keepJobAct } from '../src/jobs/acts.ts';
import type { JobActs } from '../src/jobs/asked.ts';
import { References } from '../src/profiles/references.ts';
import { appendActs } from '../src/log/store.ts';
import { seedDemo } from '@estuarine/seed';
import { ensureShop } from '../src/shop/begin.ts';
import { profile, signIn } from '../test/support.ts';
import { askingRate } from './asker.ts';

const JOBS = 10;
const ROUNDS = 4;
const ROUND_MILLISECOND = 1500;
const ASKING_ROUNDS = 7;
const SHOP = 'shop';
const url = process.env.DATABASE_URL ?? '';

await migrate(url);
const pool = createPool(url, JOBS);
await seedDemo(pool, SHOP, new Date());
const SHOPS = Array.from({ length: JOBS }, (_, i) => `shop-${i}`);
for (const shopId of SHOPS) await ensureShop(pool, shopId, { isDemo: true, clock: () => new Date() });
await pool.query('create table if not exists bench_row (id bigserial primary key, text text)');

function report(name: string, value: string, budget: string): void {
  process.stdout.write(`${name.padEnd(62)} ${value.padStart(16)}   budget ${budget}\n`);
}

const OM = { id: 'om', role: 'technician', competences: [] } as const;
let serial = 0;
const act = (isIn: boolean) => ({ type: 'fact.stated', body: { stage: 'isolate', fact: { kind: 'plug', isIn } } }) as const;
const header = () => ({ commandId: `s-${++serial}`, deviceAt: new Date().toISOString(), by: 'om' });

function deskOf(shopId: string): JobActs {
  const references = new References(shopId);
  return { pool, shopId, references, states: new JobStates(shopId, references), clock: () => new Date() };
}
async function openJob(desk: JobActs, jobId: string): Promise<void> {
  const outcome = await keepJobAct(
    desk,
    jobId,
    {
      ...{ ...header(), version: 2, papers: { vehicle: { name: 'bench', plate: '', odometerKilometre: null, note: '' }, customer: null } },
      act: {
        type: 'job.opened',
        body: {
          ...{ number: 1, kind: 'wholeRepair', profileId: profile.id, profileVersion: profile.version, policyVersion: 1 },
          ...{ vehicle: { id: jobId, hash: '0'.repeat(64) }, customer: null, comebackOf: null },
          moduleIds: Array.from({ length: 28 }, (_, m) => `${jobId}-${m}`),
        },
      },
    },
    OM,
  );
  if (outcome.kind !== 'kept') throw new Error(`${jobId}: ${JSON.stringify(outcome)}`);
}
const desk = deskOf(SHOP);
const desks = SHOPS.map(deskOf);
for (let i = 0; i < JOBS; i++) {
  await openJob(desk, `bench-${i}`);
  await openJob(desks[i] ?? desk, `bench-${i}`);
}

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

const keep = (jobs: JobActs, jobId: string): Promise<unknown> =>
  keepJobAct(jobs, jobId, { ...header(), version: 3, act: act(serial % 2 === 0) }, OM);
const service = (lane: number): Promise<unknown> => keep(desk, `bench-${lane}`);
const tenShops = (lane: number): Promise<unknown> => keep(desks[lane] ?? desk, `bench-${lane}`);

const row = (
  await pool.query<{ summary: string; memory: string }>(
    "select body::text as summary, memory::text from job_summary where shop_id = $1 and job_id = 'bench-0'",
    [SHOP],
  )
).rows[0] ?? { summary: '{}', memory: '{}' };
const hash = createHash('sha256').update('x').digest();
const heads = new Map<string, number>();
for (let i = 0; i < JOBS; i++)
  for (const shopId of [SHOP, ...SHOPS]) await pool.query('insert into stream (shop_id, stream) values ($1, $2)', [shopId, `hand-${i}`]);
/** What the service asks of the database, with nothing decided or computed. */
async function append(shopId: string, lane: number): Promise<void> {
  const commandId = `h-${++serial}`;
  const number = (heads.get(`${shopId}-${lane}`) ?? 0) + 1;
  await appendActs(pool, shopId, `hand-${lane}`, number - 1, {
    rows: [{ number, type: 'fact.stated', commandId, text: '{"number":1}'.padEnd(400), hash }],
    commands: [{ commandId, outcome: { kind: 'kept', stream: 'hand', first: 1, last: 1, at: '' }, bodyHash: hash, isHeard: false }],
    row: { number: 900_000 + lane, ...row },
  });
  heads.set(`${shopId}-${lane}`, number);
}
const byHand = (lane: number): Promise<void> => append(SHOP, lane);
const byHandInTen = (lane: number): Promise<void> => append(SHOPS[lane] ?? SHOP, lane);
/** One row under a lock that is kept until the commit. */
const rowUnder = (lock: string): Promise<unknown> =>
  pool.query({
    name: 'l',
    text: `with held as materialized (select pg_advisory_xact_lock(hashtextextended($1, 0)))
           insert into bench_row (text) select $2 from held`,
    values: [lock, 'x'.repeat(400)],
  });
const lockedRow = (lane: number): Promise<unknown> => rowUnder(`row-${lane}`);
const rowInTurn = (): Promise<unknown> => rowUnder('row');
const bare = (): Promise<unknown> => pool.query({ name: 'b', text: 'insert into bench_row (text) values ($1)', values: ['x'.repeat(400)] });

const rates = { service: 0, byHand: 0, tenShops: 0, byHandInTen: 0, lockedRow: 0, rowInTurn: 0, bare: 0 };
await rate(service);
await rate(tenShops);
for (let round = 0; round < ROUNDS; round++) {
  rates.service += await rate(service);
  rates.byHand += await rate(byHand);
  rates.tenShops += await rate(tenShops);
  rates.byHandInTen += await rate(byHandInTen);
  rates.rowInTurn += await rate(rowInTurn);
  rates.lockedRow += await rate(lockedRow);
  rates.bare += await rate(bare);
}
report('one act kept, over the same statement by hand', (rates.service / rates.byHand).toFixed(2), 'at least 0.7');
report('  in ten shops, over one row under the same kind of lock', (rates.tenShops / rates.lockedRow).toFixed(2), 'at least 0.6');
report('  the same by hand in ten shops, over that row', (rates.byHandInTen / rates.lockedRow).toFixed(2), 'printed only');
report('  in ten shops, over one row under one lock for all', (rates.tenShops / rates.rowInTurn).toFixed(2), 'printed only');
report('  over a bare insert of one row', (rates.service / rates.bare).toFixed(2), 'printed only');

// requests of the network, and those that are handed in
const hosts = new Set(['localhost:80']);
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
let plain: Buffer = Buffer.alloc(0);
hello.get('/plain', (_request, reply) => reply.type('application/json; charset=utf-8').send(plain));
const [address, yardstick] = await Promise.all([app, hello].map((a) => a.listen({ host: '127.0.0.1', port: 0 })));
hosts.add(new URL(address ?? '').host);

const path = `${address}/api/jobs/demo-turnstone`;
const cookie = await signIn(app);
const state = await app.inject({ url: path, headers: { cookie, host: new URL(path).host } });
const packed = await app.inject({ url: path, headers: { cookie, host: new URL(path).host, 'accept-encoding': 'gzip' } });
plain = state.rawPayload;
const etag = String(state.headers.etag);
const kinds = {
  packed: () => askingRate(path, { cookie, 'accept-encoding': 'gzip, deflate, br' }),
  unchanged: () => askingRate(path, { cookie, 'if-none-match': etag }),
  plain: () => askingRate(path, { cookie }),
  bare: () => askingRate(`${yardstick}/plain`),
};
const ratios = { packed: [], unchanged: [], plain: [], bare: [] } as Record<keyof typeof kinds, number[]>;
await askingRate(`${yardstick}/`);
for (let round = 0; round < ASKING_ROUNDS; round++)
  for (const [kind, asked] of Object.entries(kinds) as [keyof typeof kinds, () => Promise<number>][]) {
    const before = await askingRate(`${yardstick}/`);
    const rate = await asked();
    ratios[kind].push((2 * rate) / (before + (await askingRate(`${yardstick}/`))));
  }
const size = (bytes: Buffer): string => `${(bytes.length / 1000).toFixed(1)} kB`;
/** The middle of the rounds: a moment in which the machine did something else does not count. */
const middle = (kind: keyof typeof kinds): string => ratios[kind].sort((a, b) => a - b)[ASKING_ROUNDS >> 1]?.toFixed(2) ?? '';
report(`a job's state as browsers ask for it (${size(packed.rawPayload)}), over a hello`, middle('packed'), 'at least 0.6');
report('  unchanged (304), over a hello', middle('unchanged'), 'at least 0.9');
report(`  not packed (${size(plain)}), over a hello`, middle('plain'), 'printed only');
report('  a bare server that sends as much, over a hello', middle('bare'), 'printed only');
await app.close();
await hello.close();
await pool.end();

/**
 * A whole shop as an earlier release left it: the demonstration's backup of the day before jobs were laid out in chapters, with acts of
 * every kind added, and what that release told of each job. Frozen: it must go on opening, verifying and telling the same. Left out is
 * the planned part of the line: after a restart that release drew what was done as planned once more.
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import {
  ACT_TYPES,
  findHighestPossible,
  findIsolation,
  findJobExposure,
  findLedger,
  FOLD_VERSION,
  isStageDone,
  listLayers,
  listOpenBars,
  moduleIdsOf,
  recordModules,
  rememberJob,
  STAGES,
  traceExposure,
  type JobState,
  type Policy,
  type Profile,
} from '@estuarine/core';
import type pg from 'pg';
import { createPool, migrate } from '../src/database/database.ts';
import { JobStates } from '../src/jobs/job-states.ts';
import { listJobs } from '../src/jobs/store.ts';
import { verifyChains } from '../src/log/verify.ts';
import { References } from '../src/profiles/references.ts';
import { remakeWhereOtherFold } from '../src/remake.ts';
import { keepShopAct } from '../src/shop/acts.ts';
import { createDatabase, Desk, nextId, SHOP, startApp, signIn, type TestDatabase } from './support.ts';

const FIXTURES = new URL('fixtures/', import.meta.url);
const SCRIPT = fileURLToPath(new URL('../../ops/archive.mjs', import.meta.url));
const RECORD = JSON.parse(readFileSync(new URL('shop-before-chapters.json', FIXTURES), 'utf8')) as {
  jobs: Record<string, Record<string, unknown>>;
  stock: number;
  reserved: string[];
};

let db: TestDatabase;
let pool: pg.Pool;
let states: JobStates;
let references: References;

beforeAll(async () => {
  db = await createDatabase();
  await db.pool.end();
  const folder = mkdtempSync(path.join(tmpdir(), 'estuarine-'));
  const file = path.join(folder, 'shop.archive');
  writeFileSync(file, Buffer.from(readFileSync(new URL('shop-before-chapters.archive.base64', FIXTURES), 'latin1'), 'base64'));
  const restored = spawnSync(process.execPath, [SCRIPT, 'restore', file], {
    encoding: 'utf8',
    env: { ...process.env, DATABASE_URL: db.url, NODE_OPTIONS: '' },
  });
  rmSync(folder, { recursive: true });
  if (restored.status !== 0) throw new Error(restored.stderr);
  await migrate(db.url);
  pool = createPool(db.url);
  references = new References(SHOP);
  states = new JobStates(SHOP, references);
}, 60_000);
afterAll(async () => {
  await pool.end();
  await db.drop().catch(() => undefined);
});

it('holds acts of every kind that there was', async () => {
  const { rows } = await pool.query<{ type: string }>(`select distinct type from log_event where stream <> 'shop'`);
  const kept = new Set(rows.map((r) => r.type));
  const UP = [
    ...['air.found', 'air.told', 'air.returned', 'air.driven', 'air.cleaned', 'air.checked'],
    ...['refit.checked', 'group.tightened', 'auxiliary.tested', 'spark.seen', 'wake.tried', 'car.scanned', 'codes.cleared'],
    ...['drain.measured', 'road.driven', 'energy.lent'],
    ...['cause.answered', 'report.prepared', 'warranty.given', 'terms.chosen', 'terms.met', 'core.agreed', 'core.checked'],
    ...['core.shipped', 'core.settled', 'accessory.offered', 'comeback.explained'],
    ...['fan.tested', 'fan.measured', 'cooling.judged', 'look.set'],
    'pack.turned',
    'module.dropped',
    'bars.readied',
    'sensors.sited',
    'joints.surveyed',
    'half.measured',
    'leak.tested',
    'paste.laid',
  ];
  const added = new Set([
    'job.closed',
    'job.reopened',
    'readings.moved',
    'readings.confirmed',
    'papers.corrected',
    'use.noted',
    'torque.set',
    'fastener.torqued',
    'rebuild.checked',
    'word.passed',
    'word.confirmed',
    ...UP,
  ]);
  expect(ACT_TYPES.filter((t) => !kept.has(t) && !added.has(t))).toEqual([]);
});

it('verifies, and has its tables made anew once before anybody is answered', async () => {
  expect(await verifyChains(pool)).toMatchObject({ faults: [] });
  expect(await remakeWhereOtherFold(pool)).toBeGreaterThan(500);
  expect(await remakeWhereOtherFold(pool)).toBe(0);
  const { rows } = await pool.query<{ fold_version: number }>('select fold_version from shop');
  expect(rows).toEqual([{ fold_version: FOLD_VERSION }]);
});

interface Volts {
  readonly reachable?: { readonly volt: number };
  readonly behindVolt?: number;
  readonly reachableVolt?: number;
  readonly modules?: readonly { readonly volt: number }[];
  readonly done?: readonly { readonly reachableVolt: number }[];
}

/** What the record holds, told by this release. */
function tell(state: JobState, profile: Profile, policy: Policy) {
  const now = Date.parse(state.lastAt) + 1000;
  const isolation = findIsolation(state, profile, policy.isolation, now);
  const exposure = findJobExposure(state, profile, now);
  const ledger = findLedger(state, profile);
  const { standing, lapse, insulation, wait, blockers } = isolation;
  const told = {
    ...{ head: state.head, stage: state.stage, minutes: state.minutes, undoable: Object.fromEntries(state.undoable) },
    // what came out of order is told of more facts since
    ...{
      facts: state.facts.map(({ outOfOrder: _, ...fact }) => fact),
      openLinks: listOpenBars(state.pack, profile),
      // terminal covers were one word then: all on, or all off
      pack: { ...state.pack, areCoversOff: state.pack.bareJoints.length === profile.moduleCount + 1 },
      moduleIds: moduleIdsOf(state),
    },
    isolation: {
      steps: isolation.steps.map(({ id, status, mark, detail }) => ({ id, status, mark, detail })),
      standing: standing && { endsAt: standing.endsAt, volt: standing.volt, proofId: standing.proof.proofId },
      lapse: lapse && { at: lapse.at, reason: lapse.reason },
      ...{ insulation, wait, blockers },
    },
    proofs: state.isolate.proofs.map(({ proofId, readings, signed, lapsed }) => ({ proofId, readings: readings.length, signed, lapsed })),
    exposure: {
      ...{ reachable: exposure.reachable, behindVolt: exposure.behind.volt, islands: exposure.islands, modules: exposure.modules },
      ...{ basis: exposure.basis, next: exposure.next, toLimit: exposure.toLimit },
    },
    highest: findHighestPossible(exposure, profile),
    trace: traceExposure(state, profile, now),
    records: recordModules(state, profile, policy.limits).map((r) => ({
      ...{ place: r.place, moduleId: r.moduleId, verdict: r.verdict, figures: r.figures, restingVolt: r.restingVolt },
      ...{ milliohm: r.milliohm, restDropPerHour: r.restDropPerHour, two: r.two.length },
    })),
    ledger,
    layers: listLayers(state, profile, ledger, now).map((l) => ({ ...l, id: l.place.id })),
    ...{ findings: state.finding.findings, photos: state.finding.photos, lift: state.strip.lift },
    ...{ orientation: state.open.orientation, released: state.open.released, transfers: Object.fromEntries(state.strip.transfers) },
    ...{
      plan: state.plan.chosen,
      memory: rememberJob(state, profile, 'UTC'),
      done: STAGES.filter((s) => isStageDone(s, state, profile, now)),
    },
  };
  return JSON.parse(JSON.stringify(told)) as Record<string, unknown>;
}

it.each(Object.keys(RECORD.jobs))('tells the same of %s', async (jobId) => {
  const job = await states.look(pool, jobId);
  if (!job) throw new Error('the job is not there');
  const policy = await references.policy(pool, job.state.policyVersion);
  const { summary: _, exposure, highest, trace, layers, facts, ...record } = RECORD.jobs[jobId] ?? {};
  const told = tell(job.state, job.profile, policy!);
  const kept = (facts as { outOfOrder: unknown }[]).map(({ outOfOrder: __, ...fact }) => fact);
  // intake asks for more than being opened since
  const done = (record.done as string[]).filter((stage) => stage !== 'intake');
  expect(told).toMatchObject({ ...record, facts: kept, done });
  // what the record allows is counted in full since: it raised numbers, and lowered none
  const is = (found: unknown): Volts => found as Volts;
  expect(is(told.exposure).reachable!.volt).toBeGreaterThanOrEqual(is(exposure).reachable!.volt - 1e-6);
  expect(is(told.exposure).behindVolt).toBeGreaterThanOrEqual(is(exposure).behindVolt! - 1e-6);
  expect(told.highest).toBeGreaterThanOrEqual(highest as number);
  for (const [i, module] of is(exposure).modules!.entries())
    expect(is(told.exposure).modules?.[i]?.volt).toBeGreaterThanOrEqual(module.volt - 1e-6);
  for (const [i, point] of is(trace).done!.entries())
    expect(is(told.trace).done?.[i]?.reachableVolt).toBeGreaterThanOrEqual(point.reachableVolt - 1e-6);
  for (const [i, layer] of (layers as Volts[]).entries())
    expect((told.layers as Volts[])[i]?.reachableVolt).toBeGreaterThanOrEqual(layer.reachableVolt! - 1e-6);
});

it('has the same rows in the yard, with the vehicle from a row of its own', async () => {
  const rows = await listJobs(pool, SHOP);
  expect(rows).toHaveLength(8);
  for (const row of rows) {
    const { reachableVolt, lapsedVolt, behindVolt, highestVolt: _, ...summary } = RECORD.jobs[row.jobId]?.summary as typeof row;
    expect(row).toMatchObject(summary);
    expect(row.reachableVolt).toBeGreaterThanOrEqual(reachableVolt - 1e-6);
    expect(row.lapsedVolt).toBeGreaterThanOrEqual(lapsedVolt - 1e-6);
    expect(row.behindVolt).toBeGreaterThanOrEqual(behindVolt - 1e-6);
  }
  expect(rows.every((r) => r.kind === 'wholeRepair' && r.closed === null && r.fold === FOLD_VERSION)).toBe(true);
});

it('has the same stock, reserved by the same jobs', async () => {
  const { rows } = await pool.query<{ module_id: string; reserved_by: string | null }>(
    'select module_id, reserved_by from module order by 1',
  );
  expect(rows).toHaveLength(RECORD.stock);
  expect(rows.filter((r) => r.reserved_by !== null).map((r) => r.module_id)).toEqual(RECORD.reserved);
});

it('takes new acts on an old job, and an act that a device of that release stored and sends only now', async () => {
  const desk = new Desk({ ...db, pool });
  const fact = { type: 'fact.stated', body: { stage: 'isolate', fact: { kind: 'plug', isIn: false, isLatched: false } } } as const;
  expect(await desk.keep('demo-godwit', fact)).toMatchObject({ kind: 'kept' });
  const old = { commandId: nextId(), deviceAt: new Date().toISOString(), by: 'om', version: 1 };
  const body = { number: 1, profileId: 'dunlin-28', profileVersion: 1, policyVersion: 1, vehicle: { name: 'Knot cart', plate: 'TI 9', odometerKilometre: null, note: '' }, moduleIds: Array.from({ length: 28 }, (_, i) => `late-${i}`) }; // prettier-ignore
  const sent = { ...old, act: { type: 'job.opened', body } };
  const actor = { id: 'om', role: 'technician', competences: [] } as const;
  const { keepJobAct } = await import('../src/jobs/acts.ts');
  expect(await keepJobAct(desk.jobs, 'late', sent, actor)).toMatchObject({ kind: 'kept' });
  expect((await listJobs(pool, SHOP)).find((j) => j.jobId === 'late')).toMatchObject({
    vehicleName: 'Knot cart',
    plate: 'TI 9',
    number: 9,
  });
  // the answer was lost: the same bytes again are the same act
  expect(await keepJobAct(desk.jobs, 'late', sent, actor)).toMatchObject({ kind: 'kept', first: 1 });
});

it('answers no plate any more once it was erased, though the text of the log keeps it', async () => {
  const app = await startApp({ ...db, pool });
  try {
    const cookie = await signIn(app);
    const get = async (url: string) => (await app.inject({ method: 'GET', url, headers: { cookie } })).body;
    const urls = ['', '/events', '/papers', '/job.json'].map((tail) => `/api/jobs/demo-avocet${tail}`);
    expect(await get('/api/jobs/demo-avocet/papers')).toContain('TI 140');
    const erase = { type: 'vehicle.erased', body: { vehicleId: 'demo-avocet', reason: 'asked for' } } as const;
    const shop = { pool, shopId: SHOP, clock: () => new Date() };
    const outcome = await keepShopAct(shop, { commandId: nextId(), by: 'ts', deviceAt: new Date().toISOString(), act: erase }, 'lead');
    expect(outcome).toMatchObject({ kind: 'kept' });
    for (const url of [...urls, '/api/jobs']) expect(await get(url)).not.toContain('TI 140');
    const { rows } = await pool.query<{ text: string }>(`select text from log_event where stream = 'demo-avocet' and number = 1`);
    expect(rows[0]?.text).toContain('TI 140');
  } finally {
    await app.close();
  }
});

it('does not bring an erased plate back when the tables are made anew', async () => {
  await pool.query('update shop set fold_version = 0');
  await remakeWhereOtherFold(pool);
  expect((await listJobs(pool, SHOP)).find((j) => j.jobId === 'demo-avocet')).toMatchObject({ vehicleName: 'vehicle erased', plate: '' });
  expect(await verifyChains(pool)).toMatchObject({ faults: [] });
});

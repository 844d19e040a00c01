/**
 * The demonstration: an invented boat-and-bus co-operative's workshop on a tidal island, a shelf of modules, and jobs in different
 * stages. All figures come from a fixed seed through the cell model; only the times hang on the day it is made.
 */
import {
  createGenerator,
  planSchool,
  recordModules,
  type Act,
  type Fact,
  type Generator,
  type Stage,
  type StockModule,
} from '@estuarine/core';
import type { Person } from '@estuarine/contract';
import type pg from 'pg';
import { keepJobAct, type JobActs } from '../jobs/acts.ts';
import { JobStates } from '../jobs/job-states.ts';
import { References } from '../jobs/references.ts';
import { findHead } from '../log/store.ts';
import { keepShopAct } from '../shop/acts.ts';
import { listModules } from '../shop/store.ts';
import { makeModule, readVolt, round, type Fault, type TrueModule } from './modules.ts';
import { ensureShop, readShippedProfile } from './shop.ts';

export const DEMO_PERSONS: readonly Person[] = [
  { id: 'om', name: 'Odile Marram', role: 'technician' },
  { id: 'ts', name: 'Tamsin Skerry', role: 'lead' },
  { id: 'jf', name: 'Jory Fennick', role: 'apprentice' },
];

const SEED = 20_261;
const SHELF = 400;
const HOUR = 3_600_000;
const REST_HOURS = 14;
const LOAD_AMPERE = 20;

interface DemoJob {
  readonly id: string;
  readonly number: number;
  readonly vehicle: { name: string; plate: string; odometerKilometre: number; note: string };
  /** Hours before now at which it was opened. */
  readonly hoursAgo: number;
  readonly faults: Readonly<Record<number, Fault['kind']>>;
  readonly reaches: 'fresh' | 'halfTested' | 'tested' | 'matched';
}

const JOBS: readonly DemoJob[] = [
  {
    id: 'demo-sanderling',
    number: 1,
    vehicle: {
      name: 'Dunlin harbour bus',
      plate: 'TI 114',
      odometerKilometre: 212_400,
      note: 'Loses power on the causeway; battery warning since the spring tide.',
    },
    hoursAgo: 72,
    faults: { 6: 'leaks', 19: 'tired' },
    reaches: 'matched',
  },
  {
    id: 'demo-turnstone',
    number: 2,
    vehicle: {
      name: 'Dunlin post van',
      plate: 'TI 087',
      odometerKilometre: 168_950,
      note: 'Fan runs at once after start. One block low in the scan.',
    },
    hoursAgo: 48,
    faults: { 17: 'leaks', 5: 'tired' },
    reaches: 'tested',
  },
  {
    id: 'demo-knot',
    number: 3,
    vehicle: { name: 'Dunlin school bus', plate: 'TI 031', odometerKilometre: 240_120, note: 'Stood all winter in the boat shed.' },
    hoursAgo: 20,
    faults: { 9: 'deadCell' },
    reaches: 'halfTested',
  },
  {
    id: 'demo-curlew',
    number: 4,
    vehicle: { name: 'Dunlin ferry tender', plate: 'TI 122', odometerKilometre: 96_300, note: 'In for its yearly battery check.' },
    hoursAgo: 2,
    faults: {},
    reaches: 'fresh',
  },
];

/** Fills an empty shop; does nothing when the demonstration stands already. */
export async function seedDemo(pool: pg.Pool, shopId: string, now: Date): Promise<boolean> {
  const last = JOBS[JOBS.length - 1];
  if (last && ((await findHead(pool, shopId, last.id)) ?? 0) > 0) return false;
  const first = new Date(now.getTime() - 96 * HOUR);
  await ensureShop(pool, shopId, { isDemo: true, persons: DEMO_PERSONS, clock: () => first });
  const generator = createGenerator(SEED);
  await seedShelf(pool, shopId, generator, first);
  for (const job of JOBS) await new JobSeeder(pool, shopId, job, generator, now).run();
  return true;
}

async function seedShelf(pool: pg.Pool, shopId: string, generator: Generator, at: Date): Promise<void> {
  const modules = Array.from({ length: SHELF }, (_, i): StockModule => {
    const roll = generator.next();
    const fault = roll < 0.03 ? 'leaks' : roll < 0.07 ? 'tired' : roll < 0.08 ? 'deadCell' : null;
    const module = makeModule(`S${String(i + 1).padStart(3, '0')}`, generator, fault ? { kind: fault } : null);
    const isTested = generator.next() > 0.04;
    return {
      moduleId: module.id,
      label: module.id,
      typeId: 'nimh-6-prismatic',
      capacityAh: isTested ? round(module.capacityAh, 2) : null,
      resistanceMilliohm: isTested ? round(module.milliohm, 1) : null,
      restDropMillivolt: isTested ? round(module.leakMillivoltPerHour * REST_HOURS, 0) : null,
      ocvVolt: readVolt(module, generator, REST_HOURS),
      bin: `Rack ${String.fromCharCode(65 + Math.floor(i / 100))} tray ${1 + (Math.floor(i / 10) % 10)}`,
    };
  });
  const act = { type: 'stock.imported', body: { fileName: 'winter-shelf-count.csv', modules } } as const;
  await keepShopAct(
    { pool, shopId, clock: () => at },
    { commandId: 'demo-shelf', by: 'om', deviceAt: at.toISOString(), act },
    'technician',
  );
  const quarantined = { type: 'module.quarantined', body: { moduleId: 'S042', reason: 'Case bulged; wait for the lead.' } } as const;
  await keepShopAct(
    { pool, shopId, clock: () => at },
    { commandId: 'demo-quarantine', by: 'ts', deviceAt: at.toISOString(), act: quarantined },
    'lead',
  );
}

class JobSeeder {
  readonly #jobs: JobActs;
  readonly #job: DemoJob;
  readonly #generator: Generator;
  readonly #profile = readShippedProfile('dunlin-28');
  readonly #modules: readonly TrueModule[];
  #at: number;
  #count = 0;

  constructor(pool: pg.Pool, shopId: string, job: DemoJob, generator: Generator, now: Date) {
    const references = new References(shopId);
    this.#jobs = { pool, shopId, references, states: new JobStates(shopId, references), clock: () => new Date(this.#at) };
    this.#job = job;
    this.#generator = generator;
    this.#at = now.getTime() - job.hoursAgo * HOUR;
    this.#modules = Array.from({ length: this.#profile.moduleCount }, (_, i) => {
      const kind = job.faults[i + 1];
      const id = `${String(job.number).padStart(2, '0')}-${String(i + 1).padStart(2, '0')}`;
      return makeModule(id, generator, kind ? { kind } : null);
    });
  }

  async run(): Promise<void> {
    const { number, vehicle, reaches } = this.#job;
    const moduleIds = this.#modules.map((m) => m.id);
    const versions = { profileId: this.#profile.id, profileVersion: this.#profile.version, policyVersion: 1 };
    await this.#keep({ type: 'job.opened', body: { number, ...versions, vehicle, moduleIds } });
    if (reaches === 'fresh') return;
    await this.#openPack();
    const all = this.#modules;
    const open = await this.#sweep('openCircuit', 'openCircuitVolt', all, (m) => readVolt(m, this.#generator));
    this.#at += REST_HOURS * HOUR;
    const resting = reaches === 'halfTested' ? all.slice(0, 15) : all;
    await this.#sweep('rest', 'restVolt', resting, (m) => readVolt(m, this.#generator, REST_HOURS), { restSince: open });
    if (reaches === 'halfTested') return;
    await this.#sweep('load', 'loadVolt', all, (m) => readVolt(m, this.#generator, REST_HOURS, LOAD_AMPERE), {
      loadAmpere: LOAD_AMPERE,
      loadSecond: 10,
    });
    if (reaches === 'tested') return;
    await this.#sweep('capacity', 'capacityAh', all, (m) => round(m.capacityAh, 2));
    await this.#choosePlan();
  }

  async #openPack(): Promise<void> {
    const facts: [Stage, Fact][] = this.#profile.procedure
      .filter((p) => ['isolate', 'strip', 'open'].includes(p.stage))
      .map((p) => [p.stage, p.fact]);
    for (const [stage, fact] of facts) {
      this.#at += 6 * 60_000;
      await this.#keep({ type: 'fact.stated', body: { stage, fact } });
    }
  }

  async #sweep(
    kind: 'openCircuit' | 'rest' | 'load' | 'capacity',
    quantity: 'openCircuitVolt' | 'restVolt' | 'loadVolt' | 'capacityAh',
    modules: readonly TrueModule[],
    read: (module: TrueModule) => number,
    how: { restSince?: string; loadAmpere?: number; loadSecond?: number } = {},
  ): Promise<string> {
    this.#at += 10 * 60_000;
    const { restSince = null, loadAmpere = null, loadSecond = null } = how;
    const sweepId = await this.#keep({
      type: 'sweep.started',
      body: { kind, restSince, restHour: null, loadAmpere, loadSecond, resolution: 0.001 },
    });
    for (const [i, module] of modules.entries()) {
      this.#at += 8000;
      const body = { sweepId, place: i + 1, moduleId: module.id, quantity, value: read(module) };
      await this.#keep({ type: 'reading.taken', body });
    }
    if (modules.length === this.#modules.length) await this.#keep({ type: 'sweep.ended', body: { sweepId } });
    return sweepId;
  }

  async #choosePlan(): Promise<void> {
    const { pool, shopId, states } = this.#jobs;
    const head = (await findHead(pool, shopId, this.#job.id)) ?? 0;
    const job = await states.checkOut(pool, this.#job.id, head);
    const policy = await this.#jobs.references.policy(pool, 1);
    if (!job || !policy) throw new Error('the demonstration job is not there');
    const records = recordModules(job.state, this.#profile, policy.limits);
    const placed = records.map((r) => ({
      ...{ id: r.moduleId, place: r.place, resistanceMilliohm: r.milliohm, ocvVolt: r.restingVolt },
      capacityAh: r.figures.capacityAh ?? null,
    }));
    const isReject = new Set(records.filter((r) => r.verdict === 'reject').map((r) => r.place));
    const shelf = (await listModules(pool, shopId)).filter((m) => m.inJob === null && m.reservedBy === null && m.quarantine === null);
    const { blocks: blockSizes, heatWeights, moduleType } = this.#profile;
    const planned = planSchool('spotRepairReordered', {
      survivors: placed.filter((m) => !isReject.has(m.place)),
      rejects: placed.filter((m) => isReject.has(m.place)),
      shelf: shelf.map((m) => ({ ...m, id: m.moduleId })),
      ...{ blockSizes, heatWeights, nominal: { capacityAh: moduleType.nominalCapacityAh, resistanceMilliohm: moduleType.typicalMilliohm } },
    });
    if (planned.kind === 'refused') throw new Error(planned.message);
    const { moduleIds, fromShelf, rangeAh, lowerBoundAh, proven, blockMeanAh, assumedPlaces } = planned.value;
    states.checkIn(this.#job.id, job);
    await this.#keep({
      type: 'plan.chosen',
      body: {
        school: 'spotRepairReordered',
        moduleIds: [...moduleIds],
        fromShelf: [...fromShelf],
        ...{ rangeAh, lowerBoundAh, proven, blockMeanAh: [...blockMeanAh], assumedPlaces: [...assumedPlaces] },
      },
    });
  }

  async #keep(act: Act): Promise<string> {
    const commandId = `${this.#job.id}-${++this.#count}`;
    const deviceAt = new Date(this.#at).toISOString();
    const outcome = await keepJobAct(this.#jobs, this.#job.id, { commandId, by: 'om', deviceAt, act }, 'technician');
    if (outcome.kind === 'refused') throw new Error(`${act.type}: ${outcome.message}`);
    return commandId;
  }
}

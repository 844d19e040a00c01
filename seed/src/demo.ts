/**
 * The demonstration: an invented boat-and-bus co-operative's workshop on a tidal island, a shelf of modules, and jobs in different
 * stages. All figures come from a fixed seed through the cell model; only the times hang on the day it is made.
 */
import {
  createGenerator,
  dischargeVolt,
  planSchool,
  PROOF_ENTRIES,
  recordModules,
  KIND_RULES,
  NO_HASH,
  versionOf,
  type Act,
  type Fact,
  type Generator,
  type JobState,
  type Profile,
  type ProofEntry,
  type SideUp,
} from '@estuarine/core';
import type { Papers } from '@estuarine/contract';
import {
  Calculators,
  createProver,
  DEMO_ACCOUNTS,
  ensureShop,
  findGear,
  findHead,
  hasAnyCredential,
  hiddenPackOf,
  JobStates,
  keepJobAct,
  listCompetences,
  listModules,
  readPicture,
  readShippedProfile,
  References,
  savePhoto,
  type JobActs,
} from '@estuarine/server';
import type pg from 'pg';
import { DEMO_JOBS, type DemoJob } from './demo-jobs.ts';
import { makeModule, readVolt, round, type TrueModule } from './modules.ts';
import { seedPeopleAndGear } from './people-and-gear.ts';
import { seedShelf } from './shelf.ts';
import { putBack, scanOf, tightenAll } from './returning.ts';
import { drawPhoto, lying, mishaps, takeOff } from './stripping.ts';
import { seedTerms } from './terms.ts';
import { buildUp, cleanAir, finish, putAllBack, type Walked } from './whole-way.ts';

const SEED = 20_261;
const HOUR = 3_600_000;
const REST_HOURS = 14;
const LOAD_AMPERE = 20;

/**
 * Fills a shop with what is missing of the demonstration: all of it, or what a newer release adds to one that stands. Gives whether
 * anything was written.
 */
export async function seedDemo(pool: pg.Pool, shopId: string, now: Date): Promise<boolean> {
  const missing: DemoJob[] = [];
  for (const job of DEMO_JOBS) if (((await findHead(pool, shopId, job.id)) ?? 0) === 0) missing.push(job);
  if (missing.length === 0 && (await hasAnyCredential(pool, shopId))) return false;
  const first = new Date(now.getTime() - 96 * HOUR);
  await ensureShop(pool, shopId, { isDemo: true, clock: () => first });
  if (!(await hasAnyCredential(pool, shopId))) await seedPeopleAndGear(pool, shopId, first, now);
  const generator = createGenerator(SEED);
  await seedShelf(pool, shopId, generator, first);
  await seedTerms(pool, shopId, first);
  for (const job of missing) {
    const seeder = new JobSeeder(pool, shopId, job, generator, now);
    await seeder.run().finally(() => seeder.close());
  }
  return true;
}

/** Gloves and words of mouth hold for a day of the shop, whose zone is UTC here: no isolation may begin so late that it ends on the next. */
function wellBeforeMidnight(at: number): number {
  return (at % (24 * HOUR)) + HOUR > 24 * HOUR ? at - HOUR : at;
}

class JobSeeder {
  readonly #jobs: JobActs;
  readonly #calculators: Calculators;
  readonly #job: DemoJob;
  readonly #generator: Generator;
  readonly #profile: Profile;
  readonly #modules: readonly TrueModule[];
  #at: number;
  #count = 0;
  #turn = 0;

  constructor(pool: pg.Pool, shopId: string, job: DemoJob, generator: Generator, now: Date) {
    const references = new References(shopId);
    const states = new JobStates(shopId, references);
    const calculators = new Calculators();
    const prove = createProver({ pool, shopId, findJob: (jobId) => states.look(pool, jobId), calculators });
    this.#jobs = { pool, shopId, references, states, clock: () => new Date(this.#at), prove };
    this.#calculators = calculators;
    this.#walked = {
      ...{ profile: readShippedProfile(job.profileId), look: () => this.#look() },
      keepAll: (acts, minutes) => this.#keepAll(acts, minutes),
      tighten: (part, pass) => this.#tighten(part, pass),
    };
    this.#job = job;
    this.#generator = generator;
    this.#at = wellBeforeMidnight(now.getTime() - job.hoursAgo * HOUR);
    this.#profile = readShippedProfile(job.profileId);
    this.#modules = Array.from({ length: this.#profile.moduleCount }, (_, i) => {
      const kind = job.faults[i + 1];
      const id = `${String(job.number).padStart(2, '0')}-${String(i + 1).padStart(2, '0')}`;
      const wear = job.isCooked ? (this.#profile.heatWeights[i] ?? 1) - 1 : 0;
      return makeModule(id, generator, kind ? { kind } : null, this.#profile.moduleType.cells, wear);
    });
  }

  async run(): Promise<void> {
    const { id, number, vehicle, customer = null, kind = 'wholeRepair', reaches } = this.#job;
    const moduleIds = KIND_RULES[kind].namesModules ? this.#modules.map((m) => m.id) : [];
    const versions = { profileId: this.#profile.id, profileVersion: this.#profile.version, policyVersion: 1 };
    // the server fills the hashes in
    const rows = { vehicle: { id: `${id}-vehicle`, hash: NO_HASH }, customer: customer && { id: `${id}-customer`, hash: NO_HASH } };
    await this.#keep(
      { type: 'job.opened', body: { number, kind, ...versions, ...rows, comebackOf: this.#job.comebackOf ?? null, moduleIds } },
      'om',
      {
        vehicle,
        customer,
      },
    );
    if (this.#job.use) await this.#keep({ type: 'use.noted', body: this.#job.use });
    if (reaches === 'fresh') return;
    if (reaches === 'draining') return this.#drain();
    if (reaches === 'stripping') return this.#beginStrip();
    if (reaches === 'waking' || reaches === 'driven') return this.#exchange(reaches);
    if (reaches === 'returned') return this.#comeBack();
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
    if (reaches === 'fouled') return this.#lookAtAir();
    if (reaches === 'closed') await cleanAir(this.#walked, [0.1, 0.05, 0.8, 0.1, 0]);
    await this.#choosePlan();
    if (reaches === 'closed') return this.#handOver();
    if (reaches === 'stacking' || reaches === 'tightening') await this.#rebuild(reaches);
  }

  close(): Promise<void> {
    return this.#calculators.close();
  }

  async #openPack(): Promise<void> {
    await this.#isolate();
    for (const stage of ['strip', 'open'] as const) {
      const facts = this.#profile.procedure.filter((p) => p.stage === stage).map((p): Act => ({ type: 'fact.stated', body: p }));
      if (stage === 'strip') await this.#strip(Infinity, 1.5);
      await this.#keepAll(facts, 6);
    }
    await this.#keepAll([...takeOff(this.#profile, 'open'), lying(this.#profile), { type: 'modules.released', body: {} }], 2);
    const bars = this.#profile.layers.find((l) => l.fact?.kind === 'frame' || l.fact?.kind === 'links')?.id ?? null;
    const { act, picture } = await drawPhoto(`${this.#job.id}-photo-1`, 'Bars before they came off', bars, false);
    const { photoId, sha256 } = act.body;
    await this.#keep(act);
    const kept = await readPicture(picture);
    await savePhoto(this.#jobs.pool, this.#jobs.shopId, {
      jobId: this.#job.id,
      photoId,
      sha256,
      picture: kept.picture,
      print: kept.print,
      small: kept.small,
      by: 'om',
      at: new Date(this.#at),
    });
    await this.#keep({
      type: 'finding.noted',
      body: {
        ...{ stage: 'open', kind: 'corrosion', severity: 'severe', follow: 'renew', isOnArrival: false },
        ...{ pin: { on: 'photo', photoId, x: 0.36, y: 0.4 }, note: 'Two bars black, green bloom at the nut.' },
      },
    });
  }

  /** Two zones cleared, then left: it waits for a bolt. */
  async #beginStrip(): Promise<void> {
    await this.#isolate();
    await this.#strip(2, 3);
  }

  async #strip(zones: number, minutes: number): Promise<void> {
    const odd = mishaps(this.#profile);
    await this.#keepAll([...odd, ...takeOff(this.#profile, 'strip', zones, odd)], minutes);
  }

  async #keepAll(acts: readonly Act[], minutes: number): Promise<void> {
    for (const act of acts) {
      this.#at += minutes * 60_000;
      // what the profile does not know carries the id of the act that told of it
      const id = await this.#keep(act);
      if (act.type === 'part.added') await this.#keep(this.#outOf(id));
    }
  }

  #outOf(partId: string): Act {
    const [from, to] = [{ kind: 'inPlace' }, { kind: 'tray', cell: 'H6' }] as const;
    return { type: 'part.moved', body: { stage: 'strip', partId, count: 1, from, to, condition: 'good' } };
  }

  /** Made dead, waited for, proven and signed; then the cables off and insulated, the pack's own posts capped. */
  async #isolate(): Promise<void> {
    const { isolation, procedure } = this.#profile;
    const say = (fact: Fact): Act => ({ type: 'fact.stated', body: { stage: 'isolate', fact } });
    const before = procedure.filter((p) => p.stage === 'isolate' && p.fact.kind !== 'connectors').map((p) => say(p.fact));
    await this.#keepAll([{ type: 'gear.picked', body: { use: 'gloves', gearId: 'G-07', isAirTested: true } }, ...before], 2);
    for (const { id } of isolation.extraSteps) await this.#keep({ type: 'step.done', body: { stepId: id, note: '' } });
    this.#at += 16 * 60_000;
    const known = { lowVolt: 9, highVolt: 16 };
    const start = {
      meterId: 'M-02',
      source: 'battery',
      sourceId: null,
      point: isolation.point,
      known,
      limitVolt: 30,
      resolutionVolt: 0.1,
    } as const;
    const proofId = await this.#keep({ type: 'proof.started', body: start });
    for (const [i, entry] of PROOF_ENTRIES.entries()) {
      this.#at += 12_000;
      const volt = entry.startsWith('known') ? 12.4 : round(0.1 + 0.05 * i, 1);
      await this.#keep({ type: 'proof.read', body: { proofId, entry, volt, isFromMeter: false } });
    }
    await this.#keep({ type: 'proof.signed', body: { proofId, until: null, breakMinute: 60 } });
    const cables = procedure.filter((p) => p.stage === 'isolate' && p.fact.kind === 'connectors').map((p) => say(p.fact));
    await this.#keepAll([...cables, say({ kind: 'outletPosts', areBare: false })], 4);
  }

  /** Isolated by the apprentice a few minutes ago; the capacitors still drain. */
  async #drain(): Promise<void> {
    const state = async (fact: Fact, minutes: number): Promise<void> => {
      this.#at += minutes * 60_000;
      await this.#keep({ type: 'fact.stated', body: { stage: 'isolate', fact } }, 'jf');
    };
    await state({ kind: 'key', isAway: true, custody: 'lock box 2' }, 2);
    await this.#keep({ type: 'gear.picked', body: { use: 'gloves', gearId: 'G-07', isAirTested: true } }, 'jf');
    await this.#keep({ type: 'step.done', body: { stepId: 'no-lending', note: '' } }, 'jf');
    await state({ kind: 'twelveVolt', isOff: true }, 2);
    await state({ kind: 'plug', isIn: false, custody: 'parked in the second socket' }, 1);
    const known = { lowVolt: 9, highVolt: 16 };
    const proofId = await this.#keep(
      {
        type: 'proof.started',
        body: {
          ...{ meterId: 'M-02', source: 'battery', sourceId: null, point: this.#profile.isolation.point },
          ...{ known, limitVolt: 30, resolutionVolt: 0.1 },
        },
      },
      'jf',
    );
    const read = async (entry: ProofEntry, volt: number, seconds: number): Promise<void> => {
      this.#at += seconds * 1000;
      await this.#keep({ type: 'proof.read', body: { proofId, entry, volt, isFromMeter: false } }, 'jf');
    };
    const truth = hiddenPackOf(this.#job.id, this.#profile);
    const plugOut = this.#at;
    await read('knownBefore', 12.41, 20);
    for (const seconds of [100, 60, 60, 60]) {
      const second = (this.#at + seconds * 1000 - plugOut) / 1000;
      await read('plusMinus', round(dischargeVolt(truth.stringVolt, truth.tauSecond, second), 1), seconds);
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
      body: { kind, restSince, restHour: null, loadAmpere, loadSecond, recovered: 'none', resolution: 0.001 },
    });
    for (const [i, module] of modules.entries()) {
      this.#at += 8000;
      const body = { sweepId, place: i + 1, moduleId: module.id, quantity, value: read(module) };
      await this.#keep({ type: 'reading.taken', body });
    }
    if (modules.length === this.#modules.length) await this.#keep({ type: 'sweep.ended', body: { sweepId } });
    return sweepId;
  }

  /** A wheel four fifths shut with hair and lint, all else nearly clean. */
  async #lookAtAir(): Promise<void> {
    const shares: readonly number[] = [0.1, 0.05, 0.8, 0.1, 0];
    await this.#keepAll(
      shares.map((blockedShare, part): Act => ({ type: 'air.found', body: { part, when: 'asFound', blockedShare, note: '' } })),
      2,
    );
  }

  /** Another pack is in: its plug not latched yet and the 12 V flat from standing, or woken, driven and waiting for its trim. */
  async #exchange(reaches: 'waking' | 'driven'): Promise<void> {
    const profile = this.#profile;
    const state = (fact: Fact): Act => ({ type: 'fact.stated', body: { stage: 'refit', fact } });
    const [block, lackVolt] = [5, 1.4];
    const own = profile.scan?.codes.find((c) => c.block === block)?.code ?? 'P0A80';
    const found = [own, 'P0A80'].flatMap((code) => (['stored', 'permanent'] as const).map((status) => ({ code, status })));
    await this.#keep(scanOf(profile, 'asFound', { block, lackVolt }, found));
    await this.#isolate();
    await this.#strip(Infinity, 1);
    await this.#keepAll(profile.procedure.filter((p) => p.stage === 'strip').map((body): Act => ({ type: 'fact.stated', body })), 4); // prettier-ignore
    const across = profile.transfer.map(({ id, fate }): Act => ({ type: 'transfer.stated', body: { transferId: id, fate, isDone: true } }));
    await this.#keepAll([...across, state({ kind: 'pack', isOnBench: false })], 2);
    await this.#keepAll(putBack(await this.#look(), profile, 'wake'), 1);
    await this.#keepAll(tightenAll(await this.#look(), profile), 1);
    const seen = (['cablesHeld', 'harnessSeen'] as const).map((check): Act => ({ type: 'refit.checked', body: { check, isGood: true, note: '' } })); // prettier-ignore
    await this.#keepAll([state({ kind: 'connectors', are: 'closed' }), ...seen], 1);
    if (reaches === 'waking') return this.#keepAll([state({ kind: 'plug', isIn: true })], 1);
    const woken: Act = {
      type: 'wake.tried',
      body: { readyLight: true, lampsOut: false, engine: 'byItself', charging: 'takes', chargePercent: 62, note: '' },
    };
    const clear: Act = { type: 'codes.cleared', body: { reader: 'Scan reader (simulated)' } };
    const permanent = found.filter((c) => c.status === 'permanent');
    await this.#keepAll(
      [
        { type: 'auxiliary.tested', body: { restVolt: 12.88, loadVolt: 10.7, celsius: 17, isFromTester: true } },
        state({ kind: 'plug', isIn: true, isLatched: true }),
        { type: 'spark.seen', body: { spark: 'small' } },
        ...[state({ kind: 'twelveVolt', isOff: false }), state({ kind: 'key', isAway: false }), woken],
        ...[scanOf(profile, 'afterRepair', null, found), clear, scanOf(profile, 'afterRepair', null, permanent)],
        { ...woken, body: { ...woken.body, lampsOut: true } },
      ],
      2,
    );
    await this.#keepAll(putBack(await this.#look(), profile, 'drive'), 1);
    await this.#keepAll(tightenAll(await this.#look(), profile), 1);
    const drive = {
      minute: 25,
      spreadLoadVolt: 0.06,
      spreadChargeVolt: 0.05,
      highestCelsius: 34,
      isGood: true,
      note: 'Causeway and back.',
    };
    await this.#keepAll([{ type: 'road.driven', body: drive }, scanOf(profile, 'afterRoadTest', null, [])], 12);
  }

  readonly #walked: Walked;

  /** The whole way: up, back, driven, and closed; the deposit of the old module is still out. */
  async #handOver(): Promise<void> {
    await buildUp(this.#walked);
    await putAllBack(this.#walked, this.#profile.scan?.codes[4]?.code ?? 'P0A80');
    await finish(this.#walked, new Date(this.#at + 9 * 24 * HOUR).toISOString().slice(0, 10));
    const closed: Act = { type: 'job.closed', body: { outcome: 'finished', note: 'Fetched by the owner.' } };
    await this.#keepAll([{ type: 'terms.chosen', body: { terms: { id: 'marsh-cells', version: 1 } } }, closed], 1);
  }

  /** Back again: scanned as it came, one block low, and the grille shut anew. */
  async #comeBack(): Promise<void> {
    const [block, lackVolt] = [7, 0.9];
    const own = this.#profile.scan?.codes.find((c) => c.block === block)?.code ?? 'P0A80';
    await this.#keepAll(
      [
        scanOf(this.#profile, 'asFound', { block, lackVolt }, [
          { code: own, status: 'stored' },
          { code: 'P0A80', status: 'stored' },
        ]),
        { type: 'air.found', body: { part: 0, when: 'asFound', blockedShare: 0.3, note: 'A blanket lay over the grille.' } },
      ],
      4,
    );
  }

  async #look(): Promise<JobState> {
    const job = await this.#jobs.states.look(this.#jobs.pool, this.#job.id);
    if (!job) throw new Error('the demonstration job is not there');
    return job.state;
  }

  /** The stack with one module the wrong way round, or with one side barred and tightened but for a nut forgotten and a nut that slipped. */
  async #rebuild(reaches: 'stacking' | 'tightening'): Promise<void> {
    const { pool, states } = this.#jobs;
    const planned = (await states.look(pool, this.#job.id))?.state.plan.chosen?.moduleIds ?? [];
    const laid = reaches === 'stacking' ? planned.slice(0, 11) : planned;
    const turned = reaches === 'stacking' ? 8 : 0;
    const lay = (moduleId: string, i: number): Act => {
      const fact: Fact = { kind: 'module', place: i + 1, moduleId, isTurned: i + 1 === turned };
      return { type: 'fact.stated', body: { stage: 'rebuild', fact } };
    };
    await this.#keepAll(laid.map(lay), 0.4);
    if (reaches === 'stacking') return;
    let up: SideUp = 'top';
    for (const step of this.#profile.rebuild) {
      if (step.up !== null && step.up !== up) await this.#keep({ type: 'pack.turned', body: { up: (up = step.up) } });
      const fact = this.#profile.layers.find((l) => l.id === step.layer)?.fact;
      const isBarred = fact?.kind === 'frame';
      if (isBarred) await this.#keep({ type: 'fact.stated', body: { stage: 'rebuild', fact: { ...fact, isOff: false } } });
      if (step.does === 'bars')
        await this.#keep({
          type: 'bars.readied',
          body: { frame: null, how: 'new', isInFrame: true, isDry: null, plating: null, haveNewNuts: true },
        });
      if (step.does === 'sensors') {
        const sites = this.#profile.sensors.map(({ id, place }) => ({ sensorId: id, place }));
        await this.#keep({ type: 'sensors.sited', body: { school: 'asMade', sites } });
      }
      for (const part of this.#profile.parts.filter((p) => step.parts.includes(p.id)))
        await this.#tighten(part, 1, isBarred ? { forgotten: 7, slipped: 12 } : {});
      if (isBarred) return;
      const checks = step.looks.map((check): Act => ({ type: 'rebuild.checked', body: { check, isGood: true, note: '' } }));
      if (checks.length > 0) await this.#keepAll(checks, 0.5);
    }
  }

  /** One key a piece; the one that slipped was read from the tool, twelve times too much. */
  async #tighten(
    part: Profile['parts'][number],
    pass: 1 | 2,
    odd: { readonly forgotten?: number; readonly slipped?: number } = {},
  ): Promise<void> {
    const { torque, count, id: partId } = part;
    if (!torque || count === null) return;
    const tool = torque.newtonMetre <= 10 ? 'T-1' : 'T-3';
    // a shop of an earlier release has no large one
    if (!(await findGear(this.#jobs.pool, this.#jobs.shopId, tool))) return;
    const set = (reads: 'click' | 'figure'): Promise<string> =>
      this.#keep({ type: 'torque.set', body: { partId, toolId: tool, reads, setNewtonMetre: torque.newtonMetre, toolLabel: '' } });
    const shown = odd.slipped === undefined ? null : await set('figure');
    const clicks = await set('click');
    for (let seat = 1; seat <= count; seat++) {
      if (seat === odd.forgotten) continue;
      this.#at += 9000;
      const slip = seat === odd.slipped && shown ? { settingId: shown, newtonMetre: round(12 * torque.newtonMetre, 1) } : null;
      await this.#keep({ type: 'fastener.torqued', body: { partId, seat, pass, settingId: clicks, newtonMetre: null, ...slip } });
    }
  }

  async #choosePlan(): Promise<void> {
    const { pool, shopId, states } = this.#jobs;
    const job = await states.look(pool, this.#job.id);
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
    const { moduleIds, fromShelf } = planned.value;
    await this.#keep({
      type: 'plan.chosen',
      body: {
        ...{ school: 'spotRepairReordered', moduleIds: [...moduleIds], fromShelf: [...fromShelf] },
        // computed where the plan is kept
        ...{ rangeAh: null, lowerBoundAh: null, proven: false, blockMeanAh: [], assumedPlaces: [] },
      },
    });
  }

  async #keep(act: Act, by = 'om', papers?: Papers): Promise<string> {
    const commandId = `${this.#job.id}-${++this.#count}`;
    const deviceAt = new Date(this.#at).toISOString();
    const role = DEMO_ACCOUNTS.find((a) => a.id === by)?.role ?? 'apprentice';
    const device = { id: 'demo-tablet', turn: this.#turn++, isClockSure: true };
    const sent = { commandId, by, deviceAt, device, version: versionOf(act), act, ...(papers ? { papers } : {}) };
    const isSigning = act.type === 'proof.signed';
    const competences = isSigning ? (await listCompetences(this.#jobs.pool, this.#jobs.shopId)).filter((c) => c.personId === by) : [];
    const outcome = await keepJobAct(this.#jobs, this.#job.id, sent, { id: by, role, competences });
    if (outcome.kind === 'refused') throw new Error(`${act.type}: ${outcome.message}`);
    return commandId;
  }
}

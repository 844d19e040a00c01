/**
 * The instruments of the demonstration, always labelled as simulated: they speak SCPI on loopback as real ones do and read the hidden
 * pack of a job.
 */
import { createHash } from 'node:crypto';
import type { InstrumentRow } from '@estuarine/contract';
import {
  hidePack,
  leadVolt,
  PROOF_ENTRIES,
  turnFan,
  type HiddenCar,
  type HiddenPack,
  type Instrument,
  type Profile,
  type ProofEntry,
} from '@estuarine/core';
import type { Bench, InstrumentSource, Leads } from '../instruments/bench.ts';
import { startCar } from './car.ts';
import { startStandIn, type RunningStandIn } from './stand-ins.ts';

/** What is known of a practice job: by which profile it is built, and what was cut when. */
export interface PracticeJob {
  readonly profile: Profile;
  readonly plugOutAt: string | null;
  readonly twelveVoltOffAt: string | null;
  /** What was seen of its air path, the last of a part counts. */
  readonly airFound: readonly { readonly part: number; readonly blockedShare: number }[];
  /** What a scan finds, but for what the 12 V battery is worth. */
  readonly car: Omit<HiddenCar, 'isAuxiliaryLow'>;
  /** How often the 12 V battery was tested: it is charged after the first time. */
  readonly auxiliaryTests: number;
}

export interface PracticeOptions {
  readonly clock: () => Date;
  readonly findJob: (jobId: string) => Promise<PracticeJob | null>;
  /** What is written on a proving unit; null where it is none. */
  readonly findOutputVolt: (gearId: string) => Promise<number | null>;
}

const SPECIAL: Readonly<Record<string, Partial<HiddenPack>>> = {
  'demo-curlew': { tauSecond: 160 },
  'demo-plover': { isContactorStuck: true },
  'demo-bittern': { batteryVolt: 11.7 },
};

/** The pack that a job hides, the same at every start. */
export function hiddenPackOf(jobId: string, profile: Profile): HiddenPack {
  const roll = createHash('sha256').update(jobId).digest();
  return { ...hidePack(profile, (i) => (roll[i] ?? 0) / 255), ...SPECIAL[jobId] };
}

/** Starts the simulated instruments and attaches them to the bench. */
export async function attachPractice(bench: Bench, options: PracticeOptions): Promise<void> {
  const meter = await startStandIn({ name: 'bench meter', answer: (query, leads) => readMeter(query, leads, options) });
  const insulation = await startStandIn({ name: 'insulation tester', answer: (query, leads) => readTester(query, leads, options) });
  const unit = await startStandIn({ name: 'proving unit', answer: (query) => Promise.resolve(query === 'SOUR:VOLT?' ? '240' : null) });
  const wrench = await startStandIn({ name: 'torque tool', answer: (query, leads) => Promise.resolve(readTorque(query, leads)) });
  const supply = await startStandIn({ name: 'bench supply', answer: (query, leads) => readFan(query, leads, options) });
  const flow = await startStandIn({ name: 'airflow meter', answer: (query, leads) => readFan(query, leads, options) });
  const tester = await startStandIn({ name: '12 V tester', answer: (query, leads) => readAuxiliary(query, leads, options) });
  const car = await startCar(async (jobId) => {
    const job = await options.findJob(jobId);
    return job && { profile: job.profile, car: { ...job.car, isAuxiliaryLow: auxiliaryVolt(jobId, job) < LOW_VOLT } };
  });
  bench.attach(sourceOf('sim-twelve', '12 V tester', 'batteryTester', null, tester));
  bench.attach(sourceOf('sim-scan', 'Scan reader', 'scanTool', null, car));
  bench.attach(sourceOf('sim-supply', 'Bench supply', 'supply', null, supply));
  bench.attach(sourceOf('sim-airflow', 'Airflow meter', 'airflowMeter', null, flow));
  bench.attach(sourceOf('sim-torque', 'Torque tool', 'torqueTool', 'T-1', wrench));
  bench.attach(sourceOf('sim-meter', 'Bench meter', 'meter', 'M-02', meter));
  bench.attach(sourceOf('sim-insulation', 'Insulation tester', 'insulationTester', 'I-1', insulation));
  bench.attach(sourceOf('sim-proving', 'Proving unit', 'provingUnit', 'P-1', unit));
}

function sourceOf(
  instrumentId: string,
  name: string,
  kind: Instrument['kind'],
  gearId: string | null,
  running: RunningStandIn,
): InstrumentSource {
  const row: InstrumentRow = {
    ...{ instrumentId, name: `${name} (simulated)`, kind, host: '127.0.0.1', port: running.port, gearId, isSimulated: true },
  };
  return { row, settingsFor: sayLeads, close: running.close };
}

/** Nobody holds the leads of a simulated meter: it is told where they lie. */
function sayLeads({ jobId, place, sourceId }: Leads): string[] {
  return [`SIMulate:LEADs "${jobId} ${place} ${sourceId ?? '-'}"`];
}

/** A hand that stops at the click: within three hundredths of what the tool is set to, the same for the same setting. */
function readTorque(query: string, leads: string | null): string | null {
  const set = Number(/^torque (\d+(?:\.\d+)?)$/.exec(leads ?? '')?.[1] ?? Number.NaN);
  if (!Number.isFinite(set)) return null;
  const roll = (createHash('sha256').update(`${set}`).digest()[0] ?? 0) / 255;
  if (/^(MEAS|READ):TORQ(UE)?\?$/.test(query)) return (set * (1 + 0.06 * (roll - 0.5))).toFixed(2);
  return /^(MEAS|READ):ANGL(E)?\?$/.test(query) ? (28 + 12 * roll).toFixed(0) : null;
}

/** A battery below this keeps a car from waking. */
const LOW_VOLT = 12;
const CHARGED_VOLT = 12.75;

function auxiliaryVolt(jobId: string, { profile, auxiliaryTests }: PracticeJob): number {
  const found = hiddenPackOf(jobId, profile).batteryVolt;
  return auxiliaryTests > 0 && found < LOW_VOLT ? CHARGED_VOLT : found;
}

async function readAuxiliary(query: string, leads: string | null, { findJob }: PracticeOptions): Promise<string | null> {
  const jobId = /^auxiliary (\S+)$/.exec(leads ?? '')?.[1] ?? '';
  const job = await findJob(jobId).catch(() => null);
  if (!job) return null;
  const volt = auxiliaryVolt(jobId, job) + (job.profile.wake.auxiliary.kind === 'glassMat' ? 0.2 : 0);
  if (/^MEAS:VOLT:LOAD\?$/.test(query)) return (volt < LOW_VOLT ? volt - 4 : volt - 2.2).toFixed(2);
  if (/^MEAS:VOLT:DC\?$/.test(query)) return (volt + 0.25).toFixed(2);
  return /^MEAS:TEMP\?$/.test(query) ? '18' : null;
}

/** The fan of a job as it was last seen: what sits in its wheel sits in it here. */
async function readFan(query: string, leads: string | null, { findJob }: PracticeOptions): Promise<string | null> {
  const [, jobId = '', part = '', volt = ''] = /^fan (\S+) (\d+) (\d+(?:\.\d+)?)$/.exec(leads ?? '') ?? [];
  if (volt === '') return null;
  const job = await findJob(jobId).catch(() => null);
  if (!job) return null;
  const roll = (createHash('sha256').update(`${jobId} fan ${part}`).digest()[0] ?? 0) / 255;
  const seen = job.airFound.findLast((f) => f.part === Number(part))?.blockedShare ?? 0;
  const fan = { freeCubicMetrePerHour: 2 * job.profile.cooling.cleanCubicMetrePerHour, blockedShare: seen, wear: 0.15 * roll };
  const { ampere, cubicMetrePerHour } = turnFan(fan, Number(volt));
  if (/^(MEAS|READ):CURR(ENT)?\?$/.test(query)) return ampere.toFixed(2);
  return /^(MEAS|READ):FLOW\?$/.test(query) ? cubicMetrePerHour.toFixed(0) : null;
}

async function readMeter(query: string, leads: string | null, options: PracticeOptions): Promise<string | null> {
  if (!/^(MEAS|READ)(:VOLT(:DC)?)?\?$/.test(query)) return null;
  const read = await readLeads(leads, options);
  if (!read) return null;
  const { job, pack, place, knownVolt } = read;
  const volt = leadVolt(place, pack, job, job.profile.plug, knownVolt, options.clock().getTime());
  return (Math.round(volt * 10) / 10).toFixed(1);
}

async function readTester(query: string, leads: string | null, options: PracticeOptions): Promise<string | null> {
  if (!/^(MEAS|READ)(:RES)?\?$/.test(query)) return null;
  const read = await readLeads(leads, options);
  if (!read) return null;
  return Math.round(read.place === 'plusChassis' ? read.pack.plusInsulationOhm : read.pack.minusInsulationOhm).toString();
}

interface ReadLeads {
  readonly job: PracticeJob;
  readonly pack: HiddenPack;
  readonly place: ProofEntry;
  readonly knownVolt: number | null;
}

async function readLeads(leads: string | null, { findJob, findOutputVolt }: PracticeOptions): Promise<ReadLeads | null> {
  const [jobId = '', word = '', sourceId = '-'] = (leads ?? '').split(' ');
  const place = PROOF_ENTRIES.find((e) => e === word);
  const job = place ? await findJob(jobId).catch(() => null) : null;
  if (!job || !place) return null;
  const knownVolt = sourceId === '-' ? null : await findOutputVolt(sourceId);
  return { job, pack: hiddenPackOf(jobId, job.profile), place, knownVolt };
}

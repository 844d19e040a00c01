/** The instruments of a shop: those it added, and in a demonstration the simulated ones, all asked by the same driver. */
import type { InstrumentRow, MeasureAnswer } from '@estuarine/contract';
import { PROOF_ENTRIES, type Instrument, type ProofEntry } from '@estuarine/core';
import type pg from 'pg';
import { findGear } from '../gear/store.ts';
import type { FoldedJob } from '../jobs/job-states.ts';
import { HttpProblem } from '../problem.ts';
import { hiddenTruth, leadVolt } from './hidden-truth.ts';
import { InstrumentSilent, ScpiLine } from './scpi.ts';
import { startStandIn, type RunningStandIn } from './stand-ins.ts';
import { listInstruments } from './store.ts';

export interface BenchOptions {
  readonly pool: pg.Pool;
  readonly shopId: string;
  readonly clock: () => Date;
  readonly findJob: (jobId: string) => Promise<FoldedJob | null>;
}

/** Where the leads lie: on which job, at which entry of the proof, by which known source. */
export interface Leads {
  readonly jobId: string;
  readonly place: ProofEntry;
  readonly sourceId: string | null;
}

export class Bench {
  readonly #options: BenchOptions;
  readonly #lines = new Map<string, ScpiLine>();
  #standIns: { readonly row: InstrumentRow; readonly running: RunningStandIn }[] = [];

  constructor(options: BenchOptions) {
    this.#options = options;
  }

  /** Starts the simulated instruments; for a demonstration only. */
  async startStandIns(): Promise<void> {
    const meter = await startStandIn({ name: 'bench meter', answer: (query, leads) => this.#readMeter(query, leads) });
    const tester = await startStandIn({ name: 'insulation tester', answer: (query, leads) => this.#readTester(query, leads) });
    const unit = await startStandIn({ name: 'proving unit', answer: (query) => Promise.resolve(query === 'SOUR:VOLT?' ? '240' : null) });
    const row = (
      instrumentId: string,
      name: string,
      kind: Instrument['kind'],
      gearId: string,
      { port }: RunningStandIn,
    ): InstrumentRow => ({
      ...{ instrumentId, name: `${name} (simulated)`, kind, host: '127.0.0.1', port, gearId, isSimulated: true },
    });
    this.#standIns = [
      { running: meter, row: row('sim-meter', 'Bench meter', 'meter', 'M-02', meter) },
      { running: tester, row: row('sim-insulation', 'Insulation tester', 'insulationTester', 'I-1', tester) },
      { running: unit, row: row('sim-proving', 'Proving unit', 'provingUnit', 'P-1', unit) },
    ];
  }

  async list(): Promise<InstrumentRow[]> {
    const added = await listInstruments(this.#options.pool, this.#options.shopId);
    return [...this.#standIns.map((s) => s.row), ...added.map((i) => ({ ...i, isSimulated: false }))];
  }

  /** One reading. Throws a problem that says why there is none. */
  async measure(instrumentId: string, leads: Leads): Promise<MeasureAnswer> {
    const row = (await this.list()).find((i) => i.instrumentId === instrumentId);
    if (!row) throw new HttpProblem(404, 'unknownInstrument', 'There is no such instrument.');
    const line = this.#lineTo(row);
    const { jobId, place, sourceId } = leads;
    const setting = row.isSimulated ? [`SIMulate:LEADs "${jobId} ${place} ${sourceId ?? '-'}"`] : [];
    try {
      const identity = await line.ask('*IDN?');
      const isTester = row.kind === 'insulationTester';
      const value = isTester ? await line.askNumber('MEAS:RES?', setting) : await line.askNumber('MEAS:VOLT:DC?', setting);
      return { value, unit: isTester ? 'ohm' : 'V', identity: identity.slice(0, 120), isSimulated: row.isSimulated };
    } catch (error) {
      if (!(error instanceof InstrumentSilent)) throw error;
      throw new HttpProblem(503, 'instrumentSilent', `${row.name}: ${error.message} Type the reading instead; nothing was kept.`);
    }
  }

  async close(): Promise<void> {
    for (const line of this.#lines.values()) line.close();
    await Promise.all(this.#standIns.map((s) => s.running.close()));
  }

  #lineTo({ host, port }: InstrumentRow): ScpiLine {
    const key = `${host} ${port}`;
    let line = this.#lines.get(key);
    if (!line) this.#lines.set(key, (line = new ScpiLine({ host, port })));
    return line;
  }

  async #readMeter(query: string, leads: string | null): Promise<string | null> {
    if (!/^(MEAS|READ)(:VOLT(:DC)?)?\?$/.test(query)) return null;
    const read = await this.#readLeads(leads);
    if (!read) return null;
    const { job, jobId, place, knownVolt } = read;
    const now = this.#options.clock().getTime();
    const volt = leadVolt(place, hiddenTruth(jobId, job.profile), job.state, job.profile, knownVolt, now);
    return (Math.round(volt * 10) / 10).toFixed(1);
  }

  async #readTester(query: string, leads: string | null): Promise<string | null> {
    if (!/^(MEAS|READ)(:RES)?\?$/.test(query)) return null;
    const read = await this.#readLeads(leads);
    if (!read) return null;
    const truth = hiddenTruth(read.jobId, read.job.profile);
    return Math.round(read.place === 'plusChassis' ? truth.plusLeakOhm : truth.minusLeakOhm).toString();
  }

  async #readLeads(leads: string | null): Promise<{ job: FoldedJob; jobId: string; place: ProofEntry; knownVolt: number | null } | null> {
    const [jobId = '', word = '', sourceId = '-'] = (leads ?? '').split(' ');
    const place = PROOF_ENTRIES.find((e) => e === word);
    const job = place ? await this.#options.findJob(jobId).catch(() => null) : null;
    if (!job || !place) return null;
    const source = sourceId === '-' ? null : await findGear(this.#options.pool, this.#options.shopId, sourceId);
    return { job, jobId, place, knownVolt: source?.gear.kind === 'provingUnit' ? source.gear.outputVolt : null };
  }
}

/** The instruments of a shop: those it added and those attached while it runs, all asked by the same driver. */
import type { AuxiliaryAnswer, FanAnswer, InstrumentRow, MeasureAnswer, ScanAnswer, TorqueAnswer, WatchAnswer } from '@estuarine/contract';
import type { ProofEntry, ScanMap } from '@estuarine/core';
import type pg from 'pg';
import { HttpProblem } from '../problem.ts';
import { UnitRefused, type CanOptions } from './can-line.ts';
import { clearCar, scanCar, watchCar } from './scan.ts';
import { InstrumentSilent, ScpiLine } from './scpi.ts';
import { listInstruments } from './store.ts';

export interface BenchOptions {
  readonly pool: pg.Pool;
  readonly shopId: string;
}

/** Where the leads lie: on which job, at which entry of the proof, by which known source. */
export interface Leads {
  readonly jobId: string;
  readonly place: ProofEntry;
  readonly sourceId: string | null;
}

/** A fan of a job between a bench supply and an airflow meter. */
export interface FanQuestion {
  readonly supplyId: string;
  readonly meterId: string;
  readonly jobId: string;
  /** In the air path of its profile. */
  readonly part: number;
  readonly volt: number;
}

/** A car at the end of a reader: whose it is, how it is mapped, and how a simulated one is used meanwhile. */
export interface CarQuestion {
  readonly readerId: string;
  readonly jobId: string;
  readonly map: ScanMap | null;
  readonly load: { readonly ampere: number; readonly second: number };
}

/** An instrument that this process brought along. */
export interface InstrumentSource {
  readonly row: InstrumentRow;
  /** Commands that are sent before a query, given where the leads lie. */
  readonly settingsFor: (leads: Leads) => readonly string[];
  readonly close: () => Promise<void>;
}

export class Bench {
  readonly #options: BenchOptions;
  readonly #lines = new Map<string, ScpiLine>();
  readonly #sources: InstrumentSource[] = [];
  /** One at a time talks to a car. */
  readonly #turns = new Map<string, Promise<unknown>>();

  constructor(options: BenchOptions) {
    this.#options = options;
  }

  /** Adds an instrument that is there while this process runs, beside those of the shop. */
  attach(source: InstrumentSource): void {
    this.#sources.push(source);
  }

  async list(): Promise<InstrumentRow[]> {
    const added = await listInstruments(this.#options.pool, this.#options.shopId);
    return [...this.#sources.map((s) => s.row), ...added.map((i) => ({ ...i, isSimulated: false }))];
  }

  /** One reading. Throws a problem that says why there is none. */
  measure(instrumentId: string, leads: Leads): Promise<MeasureAnswer> {
    const settings = this.#sources.find((s) => s.row.instrumentId === instrumentId)?.settingsFor(leads) ?? [];
    return this.#ask(instrumentId, async (line, row) => {
      const isTester = row.kind === 'insulationTester';
      const value = isTester ? await line.askNumber('MEAS:RES?', settings) : await line.askNumber('MEAS:VOLT:DC?', settings);
      return { value, unit: isTester ? 'ohm' : 'V' } as const;
    });
  }

  /** The last click of a torque tool. A simulated one is told what it is set to, since nobody holds it. */
  readTorque(instrumentId: string, setNewtonMetre: number): Promise<TorqueAnswer> {
    return this.#ask(instrumentId, async (line, row) => {
      if (row.kind !== 'torqueTool') throw new HttpProblem(422, 'mismatch', `${row.name} is no torque tool.`);
      const settings = row.isSimulated ? [`SIMulate:LEADs "torque ${setNewtonMetre}"`] : [];
      const newtonMetre = await line.askNumber('MEAS:TORQ?', settings);
      return { newtonMetre, angleDegree: await line.askNumber('MEAS:ANGL?').catch(() => null) };
    });
  }

  /** What a fan draws and moves at a voltage; at 0 V the supply is off. Simulated ones are told which fan it is, since nobody holds it. */
  async readFan({ supplyId, meterId, jobId, part, volt }: FanQuestion): Promise<FanAnswer> {
    const told = (row: InstrumentRow): string[] => (row.isSimulated ? [`SIMulate:LEADs "fan ${jobId} ${part} ${volt}"`] : []);
    const ask = (id: string, kind: InstrumentRow['kind'], query: string, settings: readonly string[]) =>
      this.#ask(id, async (line, row) => {
        if (row.kind !== kind)
          throw new HttpProblem(422, 'mismatch', `${row.name} is no ${kind === 'supply' ? 'supply' : 'airflow meter'}.`);
        return { value: await line.askNumber(query, [...told(row), ...settings]) };
      });
    const current = await ask(supplyId, 'supply', 'MEAS:CURR?', [`SOUR:VOLT ${volt}`, volt > 0 ? 'OUTP ON' : 'OUTP OFF']);
    const flow = await ask(meterId, 'airflowMeter', 'MEAS:FLOW?', []);
    return { ampere: current.value, cubicMetrePerHour: flow.value, isSimulated: current.isSimulated || flow.isSimulated };
  }

  /** A 12 V battery at rest and at the end of the tester's own load. A simulated tester is told whose battery it is. */
  async testAuxiliary(testerId: string, jobId: string): Promise<AuxiliaryAnswer> {
    const { restVolt, loadVolt, celsius, isSimulated } = await this.#ask(testerId, async (line, row) => {
      if (row.kind !== 'batteryTester') throw new HttpProblem(422, 'mismatch', `${row.name} is no 12 V tester.`);
      const told = row.isSimulated ? [`SIMulate:LEADs "auxiliary ${jobId}"`] : [];
      return {
        restVolt: await line.askNumber('MEAS:VOLT:DC?', told),
        loadVolt: await line.askNumber('MEAS:VOLT:LOAD?'),
        celsius: await line.askNumber('MEAS:TEMP?'),
      };
    });
    return { restVolt, loadVolt, celsius, isSimulated };
  }

  /** All that a car says of itself. */
  scan(question: CarQuestion): Promise<ScanAnswer> {
    return this.#readCar(question, async (options, { name, isSimulated }) => ({
      ...(await scanCar(options, question.map)),
      ...{ reader: name, isSimulated },
    }));
  }

  /** The figures of the battery unit alone. */
  watch(question: CarQuestion): Promise<WatchAnswer> {
    const { map } = question;
    if (!map) throw new HttpProblem(422, 'mismatch', 'The profile of this job maps no figures of the battery unit.');
    return this.#readCar(question, (options) => watchCar(options, map));
  }

  /** Clears the codes of the car. */
  clearCodes(question: CarQuestion): Promise<{ reader: string; isSimulated: boolean }> {
    return this.#readCar(question, async (options, { name, isSimulated }) => {
      await clearCar(options, question.map);
      return { reader: name, isSimulated };
    });
  }

  async #readCar<T>({ readerId, jobId, load }: CarQuestion, read: (options: CanOptions, row: InstrumentRow) => Promise<T>): Promise<T> {
    const row = (await this.list()).find((i) => i.instrumentId === readerId);
    if (!row) throw new HttpProblem(404, 'unknownInstrument', 'There is no such instrument.');
    if (row.kind !== 'scanTool') throw new HttpProblem(422, 'mismatch', `${row.name} is no scan reader.`);
    const prelude = row.isSimulated ? { prelude: `SIMulate:CAR "${jobId} ${load.ampere} ${load.second}"\n` } : {};
    const turn = (this.#turns.get(readerId) ?? Promise.resolve()).then(() => read({ host: row.host, port: row.port, ...prelude }, row));
    this.#turns.set(
      readerId,
      turn.catch(() => undefined),
    );
    try {
      return await turn;
    } catch (error) {
      if (error instanceof UnitRefused) throw new HttpProblem(502, 'unitRefused', `${row.name}, ${error.message}`);
      if (!(error instanceof InstrumentSilent)) throw error;
      throw new HttpProblem(503, 'instrumentSilent', `${row.name}: ${error.message} Nothing was kept.`);
    }
  }

  async #ask<T extends object>(
    instrumentId: string,
    read: (line: ScpiLine, row: InstrumentRow) => Promise<T>,
  ): Promise<T & { identity: string; isSimulated: boolean }> {
    const row = (await this.list()).find((i) => i.instrumentId === instrumentId);
    if (!row) throw new HttpProblem(404, 'unknownInstrument', 'There is no such instrument.');
    const line = this.#lineTo(row);
    try {
      const identity = await line.ask('*IDN?');
      return { ...(await read(line, row)), identity: identity.slice(0, 120), isSimulated: row.isSimulated };
    } catch (error) {
      if (!(error instanceof InstrumentSilent)) throw error;
      throw new HttpProblem(503, 'instrumentSilent', `${row.name}: ${error.message} Type the reading instead; nothing was kept.`);
    }
  }

  async close(): Promise<void> {
    for (const line of this.#lines.values()) line.close();
    await Promise.all(this.#sources.map((s) => s.close()));
  }

  #lineTo({ host, port }: InstrumentRow): ScpiLine {
    const key = `${host} ${port}`;
    let line = this.#lines.get(key);
    if (!line) this.#lines.set(key, (line = new ScpiLine({ host, port })));
    return line;
  }
}

import { inject, Injectable, signal } from '@angular/core';
import { watchAnswerSchema, type InstrumentRow } from '@estuarine/contract';
import type { DrainSample } from '@estuarine/core';
import { defer, EMPTY, repeat, Subject, switchMap, takeWhile, tap, timer, type Observable } from 'rxjs';
import { Api } from '../../transport/api.ts';

/** A drain that is watched: of which job, by which reader, at which current. */
export interface Drain {
  readonly jobId: string;
  readonly reader: Pick<InstrumentRow, 'instrumentId' | 'isSimulated'>;
  readonly ampere: number;
}

export type DrainReading = DrainSample & {
  readonly percent: number;
  /** The first temperature that the car told; null where it told none. */
  readonly celsius: number | null;
};

/** A simulated drain runs sixty times as fast; a real one is asked every five seconds. */
const [SIMULATED_STEP_SECOND, PAUSE_MILLISECOND, REAL_PAUSE_MILLISECOND] = [30, 250, 5000];
const [MOST_SAMPLES, SIMULATED_SECOND] = [2000, 900];
/** Questions without an answer, one after the other, after which nobody is there to ask: some minutes of a real drain. */
const MOST_MISSED = 60;
/** Answers that another try does not change. */
const FOR_GOOD: ReadonlySet<number> = new Set([400, 404, 409, 422]);

/**
 * Watches a drain whatever screen is looked at: it goes on in the car too. An answer that never came is asked for again; the drain ends
 * when somebody stops it, when it is over, or when its reader is gone for good.
 */
@Injectable({ providedIn: 'root' })
export class DrainRun {
  readonly #api = inject(Api);
  readonly #wanted = new Subject<Drain | null>();
  readonly #drain = signal<Drain | null>(null);
  readonly #samples = signal<readonly DrainReading[]>([]);
  readonly #isRunning = signal(false);
  readonly #missed = signal(0);
  readonly #fault = signal('');
  readonly #version = signal('');

  /** The drain that runs or ran last; null where none did or it was kept. */
  readonly drain = this.#drain.asReadonly();
  readonly samples = this.#samples.asReadonly();
  readonly isRunning = this.#isRunning.asReadonly();
  /** Questions since the last answer. */
  readonly missed = this.#missed.asReadonly();
  readonly fault = this.#fault.asReadonly();
  readonly version = this.#version.asReadonly();

  constructor() {
    // another drain takes the place of the one before
    this.#wanted.pipe(switchMap((drain) => (drain ? this.#watch(drain) : EMPTY))).subscribe();
  }

  begin(drain: Drain): void {
    this.#drain.set(drain);
    this.#samples.set([]);
    this.#missed.set(0);
    this.#fault.set('');
    this.#isRunning.set(true);
    this.#wanted.next(drain);
  }

  stop(): void {
    this.#isRunning.set(false);
    this.#wanted.next(null);
  }

  /** Forgets what was read: it was kept, or is not wanted. */
  clear(): void {
    this.stop();
    this.#drain.set(null);
    this.#samples.set([]);
    this.#fault.set('');
  }

  #watch(drain: Drain): Observable<unknown> {
    const start = performance.now();
    const { isSimulated } = drain.reader;
    const second = (): number => (isSimulated ? this.#samples().length * SIMULATED_STEP_SECOND : (performance.now() - start) / 1000);
    const isOver = (): boolean => this.#samples().length >= MOST_SAMPLES || (isSimulated && second() > SIMULATED_SECOND);
    return defer(() => this.#ask(drain, second())).pipe(
      repeat({ delay: () => timer(isSimulated ? PAUSE_MILLISECOND : REAL_PAUSE_MILLISECOND) }),
      takeWhile((goesOn) => goesOn && !isOver()),
      tap({ complete: () => this.#isRunning.set(false) }),
    );
  }

  /** One look at the car; gives whether another makes sense. */
  async #ask({ jobId, reader, ampere }: Drain, second: number): Promise<boolean> {
    const body = { readerId: reader.instrumentId, load: { ampere, second } };
    const reply = await this.#api.post(`/api/jobs/${jobId}/car/watch`, watchAnswerSchema, body);
    if (reply.kind === 'problem' && FOR_GOOD.has(reply.problem.status)) {
      this.#fault.set(reply.problem.detail);
      return false;
    }
    if (reply.kind !== 'answer') return this.#miss('The server cannot be reached: the drain goes on in the car, unseen.');
    this.#version.set(reply.value.readerVersion);
    const { blockVolts, ampere: measured, chargePercent } = reply.value;
    const volts = blockVolts.filter((v): v is number => v !== null);
    if (measured === null || chargePercent === null || volts.length !== blockVolts.length)
      return this.#miss('The car does not say its current, its charge and every block: nothing can be integrated.');
    this.#missed.set(0);
    this.#fault.set('');
    const celsius = reply.value.celsius[0] ?? null;
    this.#samples.update((all) => [...all, { second, ampere: measured, blockVolts: volts, percent: chargePercent, celsius }]);
    return true;
  }

  #miss(why: string): boolean {
    this.#missed.update((n) => n + 1);
    this.#fault.set(why);
    return this.#missed() < MOST_MISSED;
  }
}

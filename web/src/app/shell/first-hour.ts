import { Injectable, signal } from '@angular/core';

/** One step of the first hour: what to do, and where. */
export interface HourStep {
  readonly text: string;
  readonly path: string;
}

/** Through the stages of a job, on jobs of the demonstration that stand there. */
export const HOUR_STEPS: readonly HourStep[] = [
  { text: 'The yard has every job by what it waits for. Open job 5, the market car.', path: '/yard' },
  {
    text: 'Intake: press how the car is used, or “none of these”. The list beside it says what intake still asks.',
    path: '/job/demo-plover/intake',
  },
  { text: 'Press the number under “Reachable now”: which modules make it, and what would lower it.', path: '/job/demo-plover/isolate' },
  {
    text: 'Isolate: one press says that the key is away, and where it is kept. The next step opens by itself.',
    path: '/job/demo-plover/isolate',
  },
  { text: 'Strip: take a group off by its number, put it back the same way. The ledger counts for you.', path: '/job/demo-avocet/strip' },
  { text: 'Open: each layer says what can be reached once it is off, before it comes off.', path: '/job/demo-knot/open' },
  { text: 'Test: type 7.512 and Enter. The next module is asked for at once; Backspace on empty goes back.', path: '/job/demo-knot/test' },
  { text: 'Match: compute the schools, and look which stack each would build.', path: '/job/demo-turnstone/match' },
  {
    text: 'Rebuild: the nuts in their order, with the tool that suits. A wrong figure is said before it is kept.',
    path: '/job/demo-redshank/rebuild',
  },
  {
    text: 'Hand over: the report, the conditions of the warranty, and the record that can be checked.',
    path: '/job/demo-oystercatcher/handOver',
  },
];

const KEY = 'estuarine.firstHour';
const NEVER = 'never';

/** Where somebody is in the first hour on this device: offered once, ended for good by one press. */
@Injectable({ providedIn: 'root' })
export class FirstHour {
  readonly #at = signal<number | null>(null);
  readonly #isOffered = signal(localStorage.getItem(KEY) === null);

  /** Index of the step that is shown; null: none. */
  readonly at = this.#at.asReadonly();
  readonly isOffered = this.#isOffered.asReadonly();

  constructor() {
    const kept = Number(localStorage.getItem(KEY) ?? Number.NaN);
    if (Number.isInteger(kept) && kept >= 0 && kept < HOUR_STEPS.length) this.#at.set(kept);
  }

  go(to: number): void {
    if (to < 0) return;
    if (to >= HOUR_STEPS.length) {
      this.end();
      return;
    }
    this.#at.set(to);
    this.#isOffered.set(false);
    localStorage.setItem(KEY, String(to));
  }

  /** Never again on this device. */
  end(): void {
    this.#at.set(null);
    this.#isOffered.set(false);
    localStorage.setItem(KEY, NEVER);
  }
}

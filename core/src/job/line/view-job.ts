/**
 * What is seen of a job: what is kept, what waits on the device, and all that follows from both. Each part is computed when it is first
 * asked for, and a view that only adds waiting acts to another goes on from that.
 */
import type { Profile } from '../../pack/profile.ts';
import type { Balance } from '../../ledger/ledger.ts';
import type { VerdictLimits } from '../../reading/verdict.ts';
import { recordModules, type ModuleRecord } from '../chapters/sweep/view.ts';
import { findLedger } from '../chapters/strip/view.ts';
import type { JobEvent } from '../frame/acts.ts';
import { listDisagreements } from '../frame/counts.ts';
import type { JobState } from '../frame/state.ts';
import { passThrough } from '../frame/waiting.ts';
import { accountOf, joinAccounts, type Account } from './account.ts';
import { exposeWorst, findHighestPossible, type JobExposure } from './exposure.ts';
import { traceExposure } from './trace.ts';

export interface JobView {
  /** With every act that waits, kept or not. */
  readonly state: JobState;
  /** Waiting acts may raise what is shown as reachable, never lower it. */
  readonly exposure: JobExposure;
  /** The most that can stand there, for when this device may not know all. */
  readonly highestVolt: number;
  readonly trace: ReturnType<typeof traceExposure>;
  /** What is counted otherwise than stated, as sentences. */
  readonly disagreements: readonly string[];
  readonly ledger: Balance;
  readonly records: readonly ModuleRecord[];
}

/**
 * Views jobs one after another, each going on from the last where it can.
 */
export class JobViewer {
  #last: View | null = null;

  /**
   * @param kept as the server has it; never changed
   * @param waiting acts of this device behind it, in order, as the events they would be
   * @param time server time up to which proofs count, epoch milliseconds; Infinity for none
   */
  view(
    kept: JobState,
    waiting: readonly JobEvent[],
    profile: Profile,
    { limits }: { readonly limits: VerdictLimits },
    time: number,
  ): JobView {
    const last = this.#last;
    const goesOn =
      last?.kept === kept &&
      last.profile === profile &&
      last.time === time &&
      last.waiting.length <= waiting.length &&
      last.waiting.every((event, i) => event === waiting[i]);
    this.#last = new View(kept, waiting, profile, limits, time, goesOn ? last : null);
    return this.#last;
  }
}

/** {@link JobViewer} for one look. */
export function viewJob(
  kept: JobState,
  waiting: readonly JobEvent[],
  profile: Profile,
  policy: { readonly limits: VerdictLimits },
  time: number,
): JobView {
  return new JobViewer().view(kept, waiting, profile, policy, time);
}

class View implements JobView {
  readonly kept: JobState;
  readonly waiting: readonly JobEvent[];
  readonly profile: Profile;
  readonly time: number;
  readonly state: JobState;
  readonly #limits: VerdictLimits;
  /** Accounts of the kept state, and of it and all that the waiting acts pass through. */
  readonly #first: Account;
  readonly #worst: Account;
  #exposure: JobExposure | null = null;
  #trace: ReturnType<typeof traceExposure> | null = null;
  #disagreements: readonly string[] | null = null;
  #ledger: Balance | null = null;
  #records: readonly ModuleRecord[] | null = null;

  constructor(kept: JobState, waiting: readonly JobEvent[], profile: Profile, limits: VerdictLimits, time: number, before: View | null) {
    this.kept = kept;
    this.waiting = waiting;
    this.profile = profile;
    this.time = time;
    this.#limits = limits;
    const [from, ...passed] = passThrough(before?.state ?? kept, profile, waiting.slice(before?.waiting.length ?? 0), time);
    this.state = passed.at(-1) ?? from;
    this.#first = before ? before.#first : accountOf(kept, profile, time);
    this.#worst = passed.map((state) => accountOf(state, profile, time)).reduce(joinAccounts, before ? before.#worst : this.#first);
    // a proof that stands, or a trace of what is kept, is the same for both
    this.#trace = before ? before.#trace : null;
  }

  get exposure(): JobExposure {
    return (this.#exposure ??= exposeWorst({ kept: this.kept, last: this.state, first: this.#first, worst: this.#worst }, this.profile));
  }

  get highestVolt(): number {
    return findHighestPossible(this.exposure, this.profile);
  }

  get trace(): ReturnType<typeof traceExposure> {
    return (this.#trace ??= traceExposure(this.kept, this.profile, this.time));
  }

  get disagreements(): readonly string[] {
    return (this.#disagreements ??= listDisagreements(this.state, this.profile).map((d) => d.sentence));
  }

  get ledger(): Balance {
    return (this.#ledger ??= findLedger(this.state, this.profile));
  }

  get records(): readonly ModuleRecord[] {
    return (this.#records ??= recordModules(this.state, this.profile, this.#limits));
  }
}

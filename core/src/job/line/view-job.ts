/**
 * What is seen of a job: what is kept, what waits on the device, and all that follows from both. Each part is computed when it is first
 * asked for. A view that only adds waiting acts to another goes on from that, and what no act since has a say in is taken from it.
 */
import type { Profile } from '../../pack/profile.ts';
import type { Balance } from '../../ledger/ledger.ts';
import type { VerdictLimits } from '../../reading/verdict.ts';
import { findRebuild, type Rebuild } from '../chapters/rebuild/view.ts';
import { recordModules, type ModuleRecord } from '../chapters/sweep/view.ts';
import { findLedger } from '../chapters/strip/view.ts';
import type { JobEvent } from '../frame/acts.ts';
import { listDisagreements } from '../frame/counted-hazards.ts';
import { restingVolts, type JobState } from '../frame/state.ts';
import { passThrough } from '../frame/waiting.ts';
import { accountOf, joinAccounts, type Account } from './account.ts';
import { exposeWorst, findHighestPossible, type JobExposure } from './exposure.ts';
import { listQuestions, type Question } from './questions.ts';
import { traceExposure } from './trace.ts';

export interface JobView {
  /** With every act that waits, kept or not. */
  readonly state: JobState;
  readonly profile: Profile;
  /** Waiting acts may raise what is shown as reachable, never lower it. */
  readonly exposure: JobExposure;
  /** The most that can stand there, for when this device may not know all. */
  readonly highestVolt: number;
  readonly trace: ReturnType<typeof traceExposure>;
  /** What would settle what the number stands above the known. */
  readonly questions: readonly Question[];
  /** What is counted otherwise than stated, as sentences. */
  readonly disagreements: readonly string[];
  readonly ledger: Balance;
  readonly records: readonly ModuleRecord[];
  /** How far it is put together again. */
  readonly rebuild: Rebuild;
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
    const isSame = last?.profile === profile && last.time === time;
    this.#last = new View({ kept, waiting, profile, limits, time }, isSame ? last : null, goesOn);
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

interface Seen {
  readonly kept: JobState;
  readonly waiting: readonly JobEvent[];
  readonly profile: Profile;
  readonly limits: VerdictLimits;
  readonly time: number;
}

class View implements JobView {
  readonly kept: JobState;
  readonly waiting: readonly JobEvent[];
  readonly profile: Profile;
  readonly time: number;
  readonly state: JobState;
  readonly #limits: VerdictLimits;
  /** Accounts of the kept state, of the last one, and of all that the waiting acts pass through. */
  readonly #first: Account;
  readonly #now: Account;
  readonly #worst: Account;
  #exposure: JobExposure | null = null;
  #trace: ReturnType<typeof traceExposure> | null = null;
  #disagreements: readonly string[] | null = null;
  #ledger: Balance | null = null;
  #records: readonly ModuleRecord[] | null = null;
  #rebuild: Rebuild | null = null;

  /** @param before of the same profile and time; goes on from it where it only adds waiting acts */
  constructor({ kept, waiting, profile, limits, time }: Seen, before: View | null, goesOn: boolean) {
    this.kept = kept;
    this.waiting = waiting;
    this.profile = profile;
    this.time = time;
    this.#limits = limits;
    const start = goesOn ? before : null;
    const [from, ...passed] = passThrough(start?.state ?? kept, profile, waiting.slice(start?.waiting.length ?? 0), time);
    this.state = passed.at(-1) ?? from;
    const isKeptAlike = before !== null && isAlike(before.kept, kept, profile);
    this.#first = isKeptAlike ? before.#first : accountOf(kept, profile, time);
    let [state, account, worst] = start ? [from, start.#now, start.#worst] : [from, this.#first, this.#first];
    for (const next of passed) {
      if (!isAlike(state, next, profile)) account = accountOf(next, profile, time);
      if (account !== worst) worst = joinAccounts(worst, account);
      state = next;
    }
    this.#now = account;
    this.#worst = worst;
    if (!before) return;
    // the trace is of what is kept alone
    if (isKeptAlike) this.#trace = before.#trace;
    const isStateAlike = isAlike(before.state, this.state, profile);
    if (isStateAlike) this.#disagreements = before.#disagreements;
    if (isKeptAlike && isStateAlike && isSameAccount(before.#worst, worst)) this.#exposure = before.#exposure;
    if (before.state.strip === this.state.strip) this.#ledger = before.#ledger;
  }

  get exposure(): JobExposure {
    const [kept, last] = [
      { state: this.kept, account: this.#first },
      { state: this.state, account: this.#now },
    ];
    return (this.#exposure ??= exposeWorst({ kept, last, worst: this.#worst }, this.profile));
  }

  get questions(): readonly Question[] {
    return listQuestions(this.state, this.exposure.excess, this.profile);
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

  get rebuild(): Rebuild {
    return (this.#rebuild ??= findRebuild({ ...this.state, volts: restingVolts(this.state) }, this.profile));
  }

  get records(): readonly ModuleRecord[] {
    return (this.#records ??= recordModules(this.state, this.profile, this.#limits));
  }
}

/** Whether two states of a job, one after the other, tell the same of what can be touched: what is only recorded changes none of it. */
function isAlike(a: JobState, b: JobState, profile: Profile): boolean {
  if (a === b) return true;
  return (
    a.pack === b.pack &&
    a.sweep === b.sweep &&
    a.intake === b.intake &&
    a.stage === b.stage &&
    isSameList(a.facts, b.facts) &&
    isSameList(a.late, b.late) &&
    (a.isolate === b.isolate || plainText(a.isolate) === plainText(b.isolate)) &&
    (a.strip === b.strip || movesThatTell(a, profile) === movesThatTell(b, profile))
  );
}

/** With maps as their entries: by itself JSON takes every map for an empty one. */
function plainText(value: unknown): string {
  return JSON.stringify(value, (_, held: unknown) => (held instanceof Map ? [...held] : held));
}

function isSameList(a: readonly unknown[], b: readonly unknown[]): boolean {
  return a.length === b.length && a.every((item, i) => item === b[i]);
}

/** Movements of parts that bare or part something, and what was left off. */
function movesThatTell({ strip }: JobState, { parts }: Profile): string {
  const telling = new Set(parts.filter((p) => p.effects.length > 0).map((p) => p.id));
  return JSON.stringify([strip.moved.filter((m) => telling.has(m.partId)), strip.leftOff]);
}

function isSameAccount(a: Account, b: Account): boolean {
  return a === b || JSON.stringify(a) === JSON.stringify(b);
}

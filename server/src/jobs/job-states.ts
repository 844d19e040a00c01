/** Folded jobs of this process, keyed by the number of their last event. A cache only: the log can refill it. */
import type { WireEvent } from '@estuarine/contract';
import { apply, copyPlain, readEvent, startState, versionOf, type JobEvent, type JobState, type Profile } from '@estuarine/core';
import type { Queryable } from '../database/database.ts';
import type { ChainedEvent } from '../log/chain.ts';
import type { StreamPlace } from '../log/append.ts';
import { findHead, readEvents } from '../log/store.ts';
import { HttpProblem } from '../problem.ts';
import type { References } from '../profiles/references.ts';

const MAXIMUM_KEPT = 200;
const PAGE = 2000;

export interface FoldedJob {
  readonly state: JobState;
  readonly profile: Profile;
}

/** A stored event as today's. One of a later release than this is never folded: the answer is "not ready", not a wrong state. */
export function toJobEvent(stored: ChainedEvent): JobEvent {
  const read = readEvent(stored, stored.stream);
  if (read.kind === 'answer') return read.value;
  throw new HttpProblem(503, read.code, `Event ${stored.number} of job ${stored.stream}: ${read.message}`);
}

/** An event as it is sent: brought up to the version that this release writes. */
export function toWireEvent(stored: ChainedEvent): WireEvent {
  const event = toJobEvent(stored);
  return { ...event, version: versionOf(event) };
}

interface Kept {
  readonly job: FoldedJob;
  /** Hash of its last event, where this process appended that itself. */
  readonly hash: Buffer | null;
  /** Somebody was given it to read: it stays as it was, and what changes is a copy. */
  isOut: boolean;
}

export class JobStates {
  readonly #shopId: string;
  readonly #references: References;
  readonly #kept = new Map<string, Kept>();
  readonly #turns = new Map<string, Promise<unknown>>();

  constructor(shopId: string, references: References) {
    this.#shopId = shopId;
    this.#references = references;
  }

  /** Runs what takes a job out of the cache when nobody else of this process has it. Not to be called from inside of itself. */
  async inTurn<T>(jobId: string, work: () => Promise<T>): Promise<T> {
    const before = this.#turns.get(jobId);
    const mine = before ? before.then(work, work) : work();
    this.#turns.set(jobId, mine);
    try {
      return await mine;
    } finally {
      if (this.#turns.get(jobId) === mine) this.#turns.delete(jobId);
    }
  }

  /** The job and its place as this process left it, for the caller alone; null where it was not the last to append, or knows nothing. */
  takeLast(jobId: string): { readonly job: FoldedJob; readonly place: StreamPlace } | null {
    const known = this.#kept.get(jobId);
    if (!known?.hash) return null;
    this.#kept.delete(jobId);
    return { job: ownOf(known), place: { head: known.job.state.head, hash: known.hash } };
  }

  /**
   * The job at a head, for the caller alone: it is taken out of the cache and comes back by {@link checkIn} when what was changed is
   * committed. Null for a stream without events.
   */
  async checkOut(db: Queryable, jobId: string, head: number): Promise<FoldedJob | null> {
    const known = this.#kept.get(jobId);
    this.#kept.delete(jobId);
    const usable = known && known.job.state.head <= head ? ownOf(known) : null;
    return this.#advance(db, jobId, usable, head);
  }

  /** The job as it stands now, to be read; it stays as it was, whatever is kept meanwhile. Null where there is none. */
  async look(db: Queryable, jobId: string): Promise<FoldedJob | null> {
    const head = await findHead(db, this.#shopId, jobId);
    return head === null || head === 0 ? null : this.lookAt(db, jobId, head);
  }

  /** The job at a head or later, to be read; it stays as it was. */
  lookAt(db: Queryable, jobId: string, head: number): Promise<FoldedJob | null> {
    return this.inTurn(jobId, async () => {
      if ((this.#kept.get(jobId)?.job.state.head ?? 0) < head) {
        const job = await this.checkOut(db, jobId, head);
        if (job) this.checkIn(jobId, job);
      }
      const known = this.#kept.get(jobId);
      if (!known) return null;
      known.isOut = true;
      return known.job;
    });
  }

  checkIn(jobId: string, job: FoldedJob, hash: Buffer | null = null): void {
    this.#kept.delete(jobId);
    this.#kept.set(jobId, { job, hash, isOut: false });
    const oldest = this.#kept.keys().next().value;
    if (this.#kept.size > MAXIMUM_KEPT && oldest !== undefined) this.#kept.delete(oldest);
  }

  async #advance(db: Queryable, jobId: string, known: FoldedJob | null, head: number): Promise<FoldedJob | null> {
    let job = known;
    while ((job?.state.head ?? 0) < head) {
      const events = await readEvents(db, this.#shopId, jobId, job?.state.head ?? 0, PAGE);
      const first = events[0];
      if (!first) break;
      job ??= await beginJob(db, this.#references, first);
      for (const event of events) if (event.number <= head) apply(job.state, job.profile, toJobEvent(event));
    }
    return job;
  }
}

/** A kept job as its taker may change it. */
function ownOf({ job, isOut }: Kept): FoldedJob {
  return isOut ? { ...job, state: copyPlain(job.state) } : job;
}

/** A job before its first event, which says by which profile it is folded. */
export async function beginJob(db: Queryable, references: References, first: ChainedEvent): Promise<FoldedJob> {
  const event = toJobEvent(first);
  if (event.type !== 'job.opened') throw new Error(`job ${first.stream} begins with ${event.type}`);
  const { profileId, profileVersion } = event.body;
  const profile = await references.profile(db, profileId, profileVersion);
  if (!profile) throw new Error(`profile ${profileId} version ${profileVersion} is missing`);
  return { state: startState(profile), profile };
}

/** Acts on one job in one transaction: its state as far as they brought it, and what they write to the tables that jobs share. */
import { ACT_TRAITS, refuse, versionOf, type Act, type Result } from '@estuarine/core';
import { sealPaper } from '../customers/store.ts';
import type { Queryable } from '../database/database.ts';
import type { Appender, StreamPlace } from '../log/append.ts';
import type { ChainedEvent } from '../log/chain.ts';
import type { YardRow } from '../log/store.ts';
import type { AskedOfJob, JobActs } from './asked.ts';
import { beginAct, decideAct } from './decide.ts';
import type { FoldedJob } from './job-states.ts';
import type { ReadAct } from './sent.ts';
import { yardRowOf } from './summary.ts';
import { NO_PAPERS, projectJobEvent, type SealedPapers } from './writes.ts';

export class JobTransaction implements Appender {
  readonly #jobs: JobActs;
  readonly #jobId: string;
  readonly #asked: readonly AskedOfJob[];
  #job: FoldedJob | null = null;
  #papers: SealedPapers = NO_PAPERS;

  constructor(jobs: JobActs, jobId: string, asked: readonly AskedOfJob[]) {
    this.#jobs = jobs;
    this.#jobId = jobId;
    this.#asked = asked;
  }

  known(): StreamPlace | null {
    // the stream is locked first for what other jobs, the shelf or the photographs have a part in
    if (this.#asked.some(({ read }) => ACT_TRAITS[read.act.type].writes.length > 0)) return null;
    const last = this.#jobs.states.takeLast(this.#jobId);
    this.#job = last?.job ?? null;
    return last?.place ?? null;
  }

  async decide(db: Queryable, index: number, head: number): Promise<Result<readonly Act[]>> {
    const asked = this.#asked[index];
    if (!asked) return refuse('gone', 'Nothing was asked.');
    if (!this.#job) {
      const begun = await beginAct(this.#jobs, db, this.#jobId, head, asked.read.act);
      if ('kind' in begun) return begun;
      this.#job = begun;
    }
    this.#papers = sealPapers(asked.read);
    return decideAct(this.#jobs, db, this.#job, asked, this.#papers);
  }

  versionOf(act: { readonly type: string }): number {
    return versionOf(act as Act);
  }

  async project(db: Queryable, events: readonly ChainedEvent[]): Promise<void> {
    const [job, papers] = [this.#job, this.#papers];
    this.#papers = NO_PAPERS;
    if (!job) return;
    const scene = { shopId: this.#jobs.shopId, jobId: this.#jobId, job, papers };
    for (const event of events) await projectJobEvent(db, scene, event);
  }

  async row(db: Queryable): Promise<YardRow | null> {
    return this.#job && yardRowOf(this.#jobs, db, this.#jobId, this.#job);
  }

  drop(): void {
    this.#job = null;
  }

  /** It was kept: the state stands for the next acts, where it is that of the stream. */
  end({ head, hash }: StreamPlace): void {
    const job = this.#job;
    if (job?.state.head === head) this.#jobs.states.checkIn(this.#jobId, job, hash);
  }
}

function sealPapers({ act, papers }: ReadAct): SealedPapers {
  if ((act.type !== 'job.opened' && act.type !== 'papers.corrected') || !papers) return NO_PAPERS;
  const { vehicle, customer } = act.body;
  return {
    vehicle: sealPaper(vehicle.id, papers.vehicle),
    customer: customer && papers.customer ? sealPaper(customer.id, papers.customer) : null,
  };
}

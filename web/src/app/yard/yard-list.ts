import { computed, DestroyRef, effect, inject, Injectable, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { jobsAnswerSchema, type JobSummary } from '@estuarine/contract';
import { asyncScheduler, concatMap, defer, filter, merge, retry, Subject, throttleTime, timer } from 'rxjs';
import { Api } from '../transport/api.ts';
import { KnownAnswers } from '../transport/known-answers.ts';
import { Link } from '../transport/link.ts';
import { pauseAfter } from '../transport/pause.ts';
import { Tabs } from '../transport/tabs.ts';
import type { ListState } from '../ui/list-page.ts';

const PATH = '/api/jobs';
/** What changes in this time is asked for together. */
const TOGETHER_MILLISECOND = 200;

/**
 * The jobs of the shop as the server has them. All are fetched once and whenever something may have been missed; after that only those
 * that the stream says have changed. Provided by the page, so that nothing is asked when nobody looks.
 */
@Injectable()
export class YardList {
  readonly #api = inject(Api);
  readonly #known = inject(KnownAnswers);
  readonly #link = inject(Link);
  readonly #tabs = inject(Tabs);
  readonly #jobs = signal<readonly JobSummary[] | null>(null);
  readonly #state = signal<ListState>('loading');
  readonly #isCaughtUp = signal(false);
  readonly #followedAt = signal(0);
  /** Jobs that changed and were not asked for yet; null for all. */
  #changed: Set<string> | null = null;
  readonly #wanting = new Subject<void>();
  readonly #loading = new Subject<void>();

  readonly jobs = this.#jobs.asReadonly();
  readonly state = this.#state.asReadonly();
  /** Every row is as the server has it, by a beat of the last seconds. */
  readonly isFollowing = computed(() => this.#isCaughtUp() && this.#link.isLive());
  /** Server time up to which the rows are certain, epoch milliseconds; null while they follow, or where there is none. */
  readonly staleSince = computed(() => {
    if (this.isFollowing()) return null;
    // rows of an earlier start are as old as the last thing that they tell of
    return this.#followedAt() || Math.max(0, ...(this.#jobs() ?? []).map((job) => Date.parse(job.lastAt))) || null;
  });

  constructor() {
    const destroyRef = inject(DestroyRef);
    this.#link.behind$.pipe(takeUntilDestroyed(destroyRef)).subscribe(() => this.load());
    this.#link.events$
      .pipe(
        filter((streamed) => 'event' in streamed || /^(vehicle|customer)\.erased$/.test(streamed.type)),
        takeUntilDestroyed(destroyRef),
      )
      .subscribe((streamed) => {
        if (!('event' in streamed)) {
          this.load();
          return;
        }
        this.#changed?.add(streamed.stream);
        // until it was asked for the row of that job is not as it should be
        this.#isCaughtUp.set(false);
        this.#wanting.next();
      });
    // what was just kept here stands in no row yet
    this.#tabs.messages$.pipe(takeUntilDestroyed(destroyRef)).subscribe((message) => {
      if (message.kind !== 'kept') return;
      for (const { act } of message.acts) this.#changed?.add(act.jobId);
      this.#isCaughtUp.set(false);
      this.#wanting.next();
    });
    this.#wanting
      .pipe(
        throttleTime(TOGETHER_MILLISECOND, asyncScheduler, { leading: true, trailing: true }),
        // one question at a time; a wait after one that failed ends early when all are wanted
        concatMap(() => defer(() => this.#catchUp()).pipe(retry({ delay: (_e, tries) => merge(timer(pauseAfter(tries)), this.#loading) }))),
        takeUntilDestroyed(destroyRef),
      )
      .subscribe();
    effect(() => {
      if (this.isFollowing()) this.#followedAt.set(this.#link.confirmedAt());
    });
    void this.#showSeen();
    this.load();
  }

  /** Asks for all of them. */
  load(): void {
    this.#changed = null;
    this.#isCaughtUp.set(false);
    this.#loading.next();
    this.#wanting.next();
  }

  async #showSeen(): Promise<void> {
    const seen = await this.#known.seen(PATH, jobsAnswerSchema);
    if (seen && !this.#jobs()) this.#jobs.set(seen.jobs);
  }

  /** Done when nothing is left to ask for; fails where an answer could not be taken. */
  async #catchUp(): Promise<void> {
    while (this.#changed === null || this.#changed.size > 0) {
      const asked = this.#changed;
      this.#changed = new Set();
      if (await this.#ask(asked).catch(() => false)) continue;
      this.#askAgain(asked);
      throw new Error('not caught up yet');
    }
    this.#isCaughtUp.set(this.#link.delivered() !== null);
  }

  #askAgain(ids: ReadonlySet<string> | null): void {
    this.#changed = ids && this.#changed && new Set([...ids, ...this.#changed]);
  }

  /** Asks for some jobs, null for all; gives whether the answer could be taken. */
  async #ask(ids: ReadonlySet<string> | null): Promise<boolean> {
    const delivered = this.#link.delivered() ?? 0;
    const query = ids ? `?ids=${[...ids].map(encodeURIComponent).join(',')}` : '';
    const reply = await this.#api.get(`${PATH}${query}`, jobsAnswerSchema);
    if (reply.kind !== 'answer') this.#state.set(this.#jobs() ? 'seen' : 'failed');
    if (reply.kind !== 'answer' || (reply.position ?? -1) < delivered) return false;
    const jobs = ids ? put(this.#jobs() ?? [], reply.value.jobs) : reply.value.jobs;
    this.#jobs.set(jobs);
    this.#state.set('fresh');
    void this.#known.keep(PATH, { jobs });
    return true;
  }
}

function put(jobs: readonly JobSummary[], fresh: readonly JobSummary[]): JobSummary[] {
  const byId = new Map(fresh.map((job) => [job.jobId, job]));
  const kept = jobs.map((job) => byId.get(job.jobId) ?? job);
  const known = new Set(jobs.map((job) => job.jobId));
  return [...fresh.filter((job) => !known.has(job.jobId)), ...kept].sort((a, b) => b.number - a.number);
}

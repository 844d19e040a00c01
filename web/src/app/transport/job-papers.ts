import { computed, DestroyRef, effect, inject, Injectable, signal, untracked } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { jobPapersSchema, type JobPapers as Written, type Papers } from '@estuarine/contract';
import { NO_HASH, type NamedRow } from '@estuarine/core';
import { v7 as uuid } from 'uuid';
import { JobFollow } from './job-follow.ts';
import { KnownAnswers } from './known-answers.ts';
import { Link } from './link.ts';
import { Outbox } from './outbox.ts';

const NO_PAPERS: Written = { vehicle: null, customer: null, corrected: { vehicle: false, customer: false } };

/** What is written of vehicle and customer of the open job: no part of its log, so that it can be erased. */
@Injectable()
export class JobPapers {
  readonly #follow = inject(JobFollow);
  readonly #outbox = inject(Outbox);
  readonly #link = inject(Link);
  readonly #known = inject(KnownAnswers);
  readonly #told = signal<Written | null>(null);

  /** Erased, not yet fetched and not said are all null. */
  readonly papers = computed((): Written => {
    // what waits here is newer than what the server has
    const own = this.#outbox.acts().findLast((a) => a.jobId === this.#follow.jobId() && a.sent.papers !== undefined && a.refused === null);
    const papers = this.#told() ?? NO_PAPERS;
    return own?.sent.papers ? { ...papers, ...own.sent.papers } : papers;
  });
  /** The vehicle in words, also where nothing is known of it. */
  readonly vehicle = computed(() => {
    const { vehicle } = this.papers();
    const isKnown = this.#told() !== null || vehicle !== null;
    const plate = vehicle?.plate ?? '';
    return { name: vehicle?.name ?? (isKnown ? 'vehicle erased' : 'vehicle not fetched'), plate: plate === '' ? 'not noted' : plate };
  });

  constructor() {
    const whileOpen = <T>() => takeUntilDestroyed<T>(inject(DestroyRef));
    this.#link.events$.pipe(whileOpen()).subscribe((streamed) => {
      if (!('event' in streamed) && /^(vehicle|customer)\.erased$/.test(streamed.type)) void this.#fetch();
    });
    this.#link.behind$.pipe(whileOpen()).subscribe(() => void this.#fetch());
    effect(() => {
      if (this.#follow.isFollowing() && this.#told() === null) untracked(() => void this.#fetch());
    });
    // corrected, here or by somebody else: the job names other rows
    let rowId: string | null = null;
    effect(() => {
      const id = this.#follow.kept()?.state.intake.opened?.vehicle.id ?? null;
      const isOther = rowId !== null && id !== null && id !== rowId;
      rowId = id;
      if (isOther) untracked(() => void this.#fetch());
    });
  }

  /** Another job is opened: what was written of the one before is not of this one. */
  open(): void {
    this.#told.set(null);
    void this.#fetch();
  }

  /** What is written, anew: it travels beside the act, which names it by rows of its own. Gives the id of the act, null where it is not kept. */
  correct(papers: Papers): Promise<string | null> {
    const named = (): NamedRow => ({ id: uuid(), hash: NO_HASH });
    const body = { vehicle: named(), customer: papers.customer && named() };
    return this.#outbox.put(this.#follow.jobId(), { type: 'papers.corrected', body }, { papers });
  }

  async #fetch(): Promise<void> {
    const jobId = this.#follow.jobId();
    if (jobId === '') return;
    const path = `/api/jobs/${encodeURIComponent(jobId)}/papers`;
    const { value: papers } = await this.#known.ask(path, jobPapersSchema);
    if (this.#follow.jobId() === jobId && papers) this.#told.set(papers);
  }
}

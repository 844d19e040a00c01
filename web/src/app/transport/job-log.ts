import { computed, DestroyRef, effect, inject, Injectable, signal, untracked } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { jobPapersSchema, type JobPapers, type Papers } from '@estuarine/contract';
import {
  ACT_TRAITS,
  DEFAULT_POLICY,
  findGloveNeed,
  findIsolation,
  findNextStep,
  findStanding,
  isActType,
  isStageDone,
  JobViewer,
  listCountsThatDiffer,
  listOpenBars,
  LIVE_VOLT,
  moduleIdsOf,
  NO_HASH,
  stagesOf,
  type Act,
  type Fact,
  type QuestionAnswer,
  type NamedRow,
  type Stage,
} from '@estuarine/core';
import { v7 as uuid } from 'uuid';
import { Session } from '../session/session.ts';
import { JobFollow } from './job-follow.ts';
import { JobPresence } from './job-presence.ts';
import { KnownAnswers } from './known-answers.ts';
import { Link } from './link.ts';
import { isAside, Outbox } from './outbox.ts';
import { DeviceStore, type WaitingAct } from './store.ts';

const NO_PAPERS: JobPapers = { vehicle: null, customer: null, corrected: { vehicle: false, customer: false } };

/**
 * One open job: what the server has kept, what waits on this device, and everything computed from both. Provided by the job's page, so
 * that it lives as long as the job is open.
 */
@Injectable()
export class JobLog {
  readonly #follow = inject(JobFollow);
  readonly #store = inject(DeviceStore);
  readonly #outbox = inject(Outbox);
  readonly #session = inject(Session);
  readonly #link = inject(Link);
  readonly #known = inject(KnownAnswers);
  readonly #presence = inject(JobPresence);

  readonly #papers = signal<JobPapers | null>(null);
  readonly #asked = signal<{ readonly stage: Stage; readonly fact: Fact; readonly differ: readonly string[] } | null>(null);
  readonly #viewer = new JobViewer();

  readonly jobId = this.#follow.jobId;
  readonly phase = this.#follow.phase;
  readonly kept = this.#follow.kept;
  /** A fact that was pressed and whose parts were counted otherwise; null while nothing is asked. */
  readonly asked = this.#asked.asReadonly();

  /** Waiting acts whose events are not in the state already: the stream may be quicker than the answer to their sender. */
  readonly #pending = computed(() => {
    const recentIds = new Set(this.kept()?.state.recentIds ?? []);
    const waits = (a: WaitingAct): boolean => a.jobId === this.jobId() && (a.refused === null || isAside(a));
    return this.#outbox.acts().filter((a) => waits(a) && !recentIds.has(a.sent.commandId));
  });
  /** Acts of this device that are not folded yet, kept or not, as the events they would be. One of a later release is left to the server. */
  readonly #waiting = computed(() => {
    const pending = this.#pending();
    const left = new Set(pending.map((a) => a.seq));
    const head = this.kept()?.state.head ?? 0;
    const coming = this.#follow.coming().flatMap(({ act, kept }) => (kept.last > head && !left.has(act.seq) ? [act] : []));
    return [...coming, ...pending].sort((one, other) => one.seq - other.seq).flatMap((act) => this.#follow.eventOf(act) ?? []);
  });
  readonly #unseen = computed(() => this.#outbox.refused().filter((a) => a.jobId === this.jobId()));
  /** Acts that were not taken, until somebody has seen why. */
  readonly refused = computed(() => this.#unseen().filter((a) => !isAside(a)));
  /** Acts that the server failed on: they are shown as done, hold nothing up, and go again. */
  readonly aside = computed(() => this.#unseen().filter(isAside));
  /** A refused permit holds those behind it. */
  readonly isHeld = computed(() =>
    this.refused().some((a) => isActType(a.sent.act.type) && ACT_TRAITS[a.sent.act.type].nature === 'permit'),
  );
  /** Acts of this job that the server has not kept. */
  readonly pendingCount = computed(() => this.#pending().length);
  readonly pendingIds = computed(() => new Set(this.#pending().map((a) => a.sent.commandId)));

  readonly profile = computed(() => this.kept()?.profile ?? null);
  readonly policy = computed(() => this.kept()?.policy ?? DEFAULT_POLICY);

  /**
   * The time that exposure is computed for: while a proof stands, the last moment it does; without one, none. It changes only when a
   * proof comes or goes, so that the seconds passing compute nothing anew. Until the server has told its time no proof stands here: a
   * device's own clock may be hours off.
   */
  readonly proofTime = computed(() => {
    const kept = this.kept();
    if (this.#link.heardAt() === 0) return Infinity;
    return (kept && findStanding(kept.state, this.#link.serverNow())?.endsAt) ?? Infinity;
  });
  /** What is seen of the job. */
  readonly #view = computed(() => {
    const kept = this.kept();
    return kept && this.#viewer.view(kept.state, this.#waiting(), kept.profile, kept.policy, this.proofTime());
  });
  /** What the person did, kept or not yet. */
  readonly state = computed(() => this.#view()?.state ?? null);
  /** Waiting acts may raise what is shown as reachable, never lower it. */
  readonly exposure = computed(() => this.#view()?.exposure ?? null);
  readonly highestPossible = computed(() => this.#view()?.highestVolt ?? 0);
  /** What is counted otherwise than it is stated, in words: the more hazardous of the two holds. */
  readonly disagreements = computed(() => this.#view()?.disagreements ?? []);
  /** What would settle what the number stands above the known. */
  readonly questions = computed(() => this.#view()?.questions ?? []);
  /** What came off, and where it is. */
  readonly ledger = computed(() => this.#view()?.ledger ?? null);
  readonly records = computed(() => this.#view()?.records ?? []);
  readonly trace = computed(() => this.#view()?.trace ?? null);
  /** The stages of the job, each with whether its rule holds. */
  readonly stages = computed(() => {
    const view = this.#view();
    if (!view) return [];
    const { state, profile } = view;
    const isDone = (stage: Stage): boolean => isStageDone(stage, state, profile, this.proofTime(), () => view.rebuild);
    return stagesOf(state, profile).map((stage) => ({ stage, isDone: isDone(stage) }));
  });
  /** How far it is put together again. */
  readonly rebuild = computed(() => this.#view()?.rebuild ?? null);

  /** All that the server has is here, by a beat of the last seconds. */
  readonly isFollowing = this.#follow.isFollowing;
  readonly isConnected = this.#link.isLive;
  /** Server time up to which what is shown is certain, epoch milliseconds; null while it follows. */
  readonly staleSince = this.#follow.staleSince;

  /** Steps, wait, readings and proof, by the server's clock. */
  readonly isolation = computed(() => {
    const state = this.state();
    const profile = this.profile();
    if (!state || !profile) return null;
    const found = findIsolation(state, profile, this.policy().isolation, this.#link.serverNow());
    return this.proofTime() === Infinity ? { ...found, standing: null } : found;
  });

  /** The one thing to do next, for every place of the screen that says so. */
  readonly next = computed(() => {
    const [view, profile, isolation] = [this.#view(), this.profile(), this.isolation()];
    return view && profile && isolation ? findNextStep(view.state, profile, isolation, this.#link.serverNow(), view) : null;
  });
  /** Other devices that had this job open when they fell silent: what was done on them since is not known here. */
  readonly cutOff = computed(() => this.#link.cutOff().filter((c) => c.jobId === this.jobId() && c.deviceId !== this.#store.deviceId));
  /** Whether gloves are asked for: it follows what can be reached now and after the next planned act, never the clock. */
  readonly gloves = computed(() => {
    const [state, exposure] = [this.state(), this.exposure()];
    if (!state || !exposure) return null;
    const { pack } = state;
    // on the way to a proof the hands go to plug and posts: the string counts, whatever is bare
    const isOnTheWay = this.proofTime() === Infinity && !pack.isOnBench && (pack.isKeyAway || !pack.isPlugIn);
    const next = Math.max(this.trace()?.planned[0]?.reachableVolt ?? 0, isOnTheWay ? exposure.behind.volt : 0);
    return findGloveNeed(exposure.reachable.volt, next, LIVE_VOLT);
  });
  readonly closed = computed(() => this.state()?.intake.closed ?? null);
  /** Module at each place, place 1 first; empty where nobody named one. */
  readonly moduleIds = computed(() => {
    const state = this.state();
    return state ? moduleIdsOf(state) : [];
  });
  /** Links that a hand opened. */
  readonly openBars = computed(() => {
    const [state, profile] = [this.state(), this.profile()];
    return state && profile ? listOpenBars(state.pack, profile) : [];
  });
  /** What is written of vehicle and customer: erased, not yet fetched and not said are all null. */
  readonly papers = computed((): JobPapers => {
    // what waits here is newer than what the server has
    const own = this.#outbox.acts().findLast((a) => a.jobId === this.jobId() && a.sent.papers !== undefined && a.refused === null);
    const papers = this.#papers() ?? NO_PAPERS;
    return own?.sent.papers ? { ...papers, ...own.sent.papers } : papers;
  });
  /** The vehicle in words, also where nothing is known of it. */
  readonly vehicle = computed(() => {
    const { vehicle } = this.papers();
    const isKnown = this.#papers() !== null || vehicle !== null;
    const plate = vehicle?.plate ?? '';
    return { name: vehicle?.name ?? (isKnown ? 'vehicle erased' : 'vehicle not fetched'), plate: plate === '' ? 'not noted' : plate };
  });
  /** The last own act that can be taken back. */
  readonly undoable = computed(() => {
    const me = this.#session.person()?.id;
    return me === undefined ? null : (this.state()?.undoable.get(me)?.at(-1) ?? null);
  });

  constructor() {
    const whileOpen = <T>() => takeUntilDestroyed<T>(inject(DestroyRef));
    this.#link.events$.pipe(whileOpen()).subscribe((streamed) => {
      if (!('event' in streamed) && /^(vehicle|customer)\.erased$/.test(streamed.type)) void this.#fetchPapers();
    });
    this.#link.behind$.pipe(whileOpen()).subscribe(() => {
      if (this.jobId() !== '') void this.#fetchPapers();
    });
    effect(() => {
      if (this.isFollowing() && this.#papers() === null) untracked(() => void this.#fetchPapers());
    });
    // corrected, here or by somebody else: the job names other rows
    let rowId: string | null = null;
    effect(() => {
      const id = this.kept()?.state.intake.opened?.vehicle.id ?? null;
      const isOther = rowId !== null && id !== null && id !== rowId;
      rowId = id;
      if (isOther) untracked(() => void this.#fetchPapers());
    });
  }

  /** The job leaves the screen. */
  leave(): void {
    this.#presence.leave();
  }

  /** Opens a job: as this device saw it last, if it did, and then as it is. Done when the server was asked once. */
  async open(jobId: string): Promise<void> {
    this.#papers.set(null);
    const opening = this.#follow.open(jobId);
    this.#presence.enter(jobId);
    void this.#fetchPapers();
    await opening;
  }

  retry(): Promise<void> {
    return this.open(this.jobId());
  }

  /**
   * States how something stands. Where its parts were counted otherwise it is asked once which is so, and nothing is kept until that is
   * answered.
   */
  async stateFact(stage: Stage, fact: Fact, counts?: 'all' | 'asCounted'): Promise<void> {
    const [state, profile] = [this.state(), this.profile()];
    const differ = counts === undefined && state && profile ? listCountsThatDiffer(state, fact, profile) : [];
    this.#asked.set(differ.length > 0 ? { stage, fact, differ } : null);
    if (differ.length === 0) await this.act({ type: 'fact.stated', body: { stage, fact, ...(counts ? { counts } : {}) } });
  }

  /** The question is dropped: nothing was stated. */
  dropQuestion(): void {
    this.#asked.set(null);
  }

  /** Gives the answer to a question of the line. */
  async answer({ act }: QuestionAnswer): Promise<void> {
    if (act.type === 'fact.stated' && !act.body.counts) await this.stateFact(act.body.stage, act.body.fact);
    else await this.act(act);
  }

  act(act: Act, commandId?: string): Promise<string | null> {
    return this.#outbox.put(this.jobId(), act, commandId === undefined ? {} : { commandId });
  }

  /** What is written of vehicle and customer, anew: it travels beside the act, which names it by rows of its own. */
  correctPapers(papers: Papers): Promise<string | null> {
    const named = (): NamedRow => ({ id: uuid(), hash: NO_HASH });
    const body = { vehicle: named(), customer: papers.customer && named() };
    return this.#outbox.put(this.jobId(), { type: 'papers.corrected', body }, { papers });
  }

  /** Takes back the last own act. */
  async undo(): Promise<boolean> {
    const last = this.undoable();
    if (!last) return false;
    return (await this.act({ type: 'act.withdrawn', body: { commandId: last.commandId, reason: 'mistyped' } })) !== null;
  }

  dismissRefused(): Promise<void> {
    return this.#outbox.dismissRefused(this.jobId());
  }

  /** What was set aside because the server failed on it goes again. */
  offerAside(): Promise<void> {
    return this.#outbox.offerAside(this.jobId());
  }

  async #fetchPapers(): Promise<void> {
    const jobId = this.jobId();
    if (jobId === '') return;
    const path = `/api/jobs/${encodeURIComponent(jobId)}/papers`;
    const { value: papers } = await this.#known.ask(path, jobPapersSchema);
    if (this.jobId() === jobId && papers) this.#papers.set(papers);
  }
}

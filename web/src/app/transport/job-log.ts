import { computed, inject, Injectable, signal } from '@angular/core';
import type { Papers } from '@estuarine/contract';
import {
  DEFAULT_POLICY,
  findGloveNeed,
  findIsolation,
  findNextStep,
  findStanding,
  isStageDone,
  JobViewer,
  listCountsThatDiffer,
  listOpenBars,
  LIVE_VOLT,
  moduleIdsOf,
  stagesOf,
  type Act,
  type Fact,
  type QuestionAnswer,
  type Stage,
} from '@estuarine/core';
import { Session } from '../session/session.ts';
import { JobFollow } from './job-follow.ts';
import { JobPapers } from './job-papers.ts';
import { JobPresence } from './job-presence.ts';
import { JobWaiting } from './job-waiting.ts';
import { Link } from './link.ts';
import { Outbox } from './outbox.ts';
import { DeviceStore } from './store.ts';

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
  readonly #presence = inject(JobPresence);
  readonly #waiting = inject(JobWaiting);
  readonly #papers = inject(JobPapers);

  readonly #asked = signal<{ readonly stage: Stage; readonly fact: Fact; readonly differ: readonly string[] } | null>(null);
  readonly #viewer = new JobViewer();

  readonly jobId = this.#follow.jobId;
  readonly phase = this.#follow.phase;
  readonly kept = this.#follow.kept;
  /** A fact that was pressed and whose parts were counted otherwise; null while nothing is asked. */
  readonly asked = this.#asked.asReadonly();

  /** Acts that were not taken, until somebody has seen why. */
  readonly refused = this.#waiting.refused;
  /** Acts that the server failed on: they are shown as done, hold nothing up, and go again. */
  readonly aside = this.#waiting.aside;
  readonly isHeld = this.#waiting.isHeld;
  readonly pendingCount = this.#waiting.count;
  readonly pendingIds = this.#waiting.ids;
  /** What is written of vehicle and customer. */
  readonly papers = this.#papers.papers;
  readonly vehicle = this.#papers.vehicle;

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
    return kept && this.#viewer.view(kept.state, this.#waiting.events(), kept.profile, kept.policy, this.proofTime());
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
  /** The last own act that can be taken back. */
  readonly undoable = computed(() => {
    const me = this.#session.person()?.id;
    return me === undefined ? null : (this.state()?.undoable.get(me)?.at(-1) ?? null);
  });

  /** The job leaves the screen. */
  leave(): void {
    this.#presence.leave();
  }

  /** Opens a job: as this device saw it last, if it did, and then as it is. Done when the server was asked once. */
  async open(jobId: string): Promise<void> {
    const opening = this.#follow.open(jobId);
    this.#papers.open();
    this.#presence.enter(jobId);
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

  correctPapers(papers: Papers): Promise<string | null> {
    return this.#papers.correct(papers);
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
}

import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import {
  doneSchema,
  eventsAnswerSchema,
  jobAnswerSchema,
  jobPapersSchema,
  policyAnswerSchema,
  profileAnswerSchema,
  type JobAnswer,
  type JobPapers,
  type KeptAct,
  type WireEvent,
} from '@estuarine/contract';
import {
  ACT_TRAITS,
  DEFAULT_POLICY,
  extend,
  findGloveNeed,
  findHighestPossible,
  findIsolation,
  findLedger,
  findNextStep,
  findStanding,
  findWorstExposure,
  FOLD_VERSION,
  listOpenBars,
  listCountsThatDiffer,
  listDisagreements,
  LIVE_VOLT,
  moduleIdsOf,
  passThrough,
  readEvent,
  recordModules,
  startState,
  traceExposure,
  type Act,
  type Fact,
  type JobEvent,
  type Stage,
} from '@estuarine/core';
import type * as z from 'zod';
import { Session } from '../session/session.ts';
import { Api } from './api.ts';
import { DeviceStore, type JobSnapshot, type WaitingAct } from './store.ts';
import { KnownAnswers } from './known-answers.ts';
import { Link } from './link.ts';
import { Outbox } from './outbox.ts';
import { Tabs } from './tabs.ts';
import { eventOf } from './waiting-event.ts';

/** `tooOld`: what was recorded, or the server, is of another release than this application. */
export type JobPhase = 'loading' | 'ready' | 'missing' | 'unreachable' | 'tooOld';

const EVENTS_PAGE = 500;
const NO_PAPERS: JobPapers = { vehicle: null, customer: null };

/**
 * One open job: what the server has kept, what waits on this device, and everything computed from both. Provided by the job's page,
 * so that it lives as long as the job is open.
 */
@Injectable()
export class JobLog {
  readonly #api = inject(Api);
  readonly #store = inject(DeviceStore);
  readonly #outbox = inject(Outbox);
  readonly #session = inject(Session);
  readonly #link = inject(Link);
  readonly #tabs = inject(Tabs);
  readonly #known = inject(KnownAnswers);

  readonly #jobId = signal('');
  readonly #kept = signal<JobSnapshot | null>(null);
  readonly #phase = signal<JobPhase>('loading');
  readonly #papers = signal<JobPapers | null>(null);
  readonly #asked = signal<{ readonly stage: Stage; readonly fact: Fact; readonly differ: readonly string[] } | null>(null);
  #isFetching = false;
  #isLeaving = false;

  readonly jobId = this.#jobId.asReadonly();
  readonly phase = computed((): JobPhase => (this.#link.isTooOld() ? 'tooOld' : this.#phase()));
  readonly kept = this.#kept.asReadonly();
  /** A fact that was pressed and whose parts were counted otherwise; null while nothing is asked. */
  readonly asked = this.#asked.asReadonly();

  readonly #pending = computed(() => {
    const state = this.#kept()?.state;
    const [head, recentIds] = [state?.head ?? 0, state?.recentIds ?? []];
    // the event may come by the stream before the answer to its sender: then it is in the state already
    const isHere = (a: WaitingAct): boolean => (a.kept === null ? recentIds.includes(a.sent.commandId) : a.kept.last <= head);
    return this.#outbox.acts().filter((a) => a.jobId === this.#jobId() && a.refused === null && !isHere(a));
  });
  /** Acts that wait, as the events they would be. One of a later release than this is left to the server. */
  readonly #waiting = computed(() => this.#pending().flatMap(({ jobId, sent }) => eventOf(sent, 0, sent.deviceAt, jobId) ?? []));
  readonly refused = computed(() => this.#outbox.refused().filter((a) => a.jobId === this.#jobId()));
  /** Acts of this job that the server has not kept. */
  readonly pendingCount = computed(() => this.#pending().filter((a) => a.kept === null).length);
  readonly pendingIds = computed(() => new Set(this.#pending().map((a) => a.sent.commandId)));

  readonly profile = computed(() => this.#kept()?.profile ?? null);
  readonly policy = computed(() => this.#kept()?.policy ?? DEFAULT_POLICY);

  /** The kept state, and what each waiting act makes of it in turn. */
  readonly #states = computed(() => {
    const kept = this.#kept();
    return kept && passThrough(kept.state, kept.profile, this.#waiting());
  });
  /** What the person did, kept or not yet. */
  readonly state = computed(() => this.#states()?.at(-1) ?? null);

  /**
   * The time that exposure is computed for: while a proof stands, the last moment it does; without one, none. It changes only when a
   * proof comes or goes, so that the seconds passing compute nothing anew. Until the server has told its time no proof stands here: a
   * device's own clock may be hours off.
   */
  readonly proofTime = computed(() => {
    const kept = this.#kept();
    if (this.#link.heardAt() === 0) return Infinity;
    return (kept && findStanding(kept.state, this.#link.serverNow())?.endsAt) ?? Infinity;
  });
  /** Steps, wait, readings and proof, by the server's clock. */
  readonly isolation = computed(() => {
    const state = this.state();
    const profile = this.profile();
    if (!state || !profile) return null;
    const found = findIsolation(state, profile, this.policy().isolation, this.#link.serverNow());
    return this.proofTime() === Infinity ? { ...found, standing: null } : found;
  });

  /** Waiting acts may raise what is shown as reachable, never lower it. */
  readonly exposure = computed(() => {
    const [states, profile] = [this.#states(), this.profile()];
    return states && profile ? findWorstExposure(states, profile, this.proofTime()) : null;
  });
  readonly highestPossible = computed(() => {
    const [exposure, profile] = [this.exposure(), this.profile()];
    return exposure && profile ? findHighestPossible(exposure, profile) : 0;
  });
  /** What is counted otherwise than it is stated, in words: the more hazardous of the two holds. */
  readonly disagreements = computed(() => {
    const [state, profile] = [this.state(), this.profile()];
    return state && profile ? listDisagreements(state, profile).map((d) => d.sentence) : [];
  });
  /** The one thing to do next, for every place of the screen that says so. */
  readonly next = computed(() => {
    const [state, profile, isolation] = [this.state(), this.profile(), this.isolation()];
    return state && profile && isolation ? findNextStep(state, profile, isolation, this.#link.serverNow()) : null;
  });
  /** Other devices that had this job open when they fell silent: what was done on them since is not known here. */
  readonly cutOff = computed(() => this.#link.cutOff().filter((c) => c.jobId === this.#jobId() && c.deviceId !== this.#store.deviceId));
  readonly trace = computed(() => {
    const kept = this.#kept();
    return kept ? traceExposure(kept.state, kept.profile, this.proofTime()) : null;
  });
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
    const own = this.#outbox.acts().find((a) => a.jobId === this.#jobId() && a.sent.papers !== undefined && a.kept === null);
    return this.#papers() ?? own?.sent.papers ?? NO_PAPERS;
  });
  /** The vehicle in words, also where nothing is known of it. */
  readonly vehicle = computed(() => {
    const { vehicle } = this.papers();
    const isKnown = this.#papers() !== null || vehicle !== null;
    const plate = vehicle?.plate ?? '';
    return { name: vehicle?.name ?? (isKnown ? 'vehicle erased' : 'vehicle not fetched'), plate: plate === '' ? 'not noted' : plate };
  });
  /** What came off, and where it is. */
  readonly ledger = computed(() => {
    const [state, profile] = [this.state(), this.profile()];
    return state && profile ? findLedger(state, profile) : null;
  });
  readonly records = computed(() => {
    const kept = this.#kept();
    const state = this.state();
    return kept && state ? recordModules(state, kept.profile, kept.policy.limits) : [];
  });
  /** The last own act that can be taken back. */
  readonly undoable = computed(() => {
    const me = this.#session.person()?.id;
    return me === undefined ? null : (this.state()?.undoable.get(me)?.at(-1) ?? null);
  });

  constructor() {
    this.#link.events$.subscribe((streamed) => {
      if ('event' in streamed) {
        if (streamed.stream === this.#jobId()) this.#take([streamed.event]);
      } else if (/^(vehicle|customer)\.erased$/.test(streamed.type)) void this.#fetchPapers();
    });
    this.#link.behind$.subscribe(() => {
      if (this.#jobId() !== '') this.#tellOpen(true);
      void this.#fetch();
      void this.#fetchPapers();
    });
    this.#tabs.messages$.subscribe((m) => {
      if (m.kind === 'kept' && m.jobId === this.#jobId()) this.#takeOwn(m.commandId, m.kept);
      // another tab closed the job that is still open in this one
      if (m.kind === 'left' && m.jobId === this.#jobId() && !this.#isLeaving) this.#tellOpen(true);
    });
    // a policy adopted on this job, here or elsewhere, changes the verdicts
    effect(() => {
      const kept = this.#kept();
      if (kept && kept.state.head > 0) untracked(() => void this.#store.saveJob(kept).catch(() => undefined));
    });
  }

  /** The job leaves the screen: unless acts of it wait here, this device holds nothing that others would have to know of. */
  leave(): void {
    if (this.pendingCount() > 0 || this.#jobId() === '') return;
    this.#isLeaving = true;
    this.#tellOpen(false);
    this.#tabs.tell({ kind: 'left', jobId: this.#jobId() });
  }

  /** Tells the server whether the job is open here, so that others know when this device is cut off; told again at each new stream. */
  #tellOpen(isOpen: boolean): void {
    const path = `/api/devices/${encodeURIComponent(this.#store.deviceId)}`;
    const body = { jobId: this.#jobId(), isOpen };
    if (isOpen) void this.#api.post(path, doneSchema, body);
    else this.#api.sendLast(path, body);
  }

  async open(jobId: string): Promise<void> {
    this.#jobId.set(jobId);
    this.#isLeaving = false;
    this.#tellOpen(true);
    this.#phase.set('loading');
    const known = await this.#store.findJob(jobId).catch(() => undefined);
    if (this.#jobId() !== jobId) return;
    this.#kept.set(known ?? null);
    if (known) this.#phase.set('ready');
    this.#papers.set(null);
    void this.#fetchPapers();
    await this.#fetch();
  }

  retry(): Promise<void> {
    return this.open(this.#jobId());
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

  act(act: Act, commandId?: string): Promise<string | null> {
    return this.#outbox.put(this.#jobId(), act, commandId === undefined ? {} : { commandId });
  }

  /** Takes back the last own act. */
  async undo(): Promise<boolean> {
    const last = this.undoable();
    if (!last) return false;
    return (await this.act({ type: 'act.withdrawn', body: { commandId: last.commandId, reason: 'mistyped' } })) !== null;
  }

  dismissRefused(): Promise<void> {
    return this.#outbox.dismissRefused(this.#jobId());
  }

  async #fetch(): Promise<void> {
    const jobId = this.#jobId();
    if (jobId === '') return;
    const known = this.#kept();
    const reply = await this.#api.get(
      `/api/jobs/${encodeURIComponent(jobId)}`,
      jobAnswerSchema,
      known && known.state.head > 0 ? `"${known.state.head}"` : null,
    );
    if (this.#jobId() !== jobId || reply.kind === 'unchanged') return;
    if (reply.kind === 'strange') {
      this.#phase.set('tooOld');
      return;
    }
    if (reply.kind === 'answer') {
      await this.#receive(reply.value);
      return;
    }
    if (this.#kept()) return;
    const isMissing = reply.kind === 'problem' && reply.problem.status === 404;
    if (!(await this.#beginHere())) this.#phase.set(isMissing ? 'missing' : 'unreachable');
  }

  async #fetchPapers(): Promise<void> {
    const jobId = this.#jobId();
    if (jobId === '') return;
    const path = `/api/jobs/${encodeURIComponent(jobId)}/papers`;
    const { value: papers } = await this.#known.ask(path, jobPapersSchema);
    if (this.#jobId() === jobId && papers) this.#papers.set(papers);
  }

  /** A job that was opened on this device and is not with the server yet begins from its own first act. */
  async #beginHere(): Promise<boolean> {
    await this.#outbox.loaded;
    const jobId = this.#jobId();
    const sent = this.#outbox.acts().find((a) => a.jobId === jobId && a.sent.act.type === 'job.opened')?.sent;
    const opened = sent && eventOf(sent, 1, sent.deviceAt, jobId);
    if (opened?.type !== 'job.opened') return false;
    const { profileId, profileVersion, policyVersion } = opened.body;
    const [profile, policy] = await Promise.all([
      this.#known.seen(`/api/profiles/${profileId}/${profileVersion}`, profileAnswerSchema),
      this.#known.seen(`/api/policies/${policyVersion}`, policyAnswerSchema),
    ]);
    if (!profile || this.#jobId() !== jobId) return false;
    if (!this.#kept())
      this.#kept.set({
        ...{ jobId, fold: FOLD_VERSION, state: startState(profile.profile), profile: profile.profile },
        policy: policy?.policy ?? DEFAULT_POLICY,
      });
    this.#phase.set('ready');
    return true;
  }

  async #receive({ jobId, fold, state, profileId, profileVersion }: JobAnswer): Promise<void> {
    if (fold !== FOLD_VERSION) {
      this.#phase.set('tooOld');
      return;
    }
    const known = this.#kept();
    const [profile, policy] = await Promise.all([
      known?.profile.id === profileId && known.profile.version === profileVersion
        ? known.profile
        : this.#lookUp(`/api/profiles/${profileId}/${profileVersion}`, profileAnswerSchema).then((a) => a?.profile),
      this.#lookUp(`/api/policies/${state.policyVersion}`, policyAnswerSchema).then((a) => a?.policy),
    ]);
    if (this.#jobId() !== jobId) return;
    if (!profile) {
      if (!known) this.#phase.set('unreachable');
      return;
    }
    if ((this.#kept()?.state.head ?? 0) > state.head) return;
    this.#kept.set({ jobId, fold, state, profile, policy: policy ?? known?.policy ?? DEFAULT_POLICY });
    this.#phase.set('ready');
    await this.#outbox.settle(jobId, state.head);
  }

  /** What never changes is asked for once. */
  async #lookUp<S extends z.ZodType>(path: string, schema: S): Promise<z.output<S> | undefined> {
    return (await this.#known.seen(path, schema)) ?? (await this.#known.ask(path, schema)).value;
  }

  /** An own act was kept: its event is known without waiting for the stream. */
  #takeOwn(commandId: string, { first, last, at }: KeptAct): void {
    const own = this.#outbox.acts().find((a) => a.sent.commandId === commandId);
    if (!own || own.sent.act.type === 'job.opened') {
      void this.#fetch();
      return;
    }
    const event = eventOf(own.sent, first, at, own.jobId);
    // what the server fills in, and what the act means besides, stands in the events alone
    if (event && first === last && ACT_TRAITS[event.type].serverFills.length === 0) this.#takeEvents([event]);
    else void this.#catchUp();
  }

  /** Takes events as the server sent them. One of a later release is never folded. */
  #take(sent: readonly WireEvent[]): void {
    const jobId = this.#jobId();
    const events: JobEvent[] = [];
    for (const event of sent) {
      const read = readEvent(event, jobId);
      if (read.kind === 'refused') {
        this.#phase.set('tooOld');
        return;
      }
      events.push(read.value);
    }
    this.#takeEvents(events);
  }

  #takeEvents(events: readonly JobEvent[]): void {
    const kept = this.#kept();
    const first = events[0];
    if (!kept || !first || this.phase() === 'tooOld') return;
    if (first.number > kept.state.head + 1) {
      void this.#catchUp();
      return;
    }
    if (events.some((e) => e.type === 'policy.adopted')) {
      void this.#fetch();
      return;
    }
    const state = extend(kept.state, kept.profile, events);
    if (state === kept.state) return;
    this.#kept.set({ ...kept, state });
    void this.#outbox.settle(kept.jobId, state.head);
  }

  /** Fetches the events between what is here and what is there. */
  async #catchUp(): Promise<void> {
    const kept = this.#kept();
    if (!kept || this.#isFetching) return;
    this.#isFetching = true;
    try {
      const path = `/api/jobs/${encodeURIComponent(kept.jobId)}/events?after=${kept.state.head}&limit=${EVENTS_PAGE}`;
      const reply = await this.#api.get(path, eventsAnswerSchema);
      if (reply.kind !== 'answer' || this.#jobId() !== kept.jobId) return;
      if (reply.value.next !== null) await this.#fetch();
      else this.#take(reply.value.events);
    } finally {
      this.#isFetching = false;
    }
  }
}

import { computed, DestroyRef, effect, inject, Injectable, signal, untracked } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { jobAnswerSchema, policyAnswerSchema, profileAnswerSchema, type JobAnswer, type WireEvent } from '@estuarine/contract';
import { ACT_TRAITS, DEFAULT_POLICY, extend, FOLD_VERSION, readEvent, startState, type JobEvent } from '@estuarine/core';
import { defer, finalize, firstValueFrom, retry, Subject, switchMap, timer } from 'rxjs';
import type * as z from 'zod';
import { Session } from '../session/session.ts';
import { Api, type Reply } from './api.ts';
import { KnownAnswers } from './known-answers.ts';
import { Link } from './link.ts';
import { Outbox } from './outbox.ts';
import { pauseAfter } from './pause.ts';
import { DeviceStore, type JobSnapshot, type WaitingAct } from './store.ts';
import { Tabs, type JustKept } from './tabs.ts';
import { eventOf } from './waiting-event.ts';

/** `tooOld`: what was recorded, or the server, is of another release than this application. */
export type JobPhase = 'loading' | 'ready' | 'missing' | 'unreachable' | 'tooOld';

/** So long the stream may take to bring what the server filled in of an own act. */
const OWN_MILLISECOND = 1000;
/** Verdicts hang on the policy, which is fetched with the job: of these the event alone is not enough, whoever's it is. */
const NEEDS_MORE: ReadonlySet<string> = new Set(['policy.adopted']);
/** Epoch of a job that no log holds yet. */
const BEGUN_HERE = '';

/**
 * The state of one job as the server has it. It follows the stream while it has missed nothing; else it catches up, again and again
 * after growing waits, and until then it is as of the last time that it followed. Provided by the job's page.
 */
@Injectable()
export class JobFollow {
  readonly #api = inject(Api);
  readonly #store = inject(DeviceStore);
  readonly #outbox = inject(Outbox);
  readonly #session = inject(Session);
  readonly #link = inject(Link);
  readonly #tabs = inject(Tabs);
  readonly #known = inject(KnownAnswers);
  readonly #destroyRef = inject(DestroyRef);

  readonly #jobId = signal('');
  readonly #kept = signal<JobSnapshot | null>(null);
  readonly #phase = signal<JobPhase>('loading');
  /** Own acts that the server has kept and whose events are not here yet. */
  readonly #coming = signal<readonly JustKept[]>([]);
  /** All events of this job that were passed on are here, and it was fetched since anything may have been missed. */
  readonly #isCaughtUp = signal(false);
  /** Server time up to which this job was followed last, epoch milliseconds; 0 for never since it was opened. */
  readonly #followedAt = signal(0);
  /** Number of the last event of this job that was heard of. */
  #wanted = 0;
  /** Of the last question for the job: an answer to one before says nothing of now. */
  #turn = 0;
  readonly #missing = new Subject<void>();
  #isCatchingUp = false;
  readonly #tried = new Subject<void>();
  readonly #events = new WeakMap<WaitingAct['sent'], JobEvent | null>();

  readonly jobId = this.#jobId.asReadonly();
  readonly phase = computed((): JobPhase => (this.#link.isTooOld() ? 'tooOld' : this.#phase()));
  readonly kept = this.#kept.asReadonly();
  readonly coming = this.#coming.asReadonly();
  /** All that the server has is here, by a beat of the last seconds. */
  readonly isFollowing = computed(() => this.#isCaughtUp() && this.#link.isLive() && this.phase() === 'ready');
  /** Server time up to which what is shown is certain, epoch milliseconds; null while it follows. */
  readonly staleSince = computed(() => {
    const kept = this.#kept();
    if (!kept || this.isFollowing()) return null;
    return this.#followedAt() || Date.parse(kept.state.lastAt) || this.#link.serverNow();
  });

  constructor() {
    const whileOpen = <T>() => takeUntilDestroyed<T>(this.#destroyRef);
    this.#link.events$.pipe(whileOpen()).subscribe((streamed) => {
      if ('event' in streamed && streamed.stream === this.#jobId()) this.#take(streamed.event);
    });
    this.#link.behind$.pipe(whileOpen()).subscribe(() => {
      if (this.#jobId() === '') return;
      this.#turn++;
      this.#isCaughtUp.set(false);
      // what another log said is no state of this one
      const known = this.#kept()?.epoch ?? BEGUN_HERE;
      const told = this.#link.epoch();
      if (known !== BEGUN_HERE && told !== null && told !== known) this.#drop();
      this.#missing.next();
    });
    this.#missing
      .pipe(
        switchMap(() => {
          this.#isCatchingUp = true;
          return defer(() => this.#fetch()).pipe(
            retry({ delay: (_again, tries) => timer(pauseAfter(tries)), resetOnSuccess: true }),
            finalize(() => (this.#isCatchingUp = false)),
          );
        }),
        whileOpen(),
      )
      .subscribe();
    this.#tabs.messages$.pipe(whileOpen()).subscribe((m) => {
      if (m.kind === 'kept') this.#takeOwn(m.acts.filter(({ act }) => act.jobId === this.#jobId()));
    });
    effect(() => {
      const kept = this.#kept();
      if (kept && kept.state.head > 0) untracked(() => void this.#store.saveJob(kept).catch(() => undefined));
    });
    effect(() => {
      if (this.isFollowing()) this.#followedAt.set(this.#link.confirmedAt());
    });
    let wasLocked = this.#session.isLocked();
    effect(() => {
      const isLocked = this.#session.isLocked();
      untracked(() => {
        const isBack = wasLocked && !isLocked;
        wasLocked = isLocked;
        if (isBack && this.#jobId() !== '' && !this.#isCaughtUp()) this.#missing.next();
      });
    });
  }

  /** Opens a job: as this device saw it last, if it did, and then as it is. Done when the server was asked once. */
  async open(jobId: string): Promise<void> {
    this.#jobId.set(jobId);
    this.#phase.set('loading');
    this.#drop();
    const [known, sent] = await Promise.all([
      this.#store.findJob(jobId).catch(() => undefined),
      this.#store.listSent(jobId).catch(() => []),
    ]);
    if (this.#jobId() !== jobId) return;
    if (known && !this.#kept()) {
      this.#kept.set(known);
      this.#phase.set('ready');
    }
    this.#coming.update((all) => [...all, ...sent.map(({ kept, keptAt: _, ...act }) => ({ act: { ...act, refused: null }, kept }))]);
    const tried = firstValueFrom(this.#tried, { defaultValue: undefined });
    this.#missing.next();
    await tried;
  }

  /** An act of this device as the event it would be; null for one of a later release. */
  eventOf({ sent, jobId }: WaitingAct): JobEvent | null {
    const known = this.#events.get(sent);
    if (known !== undefined) return known;
    const event = eventOf(sent, 0, sent.deviceAt, jobId);
    this.#events.set(sent, event);
    return event;
  }

  #drop(): void {
    this.#kept.set(null);
    this.#coming.set([]);
    this.#isCaughtUp.set(false);
    this.#followedAt.set(0);
    this.#wanted = 0;
  }

  /** Asks for the job as it is. Done when all that was passed on is here, or where asking again leads nowhere; else it fails. */
  async #fetch(): Promise<void> {
    const jobId = this.#jobId();
    if (jobId === '') return;
    const turn = ++this.#turn;
    const delivered = this.#link.delivered();
    const known = this.#kept();
    const etag = known && known.state.head > 0 ? `"${known.epoch}.${known.state.head}"` : null;
    const reply = await this.#api.get(`/api/jobs/${encodeURIComponent(jobId)}`, jobAnswerSchema, etag);
    if (this.#jobId() !== jobId || turn !== this.#turn) return;
    const isDone = await this.#hear(reply, delivered, turn);
    this.#tried.next();
    if (!isDone && this.#jobId() === jobId) throw new Error('not caught up yet');
  }

  /** Takes the answer; gives whether there is nothing more to ask for until the stream speaks. */
  async #hear(reply: Reply<JobAnswer>, delivered: number | null, turn: number): Promise<boolean> {
    switch (reply.kind) {
      case 'strange':
        this.#phase.set('tooOld');
        return true;
      case 'problem':
      case 'unreachable': {
        const isMissing = reply.kind === 'problem' && reply.problem.status === 404;
        const known = this.#kept();
        // one that was begun here is on its way, or was kept while the answer was
        if (isMissing && known && known.epoch !== BEGUN_HERE) this.#drop();
        if (!this.#kept() && !(await this.#beginHere())) this.#phase.set(isMissing ? 'missing' : 'unreachable');
        return isMissing && !this.#kept() && this.#coming().length === 0;
      }
      case 'answer':
        if (reply.value.fold !== FOLD_VERSION) {
          this.#phase.set('tooOld');
          return true;
        }
        if (!(await this.#receive(reply.value))) return false;
        break;
      case 'unchanged':
        this.#phase.set('ready');
    }
    // before the stream has said where it stands, it will say so, and all is asked anew
    if (delivered === null) return true;
    const kept = this.#kept();
    const isAll = (reply.position ?? -1) >= delivered && kept?.epoch === this.#link.epoch() && kept.state.head >= this.#wanted;
    if (isAll && turn === this.#turn) this.#isCaughtUp.set(true);
    return isAll;
  }

  /** A job that was opened on this device, and that the server does not have or cannot tell of yet, begins from its own first act. */
  async #beginHere(): Promise<boolean> {
    await this.#outbox.loaded;
    const jobId = this.#jobId();
    const own = [...this.#outbox.acts(), ...this.#coming().map(({ act }) => act)];
    const sent = own.find((a) => a.jobId === jobId && a.sent.act.type === 'job.opened')?.sent;
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
        ...{ jobId, fold: FOLD_VERSION, epoch: BEGUN_HERE, state: startState(profile.profile), profile: profile.profile },
        policy: policy?.policy ?? DEFAULT_POLICY,
      });
    this.#phase.set('ready');
    return true;
  }

  /** Gives whether it could be taken: its profile may not be at hand. */
  async #receive({ jobId, fold, epoch, state, profileId, profileVersion }: JobAnswer): Promise<boolean> {
    const known = this.#kept();
    const [profile, policy] = await Promise.all([
      known?.profile.id === profileId && known.profile.version === profileVersion
        ? known.profile
        : this.#lookUp(`/api/profiles/${profileId}/${profileVersion}`, profileAnswerSchema).then((a) => a?.profile),
      this.#lookUp(`/api/policies/${state.policyVersion}`, policyAnswerSchema).then((a) => a?.policy),
    ]);
    if (this.#jobId() !== jobId) return true;
    if (!profile || !policy) {
      if (!known) this.#phase.set('unreachable');
      return false;
    }
    const now = this.#kept();
    if (now?.epoch !== epoch || now.state.head <= state.head) this.#keep({ jobId, fold, epoch, state, profile, policy });
    this.#phase.set('ready');
    return true;
  }

  /** What is folded is not coming any more. */
  #keep(kept: JobSnapshot): void {
    this.#kept.set(kept);
    const { head } = kept.state;
    if (this.#coming().some((c) => c.kept.last <= head)) this.#coming.update((all) => all.filter((c) => c.kept.last > head));
  }

  /** What never changes is asked for once. */
  async #lookUp<S extends z.ZodType>(path: string, schema: S): Promise<z.output<S> | undefined> {
    return (await this.#known.seen(path, schema)) ?? (await this.#known.ask(path, schema)).value;
  }

  /** Own acts were kept: their events are known without waiting for the stream. */
  #takeOwn(acts: readonly JustKept[]): void {
    if (acts.length === 0) return;
    this.#coming.update((all) => [...all, ...acts]);
    for (const { act, kept } of acts) {
      const { head } = this.#kept()?.state ?? { head: 0 };
      const own = this.eventOf(act);
      // what the server fills in, and what the act means besides, stands in the events alone
      const isWhole =
        own !== null &&
        !NEEDS_MORE.has(own.type) &&
        kept.first === kept.last &&
        kept.first === head + 1 &&
        ACT_TRAITS[own.type].serverFills.length === 0;
      if (isWhole) this.#fold([{ ...own, number: kept.first, at: kept.at }]);
    }
    const last = Math.max(...acts.map((a) => a.kept.last));
    if (this.#has(last)) return;
    if (this.#kept()?.state.head) setTimeout(() => this.#want(last), OWN_MILLISECOND);
    else this.#want(last);
  }

  /** Takes an event as the server sent it. One of a later release is never folded. */
  #take(sent: WireEvent): void {
    const read = readEvent(sent, this.#jobId());
    if (read.kind === 'refused') {
      this.#phase.set('tooOld');
      return;
    }
    const event = read.value;
    const kept = this.#kept();
    if (!kept || kept.epoch === BEGUN_HERE || event.number > kept.state.head + 1 || NEEDS_MORE.has(event.type)) this.#want(event.number);
    else this.#fold([event]);
  }

  #fold(events: readonly JobEvent[]): void {
    const kept = this.#kept();
    if (!kept || this.phase() === 'tooOld') return;
    const state = extend(kept.state, kept.profile, events);
    if (state !== kept.state) this.#keep({ ...kept, state });
  }

  /** The event of this number is here, by the word of the server. */
  #has(number: number): boolean {
    const kept = this.#kept();
    return kept !== null && kept.epoch !== BEGUN_HERE && kept.state.head >= number;
  }

  /** An event of this number is there and not here: unless it came meanwhile, the job is behind until it is. */
  #want(number: number): void {
    this.#wanted = Math.max(this.#wanted, number);
    if (this.#has(this.#wanted) || this.#destroyRef.destroyed) return;
    this.#isCaughtUp.set(false);
    if (!this.#isCatchingUp) this.#missing.next();
  }
}

import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import { BATCH_LIMIT, batchAnswerSchema, problemCode, type Papers, type Problem } from '@estuarine/contract';
import { ACT_TRAITS, isActType, versionOf, type Act } from '@estuarine/core';
import { v7 as uuid } from 'uuid';
import { ActSigner } from '../session/act-signer.ts';
import { Session } from '../session/session.ts';
import { Api } from './api.ts';
import { Carrier, isLater, NotNow } from './carrier.ts';
import { Link } from './link.ts';
import { DeviceStore, type WaitingAct } from './store.ts';
import { Tabs, type JustKept } from './tabs.ts';
import { wholeText } from './whole-text.ts';

export interface PutMore {
  readonly commandId?: string;
  /** Travels with the act that opens a job. */
  readonly papers?: Papers;
}

/** A batch holds less than this, so that an import does not make it larger than the server takes. */
const BATCH_LETTERS = 400_000;
const ASIDE = 500;

/**
 * Acts that the server has not kept yet. They are on this device's disk before they are shown as done and leave it in batches, one job at
 * a time, by the leading tab alone. Facts go ahead of all else, whoever is at the device; a permit goes in its author's session behind the
 * facts before it, and a refused one holds the permits of its job until a person has seen it. Nothing is dropped.
 */
@Injectable({ providedIn: 'root' })
export class Outbox {
  readonly #store = inject(DeviceStore);
  readonly #api = inject(Api);
  readonly #tabs = inject(Tabs);
  readonly #session = inject(Session);
  readonly #link = inject(Link);
  readonly #signer = inject(ActSigner);
  readonly #acts = signal<readonly WaitingAct[]>([]);
  readonly #failure = signal<string | null>(null);
  readonly #underWay = signal(0);
  readonly #isDiskFull = signal(false);
  /** Jobs with an act that the server is too old for. */
  readonly #tooNew = signal<ReadonlySet<string>>(new Set());
  /** Acts that have left: a word of another tab that was under way does not bring them back. */
  readonly #gone = new Set<number>();
  #isLeading = false;
  /** Jobs with an act that the server cannot take now rest in it: others go on meanwhile. */
  readonly #carrier = new Carrier(() => this.#round());

  /** All acts of all jobs in device order, refused ones too. */
  readonly acts = this.#acts.asReadonly();
  /** Those that are on their way, or were set aside and go again. */
  readonly waiting = computed(() => this.#acts().filter((a) => a.refused === null || isAside(a)));
  /** An act was done and is not on the disk yet: it is in none of the lists. */
  readonly isStoring = computed(() => this.#underWay() > 0);
  /** Those that were not taken, or set aside: somebody should see why. */
  readonly refused = computed(() => this.#acts().filter((a) => a.refused !== null));
  /** Why an act could not even be put on this device; null while all is well. */
  readonly failure = this.#failure.asReadonly();

  /** What keeps the server from keeping anything, where it says so itself; null while it does not. */
  readonly hindrance = computed(() => {
    if (this.#isDiskFull()) return 'the disk of the server is full';
    return this.#tooNew().size > 0 ? 'server too old' : null;
  });

  /** Done when the acts on the device's disk were read for the first time. */
  readonly loaded: Promise<void>;

  constructor() {
    this.loaded = this.#reload();
    this.#tabs.messages$.subscribe((message) => {
      if (message.kind === 'acts') {
        this.#change(message.put, message.gone);
        this.#carrier.want();
      }
      if (message.kind === 'sessionChanged') this.#carrier.wantAnew();
    });
    // the stream came back, or it is of another log: what was missed or set aside meanwhile goes now
    this.#link.behind$.subscribe(() => void this.#reload().then(() => this.#offerAside()));
    // somebody came, or the server is back
    effect(() => {
      if (this.#session.person() !== null && this.#link.isLive()) untracked(() => this.#carrier.wantAnew());
    });
    this.#tabs.whenLeading(() => {
      this.#isLeading = true;
      void this.#reload().then(() => this.#store.forgetSent(this.#link.now().at.getTime()).catch(() => undefined));
    });
  }

  /** Puts an act on the device and shows it; gives its command id, or null when the device could not keep it. */
  async put(jobId: string, act: Act, { commandId = uuid(), papers }: PutMore = {}): Promise<string | null> {
    const by = this.#session.person()?.id;
    if (by === undefined) {
      this.#failure.set('Nobody is signed in on this device. Sign in first; nothing was kept.');
      return null;
    }
    const { at, isSure } = this.#link.now();
    const header = { commandId, deviceAt: at.toISOString(), by, version: versionOf(act) };
    this.#underWay.update((count) => count + 1);
    try {
      const sent = wholeText({ ...header, act, ...(papers ? { papers } : {}) });
      const waiting = await this.#sign(await this.#add(jobId, sent, isSure));
      this.#failure.set(null);
      this.#tabs.tell({ kind: 'acts', put: [waiting], gone: [] });
      return commandId;
    } catch {
      const count = this.waiting().length;
      const send =
        count > 0 ? ` ${count === 1 ? 'One act waits' : `${count} acts wait`} here: send them first, where the server can be reached.` : '';
      this.#failure.set(
        `This device could not store the act: its disk may be full. Nothing was kept; note it on paper and free some space.${send}`,
      );
      return null;
    } finally {
      this.#underWay.update((count) => count - 1);
    }
  }

  /** It is on the disk by now: what cannot be signed waits unsigned. */
  async #sign(waiting: WaitingAct): Promise<WaitingAct> {
    const signature = await this.#signer.sign(waiting.jobId, waiting.sent);
    if (!signature) return waiting;
    const signed = { ...waiting, sent: { ...waiting.sent, signature } };
    await this.#store.saveWaiting([signed]).catch(() => undefined);
    return signed;
  }

  /** On a full disk in the place of copies of what the server has. */
  async #add(...act: Parameters<DeviceStore['addWaiting']>): Promise<WaitingAct> {
    // asked for once something waits: a browser that is short of room then clears others first
    if (this.#acts().length === 0 && 'storage' in navigator) void navigator.storage.persist().catch(() => false);
    try {
      return await this.#store.addWaiting(...act);
    } catch (error) {
      if (!(error instanceof DOMException) || error.name !== 'QuotaExceededError') throw error;
      await this.#store.makeRoom();
      return this.#store.addWaiting(...act);
    }
  }

  /** The refused acts of a job were seen: they leave the device and its permits go on. What was set aside stays. */
  async dismissRefused(jobId: string): Promise<void> {
    const gone = this.#acts().filter((a) => a.jobId === jobId && a.refused !== null && !isAside(a));
    await this.#store.removeWaiting(gone.map((a) => a.seq));
    this.#tabs.tell({ kind: 'acts', put: [], gone: gone.map((a) => a.seq) });
  }

  /** What was set aside goes again. */
  async offerAside(jobId: string): Promise<void> {
    await this.#offerAside(jobId);
  }

  clearFailure(): void {
    this.#failure.set(null);
  }

  async #offerAside(jobId?: string): Promise<void> {
    const again = this.#acts().filter((a) => isAside(a) && (jobId === undefined || a.jobId === jobId));
    if (again.length > 0 && (this.#isLeading || jobId !== undefined)) await this.#save(again.map((a) => ({ ...a, refused: null })));
    this.#carrier.wantAnew();
  }

  #change(put: readonly WaitingAct[], gone: readonly number[]): void {
    for (const seq of gone) this.#gone.add(seq);
    const changed = new Map(put.filter((a) => !this.#gone.has(a.seq)).map((a) => [a.seq, a]));
    this.#acts.update((acts) => {
      const left = acts.filter((a) => !this.#gone.has(a.seq)).map((a) => changed.get(a.seq) ?? a);
      const known = new Set(left.map((a) => a.seq));
      const fresh = [...changed.values()].filter((a) => !known.has(a.seq));
      return fresh.length === 0 ? left : [...left, ...fresh].sort((a, b) => a.seq - b.seq);
    });
  }

  /** Reads the device's disk: it is what counts. */
  async #reload(): Promise<void> {
    try {
      const acts = await this.#store.listWaiting();
      // an act that left once may wait again, for a server that lost it
      for (const { seq } of acts) this.#gone.delete(seq);
      this.#acts.set(acts);
    } catch {
      // the disk cannot be read: what is known here stays
    }
    this.#carrier.want();
  }

  async #save(acts: readonly WaitingAct[]): Promise<void> {
    // where there is no room to note it, it holds as long as this page, and is found again by the next
    await this.#store.saveWaiting(acts).catch(() => undefined);
    this.#tabs.tell({ kind: 'acts', put: acts, gone: [] });
  }

  /** Sends what can be sent. */
  async #round(): Promise<void> {
    if (!this.#isLeading) return;
    for (let batch = this.#findNext(); batch.length > 0; batch = this.#findNext()) await this.#sendBatch(batch);
  }

  /** The acts that go next, all of one job. */
  #findNext(): readonly WaitingAct[] {
    const me = this.#session.person()?.id;
    const waiting = this.#acts().filter((a) => a.refused === null && !this.#carrier.isResting(a.jobId));
    const isAhead = aheadOf(waiting, me);
    // what is done on a job whose opening waits for its author waits with it
    const unborn = new Set(waiting.flatMap((a) => (a.sent.act.type === 'job.opened' && a.sent.by !== me && !isAhead(a) ? [a.jobId] : [])));
    const free = waiting.filter((a) => !unborn.has(a.jobId));
    const [fact] = free.filter(isAhead);
    if (me === undefined) return [];
    if (fact) return cut(free.filter((a) => a.jobId === fact.jobId && isAhead(a)));
    if (this.#session.isLocked()) return [];
    // a permit waits behind another's, and behind a refusal that nobody has seen
    const held = new Set(this.refused().flatMap((a) => (isAside(a) || isAhead(a) ? [] : [a.jobId])));
    for (const act of free) {
      if (held.has(act.jobId)) continue;
      if (act.sent.by === me) return [act];
      held.add(act.jobId);
    }
    return [];
  }

  /** Throws {@link NotNow} where nothing goes on for now. */
  async #sendBatch(batch: readonly WaitingAct[]): Promise<void> {
    const [first] = batch;
    if (!first) return;
    const path = `/api/jobs/${encodeURIComponent(first.jobId)}/batches`;
    const reply = await this.#api.post(path, batchAnswerSchema, { acts: batch.map((a) => a.sent) });
    this.#isDiskFull.set(reply.kind === 'problem' && problemCode(reply.problem) === 'diskFull');
    if (reply.kind === 'answer' && reply.value.outcomes.length === batch.length) return this.#settle(batch, reply.value.outcomes);
    if (reply.kind !== 'problem') throw new NotNow(0);
    if (isLater(reply.problem)) throw new NotNow(reply.retryMillisecond ?? 0);
    if (batch.length === 1 || reply.problem.status === 404) return this.#refuse(batch, reply.problem);
    // which act it is that the server fails on, or does not even read, is found by halves
    const middle = Math.ceil(batch.length / 2);
    await this.#sendBatch(batch.slice(0, middle));
    await this.#sendBatch(batch.slice(middle));
  }

  async #settle(batch: readonly WaitingAct[], outcomes: readonly Outcome[]): Promise<void> {
    const kept: JustKept[] = [];
    const refused: { readonly act: WaitingAct; readonly problem: Problem }[] = [];
    let hasLater = false;
    for (const [i, act] of batch.entries()) {
      const outcome = outcomes[i];
      if (outcome?.kind === 'kept') {
        const { stream, first, last, at } = outcome;
        kept.push({ act, kept: { stream, first, last, at } });
      } else if (outcome && !isLater(outcome.problem)) refused.push({ act, problem: outcome.problem });
      else hasLater = true;
    }
    if (kept.length > 0) {
      this.#carrier.advance();
      const off = kept.map(({ act: { seq, jobId, sent }, kept: k }) => ({ seq, jobId, sent, kept: k, keptAt: Date.parse(k.at) }));
      // a device without room for the copies lets go of what waited all the same: it was kept
      await this.#store.moveToSent(off).catch(() => this.#store.removeWaiting(off.map((a) => a.seq)));
      this.#tabs.tell({ kind: 'kept', acts: kept });
      this.#tabs.tell({ kind: 'acts', put: [], gone: kept.map(({ act }) => act.seq) });
    }
    for (const { act, problem } of refused) await this.#refuse([act], problem);
    const jobId = batch[0]?.jobId ?? '';
    const isTooNew = outcomes.some((o) => o.kind === 'refused' && problemCode(o.problem) === 'tooOld');
    if (isTooNew !== this.#tooNew().has(jobId))
      this.#tooNew.update((jobs) => new Set([...jobs].filter((j) => j !== jobId).concat(isTooNew ? jobId : [])));
    if (hasLater) this.#carrier.letRest(jobId);
    else this.#carrier.endRest(jobId);
  }

  /** Marks acts as not taken, and with a permit every later permit of its job that names it. One that failed the server is set aside. */
  async #refuse(acts: readonly WaitingAct[], problem: Problem): Promise<void> {
    const [first] = acts;
    if (!first) return;
    const status = Math.min(problem.status, ASIDE);
    if (status === ASIDE) {
      const detail = 'The server failed on this act. It was set aside, holds nothing up, and goes again by itself when the server is back.';
      await this.#save(acts.map((a) => ({ ...a, refused: { ...problem, status, detail } })));
      return;
    }
    const lost = new Set(acts.map((a) => a.sent.commandId));
    const marked = acts.map((a): WaitingAct => ({ ...a, refused: problem }));
    for (const other of this.#acts()) {
      if (other.jobId !== first.jobId || other.seq <= first.seq || other.refused !== null || isFact(other)) continue;
      const body = JSON.stringify(other.sent.act.body);
      if (lost.has(other.sent.commandId) || ![...lost].some((id) => body.includes(`"${id}"`))) continue;
      lost.add(other.sent.commandId);
      marked.push({ ...other, refused: { ...problem, detail: `It builds on an act that was refused: ${problem.detail}` } });
    }
    await this.#save(marked);
  }
}

type Outcome = ReturnType<typeof batchAnswerSchema.parse>['outcomes'][number];

/** The server failed on it: it is offered again. */
export function isAside({ refused }: WaitingAct): boolean {
  return refused !== null && refused.status >= ASIDE;
}

function isFact({ sent: { act } }: WaitingAct): boolean {
  return isActType(act.type) && ACT_TRAITS[act.type].nature === 'fact';
}

/**
 * Whether an act goes ahead of permits: a fact does, unless it takes back a permit that waits here itself, or is another's, not signed, and
 * of those that nobody passes on.
 * @param me who is signed in
 */
function aheadOf(acts: readonly WaitingAct[], me: string | undefined): (act: WaitingAct) => boolean {
  const permits = new Set(acts.flatMap((a) => (isFact(a) ? [] : [a.sent.commandId])));
  return (act) => {
    const { by, signature, act: said } = act.sent;
    const isTold = by === me || signature !== undefined || (isActType(said.type) && ACT_TRAITS[said.type].isPassedOn);
    return isFact(act) && isTold && !(said.type === 'act.withdrawn' && permits.has(String(said.body.commandId)));
  };
}

/** As many acts as one batch takes, one at least. */
function cut(acts: readonly WaitingAct[]): readonly WaitingAct[] {
  let letters = 0;
  const end = acts.findIndex((a, i) => (letters += JSON.stringify(a.sent).length) > BATCH_LETTERS && i > 0);
  return acts.slice(0, Math.min(end < 0 ? acts.length : end, BATCH_LIMIT));
}

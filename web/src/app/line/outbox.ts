import { computed, inject, Injectable, signal } from '@angular/core';
import { keptActSchema, type Papers } from '@estuarine/contract';
import { versionOf, type Act } from '@estuarine/core';
import { v7 as uuid } from 'uuid';
import { Session } from '../session/session.ts';
import { Api } from './api.ts';
import { DeviceStore, type WaitingAct } from './store.ts';
import { Link } from './link.ts';
import { Tabs } from './tabs.ts';

const RETRY_MILLISECOND = [500, 1000, 2000, 4000];
export interface PutMore {
  readonly commandId?: string;
  /** Travels with the act that opens a job. */
  readonly papers?: Papers;
}

/** Answers that say "not now" rather than "no". */
const LATER = new Set([401, 403, 408, 429, 500, 502, 503, 504]);

/**
 * Acts that the server has not kept yet. They are on this device's disk before they are shown as done, leave it in order, one queue
 * a job, and only by the leading tab. A refusal holds its queue until a person has seen it; nothing is dropped.
 */
@Injectable({ providedIn: 'root' })
export class Outbox {
  readonly #store = inject(DeviceStore);
  readonly #api = inject(Api);
  readonly #tabs = inject(Tabs);
  readonly #session = inject(Session);
  readonly #link = inject(Link);
  readonly #acts = signal<readonly WaitingAct[]>([]);
  readonly #failure = signal<string | null>(null);
  #isSending = false;
  #wantsSending = false;
  #tries = 0;

  /** All acts of all jobs in device order; kept ones stay until their events came back. */
  readonly acts = this.#acts.asReadonly();
  readonly waiting = computed(() => this.#acts().filter((a) => a.kept === null && a.refused === null));
  readonly refused = computed(() => this.#acts().filter((a) => a.refused !== null));
  /** Why an act could not even be put on this device; null while all is well. */
  readonly failure = this.#failure.asReadonly();

  /** Done when the acts on the device's disk were read for the first time. */
  readonly loaded: Promise<void>;

  constructor() {
    this.loaded = this.#reload().catch(() => undefined);
    this.#tabs.messages$.subscribe((message) => {
      if (message.kind === 'waitingChanged') void this.#reload().then(() => this.#send());
      if (message.kind === 'sessionChanged') void this.#send();
      if (message.kind === 'heard' && this.waiting().length > 0) void this.#send();
    });
    this.#tabs.whenLeading(() => {
      this.#wantsSending = true;
      void this.#reload().then(() => this.#send());
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
    try {
      const waiting = await this.#store.addWaiting(jobId, { ...header, act, ...(papers ? { papers } : {}) }, isSure);
      this.#acts.update((acts) => (acts.some((a) => a.seq === waiting.seq) ? acts : [...acts, waiting]));
      this.#failure.set(null);
      this.#tabs.tell({ kind: 'waitingChanged' });
      return commandId;
    } catch {
      this.#failure.set(
        'This device could not store the act: its disk may be full. Nothing was kept; note it on paper and free some space.',
      );
      return null;
    }
  }

  /** The refused acts of a job were seen: they leave the device and the queue goes on. */
  async dismissRefused(jobId: string): Promise<void> {
    await this.#remove(this.#acts().filter((a) => a.jobId === jobId && a.refused !== null));
    this.#tabs.tell({ kind: 'waitingChanged' });
  }

  /** The events of these acts have come back from the server. */
  async settle(jobId: string, head: number): Promise<void> {
    await this.#remove(this.#acts().filter((a) => a.jobId === jobId && a.kept !== null && a.kept.last <= head));
  }

  clearFailure(): void {
    this.#failure.set(null);
  }

  async #remove(acts: readonly WaitingAct[]): Promise<void> {
    if (acts.length === 0) return;
    const seqs = new Set(acts.map((a) => a.seq));
    this.#acts.update((all) => all.filter((a) => !seqs.has(a.seq)));
    await this.#store.removeWaiting([...seqs]);
  }

  async #reload(): Promise<void> {
    this.#acts.set(await this.#store.listWaiting());
  }

  /** Sends what can be sent; concurrent calls join the run that is under way. */
  async #send(): Promise<void> {
    if (!this.#wantsSending || this.#isSending) return;
    this.#isSending = true;
    try {
      for (let next = this.#findNext(); next; next = this.#findNext()) {
        const isGoingOn = await this.#sendOne(next);
        if (!isGoingOn) break;
      }
    } finally {
      this.#isSending = false;
    }
  }

  /** The first act whose queue is not held and whose author is at the device. */
  #findNext(): WaitingAct | undefined {
    const held = new Set(this.refused().map((a) => a.jobId));
    const me = this.#session.person()?.id;
    for (const act of this.waiting()) {
      if (held.has(act.jobId)) continue;
      if (act.sent.by === me) return act;
      // order within a job is kept: later acts wait behind another person's
      held.add(act.jobId);
    }
    return undefined;
  }

  async #sendOne(act: WaitingAct): Promise<boolean> {
    const path = `/api/jobs/${encodeURIComponent(act.jobId)}/acts`;
    const reply = await this.#api.post(path, keptActSchema, act.sent);
    if (reply.kind === 'answer') {
      this.#tries = 0;
      const { stream, first, last, at } = reply.value;
      await this.#update({ ...act, kept: { stream, first, last, at } });
      this.#tabs.tell({ kind: 'kept', jobId: act.jobId, commandId: act.sent.commandId, kept: reply.value });
      return true;
    }
    if (reply.kind === 'problem' && !LATER.has(reply.problem.status)) {
      await this.#refuse(act, reply.problem);
      return true;
    }
    const delay = RETRY_MILLISECOND[Math.min(this.#tries++, RETRY_MILLISECOND.length - 1)];
    setTimeout(() => void this.#send(), delay);
    return false;
  }

  /** Marks an act and every later one of its job that names it. */
  async #refuse(act: WaitingAct, problem: NonNullable<WaitingAct['refused']>): Promise<void> {
    const lost = new Set([act.sent.commandId]);
    for (const other of this.#acts()) {
      if (other.jobId !== act.jobId || other.seq < act.seq) continue;
      const isFirst = other.seq === act.seq;
      const names = [...lost].some((id) => JSON.stringify(other.sent.act.body).includes(`"${id}"`));
      if (!isFirst && !names) continue;
      lost.add(other.sent.commandId);
      const detail = isFirst ? problem.detail : `It builds on an act that was refused: ${problem.detail}`;
      await this.#update({ ...other, refused: { ...problem, detail } });
    }
    this.#tabs.tell({ kind: 'waitingChanged' });
  }

  async #update(act: WaitingAct): Promise<void> {
    this.#acts.update((all) => all.map((a) => (a.seq === act.seq ? act : a)));
    await this.#store.saveWaiting(act);
  }
}

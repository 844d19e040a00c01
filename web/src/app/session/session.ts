import { computed, inject, Injectable, signal } from '@angular/core';
import { doneSchema, sessionSchema, type Session as SessionAnswer } from '@estuarine/contract';
import { Api, type Reply } from '../transport/api.ts';
import { DeviceStore, SESSION_PATH } from '../transport/store.ts';
import { pauseAfter } from '../transport/pause.ts';
import { Tabs } from '../transport/tabs.ts';
import { PassphraseCheck } from './passphrase-check.ts';

/** Without a touch or a key for so long the screen locks itself. */
const IDLE_MILLISECOND = 15 * 60_000;
const TOUCHED_KEY = 'estuarine-touched';
const IDLE_LOOK_MILLISECOND = 15_000;
const LOCKED_KEY = 'estuarine-locked';

/** Who is signed in on this device, and whether its screen is locked. */
@Injectable({ providedIn: 'root' })
export class Session {
  readonly #api = inject(Api);
  readonly #store = inject(DeviceStore);
  readonly #tabs = inject(Tabs);
  readonly #check = inject(PassphraseCheck);
  readonly #answer = signal<SessionAnswer | null>(null);
  readonly #isUnreachable = signal(false);
  #turn = 0;
  #again: ReturnType<typeof setTimeout> | undefined;
  #tries = 0;
  readonly isUnreachable = this.#isUnreachable.asReadonly();

  readonly person = computed(() => this.#answer()?.person ?? null);
  readonly persons = computed(() => this.#answer()?.persons ?? []);
  readonly isDemo = computed(() => this.#answer()?.isDemo ?? false);
  readonly isKnown = computed(() => this.#answer() !== null);
  /** Locked by itself: it holds also where the server does not know of it. */
  readonly #isLockedHere = signal(localStorage.getItem(LOCKED_KEY) !== null);
  /** Unlocked without the server, which may hold it for locked still: until it is asked again. */
  readonly #isOpenedHere = signal(false);
  readonly isLocked = computed(
    () => this.person() !== null && (this.#isLockedHere() || ((this.#answer()?.isLocked ?? false) && !this.#isOpenedHere())),
  );
  readonly accounts = computed(() => this.#answer()?.accounts ?? []);
  readonly needsFirstLead = computed(() => this.#answer()?.needsFirstLead ?? false);

  readonly #leaving: (() => Promise<void>)[] = [];

  constructor() {
    void this.load();
    this.#tabs.messages$.subscribe((m) => {
      // another tab may have locked or opened it
      if (m.kind === 'sessionChanged') this.#isLockedHere.set(localStorage.getItem(LOCKED_KEY) !== null);
      if (m.kind === 'sessionChanged' || m.kind === 'behind') void this.load();
    });
    // all tabs of the browser share one session: a touch in any of them counts
    this.touch();
    for (const kind of ['pointerdown', 'keydown']) window.addEventListener(kind, () => this.touch(), { passive: true });
    setInterval(() => {
      if (this.person() && !this.isLocked() && Date.now() - Number(localStorage.getItem(TOUCHED_KEY)) > IDLE_MILLISECOND) void this.lock();
    }, IDLE_LOOK_MILLISECOND);
  }

  /** Somebody is here: the time until the screen locks itself begins anew. */
  touch(): void {
    localStorage.setItem(TOUCHED_KEY, String(Date.now()));
  }

  async load(): Promise<void> {
    const turn = ++this.#turn;
    // who was here last is known at once; the server may take its time, or not be there at all
    if (!this.#answer()) {
      const seen = sessionSchema.safeParse(await this.#store.findAnswer(SESSION_PATH).catch(() => undefined));
      if (seen.success && !this.#answer()) this.#answer.set(seen.data);
    }
    const reply = await this.#api.get(SESSION_PATH, sessionSchema);
    // an answer that was overtaken by a later question says nothing of now
    if (turn !== this.#turn) return;
    this.#isUnreachable.set(reply.kind !== 'answer');
    clearTimeout(this.#again);
    if (reply.kind !== 'answer') {
      this.#again = setTimeout(() => void this.load(), pauseAfter(++this.#tries));
      return;
    }
    this.#tries = 0;
    this.#answer.set(reply.value);
    this.#isOpenedHere.set(false);
    // a screen that locked itself while the server was away is locked there too
    if (this.#isLockedHere() && !reply.value.isLocked && reply.value.person) await this.#api.post(`${SESSION_PATH}/lock`, doneSchema, {});
    await this.#store.saveAnswer(SESSION_PATH, reply.value).catch(() => undefined);
  }

  /** Each of these gives a sentence when it could not be done. */
  async signIn(personId: string, passphrase: string): Promise<string | null> {
    const reply = await this.#api.post(SESSION_PATH, doneSchema, { personId, passphrase });
    if (reply.kind === 'answer') await this.#open(personId, passphrase);
    return this.#change(reply);
  }

  /** What is to be said to the server before it hears nothing of this person any more. */
  whenLeaving(work: () => Promise<void>): void {
    this.#leaving.push(work);
  }

  async signOut(): Promise<string | null> {
    await Promise.all(this.#leaving.map((work) => work()));
    const fault = await this.#change(await this.#api.delete(SESSION_PATH, doneSchema));
    if (fault === null) {
      this.#setLocked(false);
      await this.#check.forget();
    }
    return fault;
  }

  /** Locks the screen at once, whether the server can be told now or later. */
  async lock(): Promise<string | null> {
    this.#setLocked(true);
    this.#isOpenedHere.set(false);
    this.#tabs.tell({ kind: 'sessionChanged' });
    const reply = await this.#api.post(`${SESSION_PATH}/lock`, doneSchema, {});
    return reply.kind === 'problem' && reply.problem.status !== 401 ? reply.problem.detail : null;
  }

  /** Without the server only the person who was here comes back, by passphrase. */
  async unlock(personId: string, secret: { readonly passphrase: string } | { readonly pin: string }): Promise<string | null> {
    const reply = await this.#api.post(`${SESSION_PATH}/unlock`, doneSchema, { personId, ...secret });
    const passphrase = 'passphrase' in secret ? secret.passphrase : null;
    if (reply.kind === 'unreachable') {
      const me = this.person();
      if (passphrase === null || personId !== me?.id)
        return `The server cannot be reached: until it is, only ${me?.name ?? 'who was here'} comes back, by passphrase.`;
      if (!(await this.#check.matches(personId, passphrase))) return 'That is not the passphrase last used on this device.';
      this.#setLocked(false);
      this.#isOpenedHere.set(true);
      this.#tabs.tell({ kind: 'sessionChanged' });
      return null;
    }
    if (reply.kind === 'answer') await this.#open(personId, passphrase);
    return this.#change(reply);
  }

  async makeFirstLead(lead: {
    readonly code: string;
    readonly personId: string;
    readonly name: string;
    readonly passphrase: string;
  }): Promise<string | null> {
    return this.#change(await this.#api.post('/api/first-lead', doneSchema, lead));
  }

  /** Before anybody asks who is here: the lock of this device went with it, and a passphrase opens it without the server from now on. */
  async #open(personId: string, passphrase: string | null): Promise<void> {
    this.#setLocked(false);
    if (passphrase !== null) await this.#check.remember(personId, passphrase).catch(() => undefined);
  }

  #setLocked(isLocked: boolean): void {
    this.#isLockedHere.set(isLocked);
    if (isLocked) localStorage.setItem(LOCKED_KEY, 'locked');
    else localStorage.removeItem(LOCKED_KEY);
  }

  async #change(reply: Reply<unknown>): Promise<string | null> {
    if (reply.kind === 'problem') return reply.problem.detail;
    if (reply.kind !== 'answer') return 'The server cannot be reached; all stays as before.';
    await this.load();
    this.#tabs.tell({ kind: 'sessionChanged' });
    return null;
  }
}

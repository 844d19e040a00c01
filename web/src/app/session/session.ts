import { computed, inject, Injectable, signal } from '@angular/core';
import { doneSchema, sessionSchema, type Session as SessionAnswer } from '@estuarine/contract';
import { Api, type Reply } from '../line/api.ts';
import { DeviceStore } from '../line/store.ts';
import { Tabs } from '../line/tabs.ts';

const PATH = '/api/session';
/** Without a touch or a key for so long the screen locks itself. */
const IDLE_MILLISECOND = 15 * 60_000;
const TOUCHED_KEY = 'estuarine-touched';
const IDLE_LOOK_MILLISECOND = 15_000;

/** Who is signed in on this device, and whether its screen is locked. */
@Injectable({ providedIn: 'root' })
export class Session {
  readonly #api = inject(Api);
  readonly #store = inject(DeviceStore);
  readonly #tabs = inject(Tabs);
  readonly #answer = signal<SessionAnswer | null>(null);
  readonly #isUnreachable = signal(false);
  readonly isUnreachable = this.#isUnreachable.asReadonly();

  readonly person = computed(() => this.#answer()?.person ?? null);
  readonly persons = computed(() => this.#answer()?.persons ?? []);
  readonly isDemo = computed(() => this.#answer()?.isDemo ?? false);
  readonly isKnown = computed(() => this.#answer() !== null);
  readonly isLocked = computed(() => this.#answer()?.isLocked ?? false);
  readonly accounts = computed(() => this.#answer()?.accounts ?? []);
  readonly needsFirstLead = computed(() => this.#answer()?.needsFirstLead ?? false);

  constructor() {
    void this.load();
    this.#tabs.messages$.subscribe((m) => {
      if (m.kind === 'sessionChanged' || m.kind === 'behind') void this.load();
    });
    // all tabs of the browser share one session: a touch in any of them counts
    const touch = (): void => localStorage.setItem(TOUCHED_KEY, String(Date.now()));
    touch();
    for (const kind of ['pointerdown', 'keydown']) window.addEventListener(kind, touch, { passive: true });
    setInterval(() => {
      if (this.person() && !this.isLocked() && Date.now() - Number(localStorage.getItem(TOUCHED_KEY)) > IDLE_MILLISECOND) void this.lock();
    }, IDLE_LOOK_MILLISECOND);
  }

  async load(): Promise<void> {
    const reply = await this.#api.get(PATH, sessionSchema);
    this.#isUnreachable.set(reply.kind !== 'answer');
    if (reply.kind === 'answer') {
      this.#answer.set(reply.value);
      await this.#store.saveAnswer(PATH, reply.value);
    } else if (!this.#answer()) {
      this.#answer.set((await this.#store.findAnswer<SessionAnswer>(PATH)) ?? null);
    }
  }

  /** Each of these gives a sentence when it could not be done. */
  signIn(personId: string, passphrase: string): Promise<string | null> {
    return this.#change(this.#api.post(PATH, doneSchema, { personId, passphrase }));
  }

  signOut(): Promise<string | null> {
    return this.#change(this.#api.delete(PATH, doneSchema));
  }

  lock(): Promise<string | null> {
    return this.#change(this.#api.post(`${PATH}/lock`, doneSchema, {}));
  }

  unlock(personId: string, secret: { readonly passphrase: string } | { readonly pin: string }): Promise<string | null> {
    return this.#change(this.#api.post(`${PATH}/unlock`, doneSchema, { personId, ...secret }));
  }

  makeFirstLead(lead: {
    readonly code: string;
    readonly personId: string;
    readonly name: string;
    readonly passphrase: string;
  }): Promise<string | null> {
    return this.#change(this.#api.post('/api/first-lead', doneSchema, lead));
  }

  async #change(asked: Promise<Reply<unknown>>): Promise<string | null> {
    const reply = await asked;
    if (reply.kind === 'problem') return reply.problem.detail;
    if (reply.kind !== 'answer') return 'The server cannot be reached; all stays as before.';
    await this.load();
    this.#tabs.tell({ kind: 'sessionChanged' });
    return null;
  }
}

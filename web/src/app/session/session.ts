import { computed, inject, Injectable, signal } from '@angular/core';
import type { Person, Session as SessionAnswer } from '@estuarine/contract';
import { Api } from '../log/api.ts';
import { DeviceStore } from '../log/device-store.ts';
import { Tabs } from '../log/tabs.ts';

const PATH = '/api/session';

/** Who is at this device. */
@Injectable({ providedIn: 'root' })
export class Session {
  readonly #api = inject(Api);
  readonly #store = inject(DeviceStore);
  readonly #tabs = inject(Tabs);
  readonly #answer = signal<SessionAnswer | null>(null);

  readonly person = computed(() => this.#answer()?.person ?? null);
  readonly persons = computed(() => this.#answer()?.persons ?? []);
  readonly isDemo = computed(() => this.#answer()?.isDemo ?? false);
  readonly isKnown = computed(() => this.#answer() !== null);

  constructor() {
    void this.load();
    this.#tabs.messages$.subscribe((m) => {
      if (m.kind === 'sessionChanged' || m.kind === 'behind') void this.load();
    });
  }

  async load(): Promise<void> {
    const reply = await this.#api.get<SessionAnswer>(PATH);
    if (reply.kind === 'answer') {
      this.#answer.set(reply.value);
      await this.#store.saveAnswer(PATH, reply.value);
    } else if (!this.#answer()) {
      this.#answer.set((await this.#store.findAnswer<SessionAnswer>(PATH)) ?? null);
    }
  }

  /** Gives a sentence when it could not be done. */
  async pick(person: Person): Promise<string | null> {
    const reply = await this.#api.post(PATH, { personId: person.id });
    if (reply.kind === 'problem') return reply.problem.detail;
    if (reply.kind !== 'answer') return 'The server cannot be reached; the person stays as before.';
    await this.load();
    this.#tabs.tell({ kind: 'sessionChanged' });
    return null;
  }
}

import { effect, inject, Injectable, untracked } from '@angular/core';
import { erasedAnswerSchema } from '@estuarine/contract';
import { filter, merge } from 'rxjs';
import { Api } from './api.ts';
import { Carrier, NotNow } from './carrier.ts';
import { Link } from './link.ts';
import { DeviceStore } from './store.ts';
import { Tabs } from './tabs.ts';

/** What the shop erases goes from this device too: at once where it hears of it, else when it comes back. The leading tab sees to it. */
@Injectable({ providedIn: 'root' })
export class ErasedNames {
  readonly #api = inject(Api);
  readonly #store = inject(DeviceStore);
  readonly #link = inject(Link);
  readonly #carrier = new Carrier(() => this.#round());
  #isLeading = false;
  /** Something was or may have been erased since this device asked. */
  #isOwed = false;

  constructor() {
    inject(Tabs).whenLeading(() => (this.#isLeading = true));
    const erased = this.#link.events$.pipe(filter((told) => !('event' in told) && /^(vehicle|customer)\.erased$/.test(told.type)));
    merge(erased, this.#link.behind$).subscribe(() => {
      this.#isOwed = true;
      this.#carrier.want();
    });
    // nobody is asked while nobody is signed in here, or the server is away
    effect(() => {
      if (this.#link.isLive()) untracked(() => this.#carrier.wantAnew());
    });
  }

  async #round(): Promise<void> {
    if (!this.#isLeading || !this.#isOwed || !this.#link.isLive()) return;
    this.#isOwed = false;
    try {
      const reply = await this.#api.get('/api/erased', erasedAnswerSchema);
      if (reply.kind !== 'answer') throw new NotNow(0);
      await this.#store.forgetErased(reply.value);
    } catch (error) {
      this.#isOwed = true;
      throw error;
    }
  }
}

import { inject, Injectable } from '@angular/core';
import { erasedAnswerSchema } from '@estuarine/contract';
import { defer, filter, map, merge, retry, switchMap, timer } from 'rxjs';
import { Api } from './api.ts';
import { Link } from './link.ts';
import { pauseAfter } from './pause.ts';
import { DeviceStore } from './store.ts';
import { Tabs } from './tabs.ts';

/** What the shop erases goes from this device too: at once where it hears of it, else when it comes back. The leading tab sees to it. */
@Injectable({ providedIn: 'root' })
export class ErasedNames {
  readonly #api = inject(Api);
  readonly #store = inject(DeviceStore);

  constructor() {
    const link = inject(Link);
    let isLeading = false;
    inject(Tabs).whenLeading(() => (isLeading = true));
    const erased = link.events$.pipe(filter((streamed) => !('event' in streamed) && /^(vehicle|customer)\.erased$/.test(streamed.type)));
    merge(erased.pipe(map(() => undefined)), link.behind$)
      .pipe(
        filter(() => isLeading),
        // a later word asks anew: nothing older than that is wanted
        switchMap(() => defer(() => this.#forget()).pipe(retry({ delay: (_error, tries) => timer(pauseAfter(tries)) }))),
      )
      .subscribe();
  }

  async #forget(): Promise<void> {
    const reply = await this.#api.get('/api/erased', erasedAnswerSchema);
    if (reply.kind !== 'answer') throw new Error('not told yet');
    await this.#store.forgetErased(reply.value);
  }
}

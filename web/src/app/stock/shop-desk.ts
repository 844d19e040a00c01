import { inject, Injectable } from '@angular/core';
import { keptActSchema, type SentShopAct } from '@estuarine/contract';
import type { ShopAct } from '@estuarine/core';
import { v7 as uuid } from 'uuid';
import { Api } from '../transport/api.ts';
import { Link } from '../transport/link.ts';
import { Session } from '../session/session.ts';

/** Acts of the shop as a whole. They are sent at once or not at all: a count of the shelf is not made on a device alone. */
@Injectable({ providedIn: 'root' })
export class ShopDesk {
  readonly #api = inject(Api);
  readonly #link = inject(Link);
  readonly #session = inject(Session);

  /**
   * Null when it was kept, else a sentence that says why not.
   * @param seen position up to which the person had seen what is changed; left out for what is new or carries its own version
   */
  async act(act: ShopAct, seen?: number): Promise<string | null> {
    const by = this.#session.person()?.id;
    if (by === undefined) return 'Nobody is signed in on this device.';
    const deviceAt = this.#link.now().at.toISOString();
    const sent: SentShopAct = { commandId: uuid(), deviceAt, by, act, ...(seen === undefined ? {} : { seen }) };
    const reply = await this.#api.post('/api/shop/acts', keptActSchema, sent);
    if (reply.kind === 'answer') return null;
    return reply.kind === 'problem' ? reply.problem.detail : 'The server cannot be reached. Nothing was kept; try again when it answers.';
  }
}

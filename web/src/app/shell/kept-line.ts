import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { ACT_TRAITS, isActType } from '@estuarine/core';
import { Link } from '../line/link.ts';
import { isAside, Outbox } from '../line/outbox.ts';
import { PhotoDesk } from '../line/photo-desk.ts';
import type { WaitingAct } from '../line/store.ts';
import { Session } from '../session/session.ts';

/** Whether all that was done here is kept, and what waits for whom. */
@Component({
  selector: 'app-kept-line',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<span class="kept" [class.is-away]="!isInside()" [class.is-waiting]="keptState().isWaiting" role="status">{{
    keptState().text
  }}</span>`,
  styles: `
    /* a long one runs on downwards, and loses nothing above the header */
    :host {
      align-self: safe center;
    }
    .kept {
      font-size: 15px;
      color: var(--reed);
    }
    @media (max-width: 1099px) {
      .kept {
        display: block;
        max-width: 140px;
        line-height: 1.15;
      }
    }
    @media (max-width: 699px) {
      .kept {
        max-width: 92px;
        font-size: 12px;
      }
    }
    .kept.is-away {
      display: none;
    }
    .kept.is-waiting {
      color: var(--sedge);
      font-weight: 700;
    }
  `,
})
export class KeptLine {
  readonly #outbox = inject(Outbox);
  readonly #desk = inject(PhotoDesk);
  readonly #session = inject(Session);
  readonly #link = inject(Link);

  /** Those that are on their way; what is not taken is said where it is shown. */
  readonly #photos = computed(() => this.#desk.waiting().filter((p) => !this.#desk.faults().has(p.photoId)));
  protected readonly isInside = computed(() => this.#session.person() !== null);
  /** One short sentence: all kept, or what waits and for whom. */
  protected readonly keptState = computed(() => {
    const refused = this.#outbox.refused().filter((a) => !isAside(a)).length;
    if (refused > 0) return { text: `${refused} not taken`, isWaiting: true };
    const waiting = this.#outbox.waiting();
    if (waiting.length === 0 && this.#outbox.isStoring()) return { text: 'Being kept', isWaiting: true };
    if (waiting.length === 0 && this.#photos().length > 0) {
      const photographs = this.#photos().length === 1 ? '1 photograph' : `${this.#photos().length} photographs`;
      return { text: `${photographs} on this device, not kept yet`, isWaiting: true };
    }
    if (waiting.length === 0)
      return this.#link.isLive() ? { text: 'All kept', isWaiting: false } : { text: 'Not connected', isWaiting: true };
    const aside = waiting.filter(isAside).length;
    if (aside === waiting.length) return { text: `${aside} set aside, not kept yet`, isWaiting: true };
    const me = this.#session.person()?.id;
    // a fact of another goes whoever is here; a permit waits for its author
    const isTheirs = (a: WaitingAct): boolean =>
      a.sent.by !== me && isActType(a.sent.act.type) && ACT_TRAITS[a.sent.act.type].nature === 'permit';
    const wait = (count: number): string => (count === 1 ? 'waits' : 'wait');
    const other = waiting.find(isTheirs)?.sent.by;
    const acts = (count: number): string => (count === 1 ? '1 act' : `${count} acts`);
    if (other !== undefined) {
      const count = waiting.filter((a) => isTheirs(a) && a.sent.by === other).length;
      return { text: `${acts(count)} of ${other.toUpperCase()} ${wait(count)} for ${other.toUpperCase()}`, isWaiting: true };
    }
    const hindrance = this.#outbox.hindrance();
    if (hindrance !== null) return { text: `${acts(waiting.length)} ${wait(waiting.length)}: ${hindrance}`, isWaiting: true };
    return { text: `${acts(waiting.length)} on this device, not kept yet`, isWaiting: true };
  });
}

import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { ACT_TRAITS, isActType } from '@estuarine/core';
import { Link } from '../transport/link.ts';
import { isAside, Outbox } from '../transport/outbox.ts';
import { PhotoDesk } from '../transport/photo-desk.ts';
import type { WaitingAct } from '../transport/store.ts';
import { Session } from '../session/session.ts';

/** Whether all that was done here is kept, and what waits for whom. */
@Component({
  selector: 'app-kept-line',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<span class="kept" [class.is-away]="!isInside()" [class.is-waiting]="keptState().isWaiting" role="status">
    <span class="whole">{{ keptState().text }}</span>
    <span class="short" aria-hidden="true">{{ keptState().short }}</span>
  </span>`,
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
    .short {
      display: none;
    }
    /* beside stage and label there is room for a word or two on a phone */
    @media (max-width: 699px) {
      .kept {
        max-width: 36px;
        font-size: 12px;
      }
      .whole {
        position: absolute;
        width: 1px;
        height: 1px;
        overflow: hidden;
        clip-path: inset(50%);
        white-space: nowrap;
      }
      .short {
        display: block;
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
  /** One short sentence, and its gist: all kept, or what waits and for whom. */
  protected readonly keptState = computed((): Said => {
    const refused = this.#outbox.refused().filter((a) => !isAside(a)).length;
    if (refused > 0) return say(`${refused} not taken`);
    const waiting = this.#outbox.waiting();
    if (waiting.length === 0 && this.#outbox.isStoring()) return say('Being kept');
    const photos = this.#photos().length;
    if (waiting.length === 0 && photos > 0)
      return say(`${photos === 1 ? '1 photograph' : `${photos} photographs`} on this device, not kept yet`, `${photos} ${wait(photos)}`);
    if (waiting.length === 0) return this.#link.isLive() ? { ...say('All kept'), isWaiting: false } : say('Not connected', 'Away');
    const aside = waiting.filter(isAside).length;
    if (aside === waiting.length) return say(`${aside} set aside, not kept yet`, `${aside} aside`);
    const me = this.#session.person()?.id;
    // a fact of another goes whoever is here; a permit waits for its author
    const isTheirs = (a: WaitingAct): boolean =>
      a.sent.by !== me && isActType(a.sent.act.type) && ACT_TRAITS[a.sent.act.type].nature === 'permit';
    const other = waiting.find(isTheirs)?.sent.by;
    const acts = (count: number): string => (count === 1 ? '1 act' : `${count} acts`);
    if (other !== undefined) {
      const count = waiting.filter((a) => isTheirs(a) && a.sent.by === other).length;
      return say(
        `${acts(count)} of ${other.toUpperCase()} ${wait(count)} for ${other.toUpperCase()}`,
        `${count} ${wait(count)} for ${other.toUpperCase()}`,
      );
    }
    const [hindrance, short] = [this.#outbox.hindrance(), `${waiting.length} ${wait(waiting.length)}`];
    if (hindrance !== null) return say(`${acts(waiting.length)} ${wait(waiting.length)}: ${hindrance}`, short);
    return say(`${acts(waiting.length)} on this device, not kept yet`, short);
  });
}

interface Said {
  readonly text: string;
  readonly short: string;
  readonly isWaiting: boolean;
}

function say(text: string, short = text): Said {
  return { text, short, isWaiting: true };
}

function wait(count: number): string {
  return count === 1 ? 'waits' : 'wait';
}

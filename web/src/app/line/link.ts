import { computed, effect, inject, Injectable, signal } from '@angular/core';
import { beatSchema, helloSchema, streamedEventSchema, type CutOff, type StreamedEvent } from '@estuarine/contract';
import { FOLD_VERSION } from '@estuarine/core';
import { Observable, Subject } from 'rxjs';
import { Session } from '../session/session.ts';
import { DeviceStore } from './store.ts';
import { ServerClock } from './server-clock.ts';
import { Tabs } from './tabs.ts';

/** After this long without a word from the server, what is shown may be out of date. */
const SILENCE_MILLISECOND = 10_000;
const LOOK_MILLISECOND = 500;

/**
 * The browser's one stream of events, shared among its tabs: the leading tab holds it and passes on what comes. Tells whether the
 * connection lives, the server's time, and which devices are cut off.
 */
@Injectable({ providedIn: 'root' })
export class Link {
  readonly #tabs = inject(Tabs);
  readonly #session = inject(Session);
  readonly #store = inject(DeviceStore);
  readonly #clock = inject(ServerClock);
  readonly #isLeading = signal(false);
  #source: EventSource | null = null;
  readonly #events = new Subject<StreamedEvent>();
  readonly #behind = new Subject<void>();
  readonly #heardAt = signal(0);
  /** Milliseconds since the last word, or since the start; by whichever clock says more. */
  readonly #silence = signal(0);
  readonly #serverNow = signal(Date.now());
  readonly #isTooOld = signal(false);
  readonly #cutOff = signal<readonly CutOff[]>([]);

  readonly events$: Observable<StreamedEvent> = this.#events.asObservable();
  /** The stream could not be resumed, or was just opened: fetch what is shown afresh. */
  readonly behind$: Observable<void> = this.#behind.asObservable();
  /** Server time of the last word from the server, epoch milliseconds; 0 before the first. */
  readonly heardAt = this.#heardAt.asReadonly();
  /** The server answers. Before the first 10 s are over the device is given the benefit of the doubt. */
  readonly isLive = computed(() => this.#silence() < SILENCE_MILLISECOND);
  /** Devices that had a job open when they fell silent; as the server told last. */
  readonly cutOff = this.#cutOff.asReadonly();

  /** The server folds otherwise than this application: nothing that it sends may be folded on. */
  readonly isTooOld = this.#isTooOld.asReadonly();

  constructor() {
    setInterval(() => this.#tick(), LOOK_MILLISECOND);
    this.#tabs.messages$.subscribe((message) => {
      if (message.kind === 'heard') {
        this.#isTooOld.set(message.fold !== FOLD_VERSION);
        this.#hear(message.serverNow);
        this.#cutOff.set(message.cutOff);
      }
      if (message.kind === 'event') this.#events.next(message.event);
      if (message.kind === 'behind') this.#behind.next();
    });
    this.#tabs.whenLeading(() => this.#isLeading.set(true));
    // nobody is told anything before they sign in, nor after they leave; a locked screen keeps what it has
    const wants = computed(() => this.#isLeading() && this.#session.person() !== null);
    const isLocked = this.#session.isLocked;
    effect(() => {
      if (!wants()) {
        this.#source?.close();
        this.#source = null;
      } else if (!isLocked() && !this.#source) this.#follow();
    });
  }

  /** Server time to the second, for clocks on the screen; epoch milliseconds. */
  readonly serverNow = this.#serverNow.asReadonly();

  /** Server time, and whether it rests on the server's word. */
  now(): { readonly at: Date; readonly isSure: boolean } {
    return this.#clock.now();
  }

  #follow(): void {
    const source = new EventSource(`/api/stream?device=${encodeURIComponent(this.#store.deviceId)}`);
    this.#source = source;
    source.addEventListener('hello', ({ data }: MessageEvent<string>) => {
      const { now, fold, isBehind, cutOff } = helloSchema.parse(JSON.parse(data));
      this.#tabs.tell({ kind: 'heard', serverNow: now, fold, cutOff });
      if (isBehind) this.#tabs.tell({ kind: 'behind' });
    });
    source.addEventListener('beat', ({ data }: MessageEvent<string>) => {
      const { now, fold, cutOff } = beatSchema.parse(JSON.parse(data));
      this.#tabs.tell({ kind: 'heard', serverNow: now, fold, cutOff });
    });
    source.addEventListener('kept', ({ data }: MessageEvent<string>) => {
      this.#tabs.tell({ kind: 'event', event: streamedEventSchema.parse(JSON.parse(data)) });
    });
    // the browser comes back by itself after a broken connection; a refused one (such as 503) ends it for good
    source.addEventListener('error', () => {
      if (source.readyState !== EventSource.CLOSED || this.#source !== source) return;
      setTimeout(() => {
        if (this.#source === source) this.#follow();
      }, 1000);
    });
  }

  #hear(serverNow: string): void {
    this.#clock.hear(Date.parse(serverNow));
    // before anybody is told that the server was heard: what hangs on its time must not see this device's
    this.#tick();
    this.#heardAt.set(Date.parse(serverNow));
  }

  /** Whole seconds: what only looks at the second is computed once for it. */
  #tick(): void {
    this.#silence.set(this.#clock.silence());
    this.#serverNow.set(Math.floor(this.now().at.getTime() / 1000) * 1000);
  }
}

import { computed, effect, inject, Injectable, signal } from '@angular/core';
import { beatSchema, helloSchema, streamedEventSchema, type Beat, type CutOff, type StreamedEvent } from '@estuarine/contract';
import { FOLD_VERSION } from '@estuarine/core';
import { Observable, Subject } from 'rxjs';
import { Session } from '../session/session.ts';
import { pauseAfter } from './pause.ts';
import { DeviceStore } from './store.ts';
import { ServerClock, Stopwatch } from './server-clock.ts';
import { Tabs, type TabMessage } from './tabs.ts';

const LOOK_MILLISECOND = 500;
/**
 * Nothing that is older than ten seconds is shown as certain: how far the log goes was read up to 2.5 s before the beat that confirmed all
 * that is here, and the clock is looked at twice a second.
 */
const SILENCE_MILLISECOND = 10_000 - 2500 - LOOK_MILLISECOND;

/**
 * The browser's one stream of events, shared among its tabs: the leading tab holds it and passes on what comes. Each tab minds for itself
 * that it missed nothing: every event names the one before it, and a beat confirms only what was passed on as far as the log goes. Tells
 * whether that was lately, the server's time, and which devices are cut off.
 */
@Injectable({ providedIn: 'root' })
export class Link {
  readonly #tabs = inject(Tabs);
  readonly #session = inject(Session);
  readonly #store = inject(DeviceStore);
  readonly #clock = inject(ServerClock);
  readonly #isLeading = signal(false);
  #source: EventSource | null = null;
  #again: ReturnType<typeof setTimeout> | undefined;
  #tries = 0;
  readonly #events = new Subject<StreamedEvent>();
  readonly #behind = new Subject<void>();
  readonly #heardAt = signal(0);
  readonly #confirmedAt = signal(0);
  /** Runs since the last beat that confirmed all that is here; null before the first. */
  #confirmed: Stopwatch | null = null;
  /** A beat that says more than was passed on here so far. */
  #unmet: { readonly position: number; readonly since: Stopwatch; readonly at: number } | null = null;
  readonly #isLive = signal(false);
  readonly #serverNow = signal(Date.now());
  readonly #isTooOld = signal(false);
  readonly #cutOff = signal<readonly CutOff[]>([]);
  readonly #epoch = signal<string | null>(null);
  /** Position up to which every event was passed on here; null while that is not known. */
  #delivered: number | null = null;

  readonly events$: Observable<StreamedEvent> = this.#events.asObservable();
  /** Something may have been missed, or the log is another: fetch what is shown afresh. */
  readonly behind$: Observable<void> = this.#behind.asObservable();
  /** Server time of the last word from the server, epoch milliseconds; 0 before the first. */
  readonly heardAt = this.#heardAt.asReadonly();
  /** Server time of the last beat that confirmed all that is here, epoch milliseconds; 0 before the first. */
  readonly confirmedAt = this.#confirmedAt.asReadonly();
  /** All events of the shop were passed on here, by a beat of the last seconds. */
  readonly isLive = this.#isLive.asReadonly();
  /** Which log the stream is of; null before it said so. */
  readonly epoch = this.#epoch.asReadonly();
  /** Devices that had a job open when they fell silent; as the server told last. */
  readonly cutOff = this.#cutOff.asReadonly();
  /** The server folds otherwise than this application: nothing that it sends may be folded on. */
  readonly isTooOld = this.#isTooOld.asReadonly();
  /** Server time to the second, for clocks on the screen; epoch milliseconds. */
  readonly serverNow = this.#serverNow.asReadonly();

  constructor() {
    setInterval(() => this.#tick(), LOOK_MILLISECOND);
    this.#tabs.messages$.subscribe((message) => this.#take(message));
    this.#tabs.whenLeading(() => this.#isLeading.set(true));
    // nobody is told anything before they sign in, while the screen is locked, or after they leave
    const wants = computed(() => this.#isLeading() && this.#session.person() !== null && !this.#session.isLocked());
    effect(() => {
      if (wants()) this.#follow();
      else this.#close();
    });
  }

  /** Position up to which every event was passed on here; null while that is not known. */
  delivered(): number | null {
    return this.#delivered;
  }

  /** Server time, and whether it rests on the server's word. */
  now(): { readonly at: Date; readonly isSure: boolean } {
    return this.#clock.now();
  }

  #take(message: TabMessage): void {
    switch (message.kind) {
      case 'heard':
        this.#epoch.set(message.epoch);
        this.#hear(message.beat, message.delivered);
        break;
      case 'event':
        if (this.#delivered === message.after) this.#pass(message.event);
        else if (this.#delivered === null || message.event.position > this.#delivered) {
          this.#delivered = message.after;
          this.#pass(message.event);
          this.#behind.next();
        }
        break;
      case 'behind':
        this.#epoch.set(message.epoch);
        this.#delivered = message.delivered;
        this.#behind.next();
        break;
    }
  }

  #pass(event: StreamedEvent): void {
    this.#delivered = event.position;
    this.#events.next(event);
    if (this.#unmet && event.position >= this.#unmet.position) this.#confirm(this.#unmet.since, this.#unmet.at);
  }

  #hear(beat: Beat, delivered: number): void {
    this.#isTooOld.set(beat.fold !== FOLD_VERSION);
    const at = Date.parse(beat.now);
    this.#clock.hear(at);
    this.#cutOff.set(beat.cutOff);
    // the leading tab has passed on what did not arrive here
    if (this.#delivered !== delivered) {
      this.#delivered = delivered;
      this.#behind.next();
    }
    if (beat.position !== null) {
      if (delivered >= beat.position) this.#confirm(new Stopwatch(), at);
      else this.#unmet ??= { position: beat.position, since: new Stopwatch(), at };
    }
    // before anybody is told that the server was heard: what hangs on its time must not see this device's
    this.#tick();
    this.#heardAt.set(at);
  }

  #confirm(since: Stopwatch, at: number): void {
    this.#unmet = null;
    this.#confirmed = since;
    this.#confirmedAt.set(at);
    this.#tick();
  }

  #follow(): void {
    if (this.#source) return;
    const query = new URLSearchParams({ device: this.#store.deviceId });
    // where this browser stopped listening: a stream that was closed goes on from there
    if (this.#epoch() !== null && this.#delivered !== null) query.set('cursor', `${this.#epoch()}:${this.#delivered}`);
    const source = new EventSource(`/api/stream?${query.toString()}`);
    this.#source = source;
    let [epoch, delivered] = ['', 0];
    // one word after the other, also while the device is made ready for another log
    let spoken = Promise.resolve();
    const listen = (name: string, hear: (word: unknown) => Promise<void> | void): void =>
      source.addEventListener(name, ({ data }: MessageEvent<string>) => {
        spoken = spoken
          .then(() => (this.#source === source ? hear(JSON.parse(data)) : undefined))
          // what cannot be read is not passed over: nothing behind it may be believed
          .catch(() => this.#giveUp());
      });
    listen('hello', async (word) => {
      this.#tries = 0;
      const hello = helloSchema.parse(word);
      if (hello.epoch !== this.#epoch()) await this.#begin(hello.epoch);
      [epoch, delivered] = [hello.epoch, hello.sent];
      if (hello.isBehind) this.#tabs.tell({ kind: 'behind', epoch, delivered });
      this.#tabs.tell({ kind: 'heard', epoch, beat: hello, delivered });
    });
    listen('beat', (word) => this.#tabs.tell({ kind: 'heard', epoch, beat: beatSchema.parse(word), delivered }));
    listen('kept', (word) => {
      const event = streamedEventSchema.parse(word);
      this.#tabs.tell({ kind: 'event', event, after: delivered });
      delivered = event.position;
    });
    // broken or refused: again from where it stopped, after a wait that grows
    source.addEventListener('error', () => {
      if (this.#source !== source) return;
      this.#close();
      this.#again = setTimeout(() => this.#follow(), pauseAfter(++this.#tries));
    });
  }

  #giveUp(): void {
    this.#isTooOld.set(true);
    this.#close();
  }

  #close(): void {
    clearTimeout(this.#again);
    this.#source?.close();
    this.#source = null;
  }

  /** Another log than before: what was seen of that is dropped, and what it kept lately is offered again, before anything is fetched. */
  async #begin(epoch: string): Promise<void> {
    await this.#store.beginEpoch(epoch, this.now().at.getTime()).catch(() => false);
  }

  /** Whole seconds: what only looks at the second is computed once for it. */
  #tick(): void {
    this.#isLive.set(this.#confirmed !== null && this.#confirmed.passed() < SILENCE_MILLISECOND);
    this.#serverNow.set(Math.floor(this.now().at.getTime() / 1000) * 1000);
  }
}

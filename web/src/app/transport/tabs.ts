import { Injectable } from '@angular/core';
import type { Beat, KeptAct, StreamedEvent } from '@estuarine/contract';
import { Observable, Subject } from 'rxjs';
import type { WaitingAct, WaitingPhoto } from './store.ts';

/** An act that the server has just kept. */
export interface JustKept {
  readonly act: WaitingAct;
  readonly kept: KeptAct;
}

export type TabMessage =
  /** The stream of this log spoke: up to `delivered` every event was passed on. */
  | { readonly kind: 'heard'; readonly epoch: string; readonly beat: Beat; readonly delivered: number }
  /** `after`: position of the event before it; a tab that holds another has missed some. */
  | { readonly kind: 'event'; readonly event: StreamedEvent; readonly after: number }
  /** The stream could not go on where it was. */
  | { readonly kind: 'behind'; readonly epoch: string; readonly delivered: number }
  /** Acts on this device came, changed, or left. */
  | { readonly kind: 'acts'; readonly put: readonly WaitingAct[]; readonly gone: readonly number[] }
  | { readonly kind: 'kept'; readonly acts: readonly JustKept[] }
  /** Photographs on this device came or left, or were not taken, each with why; an empty reason: offered again. */
  | {
      readonly kind: 'photos';
      readonly put: readonly WaitingPhoto[];
      readonly gone: readonly string[];
      readonly faults: readonly (readonly [photoId: string, reason: string])[];
    }
  | { readonly kind: 'left'; readonly jobId: string }
  | { readonly kind: 'sessionChanged' };

/** The tabs of one browser: one of them leads (holds the stream and sends acts), all hear the same. */
@Injectable({ providedIn: 'root' })
export class Tabs {
  readonly #channel = new BroadcastChannel('estuarine');
  readonly #messages = new Subject<TabMessage>();
  readonly messages$: Observable<TabMessage> = this.#messages.asObservable();
  readonly #leading: (() => void)[] = [];
  #isLeading = false;

  constructor() {
    this.#channel.onmessage = ({ data }: MessageEvent<TabMessage>) => this.#messages.next(data);
    // held until the tab closes; the next tab in line then leads
    void navigator.locks.request('estuarine-leader', () => {
      this.#isLeading = true;
      for (const begin of this.#leading) begin();
      return new Promise<never>(() => undefined);
    });
  }

  /** Tells all tabs, this one too. */
  tell(message: TabMessage): void {
    this.#channel.postMessage(message);
    this.#messages.next(message);
  }

  whenLeading(begin: () => void): void {
    if (this.#isLeading) begin();
    else this.#leading.push(begin);
  }
}

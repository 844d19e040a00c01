import { Injectable } from '@angular/core';
import type { CutOff, KeptAct, StreamedEvent } from '@estuarine/contract';
import { Observable, Subject } from 'rxjs';

export type TabMessage =
  | { readonly kind: 'heard'; readonly serverNow: string; readonly fold: number; readonly cutOff: readonly CutOff[] }
  | { readonly kind: 'event'; readonly event: StreamedEvent }
  | { readonly kind: 'behind' }
  | { readonly kind: 'waitingChanged' }
  | { readonly kind: 'left'; readonly jobId: string }
  | { readonly kind: 'kept'; readonly jobId: string; readonly commandId: string; readonly kept: KeptAct }
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

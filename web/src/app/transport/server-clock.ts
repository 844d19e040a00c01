import { Injectable } from '@angular/core';

const KEPT_AS = 'estuarine.heard';
/** Two clocks of one device that differ by more since the last word: it slept, or somebody set it. */
const TRUST_MILLISECOND = 2000;

/** How long ago something was, by whichever clock says more: asleep the monotonic clock stands still, and a wall clock can be set back. */
export class Stopwatch {
  readonly #monotonic = performance.now();
  readonly #wall = Date.now();

  /** Milliseconds since it was made. */
  passed(): number {
    return Math.max(performance.now() - this.#monotonic, Date.now() - this.#wall);
  }
}

interface Word {
  /** Server time of the last word, epoch milliseconds. */
  readonly server: number;
  readonly monotonic: number;
  readonly wall: number;
}

/**
 * The server's time on this device: that of its last word and the monotonic clock since. The wall clock is believed for nothing but to
 * notice that the device slept, for then the monotonic clock stood still. After a start without the server only the last known time is
 * left: what is said then is flagged, and never earlier than that.
 */
@Injectable({ providedIn: 'root' })
export class ServerClock {
  #word: Word | null = null;

  hear(server: number): void {
    this.#word = { server, monotonic: performance.now(), wall: Date.now() };
    try {
      localStorage.setItem(KEPT_AS, String(server));
    } catch {
      // a device without storage starts without a last known time
    }
  }

  now(): { readonly at: Date; readonly isSure: boolean } {
    const word = this.#word;
    if (!word) return { at: new Date(Math.max(Date.now(), this.#lastKnown())), isSure: false };
    const [passed, byWall] = [performance.now() - word.monotonic, Date.now() - word.wall];
    const isSure = Math.abs(passed - byWall) < TRUST_MILLISECOND;
    // asleep the monotonic clock stands still; a wall clock that was set back says nothing
    return { at: new Date(word.server + Math.max(passed, isSure ? passed : byWall)), isSure };
  }

  #lastKnown(): number {
    try {
      return Number(localStorage.getItem(KEPT_AS)) || 0;
    } catch {
      return 0;
    }
  }
}

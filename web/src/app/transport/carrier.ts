import type { Problem } from '@estuarine/contract';
import { concatMap, defer, EMPTY, merge, retry, Subject, take, timer } from 'rxjs';
import { pauseAfter } from './pause.ts';

/** Answers that say "not now" rather than "no". */
const LATER = new Set([401, 403, 408, 429, 502, 503, 504]);

export function isLater({ status }: Problem): boolean {
  return LATER.has(status);
}

/** Not now: the server is away or busy, and wants to be asked no sooner than after so many milliseconds. */
export class NotNow extends Error {
  readonly atLeast: number;

  constructor(atLeast: number) {
    super('not now');
    this.atLeast = atLeast;
  }
}

/**
 * Carries what waits on this device to the server: rounds one at a time, each begun by the word that something waits. One rule for all that
 * waits: a round that fails is begun again after a pause that grows, {@link NotNow} or whatever else came in between, and at once when
 * something changed that may let it pass. What the server cannot take now while all else goes on rests by itself.
 */
export class Carrier {
  readonly #wanted = new Subject<void>();
  readonly #anew = new Subject<void>();
  #isWanted = false;
  /** Rounds that failed since the last that brought something through. */
  #tries = 0;
  readonly #rests = new Map<string, number>();
  readonly #resting = new Set<string>();

  constructor(round: () => Promise<void>) {
    const begin = defer(() => {
      this.#isWanted = false;
      return round();
    });
    const carried = begin.pipe(
      retry({
        delay: (error) => {
          const atLeast = error instanceof NotNow ? error.atLeast : 0;
          return merge(timer(Math.max(atLeast, pauseAfter(++this.#tries))), this.#anew).pipe(take(1));
        },
      }),
    );
    // what is wanted during a round becomes one more, however often
    this.#wanted.pipe(concatMap(() => (this.#isWanted ? carried : EMPTY))).subscribe();
  }

  /** Something waits. */
  want(): void {
    this.#isWanted = true;
    this.#wanted.next();
  }

  /** Something changed that may let pass what did not: no waiting for the rest of a pause, nor so long a next one. */
  wantAnew(): void {
    this.#tries = 0;
    this.#resting.clear();
    this.#anew.next();
    this.want();
  }

  /** Something came through. */
  advance(): void {
    this.#tries = 0;
  }

  isResting(key: string): boolean {
    return this.#resting.has(key);
  }

  /** Lets one thing rest, each time longer, while others go on. */
  letRest(key: string): void {
    const tries = (this.#rests.get(key) ?? 0) + 1;
    this.#rests.set(key, tries);
    this.#resting.add(key);
    timer(pauseAfter(tries)).subscribe(() => {
      this.#resting.delete(key);
      this.want();
    });
  }

  /** It came through: it rests no longer, and shortly the next time. */
  endRest(key: string): void {
    this.#rests.delete(key);
  }
}

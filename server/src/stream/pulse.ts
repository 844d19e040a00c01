/**
 * What every beat of every stream tells, read from the database itself: how far the log of the shop goes and which devices are cut off.
 * Read once a second for all of them while anybody follows, in the background: no beat waits for the database, and one that could not be
 * told how far the log goes says so.
 */
import type { CutOff } from '@estuarine/contract';
import { findTail } from '../log/store.ts';
import { listCutOff, type Presence } from './presence.ts';

const READ_MILLISECOND = 1000;
/** How far the log goes is told no longer than this after it was read. */
const FRESH_MILLISECOND = 2500;

export interface Pulse {
  /** Position of the last event of the shop; null while the database does not say. */
  readonly position: number | null;
  readonly cutOff: readonly CutOff[];
}

export class PulseReader {
  readonly #presence: Presence;
  #known: Pulse = { position: null, cutOff: [] };
  #knownAt = -Infinity;
  #reading: Promise<void> | null = null;
  #followers = 0;
  #timer: NodeJS.Timeout | null = null;

  constructor(presence: Presence) {
    this.#presence = presence;
  }

  /** Reads again and again until the function given back is called, by the last who follows. */
  follow(): () => void {
    this.#followers++;
    this.#timer ??= setInterval(() => void this.read(), READ_MILLISECOND).unref();
    let isFollowing = true;
    return () => {
      if (isFollowing) this.#followers--;
      isFollowing = false;
      if (this.#followers > 0 || !this.#timer) return;
      clearInterval(this.#timer);
      this.#timer = null;
    };
  }

  latest(): Pulse {
    const { cutOff, position } = this.#known;
    return { cutOff, position: performance.now() - this.#knownAt < FRESH_MILLISECOND ? position : null };
  }

  /** Reads now, or waits for the answer that is on its way; a database that does not answer leaves what was known. */
  read(): Promise<void> {
    return (this.#reading ??= this.#read().finally(() => {
      this.#reading = null;
    }));
  }

  async #read(): Promise<void> {
    const at = performance.now();
    const { pool, shopId } = this.#presence;
    try {
      const [position, cutOff] = await Promise.all([findTail(pool, shopId), listCutOff(pool, this.#presence)]);
      this.#known = { position, cutOff };
      this.#knownAt = at;
    } catch {
      // the database is away: the devices that were cut off stay so
    }
  }
}

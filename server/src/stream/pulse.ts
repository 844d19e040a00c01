/**
 * What every beat of every stream tells, read from the database itself: how far the log of the shop goes and which devices are cut off.
 * Read at most once a second for all of them, in the background: no beat waits for the database, and one that could not be told how far
 * the log goes says so.
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
  #askedAt = -Infinity;
  #known: Pulse = { position: null, cutOff: [] };
  #knownAt = -Infinity;

  constructor(presence: Presence) {
    this.#presence = presence;
  }

  latest(): Pulse {
    const now = performance.now();
    if (now - this.#askedAt >= READ_MILLISECOND) {
      this.#askedAt = now;
      void this.#read(now);
    }
    const { cutOff, position } = this.#known;
    return { cutOff, position: now - this.#knownAt < FRESH_MILLISECOND ? position : null };
  }

  async #read(at: number): Promise<void> {
    const { pool, shopId } = this.#presence;
    try {
      const [position, cutOff] = await Promise.all([findTail(pool, shopId), listCutOff(pool, this.#presence)]);
      // an answer that was overtaken by a later question says nothing new
      if (at < this.#knownAt) return;
      this.#known = { position, cutOff };
      this.#knownAt = at;
    } catch {
      // the database is away: the devices that were cut off stay so
    }
  }
}

/** Which modules of the stock this job may have, and why the others stay out. */
import type { StockRow } from '@estuarine/contract';
import { findHindrance, HINDRANCES, type Hindrance, type PoolModule, type Profile } from '@estuarine/core';

export interface Shelf {
  readonly free: readonly PoolModule[];
  /** Counted reasons, such as "12 of another type". */
  readonly left: readonly string[];
}

const HINDRANCE_WORDS: Record<Exclude<Hindrance, 'inPack'>, string> = {
  otherType: 'of another type',
  quarantined: 'in quarantine',
  reserved: 'reserved by other jobs',
};

export function splitShelf(rows: readonly StockRow[], profile: Profile, jobNumber: number): Shelf {
  const taker = { job: jobNumber, typeId: profile.moduleType.id };
  const free: PoolModule[] = [];
  const counts: Record<Hindrance, number> = { inPack: 0, otherType: 0, quarantined: 0, reserved: 0 };
  for (const row of rows) {
    const { moduleId: id, capacityAh, resistanceMilliohm, restDropMillivolt, ocvVolt } = row;
    const hindrance = findHindrance(row, taker);
    if (hindrance === null) free.push({ id, capacityAh, resistanceMilliohm, restDropMillivolt, ocvVolt });
    else counts[hindrance]++;
  }
  // what sits in a pack is not on the shelf at all
  const left = HINDRANCES.filter((h) => h !== 'inPack').filter((h) => counts[h] > 0);
  return { free, left: left.map((h) => `${counts[h]} ${HINDRANCE_WORDS[h]}`) };
}

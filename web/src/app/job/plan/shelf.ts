/** Which modules of the stock this job may have, and why the others stay out. */
import type { StockRow } from '@estuarine/contract';
import type { PoolModule, Profile, School } from '@estuarine/core';

export const SCHOOL_NAMES: Record<School, string> = {
  matchedSet: 'Whole matched set',
  spotRepair: 'Spot repair in place',
  spotRepairReordered: 'Spot repair, re-ordered',
  exchangePack: 'Exchange pack',
};

export interface Shelf {
  readonly free: readonly PoolModule[];
  /** Counted reasons, such as "12 of another type". */
  readonly left: readonly string[];
}

export function splitShelf(rows: readonly StockRow[], profile: Profile, jobNumber: number): Shelf {
  const free: PoolModule[] = [];
  let otherType = 0;
  let quarantined = 0;
  let reserved = 0;
  for (const row of rows) {
    if (row.inJob !== null) continue;
    if (row.typeId !== profile.moduleType.id) otherType++;
    else if (row.quarantine !== null) quarantined++;
    else if (row.reservedBy !== null && row.reservedBy !== jobNumber) reserved++;
    else
      free.push({
        id: row.moduleId,
        capacityAh: row.capacityAh,
        resistanceMilliohm: row.resistanceMilliohm,
        restDropMillivolt: row.restDropMillivolt,
        ocvVolt: row.ocvVolt,
      });
  }
  const left = [
    [otherType, 'of another type'],
    [quarantined, 'in quarantine'],
    [reserved, 'reserved by other jobs'],
  ] as const;
  return { free, left: left.filter(([count]) => count > 0).map(([count, why]) => `${count} ${why}`) };
}

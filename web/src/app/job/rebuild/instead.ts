/** What the stock says of a module that is laid, and which to take where one was dropped. */
import type { StockRow } from '@estuarine/contract';
import { findHindrance, findInstead, type JobState, type Profile } from '@estuarine/core';

/** Why a module does not belong in this stack by what the stock says of it, as a sentence; null where nothing speaks against it. */
export function whyNotLay(row: StockRow | undefined, jobNumber: number, profile: Profile | null): string | null {
  if (!row || !profile) return null;
  const { moduleId } = row;
  if (row.inJob !== null && row.inJob !== jobNumber) return `${moduleId} belongs to the pack of job ${row.inJob}.`;
  // what lies in this pack already is off the shelf, and may be of another type or set aside all the same
  switch (findHindrance({ ...row, inJob: null }, { job: jobNumber, typeId: profile.moduleType.id })) {
    case 'otherType':
      return `${moduleId} is of another type (${row.typeId}).`;
    case 'quarantined':
      return `${moduleId} is in quarantine: ${row.quarantine}`;
    case 'reserved':
      return `${moduleId} is reserved for job ${row.reservedBy}.`;
    default:
      return null;
  }
}

export interface Suggestion {
  readonly moduleId: string;
  readonly bin: string;
  /** What it was compared by. */
  readonly why: string;
}

const NAMES = { capacityAh: 'capacity', resistanceMilliohm: 'resistance', ocvVolt: 'voltage' } as const;

export function suggestInstead(
  moduleId: string,
  rows: readonly StockRow[],
  state: JobState,
  profile: Profile,
  gone: ReadonlySet<string>,
): Suggestion | null {
  const taker = { job: state.intake.opened?.number ?? 0, typeId: profile.moduleType.id };
  const planned = new Set(state.plan.chosen?.moduleIds);
  const poolOf = ({ moduleId: id, capacityAh, resistanceMilliohm, ocvVolt }: StockRow) => ({ id, capacityAh, resistanceMilliohm, ocvVolt });
  const free = rows.filter((r) => findHindrance(r, taker) === null && !gone.has(r.moduleId) && !planned.has(r.moduleId));
  const lost = rows.find((r) => r.moduleId === moduleId);
  const found = findInstead(lost ? poolOf(lost) : { id: moduleId, capacityAh: null, resistanceMilliohm: null }, free.map(poolOf));
  const row = found && rows.find((r) => r.moduleId === found.id);
  if (!row) return null;
  const by = found.by.map((f) => NAMES[f]).join(', ');
  return { moduleId: row.moduleId, bin: row.bin, why: by === '' ? 'as nothing of the other was measured' : `nearest by ${by}` };
}

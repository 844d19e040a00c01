/** When the air path is looked at again, and when the pack is opened for its cells: as set, and as proposed. Never stored. */
import { findInterval, type Interval, type Use } from '../../../cool/interval.ts';
import type { Profile } from '../../../pack/profile.ts';
import type { CoolState } from './state.ts';
import type { Cooling } from './view.ts';

const DAY_MILLISECOND = 86_400_000;
const DAYS_IN_MONTH = 30.4375;

/** So many months, whole or not, after a time in epoch milliseconds. */
export function lookAfter(from: number, months: number): number {
  return from + months * DAYS_IN_MONTH * DAY_MILLISECOND;
}

/** So many months as lie between two times in epoch milliseconds. */
export function monthsBetween(from: number, to: number): number {
  return (to - from) / (DAYS_IN_MONTH * DAY_MILLISECOND);
}

/** When it is looked at again, and opened for its cells, epoch milliseconds; null where nobody said. */
export function findLookAt({
  cool,
}: {
  readonly cool: Pick<CoolState, 'looks'>;
}): { readonly look: number; readonly strip: number | null } | null {
  const last = cool.looks.at(-1);
  if (!last) return null;
  const from = Date.parse(last.at);
  return { look: lookAfter(from, last.months), strip: last.stripMonths === null ? null : lookAfter(from, last.stripMonths) };
}

/** What an earlier job of the same vehicle found of its air path, and whether it left it clean. */
export interface EarlierLook {
  /** Epoch milliseconds. */
  readonly at: number;
  readonly foundShare: number;
  readonly wasCleaned: boolean;
}

/** Months that an earlier job says it ran since it was clean; null where none left it clean. */
export function monthsSinceClean(earlier: readonly EarlierLook[], now: number): number | null {
  const clean = [...earlier].sort((a, b) => a.at - b.at).findLast((e) => e.wasCleaned && e.at < now);
  return clean ? monthsBetween(clean.at, now) : null;
}

/**
 * When to look again, by what was found now and before, and what the vehicle carries.
 * @param months since it was clean; null where nobody knows
 * @param earlier looks at the same vehicle, in any order
 */
export function proposeLook(
  { foundShare }: Cooling,
  months: number | null,
  uses: readonly Use[],
  { cooling }: Pick<Profile, 'cooling'>,
  earlier: readonly EarlierLook[] = [],
): Interval | null {
  const before = [...earlier].sort((a, b) => a.at - b.at);
  const known = before.flatMap(({ at, foundShare: share }, i) => {
    const since = monthsSinceClean(before.slice(0, i), at);
    return since === null ? [] : [{ monthsSinceClean: since, blockedShare: share }];
  });
  const now = foundShare === null || months === null ? [] : [{ monthsSinceClean: months, blockedShare: foundShare }];
  const found = findInterval({
    findings: [...known, ...now],
    uses,
    ...(cooling.stripMonths !== null && { stripMonths: cooling.stripMonths }),
  });
  return found.kind === 'answer' ? found.value : null;
}

/** What was answered, what goes back to whom, and what is owed. Derived anew from the state; never stored. */
import { CORE_CHECKS, CORE_KINDS, type Cause, type CoreCheck } from './acts.ts';
import type { HandOverState } from './state.ts';

/** The last word on each cause that was named, in the order named. */
export function findCauses({ causes }: HandOverState): HandOverState['causes'] {
  return [...new Map<Cause, HandOverState['causes'][number]>(causes.map((c) => [c.cause, c])).values()];
}

/** The last word on each accessory that was offered. */
export function findOffers({ offered }: HandOverState): HandOverState['offered'] {
  return [...new Map(offered.map((o) => [o.what.toLowerCase(), o])).values()];
}

/** What goes back to a supplier and what of its deposit is still out. */
export interface CoreDesk {
  readonly supplier: string;
  readonly what: (typeof CORE_KINDS)[number];
  readonly count: number;
  readonly deposit: number;
  /** `2026-12-04`. */
  readonly shipBy: string;
  readonly checks: readonly { readonly check: CoreCheck; readonly isGood: boolean | null }[];
  /** The last that was shipped, and how many were in all. */
  readonly shipped: HandOverState['shipped'][number] | null;
  readonly shippedCount: number;
  readonly isAllShipped: boolean;
  readonly settled: HandOverState['settled'][number] | null;
  /** Of the deposit, what was not credited yet; a refused one is written off. */
  readonly outstanding: number;
  /** As it follows on "Next:"; null where it is settled. */
  readonly next: string | null;
}

/** Null where nothing goes back. */
export function findCoreDesk(slice: HandOverState): CoreDesk | null {
  const agreed = slice.agreed.at(-1);
  if (!agreed) return null;
  const { supplier, what, count, deposit, shipBy } = agreed;
  const checks = CORE_CHECKS.filter((c) => what === 'pack' || c !== 'cablesInsulated').map((check) => ({
    check,
    isGood: slice.checked.findLast((c) => c.check === check)?.isGood ?? null,
  }));
  const [shipped, settled] = [slice.shipped.at(-1) ?? null, slice.settled.at(-1) ?? null];
  const shippedCount = slice.shipped.reduce((sum, s) => sum + s.count, 0);
  const isAllShipped = shippedCount >= count;
  const isEnded = settled !== null && settled.outcome !== 'disputed';
  const outstanding = settled?.outcome === 'refused' ? 0 : Math.max(0, deposit - (settled?.credit ?? 0));
  const open = checks.filter((c) => c.isGood !== true).length;
  const left = Math.max(0, count - shippedCount);
  const noun = what === 'pack' ? 'pack' : 'module';
  const more = shippedCount > 0 ? ' more' : '';
  const things = left === 1 && count === 1 ? `the old ${noun}` : `${left}${more} old ${noun}${left === 1 ? '' : 's'}`;
  const next = isEnded
    ? null
    : settled
      ? `${supplier} disputes it: settle the deposit`
      : isAllShipped
        ? `wait for the credit of ${supplier}`
        : `${things} back to ${supplier} by ${shipBy}${open > 0 ? `, ${open} to look at before` : ''}`;
  return { supplier, what, count, deposit, shipBy, checks, shipped, shippedCount, isAllShipped, settled, outstanding, next };
}

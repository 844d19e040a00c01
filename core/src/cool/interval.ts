/** When to look at the air path again: by how fast it got shut, by what the vehicle carries, and never far beyond what was proven. */
import { answer, refuse, type Result } from '../result.ts';

export const USES = ['pets', 'children', 'dust', 'luggage', 'smoke'] as const;
export type Use = (typeof USES)[number];

export const USE_NAMES: Record<Use, string> = {
  pets: 'pets',
  children: 'children',
  dust: 'dusty roads',
  luggage: 'luggage on the intake',
  smoke: 'smoke',
};

export interface IntervalInput {
  /** Earlier looks in their order: how long after it was clean, and how much of it was shut. */
  readonly findings: readonly { readonly monthsSinceClean: number; readonly blockedShare: number }[];
  readonly uses: readonly Use[];
  /** Of the profile: after how long the pack is opened and its cells are cleaned. */
  readonly stripMonths?: number | undefined;
}

export interface Interval {
  readonly monthsToNext: number;
  readonly reason: string;
  /** Only where the profile has its packs opened for cleaning. */
  readonly monthsToStrip?: number;
}

/** Looked at again when so much is expected to be shut; the first look; the least and the most. Common practice, no source. */
const [WANTED_SHARE, FIRST_MONTH, LEAST_MONTH, MOST_MONTH] = [0.2, 3, 1, 24];
/** Each use leaves so much of the time. */
const USE_FACTOR = 0.85;
/** Never longer than so many times the last interval that ended clean enough. */
const LONGER = 2;

/** Refusals: `impossible` for a time below zero or a share outside 0 to 1. */
export function findInterval({ findings, uses, stripMonths }: IntervalInput): Result<Interval> {
  for (const [i, { monthsSinceClean, blockedShare }] of findings.entries()) {
    if (!(monthsSinceClean >= 0))
      return refuse('impossible', `Finding ${i + 1}: months cannot be below zero.`, ['findings', i, 'monthsSinceClean']);
    if (!(blockedShare >= 0 && blockedShare <= 1))
      return refuse('impossible', `Finding ${i + 1}: a share from 0 to 1, ${blockedShare} came.`, ['findings', i, 'blockedShare']);
  }
  const shorter = USE_FACTOR ** new Set(uses).size;
  const byUse = uses.length > 0 ? `; ${[...new Set(uses)].join(', ')} make it shorter` : '';
  const strip = stripMonths === undefined ? {} : { monthsToStrip: round(stripMonths * shorter) };
  const give = (month: number, reason: string): Result<Interval> => {
    const monthsToNext = round(Math.max(LEAST_MONTH, Math.min(MOST_MONTH, month) * shorter));
    return answer({ monthsToNext, reason: `${reason}${byUse}.`, ...strip });
  };
  const last = findings.at(-1);
  if (!last) return give(FIRST_MONTH, 'Nobody has looked before: a first look after 3 months');
  // blocked = rate x months, through the clean path at zero
  const squares = findings.reduce((sum, f) => sum + f.monthsSinceClean ** 2, 0);
  const rate = squares > 0 ? findings.reduce((sum, f) => sum + f.monthsSinceClean * f.blockedShare, 0) / squares : 0;
  const expected = rate > 0 ? WANTED_SHARE / rate : Infinity;
  const proven = LONGER * last.monthsSinceClean;
  if (expected <= proven)
    return give(expected, `It shuts by ${(100 * rate).toFixed(1)} % a month: a fifth of it after ${expected.toFixed(1)} months`);
  const how = last.blockedShare === 0 ? 'It was clean' : 'It was open enough';
  return give(proven, `${how} after ${last.monthsSinceClean} months: twice as long, and no longer without proof`);
}

/** To a tenth of a month, never longer than computed. */
function round(month: number): number {
  return Math.floor(month * 10 + 1e-9) / 10;
}

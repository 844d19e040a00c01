/** What a shut path did to the modules, by what was found and by what was measured. Derived anew; never stored. */
import { findFlowByHeat, type HeatFlow } from '../../../cool/heat.ts';
import { findReturnedAir } from '../../../cool/returned-air.ts';
import { findLife } from '../../../cool/life.ts';
import { findCoolStack, type CoolStack } from '../../../cool/stack.ts';
import type { Profile } from '../../../pack/profile.ts';
import { findRankAgreement } from '../../../stats/ranks.ts';
import type { CoolState } from './state.ts';
import type { Cooling } from './view.ts';

/** What a pack is reckoned with where nobody measured it: a drive of some 18 A through 27 mΩ a module; common practice, no source. */
export const USUAL_BASIS = { wattsPerModule: 9, cabinCelsius: 25 } as const;

export interface ReturnedAir {
  /** Part of the air at the intake that came out of the pack, 0 to below 1. */
  readonly share: number;
  /** How much that lifts the inlet, as it was measured, kelvin. */
  readonly liftKelvin: number;
}

/**
 * What comes back, from three thermometers: (inlet - cabin) / (outlet - cabin). Null where nobody measured, or where the figures say
 * nothing: an outlet that is no warmer than the cabin, an inlet as warm as the outlet.
 */
export function findReturned({ returned }: CoolState, when: 'asFound' | 'after'): ReturnedAir | null {
  const last = returned.findLast((r) => r.when === when);
  if (!last) return null;
  const { cabinCelsius, inletCelsius, outletCelsius } = last;
  const share = (inletCelsius - cabinCelsius) / (outletCelsius - cabinCelsius);
  if (!(outletCelsius > cabinCelsius) || share >= 1) return null;
  return { share: Math.max(0, share), liftKelvin: Math.max(0, inletCelsius - cabinCelsius) };
}

export interface DrivenAir extends HeatFlow {
  /** Against what the fan moves through the clean path. */
  readonly shareOfClean: number;
  /** Whether the findings explain it: what they leave lies within the band of the thermometers and a fifth more. */
  readonly agrees: boolean | null;
}

/** How far reckoned and measured may lie apart; common practice, no source. */
const APART_SHARE = 0.2;

/**
 * Airflow as a drive proves it; null where nobody drove.
 * @param milliohm of the whole string
 * @param reckoned what the findings leave of the air at that time; null where not every part was looked at
 */
export function findDriven(
  { driven }: CoolState,
  when: 'asFound' | 'after',
  milliohm: number,
  reckoned: CoolStack | null,
  { cooling }: Profile,
): DrivenAir | null {
  const last = driven.findLast((d) => d.when === when);
  const found = last && findFlowByHeat({ ampere: last.ampere, milliohm, riseKelvin: last.riseKelvin });
  if (found?.kind !== 'answer') return null;
  const { leastCubicMetrePerHour: least, mostCubicMetrePerHour: most } = found.value;
  const flow = reckoned?.airflowCubicMetrePerHour ?? null;
  const agrees = flow === null ? null : flow >= least * (1 - APART_SHARE) && flow <= (most ?? Infinity) * (1 + APART_SHARE);
  return { ...found.value, shareOfClean: found.value.cubicMetrePerHour / cooling.cleanCubicMetrePerHour, agrees };
}

export interface CoolEffect {
  readonly clean: CoolStack;
  readonly found: CoolStack;
  readonly now: CoolStack;
  /** How much hotter the hottest module ran as found than clean, kelvin, and how much faster it aged. */
  readonly hotterKelvin: number;
  readonly ageingFactor: number;
}

/** What it did: airflow and temperatures clean, as found and now; null before every part was looked at, and where coolant does it. */
export function findCoolEffect({ foundShare, nowShare, isWhole }: Cooling, cool: CoolState, profile: Profile): CoolEffect | null {
  const { moduleCount, heatWeights, coolant, cooling } = profile;
  // what air does is told of packs that air cools
  if (!isWhole || foundShare === null || nowShare === null || coolant !== null) return null;
  const at = (blockedShare: number, returnedShare = 0): CoolStack | null => {
    const input = {
      ...{ modules: moduleCount, wattsPerModule: USUAL_BASIS.wattsPerModule, weights: heatWeights },
      ...{ airflowCubicMetrePerHour: cooling.cleanCubicMetrePerHour, blockedShare },
    };
    const stack = findCoolStack({ ...input, inletCelsius: USUAL_BASIS.cabinCelsius });
    if (stack.kind === 'refused' || returnedShare === 0) return stack.kind === 'answer' ? stack.value : null;
    const riseCelsius = stack.value.outletCelsius - USUAL_BASIS.cabinCelsius;
    const leak = findReturnedAir({ inletCelsius: USUAL_BASIS.cabinCelsius, riseCelsius, returnedShare });
    const warm = leak.kind === 'answer' ? findCoolStack({ ...input, inletCelsius: leak.value.inletCelsius }) : leak;
    return warm.kind === 'answer' ? warm.value : null;
  };
  const [before, after] = [findReturned(cool, 'asFound')?.share ?? 0, findReturned(cool, 'after')?.share];
  const [clean, found, now] = [at(0), at(foundShare, before), at(nowShare, after ?? before)];
  if (!clean || !found || !now) return null;
  const [hot, usual] = [Math.max(...found.moduleCelsius), Math.max(...clean.moduleCelsius)];
  const life = findLife({ celsius: hot, referenceCelsius: usual, referenceMonth: 1 });
  return { clean, found, now, hotterKelvin: hot - usual, ageingFactor: life.kind === 'answer' ? life.value.factor : 1 };
}

export interface DamageAgreement {
  /** Rank agreement of heat and weakness, -1 to 1. */
  readonly rank: number;
  readonly agrees: boolean;
  /** Places that should have run hottest, and those that are weakest, ascending; as many of each. */
  readonly hottest: readonly number[];
  readonly weakest: readonly number[];
}

/** From here on the order of heat explains the order of weakness; common practice, no source. */
const AGREES_FROM = 0.5;

/**
 * Whether the places that should have run hottest are those that suffered; null where too few modules were measured.
 * @param weakness of each place, more is weaker; null where it is not known
 */
export function compareDamage(celsius: readonly number[], weakness: readonly (number | null)[]): DamageAgreement | null {
  const pairs = celsius.flatMap((c, i) => (weakness[i] === null || weakness[i] === undefined ? [] : [{ place: i + 1, c, w: weakness[i] }]));
  const rank = findRankAgreement(pairs.map(({ c, w }) => [c, w] as const));
  if (rank === null || pairs.length < 8) return null;
  const first = (of: (p: (typeof pairs)[number]) => number): number[] =>
    [...pairs]
      .sort((a, b) => of(b) - of(a) || a.place - b.place)
      .slice(0, 4)
      .map((p) => p.place)
      .sort((a, b) => a - b);
  return { rank, agrees: rank >= AGREES_FROM, hottest: first((p) => p.c), weakest: first((p) => p.w) };
}

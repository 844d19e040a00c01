/** What the air path was and is, what it did to the modules, and what is next. Derived anew from the state; never stored. */
import { findInterval, type Interval, type Use } from '../../../cool/interval.ts';
import { findLife } from '../../../cool/life.ts';
import { findPathShare } from '../../../cool/path.ts';
import { findCoolStack, type CoolStack } from '../../../cool/stack.ts';
import type { Profile } from '../../../pack/profile.ts';
import { findRankAgreement } from '../../../stats/ranks.ts';
import type { CoolState } from './state.ts';

export interface CoolScene {
  readonly cool: CoolState;
}

type Fan = CoolState['fans'][number];

export interface AirPart {
  /** In the profile's air path, from 0. */
  readonly part: number;
  readonly kind: Profile['airPath'][number]['kind'];
  readonly name: string;
  /** Shares that are shut; null where nobody looked. */
  readonly asFound: number | null;
  readonly after: number | null;
  readonly cleaned: CoolState['cleaned'][number] | null;
  readonly fan: Fan | null;
  /** What is left to do with it, as it follows on "Next:"; null where nothing is. */
  readonly todo: string | null;
}

/** What a clean pack is reckoned with where nobody measured it. */
export interface CoolBasis {
  readonly wattsPerModule: number;
  readonly cleanCubicMetrePerHour: number;
  readonly cabinCelsius: number;
}
/** A steady drive of some 18 A through 27 mΩ, and a usual fan; common practice, no source. */
export const USUAL_BASIS: CoolBasis = { wattsPerModule: 9, cleanCubicMetrePerHour: 140, cabinCelsius: 25 };

export interface Cooling {
  readonly parts: readonly AirPart[];
  /** Of the whole path; null before every part was looked at. */
  readonly foundShare: number | null;
  readonly nowShare: number | null;
  readonly judged: CoolState['judged'][number] | null;
  readonly look: CoolState['looks'][number] | null;
  /** As it follows on "Next:"; null where all is done. */
  readonly next: string | null;
  /** The part that it is about; null where it is about none. */
  readonly nextPart: number | null;
}

/** So much shut is cleaned before it goes back; common practice, no source. */
const DIRTY_SHARE = 0.2;

export function findCooling({ cool }: CoolScene, { airPath }: Profile): Cooling {
  const parts = airPath.map(({ kind, name }, part): AirPart => {
    const own = <T extends { readonly part: number }>(list: readonly T[]): T | null => list.findLast((x) => x.part === part) ?? null;
    const asFound = own(cool.found.filter((f) => f.when === 'asFound'));
    const cleaned = own(cool.cleaned);
    const later = own(cool.found.filter((f) => f.when === 'after'));
    // what was found after an earlier cleaning says nothing of the last
    const after = later && later.number > (cleaned?.number ?? 0) ? later.blockedShare : null;
    const fan = own(cool.fans);
    const view = { part, kind, name, asFound: asFound?.blockedShare ?? null, after, cleaned, fan };
    return { ...view, todo: findTodo(view) };
  });
  const whole = (shareOf: (p: AirPart) => number | null): number | null => {
    const shares = parts.map((p) => ({ kind: p.kind, blockedShare: shareOf(p) }));
    return shares.some((s) => s.blockedShare === null)
      ? null
      : findPathShare(shares.map((s) => ({ ...s, blockedShare: s.blockedShare ?? 0 })));
  };
  const [judged, look] = [cool.judged.at(-1) ?? null, cool.looks.at(-1) ?? null];
  // all of it is looked at before any of it is cleaned
  const nextPart = parts.find((p) => p.asFound === null) ?? parts.find((p) => p.todo !== null) ?? null;
  const todo = nextPart?.todo;
  const next = todo ?? (judged === null ? 'say whether the cooling answers the damage' : look === null ? 'set the next look' : null);
  return {
    parts,
    foundShare: whole((p) => p.asFound),
    nowShare: whole((p) => p.after ?? p.asFound),
    judged,
    look,
    next,
    nextPart: nextPart?.part ?? null,
  };
}

function findTodo({ kind, name, asFound, after, cleaned, fan }: Omit<AirPart, 'todo'>): string | null {
  if (asFound === null) return `look at the ${name}`;
  if (asFound >= DIRTY_SHARE && !cleaned && after === null) return `clean the ${name}`;
  if (cleaned && after === null) return `look at the ${name} again`;
  if (after !== null && after >= DIRTY_SHARE) return `clean the ${name} once more`;
  if (kind !== 'fan') return null;
  if (!fan) return `${name} on 12 V before it goes back`;
  return judgeFan(fan).isFit ? null : `another ${name}: ${judgeFan(fan).sentence}`;
}

/** What a fan is worth by how it turns on its bench. Common practice, no source. */
export function judgeFan({ spins, noise, hasPlay, startVolt }: Pick<Fan, 'spins' | 'noise' | 'hasPlay' | 'startVolt'>): {
  readonly verdict: 'free' | 'worn' | 'seized';
  readonly isFit: boolean;
  readonly sentence: string;
} {
  if (!spins) return { verdict: 'seized', isFit: false, sentence: 'it does not turn on 12 V' };
  if (noise === 'grinding') return { verdict: 'worn', isFit: false, sentence: 'its bearing grinds' };
  const slow = startVolt !== null && startVolt > 6;
  if (noise === 'rough' || hasPlay || slow) {
    const why = slow ? `it turns only from ${startVolt} V` : hasPlay ? 'its wheel has play' : 'it runs rough';
    return { verdict: 'worn', isFit: true, sentence: `${why}: usable, and looked at sooner` };
  }
  return { verdict: 'free', isFit: true, sentence: 'it runs free' };
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
export function findCoolEffect(
  { foundShare, nowShare }: Cooling,
  { moduleCount, heatWeights, coolant }: Profile,
  basis = USUAL_BASIS,
): CoolEffect | null {
  // what air does is told of packs that air cools
  if (foundShare === null || nowShare === null || coolant !== null) return null;
  const at = (blockedShare: number): CoolStack | null => {
    const stack = findCoolStack({
      ...{ modules: moduleCount, wattsPerModule: basis.wattsPerModule, weights: heatWeights, inletCelsius: basis.cabinCelsius },
      ...{ airflowCubicMetrePerHour: basis.cleanCubicMetrePerHour, blockedShare },
    });
    return stack.kind === 'answer' ? stack.value : null;
  };
  const [clean, found, now] = [at(0), at(foundShare), at(nowShare)];
  if (!clean || !found || !now) return null;
  const [hot, cool] = [Math.max(...found.moduleCelsius), Math.max(...clean.moduleCelsius)];
  const life = findLife({ celsius: hot, referenceCelsius: cool, referenceMonth: 1 });
  return { clean, found, now, hotterKelvin: hot - cool, ageingFactor: life.kind === 'answer' ? life.value.factor : 1 };
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

const DAY_MILLISECOND = 86_400_000;
const DAYS_IN_MONTH = 30.4375;

/** When it is looked at again, epoch milliseconds; null where nobody said. */
export function findLookAt({ cool }: CoolScene): number | null {
  const look = cool.looks.at(-1);
  return look ? lookAfter(Date.parse(look.at), look.months) : null;
}

/** So many months, whole or not, after a time in epoch milliseconds. */
export function lookAfter(from: number, months: number): number {
  return from + months * DAYS_IN_MONTH * DAY_MILLISECOND;
}

/** When to look again, by what was found now and what the vehicle carries. */
export function proposeLook({ foundShare }: Cooling, monthsSinceClean: number | null, uses: readonly Use[]): Interval | null {
  const findings = foundShare === null || monthsSinceClean === null ? [] : [{ monthsSinceClean, blockedShare: foundShare }];
  const found = findInterval({ findings, uses });
  return found.kind === 'answer' ? found.value : null;
}

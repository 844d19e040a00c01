/**
 * What can be touched on a job now, in volts: the pack as it may stand by the record, the voltages known of its modules, and what waits
 * behind its covers. The number is the highest over everything that the record allows. Nothing here is ever called safe.
 */
import type { Cuts } from '../../pack/cuts.ts';
import { findExposure, listIslands, type Exposure, type Island } from '../../pack/exposure.ts';
import type { Profile } from '../../pack/profile.ts';
import { listDisagreements } from '../frame/counted-hazards.ts';
import type { JobState, StatedFact } from '../frame/state.ts';
import { raisingWords } from '../frame/statements.ts';
import {
  accountOf,
  areOutletsBare,
  exposePack,
  isCarBare,
  joinAccounts,
  must,
  NO_TIME,
  partingOf,
  pickVolt,
  tapsOf,
  traceVolts,
  type Account,
  type Proven,
  type TraceVolts,
} from './account.ts';
import { findExcess, type Excess, type Side } from './excess.ts';
import { findNext, findWayToLimit, isPartingUsual, type NextAct } from './next.ts';
import type { ModuleVolt } from './volts.ts';

export interface JobExposure {
  /** Between posts bare to a finger. */
  readonly reachable: Pick<Exposure, 'volt' | 'between' | 'worstShort'>;
  /** Between any posts, covers or not. */
  readonly behind: Exposure;
  readonly islands: readonly Island[];
  readonly modules: readonly ModuleVolt[];
  readonly measuredCount: number;
  /** Sentences that say what the number rests on, in the order they count. */
  readonly basis: readonly string[];
  /** What of the number stands above what is known, by its cause; the largest first. */
  readonly excess: readonly Excess[];
  /** Volts at low-voltage pins of the sense harness; null where none lie bare. */
  readonly pinVolt: number | null;
  readonly next: NextAct | null;
  /** Fewest acts from here until no island stands at 60 V or above it. */
  readonly toLimit: Cuts | null;
  /** The fact that last changed the pack; null while it is as it came. */
  readonly changedBy: StatedFact | null;
}

/**
 * The exposure of a job in its recorded state.
 * @param now server time, epoch milliseconds; without it no proof of dead counts
 */
export function findJobExposure(state: JobState, profile: Profile, now = NO_TIME): JobExposure {
  return findWorstExposure([state], profile, now);
}

/**
 * The exposure to show while acts wait to be kept: the most hazardous of the kept state and of each state that the waiting acts pass
 * through. A waiting act may raise it and never lowers it: a proof counts only where it stands in all of them, a module at the highest.
 * @param states the kept state, then the one after each waiting act; at least one
 */
export function findWorstExposure(states: readonly JobState[], profile: Profile, now = NO_TIME): JobExposure {
  const sides = states.map((state): Side => ({ state, account: accountOf(state, profile, now) }));
  const [kept, last] = [sides[0], sides.at(-1)];
  if (!kept || !last) throw new RangeError('an exposure needs a state');
  return exposeWorst({ kept, last, worst: sides.map((s) => s.account).reduce(joinAccounts) }, profile);
}

/** What the states of a job were found to allow: the kept one by itself, the last one, and all of them together. */
export interface Worst {
  readonly kept: Side;
  /** Once all that waits is kept. */
  readonly last: Side;
  readonly worst: Account;
}

/** The exposure of states whose accounts are known already. */
export function exposeWorst({ kept, last, worst: account }: Worst, profile: Profile): JobExposure {
  const { modules, hazards } = account;
  const { reachable, behind } = exposePack(account, profile);
  const moduleVolts = modules.map((m) => m.volt);
  const openLinks = partingOf(hazards);
  return {
    reachable: pickVolt(reachable),
    behind,
    islands: listIslands(
      moduleVolts,
      new Set(openLinks),
      modules.map((m) => m.milliohm),
      hazards.emptyPlaces,
    ),
    modules,
    measuredCount: modules.filter((m) => m.isMeasured).length,
    basis: sayBasis(last.state, account, profile),
    excess: findExcess(account, kept, last, profile),
    pinVolt: hazards.areHarnessPinsBare ? must(findExposure({ moduleVolts, openLinks, reachable: tapsOf(profile) })).volt : null,
    // a job that leaves the high voltage alone is led to no cut
    next: isPartingUsual(last.state, profile) ? findNext(last.state.pack, modules, profile) : null,
    toLimit: hazards.mayHarnessTie ? null : findWayToLimit(moduleVolts, openLinks, profile),
    changedBy: last.state.facts.at(-1) ?? null,
  };
}

/** The two voltages of a job in its recorded state, without the reasons: what a list of jobs shows. */
export function summariseExposure(
  state: JobState,
  profile: Profile,
  now = NO_TIME,
): TraceVolts & { readonly highestVolt: number; readonly measuredCount: number } {
  const account = accountOf(state, profile, now);
  const volts = traceVolts(account, profile);
  const highestVolt = Math.max(volts.reachableVolt, volts.behindVolt, stringAtMost(account.modules, profile));
  return { ...volts, highestVolt, measuredCount: account.modules.filter((m) => m.isMeasured).length };
}

/** The most that the last known state allows when the truth cannot be known: never below the number itself. */
export function findHighestPossible({ reachable, behind, modules }: JobExposure, profile: Profile): number {
  return Math.max(reachable.volt, behind.volt, stringAtMost(modules, profile));
}

function stringAtMost(modules: Account['modules'], { moduleType }: Profile): number {
  return modules.reduce((sum, m) => sum + Math.max(m.volt, moduleType.maximumModuleVolt), 0);
}

const CAME = {
  late: 'A statement that was made before what stands came late',
  unclear: 'Two statements were made at the same time',
  unproven: 'A statement was passed on in another’s name, unproven',
} as const;

function sayBasis(state: JobState, { hazards, modules, proven }: Account, profile: Profile): string[] {
  const { moduleCount, moduleType } = profile;
  const measured = modules.filter((m) => m.isMeasured).length;
  const isOnCar = isCarBare(hazards);
  const lines = [
    measured === moduleCount
      ? `All ${moduleCount} modules measured, none counted below ${moduleType.nominalVolt} V.`
      : `${measured} of ${moduleCount} modules measured, the rest at their maximum of ${moduleType.maximumModuleVolt} V.`,
  ];
  const reversed = modules.filter((m) => m.isReversed).map((m) => m.place);
  if (reversed.length > 0) lines.push(`${listPlaces('Module', reversed)} read below zero or sits turned: its size counts.`);
  const doubtful = modules.filter((m) => m.isDoubtful).map((m) => m.place);
  if (doubtful.length > 0) lines.push(`Readings of ${listPlaces('module', doubtful)} differ: the higher counts until one is chosen.`);
  if (hazards.mayHarnessTie) lines.push('The sense harness ties the parts of the string: they count as one.');
  if (hazards.areHarnessPinsBare)
    lines.push('The sense harness is out: its pins are low-voltage plugs with the voltage of the string on them.');
  if (!state.pack.isPlugIn && profile.plug.opensLink === null) lines.push(`The ${profile.plug.name} opens no link of the string.`);
  if (isOnCar && proven.carSideVolt === null)
    lines.push(
      'The car side is bare and no proof of dead stands: contactors count as shut, capacitors as full, so it counts at the full string.',
    );
  else if (proven.carSideVolt !== null)
    lines.push(`A signed proof of dead stands: at most ${proven.carSideVolt.toFixed(1)} V was measured at the car side.`);
  else if (hazards.mayBeInCar && hazards.mayCablesBeOn)
    lines.push(
      'Joined cables tie the ends of the string through the car, and no proof of dead stands: anything up to the full string may lie across an open link.',
    );
  if (areOutletsBare(hazards)) lines.push(sayOutlets(hazards, proven));
  if (!hazards.isCaseOpen) lines.push('The case is stated shut.');
  else if (hazards.bareJoints.length === 0) lines.push('The terminal covers are stated on.');
  else if (hazards.bareJoints.length <= moduleCount)
    lines.push(`Terminal covers are stated on over ${moduleCount + 1 - hazards.bareJoints.length} of ${moduleCount + 1} joints.`);
  if (hazards.chargerVolt !== null)
    lines.push(`A source of ${hazards.chargerVolt} V is stated across the ends: every module counts as full.`);
  const [word] = raisingWords(state, profile);
  if (word) lines.push(`${CAME[word.came]}: the more hazardous holds until it is stated anew.`);
  for (const { sentence } of listDisagreements(state, profile))
    lines.push(`Counted otherwise than stated (${sentence}): the more hazardous holds.`);
  return lines;
}

function sayOutlets({ mayContactorsBeShut }: Account['hazards'], { outletVolt }: Proven): string {
  if (outletVolt !== null) return `The pack’s own HV posts are bare; at most ${outletVolt.toFixed(1)} V was proven there.`;
  return mayContactorsBeShut
    ? 'The pack’s own HV posts are bare and nothing proves the contactors open: they count as shut.'
    : 'The pack’s own HV posts are bare, with the contactors taken out.';
}

function listPlaces(what: string, places: readonly number[]): string {
  const shown = places.slice(0, 6).join(', ');
  return `${what}${places.length > 1 ? 's' : ''} ${shown}${places.length > 6 ? ` and ${places.length - 6} more` : ''}`;
}

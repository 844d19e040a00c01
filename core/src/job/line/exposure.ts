/**
 * What can be touched on a job now, in volts: the pack as it stands, the voltages known of its modules, and what behind its
 * covers waits. Nothing here is ever called safe.
 */
import { provesCarSide } from '../../pack/point.ts';
import type { Cuts } from '../../pack/cuts.ts';
import { joinHazards, type PackState } from '../../pack/effect.ts';
import { findExposure, listIslands, type Exposure, type Island } from '../../pack/exposure.ts';
import { applyFact, type Fact } from '../../pack/fact.ts';
import { postName } from '../../pack/post.ts';
import type { Profile } from '../../pack/profile.ts';
import { findStanding, type Standing } from '../chapters/isolate/view.ts';
import type { JobState, StatedFact } from '../frame/state.ts';
import { stagesOf } from '../frame/stages.ts';
import { findNext, findWayToLimit, type NextAct } from './next.ts';
import { findModuleVolts, partingLinks, type ModuleVolt } from './volts.ts';

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
  readonly next: NextAct | null;
  /** Fewest acts from here until no island stands at 60 V or above it. */
  readonly toLimit: Cuts | null;
  /** The fact that last changed the pack; null while it is as it came. */
  readonly changedBy: StatedFact | null;
}

/** No time is known: no proof of dead counts. */
export const NO_TIME = Infinity;

/**
 * The exposure of a job in its recorded state.
 * @param now server time, epoch milliseconds; without it no proof of dead counts
 */
export function findJobExposure(state: JobState, profile: Profile, now = NO_TIME): JobExposure {
  return exposeJob(state, state.pack, profile, standingAtCar(state, now)?.volt ?? null);
}

/** The proof of dead at the car side that stands; null where none does. */
function standingAtCar(state: JobState, now: number): Standing | null {
  const standing = findStanding(state, now);
  return standing && provesCarSide(standing.proof.point) ? standing : null;
}

export interface TraceVolts {
  readonly reachableVolt: number;
  readonly behindVolt: number;
}

/** The two voltages of a job in its recorded state, without the reasons: what a list of jobs shows. */
export function summariseExposure(state: JobState, profile: Profile, now = NO_TIME): TraceVolts & { readonly measuredCount: number } {
  const modules = findModuleVolts(state, profile);
  const { reachable, behind } = exposePack(state.pack, modules, profile, standingAtCar(state, now)?.volt ?? null, 'volts');
  return { reachableVolt: reachable.volt, behindVolt: behind.volt, measuredCount: modules.filter((m) => m.isMeasured).length };
}

/**
 * The exposure to show while acts wait to be kept: for every fact the more hazardous of the kept state and of each state that
 * the waiting acts pass through, and for every module the higher voltage. A waiting act may raise it and never lowers it: a proof
 * counts only where it stands with and without them.
 * @param shown the kept state with the waiting acts in it
 * @param pending the facts among them, in order
 */
export function findWorstExposure(kept: JobState, shown: JobState, pending: readonly Fact[], profile: Profile, now = NO_TIME): JobExposure {
  const standing = standingAtCar(kept, now);
  const stillStanding = standingAtCar(shown, now);
  const isProven = standing !== null && standing.proof.proofId === stillStanding?.proof.proofId;
  const isCharged = pending.some((f) => f.kind === 'charged');
  // a module that comes to a place may stand at anything until it is known there
  const isMoved = pending.some((f) => f.kind === 'module');
  const { maximumModuleVolt } = profile.moduleType;
  const later = findModuleVolts(shown, profile);
  const modules = findModuleVolts(kept, profile).map((m, i): ModuleVolt => {
    const other = later[i];
    if (isCharged || isMoved) return { ...m, volt: Math.max(m.volt, other?.volt ?? 0, maximumModuleVolt), isMeasured: false };
    return other && other.volt > m.volt ? other : m;
  });
  const provenVolt = isProven ? Math.max(standing.volt, stillStanding.volt) : null;
  return exposeJob(kept, worstPack(kept.pack, pending, profile), profile, provenVolt, modules);
}

/** The state that joins the hazards of a pack and of every state it passes through. */
export function worstPack(kept: PackState, pending: readonly Fact[], profile: Profile): PackState {
  let now = kept;
  let worst = kept;
  for (const fact of pending) {
    now = applyFact(now, fact, profile);
    worst = joinHazards(worst, now);
  }
  return worst;
}

interface Volts {
  readonly reachable: JobExposure['reachable'];
  readonly behind: Exposure;
}

/**
 * @param provenVolt highest voltage that a standing proof of dead measured at the car side; null where none stands
 * @param what `volts` leaves out the currents, which take most of the time; for lists and lines that do not show them
 */
export function exposePack(
  pack: PackState,
  modules: readonly ModuleVolt[],
  profile: Profile,
  provenVolt: number | null,
  what: 'all' | 'volts' = 'all',
): Volts {
  const moduleVolts = modules.map((m) => m.volt);
  const moduleMilliohms = what === 'all' ? modules.map((m) => m.milliohm) : undefined;
  const outsideVolt = pack.chargerVolt ?? undefined;
  const openLinks = partingLinks(pack, profile);
  const behind = must(findExposure({ moduleVolts, moduleMilliohms, openLinks, outsideVolt }));
  const areBare = pack.isCaseOpen && pack.areCoversOff;
  const nothing = { volt: 0, between: null, worstShort: null };
  const inCase = areBare ? behind : nothing;
  const isCarSideBare = !pack.isOnBench && pack.connectors === 'open';
  if (!isCarSideBare) return { reachable: inCase, behind };
  const ends = [postName(1, '-'), postName(profile.moduleCount, '+')] as const;
  if (provenVolt !== null) {
    const carSide = { volt: provenVolt, between: [ends[1], ends[0]] as const, worstShort: null };
    return { reachable: carSide.volt > inCase.volt ? carSide : inCase, behind };
  }
  // no proof of dead stands: contactors count as shut and capacitors as full, the bare ends at the whole string
  const carSide = must(findExposure({ moduleVolts, moduleMilliohms, openLinks: [], outsideVolt, reachable: ends }));
  return {
    reachable: carSide.volt >= inCase.volt ? carSide : inCase,
    behind: carSide.volt >= behind.volt ? { ...behind, ...pickVolt(carSide) } : behind,
  };
}

function pickVolt(e: Exposure): Pick<Exposure, 'volt' | 'between' | 'worstShort'> {
  return { volt: e.volt, between: e.between, worstShort: e.worstShort };
}

function exposeJob(
  state: JobState,
  pack: PackState,
  profile: Profile,
  provenVolt: number | null,
  modules: readonly ModuleVolt[] = findModuleVolts(state, profile),
): JobExposure {
  const { reachable, behind } = exposePack(pack, modules, profile, provenVolt);
  const measuredCount = modules.filter((m) => m.isMeasured).length;
  const moduleVolts = modules.map((m) => m.volt);
  const openLinks = partingLinks(pack, profile);
  return {
    reachable: { volt: reachable.volt, between: reachable.between, worstShort: reachable.worstShort },
    behind,
    islands: listIslands(
      moduleVolts,
      new Set(openLinks),
      modules.map((m) => m.milliohm),
    ),
    modules,
    measuredCount,
    basis: sayBasis(pack, measuredCount, profile, provenVolt),
    // a job that leaves the high voltage alone is led to no cut
    next: isPartingUsual(state, profile) ? findNext(pack, modules, profile) : null,
    toLimit: pack.isHarnessUnplugged ? findWayToLimit(moduleVolts, openLinks, profile) : null,
    changedBy: state.facts[state.facts.length - 1] ?? null,
  };
}

/** Whether the string is parted at all in the course of this job. */
function isPartingUsual(state: JobState, profile: Profile): boolean {
  const stages = stagesOf(state, profile);
  return stages.includes('isolate') || stages.includes('open');
}

function sayBasis(pack: PackState, measured: number, profile: Profile, provenVolt: number | null): string[] {
  const { moduleCount, moduleType } = profile;
  const rest = moduleCount - measured;
  const lines = [
    rest === 0
      ? `All ${moduleCount} modules measured, none counted below ${moduleType.nominalVolt} V.`
      : `${measured} of ${moduleCount} modules measured, the rest at their maximum of ${moduleType.maximumModuleVolt} V.`,
  ];
  if (!pack.isHarnessUnplugged) lines.push('The sense harness ties the parts of the string: they count as one.');
  if (!pack.isPlugIn && profile.plug.opensLink === null) lines.push(`The ${profile.plug.name} opens no link of the string.`);
  if (!pack.isOnBench && pack.connectors === 'open')
    lines.push(
      provenVolt === null
        ? 'The car side is bare and no proof of dead stands: contactors count as shut, capacitors as full, so it counts at the full string.'
        : `A signed proof of dead stands: at most ${provenVolt.toFixed(1)} V was measured at the car side.`,
    );
  if (!pack.isCaseOpen) lines.push('The case is stated shut.');
  else if (!pack.areCoversOff) lines.push('The terminal covers are stated on.');
  if (pack.chargerVolt !== null) lines.push(`A source of ${pack.chargerVolt} V is stated across the ends.`);
  return lines;
}

function must<T>(result: { kind: 'answer'; value: T } | { kind: 'refused'; message: string }): T {
  if (result.kind === 'refused') throw new Error(`exposure of a job: ${result.message}`);
  return result.value;
}

/**
 * What the number is computed from, and the voltages that follow: how the pack may stand, what its modules stand at, and what a proof of
 * dead measured.
 */
import { findExposure, type Exposure, type Tie } from '../../pack/exposure.ts';
import { joinHazards, type Hazards } from '../../pack/hazard.ts';
import { postsOfJoint } from '../../pack/join.ts';
import { provesCarSide } from '../../pack/point.ts';
import { postName, type PostName } from '../../pack/post.ts';
import { blockPlaces, type Profile } from '../../pack/profile.ts';
import { isAfter } from '../chapters/stamp.ts';
import type { ProofRecord } from '../chapters/isolate/state.ts';
import { findStanding, type Standing } from '../chapters/isolate/view.ts';
import { listDisagreements } from '../frame/counted-hazards.ts';
import type { JobState } from '../frame/state.ts';
import { hazardsOfStatements } from '../frame/statements.ts';
import { findModuleVolts, type ModuleVolt } from './volts.ts';

/** No time is known: no proof of dead counts. */
export const NO_TIME = Infinity;

/** What a standing proof of dead measured; null where none stands for it. */
export interface Proven {
  readonly carSideVolt: number | null;
  readonly outletVolt: number | null;
}
export const NOTHING_PROVEN: Proven = { carSideVolt: null, outletVolt: null };

/** Everything that the number is computed from. */
export interface Account {
  readonly hazards: Hazards;
  readonly modules: readonly ModuleVolt[];
  readonly proven: Proven;
}

export function provenBy(standing: Pick<Standing, 'proof' | 'volt'> | null): Proven {
  if (!standing) return NOTHING_PROVEN;
  const { proof, volt } = standing;
  return { carSideVolt: provesCarSide(proof.point) ? volt : null, outletVolt: proof.signed?.isOutletToo ? volt : null };
}

/** The hazards of a job as it was kept: what is stated, late words, counts that say more, and posts that a meter is laid to. */
export function hazardsOfJob(state: JobState, profile: Profile): Hazards {
  const stated = hazardsOfStatements(state, profile);
  const counted = listDisagreements(state, profile).reduce((worst, { hazards }) => joinHazards(worst, hazards), stated);
  return bareProbed(counted, findProbed(state));
}

/** Where dead is being proven: the posts are at hand until a proof there is signed or it is said how they are covered. */
export function findProbed({ isolate, said }: Pick<JobState, 'isolate' | 'said'>): {
  readonly isCarSide: boolean;
  readonly isOutlet: boolean;
} {
  const isOpen = (isThere: (proof: ProofRecord) => boolean, thing: string): boolean => {
    // of readings that came before their proof nobody knows where they were taken
    const orphan = isolate.orphans.at(-1);
    const last = isolate.proofs.findLast(isThere);
    const stamp = orphan?.stamp ?? (last && !last.signed ? (last.readings.at(-1)?.stamp ?? last.stamp) : null);
    const covered = said.get(thing);
    return stamp !== null && !(covered && isAfter(covered, stamp));
  };
  return { isCarSide: isOpen((p) => provesCarSide(p.point), 'carSide'), isOutlet: isOpen((p) => !provesCarSide(p.point), 'outletPosts') };
}

function bareProbed(hazards: Hazards, { isCarSide, isOutlet }: ReturnType<typeof findProbed>): Hazards {
  if (!isCarSide && !isOutlet) return hazards;
  const { isCarSideBare, areOutletPostsBare } = hazards;
  return { ...hazards, isCarSideBare: isCarSideBare || isCarSide, areOutletPostsBare: areOutletPostsBare || isOutlet };
}

/** @param now server time, epoch milliseconds; without it no proof of dead counts */
export function accountOf(state: JobState, profile: Profile, now: number): Account {
  return {
    hazards: hazardsOfJob(state, profile),
    modules: findModuleVolts(state, profile),
    proven: provenBy(findStanding(state, now)),
  };
}

/** The more hazardous of two accounts in every respect. */
export function joinAccounts(a: Account, b: Account): Account {
  const both = (x: number | null, y: number | null): number | null => (x === null || y === null ? null : Math.max(x, y));
  return {
    hazards: joinHazards(a.hazards, b.hazards),
    modules: a.modules.map((m, i) => {
      const other = b.modules[i] ?? m;
      const worse = other.volt > m.volt ? other : m;
      return { ...worse, isMeasured: m.isMeasured && other.isMeasured, milliohm: Math.min(m.milliohm, other.milliohm) };
    }),
    proven: {
      carSideVolt: both(a.proven.carSideVolt, b.proven.carSideVolt),
      outletVolt: both(a.proven.outletVolt, b.proven.outletVolt),
    },
  };
}

export interface TraceVolts {
  readonly reachableVolt: number;
  readonly behindVolt: number;
}

export function traceVolts(account: Account, profile: Profile): TraceVolts {
  const { reachable, behind } = exposePack(account, profile, 'volts');
  return { reachableVolt: reachable.volt, behindVolt: behind.volt };
}

const NOTHING_REACHABLE = { volt: 0, between: null, worstShort: null } as const;

interface Volts {
  readonly reachable: Exposure;
  readonly behind: Exposure;
}

/**
 * What stands between bare posts, and between any.
 * @param what `volts` leaves out the currents, which take most of the time; for lists and lines that do not show them
 */
export function exposePack({ hazards, modules, proven }: Account, profile: Profile, what: 'all' | 'volts' = 'all'): Volts {
  const moduleVolts = modules.map((m) => m.volt);
  const moduleMilliohms = what === 'all' ? modules.map((m) => m.milliohm) : undefined;
  const outsideVolt = hazards.chargerVolt ?? undefined;
  const openLinks = partingOf(hazards);
  const isParted = openLinks.length > 0 || hazards.emptyPlaces.length > 0;
  const string = moduleVolts.reduce((sum, volt) => sum + volt, 0);
  const [first, last] = [postName(1, '-'), postName(profile.moduleCount, '+')];
  const isFed = hazards.mayContactorsBeShut;
  const isCarDead = proven.carSideVolt !== null;
  // joined cables tie the ends through the car: an empty capacitor or a load holds them at 0 V, a full one at the string
  const isTied = hazards.mayBeInCar && hazards.mayCablesBeOn && isFed && !isCarDead;
  // a string that nothing parts holds its ends itself: no tie brings more between any two of its posts
  const ends = (volt: number): Tie[] => [{ a: last, b: first, volt }];
  // a source that gives less than is stated leaves more across an open link: off and still joined, it holds the ends at 0 V
  const untied = outsideVolt === undefined ? [[]] : [[], ends(0)];
  const worlds: Tie[][] = !isParted ? [[]] : isTied ? [ends(0), ends(string)] : untied;
  // where the string is open a module that sits turned adds to what a tie from outside holds, whatever the others stand at
  const isOutsideIn = isTied || outsideVolt !== undefined;
  const turnedVolt = isOutsideIn ? modules.reduce((sum, m) => sum + (m.isReversed ? m.volt : 0), 0) : 0;
  // an empty place parts a string that no link does; what holds its ends from outside then lies across that gap. Of several empty places
  // the worst is one by itself, the others filled: then more hangs on either end
  const gaps = !isParted && isOutsideIn ? hazards.vacantPlaces : [];
  const heldEnds = isTied ? [ends(0), ends(string)] : [[], ends(0)];
  const emptied = moduleVolts.map(() => 0);
  const expose = (reachable: readonly PostName[] | undefined): Exposure => {
    const ask = { moduleVolts, moduleMilliohms, openLinks, outsideVolt, reachable, vacantPlaces: hazards.emptyPlaces };
    const found = worlds.map((ties) => must(findExposure({ ...ask, ties })));
    for (const gap of gaps) for (const ties of heldEnds) found.push(must(findExposure({ ...ask, ties, vacantPlaces: [gap] })));
    // across a parting a source stands the higher the less the modules on either side hold: as little as nothing
    if (outsideVolt !== undefined) {
      const partings = isParted ? [hazards.emptyPlaces] : gaps.map((gap) => [gap]);
      for (const vacantPlaces of partings) found.push(must(findExposure({ ...ask, moduleVolts: emptied, vacantPlaces })));
    }
    const top = highest(found);
    return top.volt > 0 ? { ...top, volt: top.volt + turnedVolt } : top;
  };

  const behind = expose(undefined);
  const bare = barePosts(hazards, proven, profile);
  const found = [bare === 'all' ? behind : bare.length > 0 ? expose(bare) : { ...behind, ...NOTHING_REACHABLE }];
  if (isCarBare(hazards)) {
    const full = must(findExposure({ moduleVolts, moduleMilliohms, openLinks: [], outsideVolt, reachable: [first, last] }));
    // no proof of dead stands: contactors count as shut and capacitors as full, the bare ends at the whole string
    found.push(isCarDead ? { ...full, volt: proven.carSideVolt, worstShort: null } : full);
  }
  if (areOutletsBare(hazards) && proven.outletVolt !== null)
    found.push({ ...behind, volt: proven.outletVolt, between: [last, first], worstShort: null });
  const reachable = highest(found);
  return { reachable, behind: reachable.volt > behind.volt ? { ...behind, ...pickVolt(reachable) } : behind };
}

/** Whether a finger reaches the car's side of the cables: at their bare ends, or at the pack's posts while they sit on them. */
export function isCarBare({ mayBeInCar, isCarSideBare, areOutletPostsBare, mayCablesBeOn }: Hazards): boolean {
  return mayBeInCar && (isCarSideBare || (areOutletPostsBare && mayCablesBeOn));
}

/** Whether the pack's own HV posts lie bare: on the bench they do until they are capped, whatever was said of the cables. */
export function areOutletsBare({ areOutletPostsBare, mayBeOnBench, areOutletPostsUncapped }: Hazards): boolean {
  return areOutletPostsBare || (mayBeOnBench && areOutletPostsUncapped);
}

/** Posts bare to a finger in the pack itself. */
function barePosts(hazards: Hazards, proven: Proven, profile: Profile): 'all' | PostName[] {
  const bareJoints = hazards.isCaseOpen ? hazards.bareJoints : [];
  if (bareJoints.length > profile.moduleCount) return 'all';
  const areOutletsFed = areOutletsBare(hazards) && hazards.mayContactorsBeShut && proven.outletVolt === null;
  return [
    ...bareJoints.flatMap((k) => postsOfJoint(k, profile.moduleCount)),
    ...(areOutletsFed ? [postName(1, '-'), postName(profile.moduleCount, '+')] : []),
    ...(hazards.areHarnessPinsBare ? tapsOf(profile) : []),
  ];
}

/** Where the wires of the sense harness sit: at the ends of every block, or of every module where each cell is watched. */
export function tapsOf({ sense, blocks, moduleCount }: Profile): PostName[] {
  const ends = sense.by === 'block' ? blockPlaces(blocks) : Array.from({ length: moduleCount }, (_, i) => ({ from: i + 1, to: i + 1 }));
  return ends.flatMap(({ from, to }) => [postName(from, '-'), postName(to, '+')]);
}

/** Links that part the string: none while the sense harness may tie the islands. */
export function partingOf({ mayHarnessTie, openLinks }: Hazards): readonly number[] {
  return mayHarnessTie ? [] : openLinks;
}

/** The one of the highest voltage, the first on a tie, with the largest current of any. */
function highest(found: readonly Exposure[]): Exposure {
  const top = found.reduce((best, e) => (e.volt > best.volt + 1e-9 ? e : best));
  const short = found.reduce((best, e) => ((e.worstShort?.ampere ?? 0) > (best.worstShort?.ampere ?? 0) ? e : best));
  return { ...top, worstShort: short.worstShort };
}

export function pickVolt({ volt, between, worstShort }: Exposure): Pick<Exposure, 'volt' | 'between' | 'worstShort'> {
  return { volt, between, worstShort };
}

export function must<T>(result: { kind: 'answer'; value: T } | { kind: 'refused'; message: string }): T {
  if (result.kind === 'refused') throw new Error(`exposure of a job: ${result.message}`);
  return result.value;
}

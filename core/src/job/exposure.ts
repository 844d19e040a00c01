/**
 * What can be touched on a job now, in volts: the pack as it stands, the voltages known of its modules, and what behind its
 * covers waits. Nothing here is ever called safe.
 */
import { findCuts, type Cuts } from '../pack/cuts.ts';
import { findExposure, listIslands, type Exposure, type Island } from '../pack/exposure.ts';
import { applyFact, isSameFact, UNTOUCHED, type Fact, type PackState } from '../pack/fact.ts';
import { postName } from '../pack/post.ts';
import { linksOf, type Profile } from '../pack/profile.ts';
import type { Stage } from '../pack/stage.ts';
import { rowOf } from './figures.ts';
import { findStanding, measuredVolt } from './isolation.ts';
import { countingReading, type JobState, type StatedFact } from './state.ts';

/** Direct-current voltage from which a conductor counts as live here (ISO 6469-3, voltage class B from 60 V DC; from memory). */
export const LIVE_VOLT = 60;

export interface ModuleVolt {
  readonly place: number;
  readonly volt: number;
  /** Read since the last charge; otherwise the most the module can stand at. */
  readonly isMeasured: boolean;
  readonly milliohm: number;
}

export interface NextAct {
  readonly fact: Fact;
  readonly label: string;
  /** Highest island once it is done. */
  readonly volt: number;
  /** Why it lowers less than one would think; null where it does not. */
  readonly note: string | null;
}

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

/** Voltage of each module for exposure: its latest open-circuit reading, never below nominal; else the most it can have. */
export function findModuleVolts(state: JobState, profile: Profile): ModuleVolt[] {
  const { nominalVolt, maximumModuleVolt, typicalMilliohm } = profile.moduleType;
  const latest = new Map<number, { volt: number; number: number }>();
  for (const sweep of state.sweeps)
    for (const quantity of ['openCircuitVolt', 'restVolt'] as const)
      for (const place of Object.keys(sweep.readings[quantity] ?? {}).map(Number)) {
        const reading = countingReading(sweep, quantity, place);
        if (reading && reading.number > state.chargedNumber && reading.number > (latest.get(place)?.number ?? 0))
          latest.set(place, { volt: reading.value, number: reading.number });
      }
  const resistance = rowOf(
    state.sweeps.findLast((s) => s.kind === 'resistance'),
    'resistanceMilliohm',
  );
  return Array.from({ length: profile.moduleCount }, (_, i) => {
    const place = i + 1;
    const read = latest.get(place);
    const volt = read ? Math.max(read.volt, nominalVolt) : maximumModuleVolt;
    return { place, volt, isMeasured: read !== undefined, milliohm: resistance.get(place) ?? typicalMilliohm };
  });
}

/** Links that part the string. While the sense harness is plugged in it ties the islands, so they count as one string. */
export function partingLinks(pack: PackState, profile: Profile): number[] {
  if (!pack.isHarnessUnplugged) return [];
  const { opensLink } = profile.plug;
  const links = opensLink !== null && !pack.isPlugIn ? [...pack.openLinks, opensLink] : [...pack.openLinks];
  return [...new Set(links)].sort((a, b) => a - b);
}

/** No time is known: no proof of dead counts. */
const NO_TIME = Infinity;

/**
 * The exposure of a job in its recorded state.
 * @param now server time, epoch milliseconds; without it no proof of dead counts
 */
export function findJobExposure(state: JobState, profile: Profile, now = NO_TIME): JobExposure {
  return exposeJob(state, state.pack, profile, findStanding(state, now)?.volt ?? null);
}

/** The two voltages of a job in its recorded state, without the reasons: what a list of jobs shows. */
export function summariseExposure(state: JobState, profile: Profile, now = NO_TIME): TraceVolts & { readonly measuredCount: number } {
  const modules = findModuleVolts(state, profile);
  const { reachable, behind } = exposePack(state.pack, modules, profile, findStanding(state, now)?.volt ?? null, 'volts');
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
  const standing = findStanding(kept, now);
  const stillStanding = findStanding(shown, now);
  const isProven = standing !== null && standing.proof.proofId === stillStanding?.proof.proofId;
  const isCharged = pending.some((f) => f.kind === 'charged');
  const later = findModuleVolts(shown, profile);
  const modules = findModuleVolts(kept, profile).map((m, i): ModuleVolt => {
    if (isCharged) return { ...m, volt: Math.max(m.volt, profile.moduleType.maximumModuleVolt), isMeasured: false };
    const other = later[i];
    return other?.isMeasured && other.volt > m.volt ? other : m;
  });
  const provenVolt = isProven ? Math.max(standing.volt, stillStanding.volt) : null;
  return exposeJob(kept, worstPack(kept.pack, pending, profile), profile, provenVolt, modules);
}

/** The state that joins the hazards of a pack and of every state it passes through. */
export function worstPack(kept: PackState, pending: readonly Fact[], profile: Profile): PackState {
  let now = kept;
  let worst = kept;
  for (const fact of pending) {
    now = applyFact(now, fact, linksOf(profile));
    worst = joinHazards(worst, now);
  }
  return worst;
}

const CONNECTOR_HAZARD = { insulated: 0, closed: 1, open: 2 } as const;

function joinHazards(a: PackState, b: PackState): PackState {
  const charger = Math.max(a.chargerVolt ?? 0, b.chargerVolt ?? 0);
  return {
    ...b,
    isKeyAway: a.isKeyAway && b.isKeyAway,
    isTwelveVoltOff: a.isTwelveVoltOff && b.isTwelveVoltOff,
    isPlugIn: a.isPlugIn || b.isPlugIn,
    connectors: CONNECTOR_HAZARD[a.connectors] >= CONNECTOR_HAZARD[b.connectors] ? a.connectors : b.connectors,
    isOnBench: a.isOnBench && b.isOnBench,
    isCaseOpen: a.isCaseOpen || b.isCaseOpen,
    areCoversOff: a.areCoversOff || b.areCoversOff,
    isHarnessUnplugged: a.isHarnessUnplugged && b.isHarnessUnplugged,
    openLinks: a.openLinks.filter((k) => b.openLinks.includes(k)),
    chargerVolt: charger > 0 ? charger : null,
  };
}

/** The most that the last known state allows when the truth cannot be known: the whole string, every module. */
export function findHighestPossible(state: JobState, profile: Profile): number {
  const { maximumModuleVolt } = profile.moduleType;
  const string = findModuleVolts(state, profile).reduce((sum, m) => sum + Math.max(m.volt, maximumModuleVolt), 0);
  return Math.max(string, state.pack.chargerVolt ?? 0);
}

interface Volts {
  readonly reachable: JobExposure['reachable'];
  readonly behind: Exposure;
}

/**
 * @param provenVolt highest voltage that a standing proof of dead measured at the car side; null where none stands
 * @param what `volts` leaves out the currents, which take most of the time; for lists and lines that do not show them
 */
function exposePack(
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
    next: findNext(pack, modules, profile),
    toLimit: pack.isHarnessUnplugged ? findWayToLimit(moduleVolts, openLinks, profile) : null,
    changedBy: state.facts[state.facts.length - 1] ?? null,
  };
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

/** Acts that a hand can do next to part the string, in the profile's terms; the links of a frame that opens as one come by the frame. */
export function listActs(pack: PackState, profile: Profile): { fact: Fact; label: string }[] {
  const acts: { fact: Fact; label: string }[] = [];
  const isOpen = new Set(pack.openLinks);
  if (pack.isPlugIn && profile.plug.opensLink !== null)
    acts.push({ fact: { kind: 'plug', isIn: false }, label: `pull the ${profile.plug.name}` });
  for (const frame of profile.frames)
    if (frame.opensAsOne && frame.links.some((k) => !isOpen.has(k)))
      acts.push({ fact: { kind: 'frame', frame: frame.id, isOff: true }, label: `take off the ${frame.name}` });
  const framed = new Set(profile.frames.filter((f) => f.opensAsOne).flatMap((f) => f.links));
  for (let k = 1; k < profile.moduleCount; k++)
    if (!isOpen.has(k) && !framed.has(k) && k !== profile.plug.opensLink)
      acts.push({ fact: { kind: 'links', links: [k], areOpen: true }, label: `open ${barName(k, profile)}` });
  return acts;
}

function barName(link: number, profile: Profile): string {
  const bar = profile.bars.find((b) => b.link === link);
  return bar && bar.kind !== 'bar' ? `link ${link} (${bar.name})` : `link ${link}`;
}

const TIED = 'The sense harness still ties the parts: until it is off they count as one string.';

/**
 * The act that lowers the highest island most, or where several stand as high, one of them; among those a hand can do now: with the
 * case shut that is the plug alone; with it open first the harness, without which parting the string changes nothing.
 */
function findNext(pack: PackState, modules: readonly ModuleVolt[], profile: Profile): NextAct | null {
  const moduleVolts = modules.map((m) => m.volt);
  const standing = (state: PackState): { highest: number; count: number } => {
    const volts = listIslands(moduleVolts, new Set(partingLinks(state, profile))).map((i) => i.volt);
    const highest = Math.max(...volts);
    return { highest, count: volts.filter((v) => v > highest - 1e-9).length };
  };
  const links = linksOf(profile);
  if (pack.isCaseOpen && !pack.isHarnessUnplugged) {
    const volt = standing({ ...pack, isHarnessUnplugged: true }).highest;
    return { fact: { kind: 'harness', isUnplugged: true }, label: 'unplug the sense harness', volt, note: null };
  }
  let best: NextAct | null = null;
  const untied = { ...pack, isHarnessUnplugged: true };
  let least = standing(untied);
  for (const { fact, label } of listActs(pack, profile)) {
    if (!pack.isCaseOpen && fact.kind !== 'plug') continue;
    const parted = standing(applyFact(untied, fact, links));
    const isLower = parted.highest < least.highest - 1e-9 || (parted.highest <= least.highest + 1e-9 && parted.count < least.count);
    if (!isLower) continue;
    least = parted;
    best = { fact, label, volt: standing(applyFact(pack, fact, links)).highest, note: pack.isHarnessUnplugged ? null : TIED };
  }
  return best;
}

function findWayToLimit(moduleVolts: readonly number[], openLinks: readonly number[], profile: Profile): Cuts | null {
  const groups = profile.frames.filter((f) => f.opensAsOne).map((f) => f.links);
  const found = findCuts({ moduleVolts, limitVolt: LIVE_VOLT - 1e-6, openLinks, groups });
  return found.kind === 'answer' ? found.value : null;
}

export interface TracePoint {
  readonly stage: Stage;
  readonly reachableVolt: number;
  readonly behindVolt: number;
  /** Number of the event; null for a planned act and for a lapse by the time alone. */
  readonly number: number | null;
  readonly cause: Fact | 'proven' | 'lapsed';
}

interface TraceStep {
  readonly number: number;
  readonly stage: Stage;
  readonly cause: TracePoint['cause'];
  /** What a proof measured from here on; undefined: as before. */
  readonly provenVolt?: number | null;
}

/** Facts, signatures and lapses in the order kept. A lapse by a fact comes with the fact itself. */
function listTraceSteps(state: JobState): TraceStep[] {
  const steps: TraceStep[] = state.facts.map(({ stage, fact, number }) => ({ stage, number, cause: fact }));
  for (const proof of state.isolation.proofs) {
    if (!proof.signed) continue;
    steps.push({ number: proof.signed.number, stage: 'isolate', cause: 'proven', provenVolt: measuredVolt(state, proof) });
    // just before the fact of the same number, which was stated without it
    if (proof.lapsed) steps.push({ number: proof.lapsed.number - 0.5, stage: 'isolate', cause: 'lapsed', provenVolt: null });
  }
  return steps.sort((a, b) => a.number - b.number);
}

/** The line across a job: what was stated, each change of exposure, then what the profile plans from here on. */
export function traceExposure(
  state: JobState,
  profile: Profile,
  now = NO_TIME,
): { readonly start: TraceVolts; readonly done: TracePoint[]; readonly planned: TracePoint[] } {
  const modules = findModuleVolts(state, profile);
  const links = linksOf(profile);
  let provenVolt: number | null = null;
  const measure = (pack: PackState): TraceVolts => {
    const { reachable, behind } = exposePack(pack, modules, profile, provenVolt, 'volts');
    return { reachableVolt: reachable.volt, behindVolt: behind.volt };
  };
  let pack: PackState = UNTOUCHED;
  const start = measure(pack);
  const done: TracePoint[] = [];
  for (const { stage, cause, number, provenVolt: changed } of listTraceSteps(state)) {
    if (changed !== undefined) provenVolt = changed;
    if (typeof cause !== 'string') pack = applyFact(pack, cause, links);
    done.push({ stage, cause, number: Math.ceil(number), ...measure(pack) });
  }
  if (provenVolt !== null && findStanding(state, now) === null) {
    provenVolt = null;
    done.push({ stage: state.stage, cause: 'lapsed', number: null, ...measure(pack) });
  }
  const planned: TracePoint[] = [];
  for (const { stage, fact } of remainingProcedure(state, profile)) {
    pack = applyFact(pack, fact, links);
    planned.push({ stage, cause: fact, number: null, ...measure(pack) });
  }
  return { start, done, planned };
}

export interface TraceVolts {
  readonly reachableVolt: number;
  readonly behindVolt: number;
}

/** Acts of the profile's procedure that still lie ahead: after the last one that was stated. */
function remainingProcedure(state: JobState, profile: Profile): Profile['procedure'] {
  let next = 0;
  for (const { stage, fact } of state.facts) {
    const at = profile.procedure.findIndex((p, i) => i >= next && p.stage === stage && isSameFact(p.fact, fact));
    if (at >= 0) next = at + 1;
  }
  return profile.procedure.slice(next);
}

function must<T>(result: { kind: 'answer'; value: T } | { kind: 'refused'; message: string }): T {
  if (result.kind === 'refused') throw new Error(`exposure of a job: ${result.message}`);
  return result.value;
}

/** What of putting together is done and what is next, by the way up of the profile. Derived anew from the state; never stored. */
import { balanceLedger, type LeftOff, type PartBalance } from '../../../ledger/ledger.ts';
import { applyFact, contraryOf, type Fact } from '../../../pack/fact.ts';
import { hazardsOf, isSameHazard } from '../../../pack/hazard.ts';
import { linkOf } from '../../../pack/join.ts';
import type { Layer } from '../../../pack/parts.ts';
import type { Profile } from '../../../pack/profile.ts';
import { LOOK_NAMES, SIDE_UP_NAMES, type Look, type WayUpStep } from '../../../pack/way-up.ts';
import { median } from '../../../stats/robust.ts';
import { findBarsReady, findHalves, findLeak, findPasteView, findSurvey, type MeasuredScene } from './measured.ts';
import { listSides, type SideScene } from './sides.ts';
import { findTorqueGroup, linksIn, type TorqueGroup, type TorqueScene } from './torque-view.ts';

/** What of a job its putting together is seen by. */
export interface RebuildScene extends MeasuredScene, SideScene {
  /** Module ids of the plan in place order; null while none stands. */
  readonly plan: { readonly chosen: { readonly moduleIds: readonly string[]; readonly number: number } | null };
  readonly strip: TorqueScene['strip'] & { readonly leftOff: readonly LeftOff[] };
}

/** Where a module of the plan stands on its way into the stack. */
export interface LaidPlace {
  readonly place: number;
  /** Module that belongs there; empty where nobody named one. */
  readonly planned: string;
  /** Module that lies there; empty where none does. */
  readonly laid: string;
  readonly isTurned: boolean;
  /** What is wrong there, as a sentence; null where nothing is, or nothing lies there. */
  readonly fault: string | null;
  /** What was put on since and comes off again before anybody gets at it; empty where nothing is wrong. */
  readonly reopens: readonly string[];
  /** What is worth a second look there and stops nothing; null where nothing is. */
  readonly advice: string | null;
  readonly isDone: boolean;
}

export interface RebuildStep {
  readonly id: string;
  readonly name: string;
  /** As the profile has it. */
  readonly plan: WayUpStep;
  readonly layer: Layer | null;
  /** What is stated once it is on; null where nothing is. */
  readonly fact: Fact | null;
  /** What the step is about is done, but for looks, torques and counts. */
  readonly isOn: boolean;
  readonly groups: readonly TorqueGroup[];
  readonly checks: readonly { readonly check: Look; readonly isGood: boolean | null }[];
  /** Parts that are counted off still, but for fasteners that their torque counts back. */
  readonly owed: readonly { readonly name: string; readonly count: number }[];
  /** The pack lies another way up than this step asks for. */
  readonly isToTurn: boolean;
  /** Steps that are not done and that nobody reaches any more once this one is. */
  readonly shutsOff: readonly string[];
  /** The step that was done and that this one is out of reach behind; null where it can be reached. */
  readonly shutBy: string | null;
  /** Worth doing, and not waited for. */
  readonly isOptional: boolean;
  readonly isDone: boolean;
}

export interface Rebuild {
  readonly places: readonly LaidPlace[];
  readonly steps: readonly RebuildStep[];
  readonly next: RebuildStep | null;
  readonly isDone: boolean;
}

/** The way back up, step by step as the profile has it; what goes on only in the car is left to the car. */
export function findRebuild(scene: RebuildScene, profile: Profile): Rebuild {
  const places = listPlaces(scene, profile);
  const balances = balanceLedger(profile.parts, scene.strip.moved, scene.strip.leftOff).parts;
  const begun = profile.rebuild.map((plan) => beginStep(plan, places, balances, scene, profile));
  const isBegun = (id: string): boolean => begun.some((s) => s.id === id && (s.isDone || isBegunTight(s)));
  const steps = begun.map((step): RebuildStep => {
    const later = begun.find((s) => s.plan.shutsOff.includes(step.id) && isBegun(s.id));
    const lost = step.isDone ? [] : begun.filter((s) => !s.isDone && step.plan.shutsOff.includes(s.id));
    return { ...step, shutsOff: lost.map((s) => s.name), shutBy: step.isDone ? null : (later?.name ?? null) };
  });
  const onBench = steps.filter((s) => !s.plan.isInCar);
  // what lies wrong is put right before anything is built on it
  const wrong = places.find((p) => p.fault !== null);
  const isOfWrong = ({ plan }: RebuildStep): boolean => plan.does === 'stack' && placesOf(plan, places, profile).some((p) => p === wrong);
  const next = (wrong && onBench.find(isOfWrong)) ?? onBench.find((s) => !s.isDone && !s.isOptional) ?? null;
  const lying = places.map((p) => (p.fault === null ? p : { ...p, reopens: listOver(p.place, onBench, scene, profile) }));
  return { places: lying, steps: onBench, next, isDone: next === null };
}

/** What lies over a place: bars that are on its posts, and what was tightened over its stack; the last that went on first. */
function listOver(place: number, steps: readonly RebuildStep[], { pack }: RebuildScene, profile: Profile): string[] {
  const joined = new Set(pack.joins.map(linkOf));
  const stack = steps.find(({ plan }) => plan.does === 'stack' && placesOf(plan, [{ place }], profile).length > 0);
  const isOver = (step: RebuildStep): boolean =>
    (stack !== undefined && step.plan.shutsOff.includes(stack.id) && isBegunTight(step)) ||
    linksIn(step.fact, profile).some((k) => (k === place || k === place - 1) && joined.has(k));
  return steps.filter(isOver).map((s) => s.name).reverse(); // prettier-ignore
}

function beginStep(
  plan: WayUpStep,
  places: readonly LaidPlace[],
  balances: readonly PartBalance[],
  scene: RebuildScene,
  profile: Profile,
): Omit<RebuildStep, 'shutsOff' | 'shutBy'> {
  const layer = profile.layers.find((l) => l.id === plan.layer) ?? null;
  const fact = layer?.fact && REFITTED.has(layer.fact.kind) ? contraryOf(layer.fact) : null;
  const own = profile.parts.filter((p) => plan.parts.includes(p.id));
  const groups = own.filter((p) => p.torque !== null && p.count !== null).map((p) => findTorqueGroup(p, scene, profile));
  const isFactSo = fact === null || isSameHazard(hazardsOf(applyFact(scene.pack, fact, profile)), hazardsOf(scene.pack));
  const isOn = isFactSo && isTaskDone(plan, places, scene, profile);
  const checks = plan.looks.map((check) => ({ check, isGood: sayLook(check, scene, profile) }));
  const owed = balances
    .filter((b) => plan.parts.includes(b.part.id) && b.owed > 0 && !groups.some((g) => g.part.id === b.part.id))
    .map((b) => ({ name: b.part.name, count: b.owed }));
  const isDone = isOn && groups.every((g) => g.isDone) && checks.every((c) => c.isGood === true) && owed.length === 0;
  const isToTurn = !isDone && plan.up !== null && plan.up !== (scene.rebuild.up?.up ?? 'top');
  const { id, name } = plan;
  return { id, name, plan, layer, fact, isOn, groups, checks, owed, isToTurn, isOptional: plan.does === 'survey', isDone };
}

/** What was seen, as it was said; photographs of every side speak for themselves. */
function sayLook(check: Look, scene: RebuildScene, profile: Profile): boolean | null {
  if (check === 'sidesPhotographed' && listSides(scene, profile).every((s) => s.photoIds.length > 0)) return true;
  return scene.rebuild.checks.find((c) => c.check === check)?.isGood ?? null;
}

/** The places that a step lays: its bay's, or all. */
export function placesOf<P extends { readonly place: number }>({ bay }: WayUpStep, places: readonly P[], { bays }: Profile): readonly P[] {
  const own = bay === null ? undefined : bays[bay - 1];
  return own ? places.filter((p) => p.place >= own.from && p.place <= own.to) : places;
}

function isTaskDone(plan: WayUpStep, places: readonly LaidPlace[], scene: RebuildScene, profile: Profile): boolean {
  switch (plan.does) {
    case 'stack':
      return placesOf(plan, places, profile).every((p) => p.isDone);
    case 'bars':
      return findBarsReady(scene, profile).every((b) => b.word !== null && b.fault === null);
    case 'sensors':
      return scene.rebuild.sensors.length > 0;
    case 'survey':
      return findSurvey(scene, profile)?.joints.every((j) => !j.isOutlier) ?? false;
    case 'halves':
      return findHalves(scene, profile).every((h) => h.measured?.agrees === true);
    case 'leak': {
      const leak = findLeak(scene, profile);
      return leak?.kind === 'answer' && leak.value.verdict === 'tight';
    }
    case 'paste': {
      const paste = findPasteView(scene, profile);
      return paste !== null && paste.missing.length === 0 && paste.fault === null;
    }
    case 'layer':
    case 'fit':
      return true;
  }
}

/** What comes next, as it follows on "Next:"; null where all is done. */
export function sayRebuildNext({ next, places }: Rebuild, profile: Profile): string | null {
  if (!next) return null;
  const wrong = places.find((p) => p.fault !== null);
  if (wrong) return `place ${wrong.place}: ${wrong.fault?.replace(/\.$/, '') ?? ''}`;
  if (next.isToTurn && next.groups.every((g) => g.next?.seat === 1 && g.next.pass === 1))
    return `turn the pack: ${SIDE_UP_NAMES[next.plan.up ?? 'top']}`;
  const empty = placesOf(next.plan, places, profile).find((p) => !p.isDone);
  if (next.plan.does === 'stack' && empty) return `${empty.planned || 'a module'} into place ${empty.place}`;
  if (!next.isOn) return next.fact ? `${next.name} on` : next.name;
  const unseen = next.checks.find((c) => c.isGood !== true);
  const look = unseen ? `look: ${LOOK_NAMES[unseen.check]}` : null;
  const group = next.groups.find((g) => !g.isDone);
  const nut = group ? sayNut(group) : null;
  // looked at before it is tightened; a pass that was begun is ended first
  const first = isBegunTight(next) ? (nut ?? look) : (look ?? nut);
  if (first !== null) return first;
  const [owed] = next.owed;
  return owed ? `${owed.count} × ${owed.name} back` : null;
}

/** Whether a fastener of the step was tightened. */
export function isBegunTight({ groups }: Pick<RebuildStep, 'groups'>): boolean {
  return groups.some((g) => g.seats.some((s) => s.passes > 0));
}

function sayNut({ part, seats, next, wantedPasses }: TorqueGroup): string | null {
  return next && `${part.name}, ${next.seat} of ${seats.length}${wantedPasses === 2 ? `, pass ${next.pass}` : ''}`;
}

/** The stack stands, everything is on and tight, and something of it was tightened here: a pack that nobody opened was not rebuilt. */
export function isRebuilt({ rebuild }: Pick<RebuildScene, 'rebuild'>, find: () => Rebuild): boolean {
  return rebuild.torqued.length > 0 && find().isDone;
}

/** Facts of layers that come off and go back on. */
const REFITTED: ReadonlySet<Fact['kind']> = new Set(['frame', 'links', 'case', 'covers', 'harness']);

/** So far off its neighbours' median a module is worth a second look, as a share of its nominal voltage; common practice, no source. */
const UNLIKE_SHARE = 0.025;

function listPlaces({ plan, pack, open, rebuild, volts }: RebuildScene, profile: Profile): LaidPlace[] {
  const dropped = new Set(rebuild.dropped.map((d) => d.moduleId));
  const read = volts.filter((v) => v !== null);
  const usual = read.length > 2 ? median(read) : null;
  const planned = plan.chosen?.moduleIds ?? [];
  const saidSince = new Set(open.history.flatMap((h) => (h.number > (plan.chosen?.number ?? 0) ? [h.place] : [])));
  return Array.from({ length: profile.moduleCount }, (_, i): LaidPlace => {
    const { moduleId, isTurned } = pack.places[i] ?? { moduleId: null, isTurned: false };
    const wanted = planned[i] ?? moduleId ?? '';
    // what lay there as it came, and does not stay, is on the bench by now: nobody laid it
    const laid = moduleId === wanted || saidSince.has(i + 1) ? (moduleId ?? '') : '';
    const home = planned.indexOf(laid) + 1;
    const wrong =
      laid === '' || laid === wanted ? null : home > 0 ? `${laid} belongs at place ${home}.` : `${laid} is not in the plan: it comes out.`;
    const fallen = dropped.has(laid) ? `${laid} was dropped: it comes out.` : null;
    const fault = fallen ?? wrong ?? (isTurned ? `${laid || 'The module'} lies end for end: its plus is where its minus belongs.` : null);
    // where nobody named the modules the plan names none either
    const isDone = fault === null && (laid !== '' || wanted === '');
    return {
      place: i + 1,
      planned: wanted,
      laid,
      isTurned,
      fault,
      reopens: [],
      advice: laid === '' ? null : adviseOn(volts[i] ?? null),
      isDone,
    };
  });

  function adviseOn(volt: number | null): string | null {
    const off = volt === null || usual === null ? 0 : Math.abs(volt) - usual;
    return Math.abs(off) > UNLIKE_SHARE * profile.moduleType.nominalVolt
      ? `${Math.abs(off).toFixed(2)} V ${off > 0 ? 'above' : 'below'} its neighbours: the right module, and charged like them?`
      : null;
  }
}

/** What of putting together is done, what is next, and what a torque record is worth. Derived anew from the state; never stored. */
import { checkBars, type Bar, type BarsAnswer } from '../../../bars/check.ts';
import { balanceLedger, type LeftOff, type Movement } from '../../../ledger/ledger.ts';
import { applyFact, type Fact } from '../../../pack/fact.ts';
import { hazardsOf, isSameHazard } from '../../../pack/hazard.ts';
import { joinOfLink, linkOf, linksOf } from '../../../pack/join.ts';
import type { PackState } from '../../../pack/effect.ts';
import type { Layer, Part } from '../../../pack/parts.ts';
import { postName } from '../../../pack/post.ts';
import { plusSide, type Profile } from '../../../pack/profile.ts';
import { findSlip, isTorqueWithin, showTorque } from '../../../torque/slips.ts';
import { REBUILD_CHECK_NAMES, REBUILD_CHECKS, type RebuildCheck } from './acts.ts';
import type { RebuildState, Setting, Torqued } from './state.ts';

/** What of a job its putting together is seen by. */
export interface RebuildScene {
  readonly rebuild: RebuildState;
  readonly pack: PackState;
  /** Module ids of the plan in place order; null while none stands. */
  readonly plan: { readonly chosen: { readonly moduleIds: readonly string[]; readonly number: number } | null };
  /** Every coming and going of modules at a place. */
  readonly open: { readonly history: readonly { readonly place: number; readonly number: number }[] };
  readonly strip: { readonly moved: readonly (Movement & { readonly number: number })[]; readonly leftOff: readonly LeftOff[] };
  readonly facts: readonly { readonly number: number; readonly fact: Fact }[];
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
  readonly isDone: boolean;
}

export interface Seat {
  readonly seat: number;
  /** Passes that count: 0, 1 or 2. */
  readonly passes: 0 | 1 | 2;
  /** What the last one came to, as a sentence: `5.4 N·m at least`. */
  readonly said: string;
  /** Why the last one does not count; null where it does or none was made. */
  readonly fault: string | null;
}

/** Fasteners of one kind that are tightened together. */
export interface TorqueGroup {
  readonly part: Part;
  /** Terminals get a second pass over every one before covers. */
  readonly wantedPasses: 1 | 2;
  readonly seats: readonly Seat[];
  /** The tool as it was set last for them; null where none was. */
  readonly setting: Setting | null;
  readonly isDone: boolean;
  /** Next seat and pass; null where all are done. */
  readonly next: { readonly seat: number; readonly pass: 1 | 2 } | null;
}

export interface RebuildStep {
  /** `stack`, or the layer's id. */
  readonly id: string;
  readonly name: string;
  readonly layer: Layer | null;
  /** What is stated once it is on; null where nothing is. */
  readonly fact: Fact | null;
  readonly isOn: boolean;
  readonly groups: readonly TorqueGroup[];
  readonly checks: readonly { readonly check: RebuildCheck; readonly isGood: boolean | null }[];
  /** Parts of the layer that are counted off still, but for fasteners that their torque counts back. */
  readonly owed: readonly { readonly name: string; readonly count: number }[];
  readonly isDone: boolean;
}

export interface Rebuild {
  readonly places: readonly LaidPlace[];
  readonly steps: readonly RebuildStep[];
  readonly next: RebuildStep | null;
  readonly isDone: boolean;
}

/** The way back up: the stack, then the layers of the pack from the innermost out. */
export function findRebuild(scene: RebuildScene, profile: Profile): Rebuild {
  const places = listPlaces(scene, profile);
  const stack: RebuildStep = {
    ...{ id: 'stack', name: 'modules into the stack', layer: null, fact: null, isOn: places.every((p) => p.isDone), groups: [], owed: [] },
    ...{ checks: [], isDone: places.every((p) => p.isDone) },
  };
  const layers = profile.layers.toReversed();
  const balances = balanceLedger(profile.parts, scene.strip.moved, scene.strip.leftOff).parts;
  const steps = [
    stack,
    ...layers.map((layer): RebuildStep => {
      const groups = profile.parts.filter((p) => p.place === layer.id && p.torque !== null && p.count !== null).map((p) => groupOf(p, layer, scene, profile)); // prettier-ignore
      const fact = layer.fact && reverse(layer.fact);
      const isOn = fact === null || isSameHazard(hazardsOf(applyFact(scene.pack, fact, profile)), hazardsOf(scene.pack));
      const checks = layer === layers[0] ? REBUILD_CHECKS.map((check) => ({ check, isGood: scene.rebuild.checks.find((c) => c.check === check)?.isGood ?? null })) : []; // prettier-ignore
      const owed = balances
        .filter((b) => b.part.place === layer.id && b.owed > 0 && !groups.some((g) => g.part.id === b.part.id))
        .map((b) => ({ name: b.part.name, count: b.owed }));
      const isDone = isOn && groups.every((g) => g.isDone) && checks.every((c) => c.isGood === true) && owed.length === 0;
      return { id: layer.id, name: layer.name, layer, fact, isOn, groups, checks, owed, isDone };
    }),
  ];
  const next = steps.find((s) => !s.isDone) ?? null;
  return { places, steps, next, isDone: next === null };
}

/** What comes next, as it follows on "Next:"; null where all is done. */
export function sayRebuildNext({ next, places }: Rebuild): string | null {
  if (!next) return null;
  const wrong = places.find((p) => p.fault !== null);
  if (wrong) return `place ${wrong.place}: ${wrong.fault?.replace(/\.$/, '') ?? ''}`;
  const empty = places.find((p) => !p.isDone);
  if (next.id === 'stack' && empty) return `${empty.planned || 'a module'} into place ${empty.place}`;
  if (!next.isOn) return `${next.name} on`;
  const unseen = next.checks.find((c) => c.isGood !== true);
  if (unseen) return `look at the stack: ${REBUILD_CHECK_NAMES[unseen.check]}`;
  const group = next.groups.find((g) => !g.isDone);
  if (group?.next)
    return `${group.part.name}, ${group.next.seat} of ${group.seats.length}${group.wantedPasses === 2 ? `, pass ${group.next.pass}` : ''}`;
  const [owed] = next.owed;
  return owed ? `${owed.count} × ${owed.name} back` : null;
}

/** The stack stands, everything is on and tight, and something of it was tightened here: a pack that nobody opened was not rebuilt. */
export function isRebuilt(scene: RebuildScene, profile: Profile): boolean {
  return scene.rebuild.torqued.length > 0 && findRebuild(scene, profile).isDone;
}

/** The same fact with the part back on. */
function reverse(fact: Fact): Fact | null {
  switch (fact.kind) {
    case 'frame':
      return { ...fact, isOff: !fact.isOff };
    case 'links':
      return { ...fact, areOpen: !fact.areOpen };
    case 'case':
      return { ...fact, isOpen: !fact.isOpen };
    case 'covers':
      return { ...fact, areOff: !fact.areOff };
    case 'harness':
      return { ...fact, isUnplugged: !fact.isUnplugged };
    default:
      return null;
  }
}

function listPlaces({ plan, pack, open }: RebuildScene, profile: Profile): LaidPlace[] {
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
    const fault = wrong ?? (isTurned ? `${laid || 'The module'} lies end for end: its plus is where its minus belongs.` : null);
    // where nobody named the modules the plan names none either
    const isDone = fault === null && (laid !== '' || wanted === '');
    return { place: i + 1, planned: wanted, laid, isTurned, fault, isDone };
  });
}

function groupOf(part: Part, layer: Layer, scene: RebuildScene, profile: Profile): TorqueGroup {
  const { rebuild } = scene;
  const wantedPasses = layer.fact?.kind === 'frame' || layer.fact?.kind === 'links' ? 2 : 1;
  const since = lastTakenOff(part, layer, scene, profile);
  const records = rebuild.torqued.filter((t) => t.partId === part.id && t.number > since);
  const seats = Array.from({ length: part.count ?? 0 }, (_, i) =>
    seatOf(
      i + 1,
      records.filter((t) => t.seat === i + 1),
      part,
      rebuild,
    ),
  );
  const pass = seats.some((s) => s.passes < 1) || wantedPasses === 1 ? 1 : 2;
  const seat = seats.find((s) => s.passes < pass)?.seat;
  return {
    ...{ part, wantedPasses, seats },
    setting: rebuild.settings.findLast((s) => s.partId === part.id) ?? null,
    isDone: seats.every((s) => s.passes >= wantedPasses),
    next: seat === undefined ? null : { seat, pass },
  };
}

/** Number of the last event that loosened them: counted off, or what they hold came off. A torque before it is gone. */
function lastTakenOff(part: Part, layer: Layer, { strip, facts }: RebuildScene, profile: Profile): number {
  const counted = strip.moved.findLast((m) => m.partId === part.id && m.from.kind === 'inPlace' && m.to.kind !== 'inPlace')?.number ?? 0;
  const ofFrame = linksOf(profile);
  const linksIn = (fact: Fact | null): readonly number[] =>
    fact?.kind === 'frame' ? ofFrame(fact.frame) : fact?.kind === 'links' ? fact.links : [];
  const held = linksIn(layer.fact);
  const isOff = (fact: Fact): boolean =>
    ((fact.kind === 'frame' && fact.isOff) || (fact.kind === 'links' && fact.areOpen)) && linksIn(fact).some((k) => held.includes(k));
  return Math.max(counted, facts.findLast((f) => isOff(f.fact))?.number ?? 0);
}

function seatOf(seat: number, records: readonly Torqued[], part: Part, { settings }: RebuildState): Seat {
  let passes: 0 | 1 | 2 = 0;
  let [said, fault]: [string, string | null] = ['', null];
  for (const pass of [1, 2] as const) {
    const record = records.findLast((t) => t.pass === pass);
    if (!record) continue;
    const setting = settings.find((s) => s.settingId === record.settingId) ?? null;
    const why = whyNotCounted(record, setting, part);
    const newtonMetre = record.newtonMetre ?? setting?.setNewtonMetre ?? 0;
    // a click says that it is at least so tight, and a second click says nothing of more
    said =
      why !== null && newtonMetre === 0 ? '' : `${showTorque(newtonMetre)}${record.newtonMetre === null && pass === 2 ? ' at least' : ''}`;
    fault = why;
    if (why === null && (pass === 1 || passes === 1)) passes = pass;
    if (why !== null) passes = 0;
  }
  return { seat, passes, said, fault };
}

function whyNotCounted({ newtonMetre, partId }: Torqued, setting: Setting | null, part: Part): string | null {
  if (setting?.partId !== partId) return 'No tool was set for it.';
  if (!part.torque) return null;
  const got = newtonMetre ?? setting.setNewtonMetre;
  const { newtonMetre: spec, tolerancePercent } = part.torque;
  if (isTorqueWithin(spec, tolerancePercent, got)) return null;
  return findSlip({ specNewtonMetre: spec, tolerancePercent }, got)?.sentence ?? `${showTorque(got)} where ${showTorque(spec)} is wanted.`;
}

/** A frame as somebody may be about to lay it: where it belongs, or not. */
export interface FrameInHand {
  readonly frame: string;
  /** Modules towards the last end that it lies off its place; 0 where it belongs. */
  readonly shift: number;
  /** On the other side of the stack. */
  readonly isOtherSide: boolean;
}

export interface Tried extends BarsAnswer {
  /** Bars of the frame in the hand that find no post where they would lie. */
  readonly loose: number;
}

/**
 * What the stack is as the modules really lie, with the bars that are on and the frame in the hand: what it joins, leaves open or shorts.
 * @param volts and milliohms of each place, place 1 first
 */
export function tryFrame(
  pack: PackState,
  profile: Profile,
  volts: readonly number[],
  milliohms: readonly (number | null)[],
  hand: FrameInHand | null,
): Tried | null {
  const { moduleCount, moduleType } = profile;
  const filled = pack.places.flatMap(({ moduleId, isTurned }, i) => (moduleId === null ? [] : [{ place: i + 1, isTurned }]));
  if (filled.length === 0) return null;
  const lying = new Set(filled.map((f) => f.place));
  const isThere = (bar: Bar): boolean => bar.every((post) => lying.has(Number.parseInt(post, 10)));
  const on = pack.joins.map((j): Bar => [j.a, j.b]).filter(isThere);
  const inHand = hand ? barsOf(hand, profile) : { bars: [], loose: 0 };
  const answer = checkBars({
    modules: filled.map(({ place, isTurned }) => ({
      position: place,
      volt: Math.abs(volts[place - 1] ?? moduleType.nominalVolt),
      milliohm: milliohms[place - 1] ?? moduleType.typicalMilliohm,
      turned: isTurned,
    })),
    bars: [...on, ...inHand.bars.filter(isThere)],
    outputs: { positive: postName(filled.at(-1)?.place ?? 1, '+'), negative: postName(filled[0]?.place ?? 1, '-') },
    map: Array.from({ length: moduleCount - 1 }, (_, i): Bar => {
      const { a, b } = joinOfLink(profile, i + 1);
      return [a, b];
    }),
  });
  return answer.kind === 'answer' ? { ...answer.value, loose: inHand.loose + inHand.bars.filter((b) => !isThere(b)).length } : null;
}

/** The posts that the bars of a frame would join where it is held. */
function barsOf({ frame, shift, isOtherSide }: FrameInHand, profile: Profile): { readonly bars: Bar[]; readonly loose: number } {
  const held = profile.frames.find((f) => f.id === frame);
  if (!held) return { bars: [], loose: 0 };
  const side = (held.side === 'near') === !isOtherSide ? 'near' : 'far';
  const postOn = (place: number): string => postName(place, plusSide(profile, place) === side ? '+' : '-');
  const spans = held.links.map((link) => [link + shift, link + shift + 1] as const);
  const fitting = spans.filter(([a, b]) => a >= 1 && b <= profile.moduleCount);
  return { bars: fitting.map(([a, b]): Bar => [postOn(a), postOn(b)]), loose: spans.length - fitting.length };
}

/** Links that are joined now, ascending. */
export function joinedLinks(pack: PackState): number[] {
  return pack.joins.flatMap((j) => linkOf(j) ?? []).sort((a, b) => a - b);
}

/**
 * Counts of parts and facts about the pack are one: a part's profile says what it bares (any piece off: off) or parts (parted when all
 * is off, joined at the first piece back). A count means a fact, a fact moves the parts; where the two disagree the more hazardous
 * holds, and both are named.
 */
import { balanceLedger, countInPlace, type PartBalance } from '../../ledger/ledger.ts';
import { isAtHand, isFit, type Spot } from '../../ledger/spot.ts';
import type { PackState } from '../../pack/effect.ts';
import { applyFact, type Fact } from '../../pack/fact.ts';
import { hazardsOf, isSameHazard, joinHazards, type Hazards } from '../../pack/hazard.ts';
import { linksOf } from '../../pack/join.ts';
import type { PartEffect } from '../../pack/parts.ts';
import type { Profile } from '../../pack/profile.ts';
import type { Stage } from '../../pack/stage.ts';
import type { StripState } from '../chapters/strip/state.ts';
import type { Act, ActBody } from './acts.ts';
import type { JobState } from './state.ts';
import { isStated, wouldStand } from './statements.ts';
import type { Stamp } from '../chapters/stamp.ts';

/** What the counts say of one thing that parts bare or part. */
interface CountWord {
  /** Such as `carSide`, `harness`, `frame vent-frame`, `links 10`. */
  readonly thing: string;
  readonly effect: PartEffect;
  readonly parts: readonly PartBalance[];
  /** Pieces that are off by the counts; below zero where more went back than came off. */
  readonly off: number;
  /** Exactly all, or exactly none: counted twice, the counts say neither. */
  readonly isAllOff: boolean;
  readonly isNoneOff: boolean;
  /** All of them, some perhaps counted twice. */
  readonly areEnoughOff: boolean;
  /** Somebody counted: without a movement the counts say nothing. */
  readonly isCounted: boolean;
}

/** What the parts of a job bare and part, by what was counted; parts found in the work do neither. */
function listCountWords(
  { moved, leftOff }: StripState,
  profile: Profile,
  isMeant: (effect: PartEffect) => boolean = () => true,
): CountWord[] {
  const parts = profile.parts.filter((p) => p.effects.some(isMeant));
  const ids = new Set(parts.map((p) => p.id));
  const movements = moved.filter((m) => ids.has(m.partId));
  const counted = new Set(movements.map((m) => m.partId));
  const groups = new Map<string, { effect: PartEffect; parts: PartBalance[] }>();
  for (const balance of balanceLedger(parts, movements, leftOff).parts)
    for (const effect of balance.part.effects) {
      if (!isMeant(effect)) continue;
      const thing = thingOf(effect);
      const group = groups.get(thing);
      if (group) group.parts.push(balance);
      else groups.set(thing, { effect, parts: [balance] });
    }
  return [...groups].map(([thing, { effect, parts }]) => ({
    ...{ thing, effect, parts },
    off: parts.reduce((sum, b) => sum + piecesOff(b), 0),
    isAllOff: parts.every((b) => piecesOff(b) === b.part.count),
    isNoneOff: parts.every((b) => piecesOff(b) === 0),
    areEnoughOff: parts.every((b) => b.part.count !== null && piecesOff(b) >= b.part.count),
    isCounted: parts.some((b) => counted.has(b.part.id)),
  }));
}

function thingOf(effect: PartEffect): string {
  switch (effect.kind) {
    case 'bares':
      return effect.over ? `${effect.what} ${effect.over.join(' ')}` : effect.what;
    case 'partsHarness':
      return 'harness';
    case 'partsMounting':
      return 'mounting';
    case 'partsFrame':
      return `frame ${effect.frame}`;
    case 'partsLinks':
      return `links ${effect.links.join(' ')}`;
  }
}

function piecesOff({ out, absent, back, foreign }: PartBalance): number {
  return out + absent - back - foreign;
}

/** The fact that something is bare or parted, or not any more; null where no fact says it. */
function factOf(effect: PartEffect, isOff: boolean): Fact | null {
  switch (effect.kind) {
    case 'bares':
      switch (effect.what) {
        case 'carSide':
          return { kind: 'connectors', are: isOff ? 'open' : 'closed' };
        case 'case':
          return { kind: 'case', isOpen: isOff };
        case 'covers':
          return { kind: 'covers', areOff: isOff, ...(effect.over && { over: effect.over }) };
        case 'outletPosts':
          return { kind: 'outletPosts', areBare: isOff };
        case 'harnessPins':
          return null;
      }
      break;
    case 'partsHarness':
      return { kind: 'harness', isUnplugged: isOff };
    // loose in the car is not out of it
    case 'partsMounting':
      return isOff ? null : { kind: 'pack', isOnBench: false };
    case 'partsFrame':
      return { kind: 'frame', frame: effect.frame, isOff };
    case 'partsLinks':
      return { kind: 'links', links: effect.links, areOpen: isOff };
  }
}

/**
 * What pieces that come off bare, or that go back join: said by the count itself, also where it was so before. Cables do both: off they
 * are bare, on they tie the ends of the string through the car.
 */
export function hazardsCounted({ partId, from, to }: ActBody<'part.moved'>, pack: PackState, profile: Profile): Fact[] {
  const isOff = from.kind === 'inPlace' && to.kind !== 'inPlace';
  if (isOff === (to.kind === 'inPlace')) return [];
  const part = profile.parts.find((p) => p.id === partId);
  return (part?.effects ?? []).flatMap((effect) => {
    if (!isOff && isOfCables(effect)) return pack.connectors === 'insulated' ? [] : [{ kind: 'connectors', are: pack.connectors }];
    return (effect.kind === 'bares') === isOff ? (factOf(effect, isOff) ?? []) : [];
  });
}

/** All that a count may have changed, if it was made: what came off is bare and parted, what went back is joined, whatever stands. */
export function possiblyCounted({ partId, from, to }: ActBody<'part.moved'>, profile: Profile): Fact[] {
  const isOff = from.kind === 'inPlace';
  if (isOff === (to.kind === 'inPlace')) return [];
  const part = profile.parts.find((p) => p.id === partId);
  return (part?.effects ?? []).flatMap((effect): readonly Fact[] => {
    if (effect.kind === 'bares' && effect.what === 'harnessPins') return isOff ? [{ kind: 'harness', isUnplugged: true }] : [];
    const fact = factOf(effect, isOff);
    return fact ? [fact] : [];
  });
}

function isOfCables(effect: PartEffect): boolean {
  return effect.kind === 'bares' && effect.what === 'carSide';
}

/** What the counts alone say, where they are more hazardous than what is stated. */
export interface Disagreement {
  readonly thing: string;
  readonly counted: Fact | null;
  /** What is counted, as a person says it: `HV cable: 1 of 2 off`. */
  readonly sentence: string;
  readonly hazards: Hazards;
}

export function listDisagreements({ strip, pack }: Pick<JobState, 'strip' | 'pack'>, profile: Profile): Disagreement[] {
  if (strip.moved.length === 0) return [];
  const stated = hazardsOf(pack);
  return listCountWords(strip, profile).flatMap((word) => {
    const hazards = hazardsOfWord(word, pack, profile);
    if (!hazards || isSameHazard(joinHazards(stated, hazards), stated)) return [];
    const sentence = word.parts.map(sayOff).join(', ');
    return [{ thing: word.thing, counted: factOf(word.effect, word.off > 0 && word.effect.kind === 'bares'), sentence, hazards }];
  });
}

function hazardsOfWord({ effect, off, areEnoughOff, isCounted }: CountWord, pack: PackState, profile: Profile): Hazards | null {
  if (!isCounted) return null;
  const isBaring = effect.kind === 'bares';
  // a bare post, or a part of which some pieces are still in: all else lowers nothing
  if (isBaring ? off <= 0 : areEnoughOff) return null;
  if (isBaring && effect.what === 'harnessPins') return { ...hazardsOf(pack), areHarnessPinsBare: true };
  // cables that were insulated since are off and covered
  if (isBaring && effect.what === 'carSide' && pack.connectors === 'insulated') return null;
  const fact = factOf(effect, isBaring);
  return fact && hazardsOf(applyFact(pack, fact, profile));
}

/**
 * What an act means besides, to be kept with it: a count states the fact, a fact moves the parts.
 * @param stamp when it was said; null where only the order is known
 */
export function meansBesides(state: JobState, act: Act, profile: Profile, stamp: Stamp | null): Act[] {
  switch (act.type) {
    case 'part.moved': {
      const { from, to, partId } = act.body;
      if (from.kind === to.kind || !profile.parts.some((p) => p.id === partId && p.effects.length > 0)) return [];
      const moved = [...state.strip.moved, { ...NOBODY, ...act.body, commandId: '', number: state.head + 1 }];
      return factsMeant(state, { ...state.strip, moved }, act.body.stage, profile);
    }
    case 'fastener.torqued':
      return countedBack(state, act.body, profile);
    case 'sensors.sited':
      return clippedBack(state, profile);
    case 'fact.stated':
      // what was said before what stands moved its parts before what moved them since
      return stamp && !wouldStand(state, act.body.fact, stamp, profile) ? [] : movesMeant(state, act.body, profile);
    default:
      return [];
  }
}

/** A fastener that is tightened for the first time since it came off is back in its place, whether that was counted or not. */
function countedBack({ strip, rebuild }: JobState, { partId, seat }: ActBody<'fastener.torqued'>, profile: Profile): Act[] {
  const part = profile.parts.find((p) => p.id === partId);
  if (!part || part.effects.length > 0) return [];
  const off = strip.moved.findLast((m) => m.partId === partId && m.from.kind === 'inPlace')?.number ?? 0;
  if (rebuild.torqued.some((t) => t.partId === partId && t.seat === seat && t.number > off)) return [];
  const [balance] = balanceLedger(
    [part],
    strip.moved.filter((m) => m.partId === partId),
    strip.leftOff,
  ).parts;
  const lot = balance && balance.owed > 0 ? balance.lots.find((l) => isAtHand(l.spot) && isFit(l.condition) && l.count > 0) : undefined;
  if (!lot) return [];
  const { spot, condition } = lot;
  return [{ type: 'part.moved', body: { stage: 'rebuild', partId, count: 1, from: spot, to: { kind: 'inPlace' }, condition } }];
}

/** Sensors that are put to their places have their clips and plugs with them. */
function clippedBack({ strip }: JobState, profile: Profile): Act[] {
  const ids = new Set(profile.rebuild.flatMap((s) => (s.does === 'sensors' ? s.parts : [])));
  const parts = profile.parts.filter((p) => ids.has(p.id) && p.effects.length === 0);
  const balances = balanceLedger(
    parts,
    strip.moved.filter((m) => ids.has(m.partId)),
    strip.leftOff,
  ).parts;
  return balances.flatMap(({ part, lots }) =>
    lots
      .filter((l) => isAtHand(l.spot) && isFit(l.condition) && l.count > 0)
      .map(({ spot, condition, count }): Act => ({
        type: 'part.moved',
        body: { stage: 'rebuild', partId: part.id, count, from: spot, to: { kind: 'inPlace' }, condition },
      })),
  );
}

const NOBODY = { by: '', at: '' } as const;

/** The facts that a change of the counts means and that are not stated yet. */
function factsMeant({ strip, pack }: JobState, next: StripState, stage: Stage, profile: Profile): Act[] {
  const before = new Map(listCountWords(strip, profile).map((w) => [w.thing, w]));
  return listCountWords(next, profile).flatMap((after): Act[] => {
    const was = before.get(after.thing);
    if (!was || was.off === after.off) return [];
    // one piece off bares and one piece back joins, whatever the sums; covered and parted is only what they say of every piece
    const isOutwards = after.off > was.off;
    const isBaring = after.effect.kind === 'bares';
    const isSaid = isBaring ? isOutwards || after.isNoneOff : !isOutwards || after.isAllOff;
    // a cable that goes on again is no longer off and insulated, however many there are
    const isLoose = !isSaid && isOfCables(after.effect) && pack.connectors === 'insulated';
    const fact = isSaid || isLoose ? factOf(after.effect, isOutwards || isLoose) : null;
    if (!fact || (!isLoose && isStated(pack, fact, profile))) return [];
    return [{ type: 'fact.stated', body: { stage, fact } }];
  });
}

/** Where what is counted differs from what a fact says of its parts, so that it is asked once which is so. */
export function listCountsThatDiffer(state: JobState, fact: Fact, profile: Profile): string[] {
  const isOff = isTakingOff(fact);
  return wordsOf(state, fact, profile)
    .filter((word) => word.isCounted && !(isOff ? word.isNoneOff || word.areEnoughOff : word.isNoneOff || canAllGoBack(word)))
    .flatMap((word) => word.parts.map(sayOff));
}

function wordsOf({ strip }: JobState, fact: Fact, profile: Profile): CountWord[] {
  const says = saysOf(fact, profile);
  return says ? listCountWords(strip, profile, says) : [];
}

/** Which effects of parts a fact speaks of; null where it speaks of none. */
function saysOf(fact: Fact, profile: Profile): ((effect: PartEffect) => boolean) | null {
  switch (fact.kind) {
    case 'connectors':
      return (e) => e.kind === 'bares' && e.what === 'carSide';
    case 'case':
      return (e) => e.kind === 'bares' && e.what === 'case';
    case 'covers': {
      const { over } = fact;
      return (e) => e.kind === 'bares' && e.what === 'covers' && (!over || (e.over?.every((k) => over.includes(k)) ?? false));
    }
    case 'outletPosts':
      return (e) => e.kind === 'bares' && e.what === 'outletPosts';
    case 'harness':
      return (e) => e.kind === 'partsHarness';
    // set down in the car it is not bolted yet
    case 'pack':
      return fact.isOnBench ? (e) => e.kind === 'partsMounting' : null;
    case 'frame':
    case 'links': {
      const links = fact.kind === 'links' ? fact.links : linksOf(profile)(fact.frame);
      return (e) =>
        (e.kind === 'partsLinks' && e.links.every((k) => links.includes(k))) ||
        (e.kind === 'partsFrame' && linksOf(profile)(e.frame).every((k) => links.includes(k)));
    }
    default:
      return null;
  }
}

function isTakingOff(fact: Fact): boolean {
  switch (fact.kind) {
    case 'connectors':
      return fact.are !== 'closed';
    case 'case':
      return fact.isOpen;
    case 'covers':
      return fact.areOff;
    case 'outletPosts':
      return fact.areBare;
    case 'harness':
      return fact.isUnplugged;
    case 'pack':
      return fact.isOnBench;
    case 'frame':
      return fact.isOff;
    case 'links':
      return fact.areOpen;
    default:
      return false;
  }
}

function sayOff(b: PartBalance): string {
  return `${b.part.name}: ${piecesOff(b)} of ${b.part.count ?? '?'} counted off`;
}

function canAllGoBack({ parts }: CountWord): boolean {
  return parts.every((b) => b.owed >= 0 && b.toOrder === 0);
}

/** Moves the parts that a fact speaks of, all or none: where some are counted already, all of them only where that was said. */
function movesMeant(state: JobState, { stage, fact, counts }: ActBody<'fact.stated'>, profile: Profile): Act[] {
  const isOff = isTakingOff(fact);
  const move = (b: PartBalance, count: number, from: Spot, to: Spot, condition: ActBody<'part.moved'>['condition']): Act => ({
    type: 'part.moved',
    body: { stage, partId: b.part.id, count, from, to, condition },
  });
  return wordsOf(state, fact, profile).flatMap((word) => {
    if (isOff) {
      if (!word.isNoneOff && counts !== 'all') return [];
      return word.parts.flatMap((b) => {
        const left = countInPlace(b) ?? 0;
        return left > 0 ? [move(b, left, { kind: 'inPlace' }, { kind: 'onPart' }, 'good')] : [];
      });
    }
    if (word.isNoneOff || (counts !== 'all' && !canAllGoBack(word))) return [];
    return word.parts.flatMap((b) => {
      let owed = Math.max(0, b.owed);
      const moves: Act[] = [];
      for (const { spot, condition, count } of b.lots) {
        const taken = isAtHand(spot) && isFit(condition) ? Math.min(owed, count) : 0;
        if (taken <= 0) continue;
        owed -= taken;
        moves.push(move(b, taken, spot, { kind: 'inPlace' }, condition));
      }
      return owed > 0 && counts === 'all' ? [...moves, move(b, owed, { kind: 'new' }, { kind: 'inPlace' }, 'good')] : moves;
    });
  });
}

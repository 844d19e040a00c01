/** What the counts of parts say of the things that those bare or part, and which parts a fact about such a thing speaks of. */
import { balanceLedger, type PartBalance } from '../../ledger/ledger.ts';
import type { Fact } from '../../pack/fact.ts';
import { linksOf } from '../../pack/join.ts';
import type { PartEffect } from '../../pack/parts.ts';
import type { Profile } from '../../pack/profile.ts';
import type { StripState } from '../chapters/strip/state.ts';
import type { JobState } from './state.ts';

/** What the counts say of one thing that parts bare or part. */
export interface CountWord {
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
export function listCountWords(
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
export function factOf(effect: PartEffect, isOff: boolean): Fact | null {
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

export function isOfCables(effect: PartEffect): boolean {
  return effect.kind === 'bares' && effect.what === 'carSide';
}

export function wordsOf({ strip }: JobState, fact: Fact, profile: Profile): CountWord[] {
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

export function isTakingOff(fact: Fact): boolean {
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

export function sayOff(b: PartBalance): string {
  return `${b.part.name}: ${piecesOff(b)} of ${b.part.count ?? '?'} counted off`;
}

export function canAllGoBack({ parts }: CountWord): boolean {
  return parts.every((b) => b.owed >= 0 && b.toOrder === 0);
}

/**
 * What counts of parts mean for the hazards of the pack: a part's profile says what it bares (any piece off: off) or parts (parted when
 * all is off, joined at the first piece back). Where counts and facts disagree the more hazardous holds, and both are named.
 */
import type { PackState } from '../../pack/effect.ts';
import { applyFact, type Fact } from '../../pack/fact.ts';
import { hazardsOf, isSameHazard, joinHazards, type Hazards } from '../../pack/hazard.ts';
import type { Profile } from '../../pack/profile.ts';
import type { ActBody } from './acts.ts';
import { canAllGoBack, factOf, isOfCables, isTakingOff, listCountWords, sayOff, wordsOf, type CountWord } from './count-words.ts';
import type { JobState } from './state.ts';

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

/** Where what is counted differs from what a fact says of its parts, so that it is asked once which is so. */
export function listCountsThatDiffer(state: JobState, fact: Fact, profile: Profile): string[] {
  const isOff = isTakingOff(fact);
  return wordsOf(state, fact, profile)
    .filter((word) => word.isCounted && !(isOff ? word.isNoneOff || word.areEnoughOff : word.isNoneOff || canAllGoBack(word)))
    .flatMap((word) => word.parts.map(sayOff));
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

/**
 * How the pack stands by what was said of it, by whom and when. For each thing the statement that was said last stands, whatever the
 * order in which they came; nothing is sorted in afterwards. An earlier one that comes late and is more hazardous holds beside it until
 * the thing is stated anew; a less hazardous one changes nothing.
 */
import * as z from 'zod';
import { applyEffect, packStateSchema, type Effect, type PackState } from '../../pack/effect.ts';
import { applyFact, effectsOfFact, factSchema, type Fact } from '../../pack/fact.ts';
import { hazardsOf, isSameHazard, joinHazards, type Hazards } from '../../pack/hazard.ts';
import { joinOfLink, linkOf, type StringPlan } from '../../pack/join.ts';
import { entriesOf } from '../chapters/words.ts';
import { isAfter, orderOf, stampSchema, type Order, type Stamp } from '../chapters/stamp.ts';

export const lateWordSchema = z.strictObject({
  /** What it speaks of, such as `case` or `link:3`. */
  thing: z.string(),
  fact: factSchema,
  stamp: stampSchema,
  /** Said before what stands, at the same time as far as clocks tell, or in another's name without proof. */
  came: z.enum(['late', 'unclear', 'unproven']),
});
/** A statement that does not stand, and is more hazardous than what does or may come to be. */
export type LateWord = Readonly<z.infer<typeof lateWordSchema>>;

const saidSchema = stampSchema.extend({
  /** By a count that said no more than that it is off: what exactly stood before it was not said again. */
  isCount: z.literal(true).optional(),
});

export const renewalSchema = z.strictObject({ number: z.int(), commandId: z.string(), stamp: stampSchema, fact: factSchema });
/** What a count said of a thing that stood so already. */
export type Renewal = Readonly<z.infer<typeof renewalSchema>>;

export const statementsSchema = z.strictObject({
  pack: packStateSchema,
  /** By thing: when what stands was said; none where nobody said anything yet. */
  said: entriesOf(saidSchema),
  late: z.array(lateWordSchema),
});
export type Statements = z.output<typeof statementsSchema>;

export interface Heard {
  readonly effect: Effect;
  /** It does not stand: chapters hear of it, the pack stays as it is. */
  readonly isLate: boolean;
}

/** What an effect speaks of; a fact about links speaks of each. */
function thingsOf(effect: Effect): string[] {
  switch (effect.kind) {
    case 'touched':
      return [effect.what];
    case 'stowed':
      return [`custody of ${effect.what}`];
    case 'bared':
      return effect.what === 'covers' ? effect.joints.map((k) => `joint:${k}`) : [effect.what];
    case 'parted':
    case 'joined':
      return effect.what === 'links' ? effect.links.map((j) => `link:${linkOf(j) ?? `${j.a}/${j.b}`}`) : [effect.what];
    case 'charged':
      return effect.by === 'source' ? ['source'] : [];
    case 'moved':
      return effect.what === 'pack' ? ['pack'] : [`place:${effect.place}`];
    case 'energised':
    case 'measured':
    case 'elapsed':
      return [];
  }
}

/**
 * What becomes of a statement: what of it stands, what is heard only. Changes `held`, but for the pack, which `tell` changes as it
 * passes each effect on.
 * @returns how it came, by the part of it that came worst
 */
export function takeStatement(held: Statements, fact: Fact, stamp: Stamp, profile: StringPlan, tell: (heard: Heard) => void): Order {
  let came: Order = 'after';
  for (const effect of effectsOfFact(fact, profile)) {
    const late: string[] = [];
    for (const thing of thingsOf(effect)) {
      const stands = held.said.get(thing);
      const order = stands ? orderOf(stamp, stands) : 'after';
      if (order === 'after') {
        held.said.set(thing, stamp);
        if (held.late.length > 0) held.late = held.late.filter((l) => l.thing !== thing || orderOf(stamp, l.stamp) !== 'after');
        continue;
      }
      late.push(thing);
      // what was certainly said before this holds no longer either
      held.late = held.late.filter((l) => l.thing !== thing || orderOf(stamp, l.stamp) !== 'after');
      const own = ownFact(fact, effect, thing);
      const word = applyFact(held.pack, own, profile);
      const counted = stands ? openedByCount(held.pack, fact, stands) : null;
      if (counted && stands) held.late.push({ thing, fact: counted, stamp: stands, came: 'late' });
      if (isSameHazard(hazardsOf(word), hazardsOf(held.pack)) && !isMoved(held.pack, word)) {
        // it says the same; where it may be the later one, it holds against what is said later of the other
        if (order === 'unclear') held.late.push({ thing, fact: own, stamp, came: 'unclear' });
        continue;
      }
      if (came !== 'before') came = order;
      if (order === 'unclear' || isMoreHazardous(held.pack, word))
        held.late.push({ thing, fact: own, stamp, came: order === 'before' ? 'late' : 'unclear' });
    }
    const standing = late.length === 0 ? effect : withoutThings(effect, new Set(late));
    if (standing) tell({ effect: standing, isLate: false });
    if (late.length > 0) tell({ effect, isLate: true });
  }
  return came;
}

/** A statement that nothing proves: what stands stays, and it holds beside it until its thing is stated after it. */
export function doubtStatement(held: Statements, fact: Fact, stamp: Stamp, profile: StringPlan, tell: (effect: Effect) => void): void {
  for (const effect of effectsOfFact(fact, profile)) {
    for (const thing of thingsOf(effect)) {
      const stands = held.said.get(thing);
      // what was certainly said after it is so all the same
      if (stands && isAfter(stands, stamp)) continue;
      const own = ownFact(fact, effect, thing);
      // said again, it holds as long as the last time that it was said
      const isAgain = (l: LateWord): boolean =>
        l.came === 'unproven' && l.thing === thing && isAfter(stamp, l.stamp) && JSON.stringify(l.fact) === JSON.stringify(own);
      held.late = held.late.filter((l) => !isAgain(l));
      held.late.push({ thing, fact: own, stamp, came: 'unproven' });
    }
    tell(effect);
  }
}

/** Whether all that a fact speaks of would stand by it. */
export function wouldStand({ said }: Pick<Statements, 'said'>, fact: Fact, stamp: Stamp, profile: StringPlan): boolean {
  return effectsOfFact(fact, profile)
    .flatMap(thingsOf)
    .every((thing) => {
      const stands = said.get(thing);
      return !stands || orderOf(stamp, stands) === 'after';
    });
}

/** It was said again by a count that something stands as it does: from then on what was said before is late. */
export function renewStatement(held: Statements, fact: Fact, stamp: Stamp, profile: StringPlan): void {
  for (const thing of effectsOfFact(fact, profile).flatMap(thingsOf)) {
    const stands = held.said.get(thing);
    if (!stands || orderOf(stamp, stands) === 'after') held.said.set(thing, { ...stamp, isCount: true });
  }
}

/**
 * A cable counted off while the cables stood insulated left them so. Where they were joined between the two after all, by a word that
 * came late, the count opened them. Null where it is nothing of the kind.
 */
function openedByCount({ connectors }: PackState, fact: Fact, { isCount }: z.infer<typeof saidSchema>): Fact | null {
  const isBetween = isCount === true && fact.kind === 'connectors' && fact.are === 'closed' && connectors === 'insulated';
  return isBetween ? { kind: 'connectors', are: 'open' } : null;
}

/** A word on the pack as it was kept. */
interface Word {
  readonly number: number;
  readonly commandId: string;
  readonly stamp: Stamp;
  readonly fact: Fact;
}

/**
 * Takes back what one command said: of the things that it spoke of stands again what stands without it.
 * @param start the pack as the job began
 * @param words every word on the pack
 * @param renewals those of them by counts of what stood so already
 * @param doubts words that nothing proves
 */
export function withdrawStatements(
  held: Statements,
  commandId: string,
  {
    start,
    words,
    renewals,
    doubts,
  }: {
    readonly start: PackState;
    readonly words: readonly Word[];
    readonly renewals: readonly Word[];
    readonly doubts: readonly Word[];
  },
  profile: StringPlan,
  tell: (effect: Effect) => void,
): void {
  const own = [...words, ...renewals].filter((w) => w.commandId === commandId);
  const things = new Set(own.flatMap(({ fact }) => effectsOfFact(fact, profile).flatMap(thingsOf)));
  if (things.size === 0) return;
  const without: Statements = { pack: start, said: new Map(), late: [] };
  const [isRenewal, isDoubt] = [new Set(renewals), new Set(doubts)];
  const rest = [...words, ...renewals, ...doubts].filter((w) => w.commandId !== commandId).sort((a, b) => a.number - b.number);
  for (const word of rest) {
    const isSame = isRenewal.has(word) && isStated(without.pack, word.fact, profile);
    if (isSame) renewStatement(without, word.fact, word.stamp, profile);
    else if (isDoubt.has(word)) doubtStatement(without, word.fact, word.stamp, profile, () => undefined);
    else
      takeStatement(without, word.fact, word.stamp, profile, ({ effect, isLate }) => {
        if (!isLate) without.pack = applyEffect(without.pack, effect);
      });
  }
  for (const thing of things) {
    const said = without.said.get(thing);
    if (said) held.said.set(thing, said);
    else held.said.delete(thing);
  }
  held.late = [...held.late.filter((l) => !things.has(l.thing)), ...without.late.filter((l) => things.has(l.thing))];
  for (const effect of effectsBetween(held.pack, without.pack, things, profile)) tell(effect);
}

/** What makes the named things of one pack stand as in another; counts speak of no others. */
function effectsBetween(from: PackState, to: PackState, things: ReadonlySet<string>, profile: StringPlan): Effect[] {
  const numbered = (what: 'joint' | 'link'): number[] =>
    [...things].flatMap((t) => (t.startsWith(`${what}:`) ? [Number(t.slice(what.length + 1))] : []));
  const effects: Effect[] = [];
  if (things.has('carSide') && from.connectors !== to.connectors) effects.push({ kind: 'bared', what: 'carSide', how: to.connectors });
  if (things.has('outletPosts') && from.outletPosts !== to.outletPosts)
    effects.push({ kind: 'bared', what: 'outletPosts', are: to.outletPosts });
  if (things.has('case') && from.isCaseOpen !== to.isCaseOpen) effects.push({ kind: 'bared', what: 'case', isBare: to.isCaseOpen });
  for (const isBare of [false, true]) {
    const joints = numbered('joint').filter((k) => from.bareJoints.includes(k) !== isBare && to.bareJoints.includes(k) === isBare);
    if (joints.length > 0) effects.push({ kind: 'bared', what: 'covers', isBare, joints: joints.sort((a, b) => a - b) });
  }
  if (things.has('harness') && from.isHarnessUnplugged !== to.isHarnessUnplugged)
    effects.push({ kind: to.isHarnessUnplugged ? 'parted' : 'joined', what: 'harness' });
  const isJoined = ({ joins }: PackState, k: number): boolean => joins.some((j) => linkOf(j) === k);
  for (const kind of ['parted', 'joined'] as const) {
    const links = numbered('link').filter((k) => isJoined(from, k) === (kind === 'parted') && isJoined(to, k) === (kind === 'joined'));
    if (links.length > 0) effects.push({ kind, what: 'links', links: links.map((k) => joinOfLink(profile, k)) });
  }
  if (things.has('pack') && from.isOnBench !== to.isOnBench) effects.push({ kind: 'moved', what: 'pack', isOnBench: to.isOnBench });
  return effects;
}

/** Whether the pack stands as a fact says; cables that are insulated are off all the same. */
export function isStated(pack: PackState, fact: Fact, profile: StringPlan): boolean {
  if (fact.kind === 'connectors' && fact.are === 'open') return pack.connectors !== 'closed';
  return isSameHazard(hazardsOf(applyFact(pack, fact, profile)), hazardsOf(pack));
}

/** The part of a fact that speaks of one thing. */
function ownFact(fact: Fact, effect: Effect, thing: string): Fact {
  if (effect.kind === 'bared' && effect.what === 'outletPosts' && effect.are !== 'covered')
    return { kind: 'outletPosts', areBare: effect.are === 'bare' };
  const joint = /^joint:(\d+)$/.exec(thing)?.[1];
  if (joint !== undefined && fact.kind === 'covers') return { ...fact, over: [Number(joint)] };
  if (effect.kind !== 'joined' && effect.kind !== 'parted') return fact;
  const link = Number(/^link:(\d+)$/.exec(thing)?.[1]);
  return link > 0 && fact.kind !== 'plug' ? { kind: 'links', links: [link], areOpen: effect.kind === 'parted' } : fact;
}

/** The effect without what came late; null where nothing is left of it. */
function withoutThings(effect: Effect, late: ReadonlySet<string>): Effect | null {
  if (effect.kind === 'bared' && effect.what === 'covers') {
    const joints = effect.joints.filter((k) => !late.has(`joint:${k}`));
    return joints.length > 0 ? { ...effect, joints } : null;
  }
  if ((effect.kind !== 'joined' && effect.kind !== 'parted') || effect.what !== 'links') return null;
  const links = effect.links.filter((j) => !late.has(`link:${linkOf(j) ?? `${j.a}/${j.b}`}`));
  return links.length > 0 ? { ...effect, links } : null;
}

function isMoreHazardous(stands: PackState, word: PackState): boolean {
  const now = hazardsOf(stands);
  return isMoved(stands, word) || !isSameHazard(joinHazards(now, hazardsOf(word)), now);
}

function isMoved(a: PackState, b: PackState): boolean {
  return a.places.some((p, i) => p.moduleId !== b.places[i]?.moduleId);
}

/** The hazards of the pack as it stands, joined with every late word that holds beside it. */
export function hazardsOfStatements({ pack, late }: Pick<Statements, 'pack' | 'late'>, profile: StringPlan): Hazards {
  return late.reduce((worst, { fact }) => joinHazards(worst, hazardsOf(applyFact(pack, fact, profile))), hazardsOf(pack));
}

/** Late words that make the pack more hazardous than it stands. */
export function raisingWords({ pack, late }: Pick<Statements, 'pack' | 'late'>, profile: StringPlan): LateWord[] {
  return late.filter(({ fact }) => isMoreHazardous(pack, applyFact(pack, fact, profile)));
}

/** Places of which a late word says that something else sits there. */
export function placesInDoubt({ pack, late }: Pick<Statements, 'pack' | 'late'>): ReadonlySet<number> {
  return new Set(
    late.flatMap(({ fact }) => (fact.kind === 'module' && fact.moduleId !== pack.places[fact.place - 1]?.moduleId ? [fact.place] : [])),
  );
}

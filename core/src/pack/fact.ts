/**
 * Physical facts about a pack, as people state them. A fact says how something stands, so stating it twice changes nothing, and
 * stating the contrary is the way back. What a fact does is said in effects.
 */
import * as z from 'zod';
import { applyEffect, CAR_SIDES, CONTACTORS, type Effect, type PackState } from './effect.ts';
import { joinOfLink, jointsOf, linksOf, type StringPlan } from './join.ts';

const link = z.int().min(1).max(199);
const joint = z.int().min(0).max(200);
/** Who or what holds it: a pocket, a lock box. */
const custody = z.string().trim().min(1).max(80).optional();

export const factSchema = z.discriminatedUnion('kind', [
  /** The key, with where it is kept: away means out of the car and out of its reach. */
  z.strictObject({ kind: z.literal('key'), isAway: z.boolean(), custody }),
  /** Negative of the 12 V battery: off and tucked away, or on. */
  z.strictObject({ kind: z.literal('twelveVolt'), isOff: z.boolean() }),
  /** `isLatched`: its last movement was made too, the one that closes the interlock; left out where nobody said. */
  z.strictObject({ kind: z.literal('plug'), isIn: z.boolean(), isLatched: z.boolean().optional(), custody }),
  /** Where key or plug is kept, said later: nothing was moved. */
  z.strictObject({ kind: z.literal('custody'), of: z.enum(['key', 'plug']), custody: custody.unwrap() }),
  z.strictObject({ kind: z.literal('connectors'), are: z.enum(CAR_SIDES) }),
  /** The pack's own HV posts: bare, or under a cover or caps of their own. */
  z.strictObject({ kind: z.literal('outletPosts'), areBare: z.boolean() }),
  z.strictObject({ kind: z.literal('contactors'), are: z.enum(CONTACTORS) }),
  z.strictObject({ kind: z.literal('pack'), isOnBench: z.boolean() }),
  z.strictObject({ kind: z.literal('case'), isOpen: z.boolean() }),
  /** `over`: joints that they lie over, as numbered by `jointsOf`; every one where it is left out. */
  z.strictObject({ kind: z.literal('covers'), areOff: z.boolean(), over: z.array(joint).min(1).max(201).optional() }),
  z.strictObject({ kind: z.literal('harness'), isUnplugged: z.boolean() }),
  /** A bus-bar frame with all its links. */
  z.strictObject({ kind: z.literal('frame'), frame: z.string().min(1).max(60), isOff: z.boolean() }),
  z.strictObject({ kind: z.literal('links'), links: z.array(link).min(1).max(199), areOpen: z.boolean() }),
  /** What sits at a place: a module, turned end for end or not; null: the place is empty. */
  z.strictObject({
    kind: z.literal('module'),
    place: z.int().min(1).max(200),
    moduleId: z.string().min(1).max(64).nullable(),
    isTurned: z.boolean(),
  }),
  /** A charger or other source across the ends; null volt: taken off. */
  z.strictObject({ kind: z.literal('charger'), volt: z.number().positive().max(2000).nullable() }),
  /** The pack was charged: earlier open-circuit readings no longer say what its modules stand at. */
  z.strictObject({ kind: z.literal('charged') }),
]);
export type Fact = z.infer<typeof factSchema>;

/** What a fact does, in order. An unknown frame does nothing. */
export function effectsOfFact(fact: Fact, profile: StringPlan): Effect[] {
  switch (fact.kind) {
    case 'key':
      return [{ kind: 'touched', what: 'key', isAway: fact.isAway, custody: fact.isAway ? (fact.custody ?? null) : null }];
    case 'twelveVolt':
      return [{ kind: 'touched', what: 'twelveVolt', isOff: fact.isOff }];
    case 'plug': {
      const { opensLink } = profile.plug;
      return [
        {
          ...{ kind: 'touched', what: 'plug', isIn: fact.isIn, isLatched: fact.isIn ? (fact.isLatched ?? null) : null },
          custody: fact.isIn ? null : (fact.custody ?? null),
          join: opensLink === null ? null : joinOfLink(profile, opensLink),
        },
      ];
    }
    case 'custody':
      return [{ kind: 'stowed', what: fact.of, custody: fact.custody }];
    case 'connectors':
      // insulated, the posts that they sat on are covered with them while the pack sits in its car
      return [
        { kind: 'bared', what: 'carSide', how: fact.are },
        { kind: 'bared', what: 'outletPosts', are: fact.are === 'open' ? 'bare' : 'covered' },
      ];
    case 'outletPosts':
      return [{ kind: 'bared', what: 'outletPosts', are: fact.areBare ? 'bare' : 'capped' }];
    case 'contactors':
      return [{ kind: fact.are === 'shut' || fact.are === 'unknown' ? 'joined' : 'parted', what: 'contactors', are: fact.are }];
    case 'pack':
      return [{ kind: 'moved', what: 'pack', isOnBench: fact.isOnBench }];
    case 'case':
      return [{ kind: 'bared', what: 'case', isBare: fact.isOpen }];
    case 'covers':
      return coversMoved(fact, profile);
    case 'harness':
      return [{ kind: fact.isUnplugged ? 'parted' : 'joined', what: 'harness' }];
    case 'frame': {
      const links = linksOf(profile)(fact.frame);
      return links.length === 0 ? [] : [moveLinks(links, fact.isOff, profile)];
    }
    case 'links': {
      const links = fact.areOpen ? openableLinks(fact.links, profile) : fact.links;
      return links.length === 0 ? [] : [moveLinks(links, fact.areOpen, profile)];
    }
    case 'module':
      return [{ ...{ kind: 'moved', what: 'module', place: fact.place, moduleId: fact.moduleId, isTurned: fact.isTurned }, isLaid: false }];
    case 'charger':
      return [{ kind: 'charged', by: 'source', volt: fact.volt }];
    case 'charged':
      return [{ kind: 'charged', by: 'said' }];
  }
}

function coversMoved({ areOff, over }: Extract<Fact, { kind: 'covers' }>, profile: StringPlan): Effect[] {
  const joints = jointsOf(profile).filter((k) => !over || over.includes(k));
  return joints.length === 0 ? [] : [{ kind: 'bared', what: 'covers', isBare: areOff, joints }];
}

/**
 * Of links stated open those that can be: a link of a frame that opens as one stays joined while its frame is on, so it opens with all
 * others of its frame or not at all.
 */
export function openableLinks(links: readonly number[], { frames }: Pick<StringPlan, 'frames'>): number[] {
  const held = frames.filter((f) => f.opensAsOne && !f.links.every((k) => links.includes(k))).flatMap((f) => f.links);
  return links.filter((k) => !held.includes(k));
}

function moveLinks(links: readonly number[], areOpen: boolean, profile: StringPlan): Effect {
  return { kind: areOpen ? 'parted' : 'joined', what: 'links', links: links.map((k) => joinOfLink(profile, k)) };
}

/** The state after a fact. */
export function applyFact(pack: PackState, fact: Fact, profile: StringPlan): PackState {
  return effectsOfFact(fact, profile).reduce(applyEffect, pack);
}

/** The way back from a fact; null where there is more than one, or none. */
export function contraryOf(fact: Fact): Fact | null {
  switch (fact.kind) {
    case 'connectors':
      return { kind: 'connectors', are: fact.are === 'closed' ? 'open' : 'closed' };
    case 'outletPosts':
      return { ...fact, areBare: !fact.areBare };
    case 'case':
      return { ...fact, isOpen: !fact.isOpen };
    case 'covers':
      return { ...fact, areOff: !fact.areOff };
    case 'harness':
      return { ...fact, isUnplugged: !fact.isUnplugged };
    case 'frame':
      return { ...fact, isOff: !fact.isOff };
    case 'links':
      return { ...fact, areOpen: !fact.areOpen };
    case 'pack':
      return { ...fact, isOnBench: !fact.isOnBench };
    case 'plug':
      return { kind: 'plug', isIn: !fact.isIn };
    case 'twelveVolt':
      return { ...fact, isOff: !fact.isOff };
    case 'key':
      return { kind: 'key', isAway: !fact.isAway };
    default:
      return null;
  }
}

/** Whether a fact touches what a proof of dead rests on: key, 12 V or plug, whichever way. */
export function isTouch(fact: Fact): boolean {
  return fact.kind === 'key' || fact.kind === 'twelveVolt' || fact.kind === 'plug';
}

/** Whether two facts say the same, whoever keeps the parts and in whatever order their fields were stored. */
export function isSameFact(a: Fact, b: Fact): boolean {
  return plainText(a) === plainText(b);
}

function plainText(fact: Fact): string {
  const fields = Object.entries(fact).filter(([name]) => name !== 'custody' && name !== 'isLatched');
  return JSON.stringify(fields.sort(([x], [y]) => (x < y ? -1 : 1)));
}

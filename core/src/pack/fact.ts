/**
 * Physical facts about a pack, as people state them. A fact says how something stands, so stating it twice changes nothing, and
 * stating the contrary is the way back. The state they add up to is what exposure is computed from.
 */
import * as z from 'zod';

const link = z.int().min(1).max(199);
/** Who or what holds it: a pocket, a lock box. */
const custody = z.string().trim().min(1).max(80).optional();

export const factSchema = z.discriminatedUnion('kind', [
  /** The key, with where it is kept: away means out of the car and out of its reach. */
  z.strictObject({ kind: z.literal('key'), isAway: z.boolean(), custody }),
  /** Negative of the 12 V battery: off and tucked away, or on. */
  z.strictObject({ kind: z.literal('twelveVolt'), isOff: z.boolean() }),
  z.strictObject({ kind: z.literal('plug'), isIn: z.boolean(), custody }),
  /** Car side of the HV cables: `closed` under their covers, `open` bare, `insulated` off the pack, covered and tied back. */
  z.strictObject({ kind: z.literal('connectors'), are: z.enum(['closed', 'open', 'insulated']) }),
  z.strictObject({ kind: z.literal('pack'), isOnBench: z.boolean() }),
  z.strictObject({ kind: z.literal('case'), isOpen: z.boolean() }),
  z.strictObject({ kind: z.literal('covers'), areOff: z.boolean() }),
  z.strictObject({ kind: z.literal('harness'), isUnplugged: z.boolean() }),
  /** A bus-bar frame with all its links. */
  z.strictObject({ kind: z.literal('frame'), frame: z.string().min(1).max(60), isOff: z.boolean() }),
  z.strictObject({ kind: z.literal('links'), links: z.array(link).min(1).max(199), areOpen: z.boolean() }),
  /** A charger or other source across the ends; null volt: taken off. */
  z.strictObject({ kind: z.literal('charger'), volt: z.number().positive().max(2000).nullable() }),
  /** The pack was charged: earlier open-circuit readings no longer say what its modules stand at. */
  z.strictObject({ kind: z.literal('charged') }),
]);
export type Fact = z.infer<typeof factSchema>;

/** How the pack stands, as stated. */
export interface PackState {
  readonly isKeyAway: boolean;
  readonly isTwelveVoltOff: boolean;
  readonly isPlugIn: boolean;
  /** Where key and plug are kept; null where nobody said. */
  readonly keyCustody: string | null;
  readonly plugCustody: string | null;
  readonly connectors: 'closed' | 'open' | 'insulated';
  readonly isOnBench: boolean;
  readonly isCaseOpen: boolean;
  readonly areCoversOff: boolean;
  readonly isHarnessUnplugged: boolean;
  /** Links stated open, not counting the plug's, ascending. */
  readonly openLinks: readonly number[];
  readonly chargerVolt: number | null;
}

/** A pack in its vehicle, whole and shut. */
export const UNTOUCHED: PackState = {
  isKeyAway: false,
  isTwelveVoltOff: false,
  isPlugIn: true,
  keyCustody: null,
  plugCustody: null,
  connectors: 'closed',
  isOnBench: false,
  isCaseOpen: false,
  areCoversOff: false,
  isHarnessUnplugged: false,
  openLinks: [],
  chargerVolt: null,
};

/** The state after a fact. `linksOfFrame` gives the links of a frame of the profile; an unknown frame changes nothing. */
export function applyFact(state: PackState, fact: Fact, linksOfFrame: (frame: string) => readonly number[]): PackState {
  switch (fact.kind) {
    case 'key':
      return { ...state, isKeyAway: fact.isAway, keyCustody: fact.isAway ? (fact.custody ?? null) : null };
    case 'twelveVolt':
      return { ...state, isTwelveVoltOff: fact.isOff };
    case 'plug':
      return { ...state, isPlugIn: fact.isIn, plugCustody: fact.isIn ? null : (fact.custody ?? null) };
    case 'connectors':
      return { ...state, connectors: fact.are };
    case 'pack':
      return { ...state, isOnBench: fact.isOnBench };
    case 'case':
      return { ...state, isCaseOpen: fact.isOpen };
    case 'covers':
      return { ...state, areCoversOff: fact.areOff };
    case 'harness':
      return { ...state, isHarnessUnplugged: fact.isUnplugged };
    case 'frame':
      return { ...state, openLinks: setLinks(state.openLinks, linksOfFrame(fact.frame), fact.isOff) };
    case 'links':
      return { ...state, openLinks: setLinks(state.openLinks, fact.links, fact.areOpen) };
    case 'charger':
      return { ...state, chargerVolt: fact.volt };
    case 'charged':
      return state;
  }
}

function setLinks(open: readonly number[], links: readonly number[], areOpen: boolean): number[] {
  const next = new Set(open);
  for (const link of links) {
    if (areOpen) next.add(link);
    else next.delete(link);
  }
  return [...next].sort((a, b) => a - b);
}

/** Whether a fact touches what a proof of dead rests on: key, 12 V or plug, whichever way. */
export function isTouch(fact: Fact): boolean {
  return fact.kind === 'key' || fact.kind === 'twelveVolt' || fact.kind === 'plug';
}

/** Whether two facts say the same, whoever keeps the parts. */
export function isSameFact(a: Fact, b: Fact): boolean {
  const plain = (fact: Fact): string => JSON.stringify({ ...fact, custody: undefined });
  return plain(a) === plain(b);
}

/**
 * What an act does to vehicle and pack, in the few words that hazards hang on. Facts, openings of a job and, by the profile, parts
 * that come off all speak in effects; whoever listens needs to know no act.
 */
import * as z from 'zod';
import { joinSchema, joinsOfWhole, withLinks, type Join, type StringPlan } from './join.ts';

export const CONTACTORS = ['unknown', 'shut', 'open', 'takenOut'] as const;
/** The main contactors of a pack; `takenOut`: the relay block is off. */
export type Contactors = (typeof CONTACTORS)[number];

/** Car side of the HV cables: `closed` under their covers, `open` bare, `insulated` off the pack, covered and tied back. */
export const CAR_SIDES = ['closed', 'open', 'insulated'] as const;
export type CarSide = (typeof CAR_SIDES)[number];

/**
 * The pack's own HV posts: `covered` where they sit, as long as they sit in the car; `capped` themselves, also on the bench; or `bare`.
 */
export const OUTLETS = ['covered', 'bare', 'capped'] as const;
export type Outlets = (typeof OUTLETS)[number];

export type Effect =
  /** Key, 12 V or plug was moved: what a proof of dead rests on. */
  | { readonly kind: 'touched'; readonly what: 'key'; readonly isAway: boolean; readonly custody: string | null }
  | { readonly kind: 'touched'; readonly what: 'twelveVolt'; readonly isOff: boolean }
  | {
      readonly kind: 'touched';
      readonly what: 'plug';
      readonly isIn: boolean;
      /** Null: nobody said. */
      readonly isLatched: boolean | null;
      readonly custody: string | null;
      /** The link that it opens, as it is joined while it is in; null where it opens none. */
      readonly join: Join | null;
    }
  /** It was said where key or plug is kept; neither was moved. */
  | { readonly kind: 'stowed'; readonly what: 'key' | 'plug'; readonly custody: string }
  | { readonly kind: 'bared'; readonly what: 'carSide'; readonly how: CarSide }
  | { readonly kind: 'bared'; readonly what: 'outletPosts'; readonly are: Outlets }
  | { readonly kind: 'bared'; readonly what: 'case'; readonly isBare: boolean }
  /** Of these joints of the string, ascending. */
  | { readonly kind: 'bared'; readonly what: 'covers'; readonly isBare: boolean; readonly joints: readonly number[] }
  | { readonly kind: 'parted' | 'joined'; readonly what: 'links'; readonly links: readonly Join[] }
  | { readonly kind: 'parted' | 'joined'; readonly what: 'harness' }
  | { readonly kind: 'parted' | 'joined'; readonly what: 'contactors'; readonly are: Contactors }
  /** A source across the ends, null once it is off; or the modules took charge. */
  | { readonly kind: 'charged'; readonly by: 'source'; readonly volt: number | null }
  | { readonly kind: 'charged'; readonly by: 'said' }
  | { readonly kind: 'moved'; readonly what: 'pack'; readonly isOnBench: boolean }
  /** A module came to a place, or the place is empty. */
  | {
      readonly kind: 'moved';
      readonly what: 'module';
      readonly place: number;
      readonly moduleId: string | null;
      readonly isTurned: boolean;
      /** Laid in another order while the pack is put together: it was never far. */
      readonly isLaid: boolean;
    }
  /** Something was seen that only a car or pack shows in which energy flows; `seen` is a sentence without its full stop. */
  | { readonly kind: 'energised'; readonly seen: string }
  /** A voltage across the modules of a run, read by any meter or by the car itself; without its sign. */
  | { readonly kind: 'measured'; readonly from: number; readonly to: number; readonly volt: number }
  /** Time passed since the event before, ISO 8601; comes with every event but the first. */
  | { readonly kind: 'elapsed'; readonly since: string };

export const placeSchema = z.strictObject({
  /** Null: empty, or a module that nobody named. */
  moduleId: z.string().nullable(),
  isTurned: z.boolean(),
  /** `nothing`: stated empty, so that nothing joins its posts; `unknown`: its module was stated elsewhere, and nobody said what is here. */
  holds: z.enum(['module', 'nothing', 'unknown']),
});
/** What sits at a place of the string. */
export type Place = Readonly<z.infer<typeof placeSchema>>;

const UNNAMED: Place = { moduleId: null, isTurned: false, holds: 'module' };
const LEFT: Place = { ...UNNAMED, holds: 'unknown' };

export const packStateSchema = z.strictObject({
  isKeyAway: z.boolean(),
  isTwelveVoltOff: z.boolean(),
  isPlugIn: z.boolean(),
  /** Whether its last movement was made; null where nobody said. */
  isPlugLatched: z.boolean().nullable(),
  /** Where key and plug are kept; null where nobody said. */
  keyCustody: z.string().nullable(),
  plugCustody: z.string().nullable(),
  connectors: z.enum(CAR_SIDES),
  outletPosts: z.enum(OUTLETS),
  contactors: z.enum(CONTACTORS),
  isOnBench: z.boolean(),
  isCaseOpen: z.boolean(),
  /** Joints of the string whose terminal covers are off, ascending; see `jointsOf`. */
  bareJoints: z.array(z.number()).readonly(),
  isHarnessUnplugged: z.boolean(),
  /** Posts that are joined, in string order. */
  joins: z.array(joinSchema).readonly(),
  chargerVolt: z.number().nullable(),
  /** Place 1 first. */
  places: z.array(placeSchema).readonly(),
});
/** How vehicle and pack stand, as stated. */
export type PackState = Readonly<z.infer<typeof packStateSchema>>;

/** A pack in its vehicle, whole and shut, its modules not yet named. */
export function wholePack(profile: StringPlan): PackState {
  return {
    isKeyAway: false,
    isTwelveVoltOff: false,
    isPlugIn: true,
    isPlugLatched: null,
    keyCustody: null,
    plugCustody: null,
    connectors: 'closed',
    outletPosts: 'covered',
    contactors: 'unknown',
    isOnBench: false,
    isCaseOpen: false,
    bareJoints: [],
    isHarnessUnplugged: false,
    joins: joinsOfWhole(profile),
    chargerVolt: null,
    places: Array.from({ length: profile.moduleCount }, () => UNNAMED),
  };
}

/** The state after an effect; an effect that changes nothing gives the state itself or an equal one. */
export function applyEffect(pack: PackState, effect: Effect): PackState {
  switch (effect.kind) {
    case 'touched':
      return applyTouch(pack, effect);
    case 'stowed':
      return effect.what === 'key' ? { ...pack, keyCustody: effect.custody } : { ...pack, plugCustody: effect.custody };
    case 'bared':
      return applyBaring(pack, effect);
    case 'parted':
    case 'joined':
      if (effect.what === 'harness') return { ...pack, isHarnessUnplugged: effect.kind === 'parted' };
      if (effect.what === 'contactors') return { ...pack, contactors: effect.are };
      return { ...pack, joins: withLinks(pack.joins, effect.links, effect.kind === 'joined') };
    case 'charged':
      return effect.by === 'source' ? { ...pack, chargerVolt: effect.volt } : pack;
    case 'moved': {
      if (effect.what === 'pack') return { ...pack, isOnBench: effect.isOnBench };
      const { place, moduleId, isTurned } = effect;
      // a named module is at no other place any more: what is there now, nobody said
      const isElsewhere = (p: Place): boolean => moduleId !== null && p.moduleId === moduleId;
      const holds: Place['holds'] = moduleId === null ? 'nothing' : 'module';
      const places = pack.places.map((p, i) => (i === place - 1 ? { moduleId, isTurned, holds } : isElsewhere(p) ? LEFT : p));
      return { ...pack, places };
    }
    case 'energised':
    case 'measured':
    case 'elapsed':
      return pack;
  }
}

function applyBaring(pack: PackState, effect: Extract<Effect, { kind: 'bared' }>): PackState {
  switch (effect.what) {
    case 'carSide':
      return { ...pack, connectors: effect.how };
    case 'outletPosts':
      return { ...pack, outletPosts: effect.are };
    case 'case':
      return { ...pack, isCaseOpen: effect.isBare };
    case 'covers':
      return { ...pack, bareJoints: withJoints(pack.bareJoints, effect.joints, effect.isBare) };
  }
}

function withJoints(bare: readonly number[], joints: readonly number[], areBare: boolean): number[] {
  const rest = bare.filter((k) => !joints.includes(k));
  return areBare ? [...rest, ...joints].sort((a, b) => a - b) : rest;
}

function applyTouch(pack: PackState, effect: Extract<Effect, { kind: 'touched' }>): PackState {
  switch (effect.what) {
    case 'key':
      return { ...pack, isKeyAway: effect.isAway, keyCustody: effect.custody };
    case 'twelveVolt':
      return { ...pack, isTwelveVoltOff: effect.isOff };
    case 'plug': {
      const { isIn, isLatched, custody, join } = effect;
      const joins = join ? withLinks(pack.joins, [join], isIn) : pack.joins;
      return { ...pack, isPlugIn: isIn, isPlugLatched: isLatched, plugCustody: custody, joins };
    }
  }
}

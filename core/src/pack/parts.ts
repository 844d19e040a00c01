/** What is taken off on the way to the modules: parts by place, the places as they lie, what moves to an exchange pack, the lift. */
import * as z from 'zod';
import { factSchema } from './fact.ts';

const name = z.string().trim().min(1).max(120);
const note = z.string().trim().max(400);
const slug = z
  .string()
  .regex(/^[a-z0-9]+(-[a-z0-9]+)*$/)
  .max(60);

const torqueSchema = z.strictObject({
  newtonMetre: z.number().positive().max(1e6),
  tolerancePercent: z.number().min(0).max(50),
  /** Who gives the figure; the maker's governs. */
  source: z.enum(['maker', 'supplier', 'shop', 'invented']),
});

export const PART_KINDS = ['fastener', 'clip', 'connector', 'cable', 'cover', 'duct', 'bracket', 'bar'] as const;
export type PartKind = (typeof PART_KINDS)[number];

export const BARED = ['carSide', 'case', 'covers', 'outletPosts', 'harnessPins'] as const;
/** What lies open to a finger once any piece of a part is off. */
export type Bared = (typeof BARED)[number];

/** What taking a part off does to what can be touched. */
export const partEffectSchema = z.discriminatedUnion('kind', [
  /** Any piece off counts as off, for the hazard. */
  z.strictObject({
    ...{ kind: z.literal('bares'), what: z.enum(BARED) },
    /** Of terminal covers the joints that they lie over, 0 and the last the ends of the string; every one where it is left out. */
    over: z.array(z.int().min(0).max(200)).min(1).max(201).optional(),
  }),
  /** Parted only when all pieces are off, joined at the first piece back. */
  z.strictObject({ kind: z.literal('partsLinks'), links: z.array(z.int().min(1).max(199)).min(1).max(199) }),
  z.strictObject({ kind: z.literal('partsFrame'), frame: slug }),
  z.strictObject({ kind: z.literal('partsHarness') }),
  /** The pack from its vehicle. */
  z.strictObject({ kind: z.literal('partsMounting') }),
]);
export type PartEffect = z.infer<typeof partEffectSchema>;

/** Parts of one kind at one place: counted out and counted back. */
export const partSchema = z.strictObject({
  id: slug,
  kind: z.enum(PART_KINDS),
  name,
  /** The zone of the vehicle or the layer of the pack that they come off with. */
  place: slug,
  /** Where they sit there, in the words of the trade. */
  where: name,
  /** Across flats, thread or clip size, such as `10 mm`. */
  size: z.string().trim().max(40),
  /** Null: as many as are found. */
  count: z.int().min(1).max(500).nullable(),
  tool: z.string().trim().max(80),
  /** On the way back; null where it is hand-tight, clipped or not known. */
  torque: torqueSchema.nullable(),
  /** Out of sight until something else is off. */
  isHidden: z.boolean(),
  /** What it is mistaken for, or why it is forgotten; empty where neither. */
  caution: note,
  /** Empty: nothing that can be touched hangs on it. */
  effects: z.array(partEffectSchema).max(8),
});
export type Part = z.infer<typeof partSchema>;

/** Length and width of the plan of a vehicle that zones lie on, front to the left; a unit is some 5 cm. */
export const PLAN = { length: 100, width: 44 } as const;

/** A zone of the vehicle, in the order in which it is cleared. */
export const zoneSchema = z.strictObject({
  id: slug,
  name,
  /** On the plan, front to the left. */
  area: z.strictObject({
    x: z.number().min(0).max(PLAN.length),
    y: z.number().min(0).max(PLAN.width),
    length: z.number().positive().max(PLAN.length),
    width: z.number().positive().max(PLAN.width),
  }),
  note,
});
export type Zone = z.infer<typeof zoneSchema>;

/** A layer of the pack, outermost first. */
export const layerSchema = z.strictObject({
  id: slug,
  name,
  /** What can be said of the pack once the layer is off; null where exposure does not hang on it. */
  fact: factSchema.nullable(),
  note,
});
export type Layer = z.infer<typeof layerSchema>;

export const FATES = ['supplied', 'moves', 'stays'] as const;
/** What becomes of a part when the whole pack is exchanged: it comes with the new one, moves across, or stays with the old. */
export type Fate = (typeof FATES)[number];

export const transferSchema = z.strictObject({ id: slug, name, fate: z.enum(FATES), note });
export type Transfer = z.infer<typeof transferSchema>;

export const COUPLINGS = ['good', 'fair', 'poor'] as const;

/** How the pack leaves the vehicle, and the lift as the revised NIOSH equation describes it. */
export const liftSchema = z.strictObject({
  by: z.enum(['twoPeople', 'hoist']),
  /** The way out, and what gets caught on it. */
  path: z.string().trim().min(1).max(400),
  /** Hands in front of the ankles at the worst point of the lift. */
  horizontalCentimetre: z.number().positive().max(200),
  /** Hands above the floor at the start. */
  verticalCentimetre: z.number().min(0).max(250),
  travelCentimetre: z.number().min(0).max(250),
  asymmetryDegree: z.number().min(0).max(180),
  coupling: z.enum(COUPLINGS),
});
export type LiftOut = z.infer<typeof liftSchema>;

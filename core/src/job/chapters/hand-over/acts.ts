/** Acts of the last ten minutes: causes answered, the warranty given, what the report shows, and the old pack on its way back. */
import * as z from 'zod';
import { CONDITION_KINDS } from '../../../warranty/terms.ts';
import { fact, permit, type Trait } from '../chapter.ts';
import { idSchema, place, shortText, text, version } from '../words.ts';

export const CAUSES = ['age', 'heat', 'joint', 'leak', 'wiring', 'handling', 'unknown'] as const;
/** What brought the car in. Several may be true at once. */
export type Cause = (typeof CAUSES)[number];

export const CAUSE_NAMES: Record<Cause, string> = {
  age: 'Cells worn by age and use',
  heat: 'Heat: the cooling did not keep up',
  joint: 'A loose or corroded joint',
  leak: 'Leakage to the case',
  wiring: 'Sense wiring or control unit',
  handling: 'An earlier hand',
  unknown: 'Not found',
};

export const causeSchema = z.strictObject({ cause: z.enum(CAUSES), isAnswered: z.boolean(), how: text.default('') });

/** Photographs that one report shows at most. */
export const MOST_PHOTOS = 100;

export const preparedSchema = z.strictObject({
  photoIds: z
    .array(idSchema)
    .max(MOST_PHOTOS)
    .refine((ids) => new Set(ids).size === ids.length, 'Each photograph once.'),
  /** What the customer reads first. */
  toCustomer: text.default(''),
});

export const givenSchema = z.strictObject({
  months: z.int().min(0).max(240),
  /** Null: without a limit. */
  kilometre: z.int().min(1).max(2_000_000).nullable(),
  words: text.default(''),
});

/** Whose conditions the parts of this job come under. */
export const termsChosenSchema = z.strictObject({ terms: z.strictObject({ id: idSchema, version }).nullable() });

const money = z.number().min(0).max(10_000_000);

export const CORE_KINDS = ['pack', 'modules'] as const;
export const agreedSchema = z.strictObject({
  supplier: shortText,
  what: z.enum(CORE_KINDS),
  /** Packs, or loose modules. */
  count: z.int().min(1).max(999),
  deposit: money,
  shipBy: z.iso.date(),
});

export const CORE_CHECKS = ['cartonKept', 'bagsKept', 'whole', 'sameType', 'postsInsulated', 'cablesInsulated', 'cartonUnmarked'] as const;
export type CoreCheck = (typeof CORE_CHECKS)[number];
export const CORE_CHECK_NAMES: Record<CoreCheck, string> = {
  cartonKept: 'The carton that the other came in',
  bagsKept: 'Its bags and inlays',
  whole: 'Whole, nothing taken out of it',
  sameType: 'Of the type that was bought',
  postsInsulated: 'Every post insulated',
  cablesInsulated: 'Every cable end insulated',
  cartonUnmarked: 'Nothing written on the carton',
};

export const shippedSchema = z.strictObject({ on: z.iso.date(), count: z.int().min(1).max(999), carrier: text.default('') });
export const settledSchema = z.strictObject({
  outcome: z.enum(['credited', 'disputed', 'refused']),
  credit: money,
  note: text.default(''),
});

export const offeredSchema = z.strictObject({ what: shortText, answer: z.enum(['open', 'accepted', 'refused']), note: text.default('') });

export const returnCauseSchema = z.strictObject({
  what: z.enum(['module', 'joint', 'cooling', 'hand', 'other']),
  /** Of the module or the joint; null where it is about none. */
  at: place.nullable(),
  note: text.default(''),
});

export const HAND_OVER_ACTS = [
  z.strictObject({ type: z.literal('cause.answered'), body: causeSchema }),
  z.strictObject({ type: z.literal('report.prepared'), body: preparedSchema }),
  z.strictObject({ type: z.literal('warranty.given'), body: givenSchema }),
  z.strictObject({ type: z.literal('terms.chosen'), body: termsChosenSchema }),
  /** What no record of the job tells of a supplier's conditions: said by a person. */
  z.strictObject({
    type: z.literal('terms.met'),
    body: z.strictObject({ condition: z.enum(CONDITION_KINDS), isMet: z.boolean(), note: text.default('') }),
  }),
  z.strictObject({ type: z.literal('core.agreed'), body: agreedSchema }),
  z.strictObject({ type: z.literal('core.checked'), body: z.strictObject({ check: z.enum(CORE_CHECKS), isGood: z.boolean() }) }),
  z.strictObject({ type: z.literal('core.shipped'), body: shippedSchema }),
  z.strictObject({ type: z.literal('core.settled'), body: settledSchema }),
  z.strictObject({ type: z.literal('accessory.offered'), body: offeredSchema }),
  z.strictObject({ type: z.literal('comeback.explained'), body: returnCauseSchema }),
] as const;
export type HandOverAct = z.infer<(typeof HAND_OVER_ACTS)[number]>;

const seen = { isTakenBack: true, stage: 'handOver' } as const;
/** Also long before and long after: the job stays at its stage. */
const anytime = { isTakenBack: true } as const;

export const HAND_OVER_TRAITS = {
  'cause.answered': fact('answers a cause', seen),
  'report.prepared': fact('prepares the report', seen),
  'warranty.given': permit('gives the warranty', 'technician', { stage: 'handOver' }),
  'terms.chosen': permit('chooses whose conditions hold', 'technician'),
  'terms.met': fact('says whether a condition is met', anytime),
  'core.agreed': fact('notes what goes back to a supplier', anytime),
  'core.checked': fact('looks at what goes back before it is packed', anytime),
  'core.shipped': fact('ships what goes back', anytime),
  'core.settled': fact('settles what came of the deposit', anytime),
  'accessory.offered': fact('offers an accessory', anytime),
  'comeback.explained': fact('says why a job came back', anytime),
} satisfies Record<HandOverAct['type'], Trait>;

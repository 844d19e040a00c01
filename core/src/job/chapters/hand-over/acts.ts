/** Acts of the last ten minutes: causes answered, the warranty given, what the report shows, and the old pack on its way back. */
import * as z from 'zod';
import { CONDITION_KINDS } from '../../../warranty/terms.ts';
import { fact, permit } from '../chapter.ts';
import type { ActOf, Table } from '../table.ts';
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

const seen = { isTakenBack: true, stage: 'handOver' } as const;
/** Also long before and long after: the job stays at its stage. */
const anytime = { isTakenBack: true } as const;

/** Every act of this chapter. */
export const HAND_OVER = {
  'cause.answered': { body: causeSchema, trait: fact('answers a cause', seen), effects: 'none', kept: 'causes' },
  'report.prepared': { body: preparedSchema, trait: fact('prepares the report', seen), effects: 'none', kept: 'prepared' },
  'warranty.given': {
    body: givenSchema,
    trait: permit('gives the warranty', 'technician', { stage: 'handOver' }),
    effects: 'none',
    kept: 'given',
  },
  'terms.chosen': { body: termsChosenSchema, trait: permit('chooses whose conditions hold', 'technician'), effects: 'none', kept: 'terms' },
  /** What no record of the job tells of a supplier's conditions: said by a person. */
  'terms.met': {
    body: z.strictObject({ condition: z.enum(CONDITION_KINDS), isMet: z.boolean(), note: text.default('') }),
    trait: fact('says whether a condition is met', anytime),
    effects: 'none',
    kept: 'met',
  },
  'core.agreed': { body: agreedSchema, trait: fact('notes what goes back to a supplier', anytime), effects: 'none', kept: 'agreed' },
  'core.checked': {
    body: z.strictObject({ check: z.enum(CORE_CHECKS), isGood: z.boolean() }),
    trait: fact('looks at what goes back before it is packed', anytime),
    effects: 'none',
    kept: 'checked',
  },
  'core.shipped': { body: shippedSchema, trait: fact('ships what goes back', anytime), effects: 'none', kept: 'shipped' },
  'core.settled': { body: settledSchema, trait: fact('settles what came of the deposit', anytime), effects: 'none', kept: 'settled' },
  'accessory.offered': { body: offeredSchema, trait: fact('offers an accessory', anytime), effects: 'none', kept: 'offered' },
  'comeback.explained': { body: returnCauseSchema, trait: fact('says why a job came back', anytime), effects: 'none', kept: 'explained' },
} as const satisfies Table;
export type HandOverAct = ActOf<typeof HAND_OVER>;

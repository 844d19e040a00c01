/** Acts of cooling: what was found along the air path, what was cleaned, the fan on its bench, and when to look again. */
import * as z from 'zod';
import { AIR_CHECKS, AIR_WORDS } from '../../../cool/air-words.ts';
import { USES } from '../../../cool/interval.ts';
import { fact } from '../chapter.ts';
import type { ActOf, Table } from '../table.ts';
import { text } from '../words.ts';

/** Which part of the profile's air path, from 0 in the order of the flow. */
const part = z.int().min(0).max(200);

const when = z.enum(['asFound', 'after']);

export const foundSchema = z.strictObject({
  part,
  when,
  /** Share that is shut; what lets nothing through at all counts as 0.99. */
  blockedShare: z.number().min(0).max(0.99),
  note: text.default(''),
});

/** What it is made of and whether it is crushed, or which screen or filter there is. */
export const toldSchema = z.strictObject({ part, word: z.enum(AIR_WORDS) });

const celsius = z.number().min(-60).max(200);

/** Three thermometers while the fan runs: what part of the air at the intake came out of the pack. */
export const returnedSchema = z.strictObject({ when, cabinCelsius: celsius, inletCelsius: celsius, outletCelsius: celsius });

/** A steady drive: its current, root mean square, and how far the air warmed from intake to outlet. */
export const drivenSchema = z.strictObject({ when, ampere: z.number().positive().max(1000), riseKelvin: z.number().positive().max(150) });

export const CLEANING_SCHOOLS = ['dry', 'air', 'washed', 'renewed'] as const;
/** Brushes and swabs; compressed air with the housing open; the wheel washed with its motor off; or a new part. */
export type CleaningSchool = (typeof CLEANING_SCHOOLS)[number];
export const cleanedSchema = z.strictObject({ part, school: z.enum(CLEANING_SCHOOLS), note: text.default('') });

export const FAN_NOISES = ['none', 'rough', 'grinding'] as const;
/** The fan on 12 V, pins and polarity by the profile. */
export const fanSchema = z.strictObject({
  part,
  spins: z.boolean(),
  noise: z.enum(FAN_NOISES),
  hasPlay: z.boolean(),
  /** Where it begins to turn; null where nobody turned the voltage up. */
  startVolt: z.number().min(0).max(60).nullable(),
});

/** The fan over the voltage: what it draws and what it moves. */
export const curveSchema = z.strictObject({
  part,
  points: z
    .array(
      z.strictObject({
        volt: z.number().positive().max(60),
        ampere: z.number().min(0).max(100),
        cubicMetrePerHour: z.number().min(0).max(5000),
      }),
    )
    .min(1)
    .max(40)
    .refine((points) => new Set(points.map((p) => p.volt)).size === points.length, 'Each voltage once.'),
});

export const lookSchema = z.strictObject({
  months: z.number().min(0.5).max(60),
  /** Until the pack is opened for its cells; null where it is not for that alone. */
  stripMonths: z.number().min(0.5).max(240).nullable(),
  uses: z.array(z.enum(USES)).max(USES.length),
});

const seen = { isTakenBack: true, stage: 'cool' } as const;

/** Every act of this chapter. */
export const COOL = {
  'air.found': { body: foundSchema, trait: fact('looks along the air path', seen), effects: 'none', kept: 'found' },
  'air.cleaned': { body: cleanedSchema, trait: fact('cleans a part of the air path', seen), effects: 'none', kept: 'cleaned' },
  'air.told': { body: toldSchema, trait: fact('says what a part of the air path is', seen), effects: 'none', kept: 'told' },
  'air.returned': { body: returnedSchema, trait: fact('measures the air that comes back', seen), effects: 'none', kept: 'returned' },
  'air.driven': { body: drivenSchema, trait: fact('measures the air on a drive', seen), effects: 'none', kept: 'driven' },
  'air.checked': {
    body: z.strictObject({ check: z.enum(AIR_CHECKS), isGood: z.boolean() }),
    trait: fact('looks before the air path is shut', seen),
    effects: 'none',
    kept: 'checked',
  },
  'fan.tested': { body: fanSchema, trait: fact('tests a fan on its bench', seen), effects: 'none', kept: 'fans' },
  'fan.measured': { body: curveSchema, trait: fact('measures a fan over the voltage', seen), effects: 'none', kept: 'curves' },
  'cooling.judged': {
    body: z.strictObject({ isAnswered: z.boolean(), note: text.default('') }),
    trait: fact('says whether the cooling answers the damage', seen),
    effects: 'none',
    kept: 'judged',
  },
  'look.set': { body: lookSchema, trait: fact('sets the next look', seen), effects: 'none', kept: 'looks' },
} as const satisfies Table;
export type CoolAct = ActOf<typeof COOL>;

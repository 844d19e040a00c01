/** Acts of cooling: what was found along the air path, what was cleaned, the fan on its bench, and when to look again. */
import * as z from 'zod';
import { AIR_CHECKS, AIR_WORDS } from '../../../cool/air-words.ts';
import { USES } from '../../../cool/interval.ts';
import { fact, type Trait } from '../chapter.ts';
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

export const COOL_ACTS = [
  z.strictObject({ type: z.literal('air.found'), body: foundSchema }),
  z.strictObject({ type: z.literal('air.cleaned'), body: cleanedSchema }),
  z.strictObject({ type: z.literal('air.told'), body: toldSchema }),
  z.strictObject({ type: z.literal('air.returned'), body: returnedSchema }),
  z.strictObject({ type: z.literal('air.driven'), body: drivenSchema }),
  z.strictObject({ type: z.literal('air.checked'), body: z.strictObject({ check: z.enum(AIR_CHECKS), isGood: z.boolean() }) }),
  z.strictObject({ type: z.literal('fan.tested'), body: fanSchema }),
  z.strictObject({ type: z.literal('fan.measured'), body: curveSchema }),
  z.strictObject({ type: z.literal('cooling.judged'), body: z.strictObject({ isAnswered: z.boolean(), note: text.default('') }) }),
  z.strictObject({ type: z.literal('look.set'), body: lookSchema }),
] as const;
export type CoolAct = z.infer<(typeof COOL_ACTS)[number]>;

const seen = { isTakenBack: true, stage: 'cool' } as const;

export const COOL_TRAITS = {
  'air.found': fact('looks along the air path', seen),
  'air.cleaned': fact('cleans a part of the air path', seen),
  'air.told': fact('says what a part of the air path is', seen),
  'air.returned': fact('measures the air that comes back', seen),
  'air.driven': fact('measures the air on a drive', seen),
  'air.checked': fact('looks before the air path is shut', seen),
  'fan.measured': fact('measures a fan over the voltage', seen),
  'fan.tested': fact('tests a fan on its bench', seen),
  'cooling.judged': fact('says whether the cooling answers the damage', seen),
  'look.set': fact('sets the next look', seen),
} satisfies Record<CoolAct['type'], Trait>;

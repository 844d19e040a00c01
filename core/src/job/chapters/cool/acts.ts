/** Acts of cooling: what was found along the air path, what was cleaned, the fan on its bench, and when to look again. */
import * as z from 'zod';
import { USES } from '../../../cool/interval.ts';
import { fact, type Trait } from '../chapter.ts';
import { text } from '../words.ts';

/** Which part of the profile's air path, from 0 in the order of the flow. */
const part = z.int().min(0).max(200);

export const foundSchema = z.strictObject({
  part,
  when: z.enum(['asFound', 'after']),
  /** Share that is shut; what lets nothing through at all counts as 0.99. */
  blockedShare: z.number().min(0).max(0.99),
  note: text.default(''),
});

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

export const lookSchema = z.strictObject({ months: z.number().min(0.5).max(60), uses: z.array(z.enum(USES)).max(USES.length) });

export const COOL_ACTS = [
  z.strictObject({ type: z.literal('air.found'), body: foundSchema }),
  z.strictObject({ type: z.literal('air.cleaned'), body: cleanedSchema }),
  z.strictObject({ type: z.literal('fan.tested'), body: fanSchema }),
  z.strictObject({ type: z.literal('cooling.judged'), body: z.strictObject({ isAnswered: z.boolean(), note: text.default('') }) }),
  z.strictObject({ type: z.literal('look.set'), body: lookSchema }),
] as const;
export type CoolAct = z.infer<(typeof COOL_ACTS)[number]>;

const seen = { isTakenBack: true, stage: 'cool' } as const;

export const COOL_TRAITS = {
  'air.found': fact('looks along the air path', seen),
  'air.cleaned': fact('cleans a part of the air path', seen),
  'fan.tested': fact('tests a fan on its bench', seen),
  'cooling.judged': fact('says whether the cooling answers the damage', seen),
  'look.set': fact('sets the next look', seen),
} satisfies Record<CoolAct['type'], Trait>;

/** The slice of handing over: what was said, in the order kept; the last word on each counts. */
import * as z from 'zod';
import { CONDITION_KINDS } from '../../../warranty/terms.ts';
import { markSchema } from '../chapter.ts';
import {
  agreedSchema,
  causeSchema,
  CORE_CHECKS,
  givenSchema,
  offeredSchema,
  preparedSchema,
  returnCauseSchema,
  settledSchema,
  shippedSchema,
  termsChosenSchema,
} from './acts.ts';

const kept = { ...markSchema.shape, commandId: z.string() };

export const handOverStateSchema = z.strictObject({
  causes: z.array(z.strictObject({ ...kept, ...causeSchema.shape })),
  prepared: z.array(z.strictObject({ ...kept, ...preparedSchema.shape })),
  given: z.array(z.strictObject({ ...kept, ...givenSchema.shape })),
  terms: z.array(z.strictObject({ ...kept, ...termsChosenSchema.shape })),
  met: z.array(z.strictObject({ ...kept, condition: z.enum(CONDITION_KINDS), isMet: z.boolean(), note: z.string() })),
  agreed: z.array(z.strictObject({ ...kept, ...agreedSchema.shape })),
  checked: z.array(z.strictObject({ ...kept, check: z.enum(CORE_CHECKS), isGood: z.boolean() })),
  shipped: z.array(z.strictObject({ ...kept, ...shippedSchema.shape })),
  settled: z.array(z.strictObject({ ...kept, ...settledSchema.shape })),
  offered: z.array(z.strictObject({ ...kept, ...offeredSchema.shape })),
  explained: z.array(z.strictObject({ ...kept, ...returnCauseSchema.shape })),
});
export type HandOverState = z.output<typeof handOverStateSchema>;

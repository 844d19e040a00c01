/** The slice of the plan. */
import * as z from 'zod';
import { markSchema } from '../chapter.ts';
import { planSchema } from './acts.ts';

const chosen = z.strictObject({ ...markSchema.shape, ...planSchema.shape, planId: z.string() });
export type ChosenPlan = z.infer<typeof chosen>;

export const planStateSchema = z.strictObject({
  /** Null while none stands. */
  chosen: chosen.nullable(),
});
export type PlanState = z.infer<typeof planStateSchema>;

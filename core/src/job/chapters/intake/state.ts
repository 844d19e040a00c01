/** The slice of intake: what was opened, and whether it is closed. */
import * as z from 'zod';
import { markSchema } from '../chapter.ts';
import { jobOpenedSchema, OUTCOMES, useSchema } from './acts.ts';

const markShape = markSchema.shape;

export const intakeSchema = z.strictObject({
  /** Null before the job is opened. */
  opened: z.strictObject({ ...jobOpenedSchema.omit({ moduleIds: true }).shape, by: z.string(), at: z.string() }).nullable(),
  /** Null while the job is open. */
  closed: z.strictObject({ ...markShape, outcome: z.enum(OUTCOMES), note: z.string(), unmet: z.array(z.string()) }).nullable(),
  /** Ids of the rows that a correction took the place of. */
  before: z.strictObject({ vehicles: z.array(z.string()), customers: z.array(z.string()) }),
  /** The latest word on how the vehicle is used; null where nobody asked. */
  use: z.strictObject({ ...markShape, ...useSchema.shape }).nullable(),
  /** When it was closed, each time, by the server's clock. */
  closings: z.array(z.string()),
  reopened: z.array(z.strictObject({ ...markShape, reason: z.string() })),
});
export type IntakeState = z.infer<typeof intakeSchema>;

/** The slice of findings and photographs. */
import * as z from 'zod';
import { markSchema } from '../chapter.ts';
import { findingSchema, photoSchema } from './acts.ts';

const mark = markSchema.shape;

const noted = z.strictObject({
  ...mark,
  ...findingSchema.shape,
  findingId: z.string(),
  settled: z.strictObject({ ...mark, note: z.string() }).nullable(),
});
export type Finding = z.infer<typeof noted>;

const taken = z.strictObject({ ...mark, ...photoSchema.shape, erased: z.strictObject({ ...mark, reason: z.string() }).nullable() });
export type Photo = z.infer<typeof taken>;

export const findingStateSchema = z.strictObject({ findings: z.array(noted), photos: z.array(taken) });
export type FindingState = z.infer<typeof findingStateSchema>;

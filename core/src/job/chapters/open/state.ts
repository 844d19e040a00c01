/** The slice of the opened pack: how it lay, and which module was where when. */
import * as z from 'zod';
import { orientationSchema } from '../../../pack/orientation.ts';
import { markSchema } from '../chapter.ts';

const mark = markSchema.shape;

export const openStateSchema = z.strictObject({
  orientation: z.strictObject({ ...mark, ...orientationSchema.shape }).nullable(),
  released: markSchema.nullable(),
  /** Every coming and going of modules at a place after the job was opened, in the order kept; `was` sat there before. */
  history: z.array(
    z.strictObject({ ...mark, place: z.int(), was: z.string().nullable(), moduleId: z.string().nullable(), isTurned: z.boolean() }),
  ),
});
export type OpenState = z.infer<typeof openStateSchema>;

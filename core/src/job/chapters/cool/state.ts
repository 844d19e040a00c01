/** The slice of cooling: what was found, cleaned and tested, in the order kept. */
import * as z from 'zod';
import { markSchema } from '../chapter.ts';
import { cleanedSchema, fanSchema, foundSchema, lookSchema } from './acts.ts';

const kept = { ...markSchema.shape, commandId: z.string() };

export const coolStateSchema = z.strictObject({
  found: z.array(z.strictObject({ ...kept, ...foundSchema.shape })),
  cleaned: z.array(z.strictObject({ ...kept, ...cleanedSchema.shape })),
  fans: z.array(z.strictObject({ ...kept, ...fanSchema.shape })),
  judged: z.array(z.strictObject({ ...kept, isAnswered: z.boolean(), note: z.string() })),
  looks: z.array(z.strictObject({ ...kept, ...lookSchema.shape })),
});
export type CoolState = z.output<typeof coolStateSchema>;

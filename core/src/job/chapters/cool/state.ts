/** The slice of cooling: what was found, cleaned and tested, in the order kept. */
import * as z from 'zod';
import { markSchema } from '../chapter.ts';
import { AIR_CHECKS } from '../../../cool/air-words.ts';
import { cleanedSchema, curveSchema, drivenSchema, fanSchema, foundSchema, lookSchema, returnedSchema, toldSchema } from './acts.ts';

const kept = { ...markSchema.shape, commandId: z.string() };

export const coolStateSchema = z.strictObject({
  found: z.array(z.strictObject({ ...kept, ...foundSchema.shape })),
  cleaned: z.array(z.strictObject({ ...kept, ...cleanedSchema.shape })),
  told: z.array(z.strictObject({ ...kept, ...toldSchema.shape })),
  returned: z.array(z.strictObject({ ...kept, ...returnedSchema.shape })),
  driven: z.array(z.strictObject({ ...kept, ...drivenSchema.shape })),
  checked: z.array(z.strictObject({ ...kept, check: z.enum(AIR_CHECKS), isGood: z.boolean() })),
  curves: z.array(z.strictObject({ ...kept, ...curveSchema.shape })),
  fans: z.array(z.strictObject({ ...kept, ...fanSchema.shape })),
  judged: z.array(z.strictObject({ ...kept, isAnswered: z.boolean(), note: z.string() })),
  looks: z.array(z.strictObject({ ...kept, ...lookSchema.shape })),
});
export type CoolState = z.output<typeof coolStateSchema>;

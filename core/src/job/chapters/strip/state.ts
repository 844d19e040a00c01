/** The slice of what came off. */
import * as z from 'zod';
import { FATES, partSchema } from '../../../pack/parts.ts';
import type { Profile } from '../../../pack/profile.ts';
import type { Part } from '../../../pack/parts.ts';
import { markSchema } from '../chapter.ts';
import { entriesOf } from '../words.ts';
import { keptLists } from '../table.ts';
import { liftPlanSchema, movementSchema, STRIP } from './acts.ts';

const mark = markSchema.shape;
const commandId = z.string();

export const stripStateSchema = z.strictObject({
  added: z.array(z.strictObject({ ...mark, part: partSchema.extend({ id: z.string() }), isForeign: z.boolean(), isProposed: z.boolean() })),
  moved: z.array(z.strictObject({ ...mark, ...movementSchema.shape, commandId })),
  ...keptLists(STRIP),
  /** By the part of the exchange. */
  transfers: entriesOf(z.strictObject({ ...mark, fate: z.enum(FATES), isDone: z.boolean() })),
  lift: z.strictObject({ ...markSchema.omit({ by: true }).shape, ...liftPlanSchema.shape, plannedBy: z.string() }).nullable(),
});
export type StripState = z.infer<typeof stripStateSchema>;

/** Parts of the profile, then those found in the work. */
export function knownParts({ strip }: { readonly strip: StripState }, profile: Profile): readonly Part[] {
  return [...profile.parts, ...strip.added.map((a) => a.part)];
}

/** The slice of refit and wake: what was said, in the order kept. */
import * as z from 'zod';
import { keptLists } from '../table.ts';
import { REFIT } from './acts.ts';

export const refitStateSchema = z.strictObject({
  ...keptLists(REFIT),
  /** Numbers of the events that last moved 12 V or plug, last brought the pack back into its car, and last opened HV connectors; 0 for none. */
  touched: z.int(),
  lifted: z.int(),
  bared: z.int(),
});
export type RefitState = z.output<typeof refitStateSchema>;

/** The slice of refit and wake: what was said, in the order kept. */
import * as z from 'zod';
import { markSchema } from '../chapter.ts';
import {
  checkedSchema,
  drainedSchema,
  drivenSchema,
  lentSchema,
  scannedSchema,
  SPARKS,
  testedSchema,
  tightenedSchema,
  triedSchema,
} from './acts.ts';

const kept = { ...markSchema.shape, commandId: z.string() };

export const refitStateSchema = z.strictObject({
  checked: z.array(z.strictObject({ ...kept, ...checkedSchema.shape })),
  tightened: z.array(z.strictObject({ ...kept, ...tightenedSchema.shape })),
  tested: z.array(z.strictObject({ ...kept, ...testedSchema.shape })),
  sparks: z.array(z.strictObject({ ...kept, spark: z.enum(SPARKS) })),
  tried: z.array(z.strictObject({ ...kept, ...triedSchema.shape })),
  scanned: z.array(z.strictObject({ ...kept, ...scannedSchema.shape })),
  cleared: z.array(z.strictObject({ ...kept, reader: z.string() })),
  drained: z.array(z.strictObject({ ...kept, ...drainedSchema.shape })),
  driven: z.array(z.strictObject({ ...kept, ...drivenSchema.shape })),
  lent: z.array(z.strictObject({ ...kept, ...lentSchema.shape })),
  /** Numbers of the events that last moved 12 V or plug, last brought the pack back into its car, and last opened HV connectors; 0 for none. */
  touched: z.int(),
  lifted: z.int(),
  bared: z.int(),
});
export type RefitState = z.output<typeof refitStateSchema>;

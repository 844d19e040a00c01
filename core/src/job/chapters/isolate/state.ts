/** The slice of isolation: what was done to make the vehicle dead. */
import * as z from 'zod';
import { PROOF_ENTRIES } from '../../../isolate/proof.ts';
import { markSchema } from '../chapter.ts';
import { entriesOf } from '../words.ts';
import { gearPickedSchema, insulationSchema, insulationTestSchema, proofStartedSchema } from './acts.ts';

const mark = markSchema.shape;
const reason = z.string();

const takenReading = z.strictObject({
  entry: z.enum(PROOF_ENTRIES),
  volt: z.number(),
  /** When it was read by the device's corrected clock, and kept by the server's; epoch milliseconds. */
  readAt: z.number(),
  keptAt: z.number(),
  number: z.int(),
  commandId: z.string(),
  by: z.string(),
  isFromMeter: z.boolean(),
});

const proofRecord = z.strictObject({
  ...mark,
  ...proofStartedSchema.shape,
  proofId: z.string(),
  readings: z.array(takenReading),
  asked: markSchema.nullable(),
  signed: z.strictObject({ ...mark, until: z.string().nullable(), breakMinute: z.int() }).nullable(),
  lapsed: z.strictObject({ at: z.string(), number: z.int(), reason }).nullable(),
});
/** One go at proving dead. It lowers the line only while signed and not lapsed. */
export type ProofRecord = z.infer<typeof proofRecord>;

const insulation = z.union([
  z.strictObject({ ...mark, read: insulationSchema }),
  z.strictObject({ ...mark, tested: insulationTestSchema }),
]);

export const isolateStateSchema = z.strictObject({
  /** Steps said to be done that no fact tells. */
  steps: entriesOf(z.strictObject({ ...mark, note: z.string() })),
  picks: z.array(z.strictObject({ ...mark, ...gearPickedSchema.shape })),
  lengthened: z.array(z.strictObject({ ...mark, minute: z.int(), reason })),
  overrides: z.array(z.strictObject({ ...mark, stepId: z.string(), reason })),
  proofs: z.array(proofRecord),
  insulation: z.array(insulation),
  /** Who last touched each; null while nobody did. */
  touches: z.strictObject({ key: markSchema.nullable(), twelveVolt: markSchema.nullable(), plug: markSchema.nullable() }),
  /** When the plug came out and the 12 V off, by the server's clock; null while in place. */
  plugOutAt: z.string().nullable(),
  twelveVoltOffAt: z.string().nullable(),
  /** Number of the event that last touched plug, 12 V or key. */
  touchedNumber: z.int(),
});
export type IsolateState = z.infer<typeof isolateStateSchema>;

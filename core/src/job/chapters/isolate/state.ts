/** The slice of isolation: what was done to make the vehicle dead. */
import * as z from 'zod';
import { PROOF_ENTRIES } from '../../../isolate/proof.ts';
import { markSchema } from '../chapter.ts';
import { stampSchema } from '../stamp.ts';
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
  /** For telling whether something was touched after it. */
  stamp: stampSchema,
});

const proofRecord = z.strictObject({
  ...mark,
  ...proofStartedSchema.shape,
  proofId: z.string(),
  /** When it was begun. */
  stamp: stampSchema,
  readings: z.array(takenReading),
  asked: markSchema.nullable(),
  signed: z
    .strictObject({
      ...mark,
      until: z.string().nullable(),
      breakMinute: z.int(),
      /** Highest at the posts when it was signed; what is read later may raise it, never lower it. */
      volt: z.number(),
      /** Taken at the pack’s own posts, or before the cables were off and insulated. */
      isOutletToo: z.boolean(),
    })
    .nullable(),
  lapsed: z.strictObject({ at: z.string(), number: z.int(), reason }).nullable(),
});
/** One go at proving dead. It lowers the line only while signed and not lapsed. */
export type ProofRecord = z.infer<typeof proofRecord>;

const insulation = z.union([
  z.strictObject({ ...mark, isAcJoined: z.boolean(), read: insulationSchema }),
  z.strictObject({ ...mark, isAcJoined: z.boolean(), tested: insulationTestSchema }),
]);

export const isolateStateSchema = z.strictObject({
  /** Steps said to be done that no fact tells. */
  steps: entriesOf(z.strictObject({ ...mark, note: z.string() })),
  picks: z.array(z.strictObject({ ...mark, ...gearPickedSchema.shape })),
  lengthened: z.array(z.strictObject({ ...mark, minute: z.int(), reason })),
  overrides: z.array(z.strictObject({ ...mark, stepId: z.string(), reason })),
  proofs: z.array(proofRecord),
  /** Readings whose proof was not told of yet: they prove nothing, and may end what stands. */
  orphans: z.array(takenReading.extend({ proofId: z.string() })),
  /** `isAcJoined`: the cables joined it to the inverter, so the higher resistance is asked for. */
  insulation: z.array(insulation),
  /** Who last touched each; null while nobody did. */
  touches: z.strictObject({ key: markSchema.nullable(), twelveVolt: markSchema.nullable(), plug: markSchema.nullable() }),
  /** When the plug came out and the 12 V off, by the server's clock; null while in place. */
  plugOutAt: z.string().nullable(),
  twelveVoltOffAt: z.string().nullable(),
  /** When energy was or may have been switched, the last of it, with what was done as a sentence: readings before it prove nothing. */
  touched: z.array(stampSchema.extend({ what: z.string() })),
  /** Times in which nothing was recorded, each longer than those after it; `number` is the event that ended it. */
  gaps: z.array(z.strictObject({ number: z.int(), minute: z.number() })),
  /** Number of the event that last ended a shift; 0 for none. */
  shiftNumber: z.int(),
});
export type IsolateState = z.infer<typeof isolateStateSchema>;

/** Acts of the ledger, the exchange and the lift. */
import * as z from 'zod';
import { CONDITIONS, spotSchema } from '../../../ledger/spot.ts';
import { FATES, PART_KINDS, partSchema } from '../../../pack/parts.ts';
import { fact, permit, type Trait } from '../chapter.ts';
import { count, idSchema as id, reason, stage, text } from '../words.ts';

export const liftPlanSchema = z.strictObject({
  by: z.enum(['twoPeople', 'hoist']),
  /** Who holds the other side, or which hoist. */
  with: z.string().trim().min(1).max(120),
  /** The way out was looked at for cables that catch. */
  isPathClear: z.boolean(),
  note: text,
});

export const movementSchema = z.strictObject({
  ...{ stage, partId: id, count, from: spotSchema, to: spotSchema, condition: z.enum(CONDITIONS) },
});

export const leftOffSchema = z.strictObject({ partId: id, count, reason, followUp: z.string().trim().min(1).max(400) });

export const STRIP_ACTS = [
  /** A part that the profile does not know, found in the work. Its id is the command's. */
  z.strictObject({
    type: z.literal('part.added'),
    body: z.strictObject({
      stage,
      kind: z.enum(PART_KINDS),
      ...{ name: partSchema.shape.name, place: partSchema.shape.place, where: partSchema.shape.where, size: partSchema.shape.size },
      count: count.nullable(),
      isHidden: z.boolean(),
      /** Put in by an earlier hand; not of this vehicle. */
      isForeign: z.boolean(),
      /** Proposed to the profile for the next job. */
      isProposed: z.boolean(),
    }),
  }),
  z.strictObject({ type: z.literal('part.moved'), body: movementSchema }),
  /** Left off knowingly: who signs answers for it. */
  z.strictObject({ type: z.literal('part.leftOff'), body: leftOffSchema }),
  z.strictObject({
    type: z.literal('transfer.stated'),
    body: z.strictObject({ transferId: id, fate: z.enum(FATES), isDone: z.boolean() }),
  }),
  z.strictObject({ type: z.literal('lift.planned'), body: liftPlanSchema }),
] as const;
export type StripAct = z.infer<(typeof STRIP_ACTS)[number]>;

export const STRIP_TRAITS = {
  'part.added': fact('adds a part', { isTakenBack: true, stage: 'body' }),
  'part.moved': fact('moves parts', { isTakenBack: true, stage: 'body' }),
  'part.leftOff': permit('signs for what is left off', 'technician', { isTakenBack: true }),
  'transfer.stated': fact('says what becomes of a part'),
  'lift.planned': fact('plans the lift', { stage: 'strip' }),
} satisfies Record<StripAct['type'], Trait>;

/** Acts of the ledger, the exchange and the lift. */
import * as z from 'zod';
import { CONDITIONS, spotSchema } from '../../../ledger/spot.ts';
import { FATES, PART_KINDS, partSchema } from '../../../pack/parts.ts';
import { fact, permit } from '../chapter.ts';
import type { ActOf, Table } from '../table.ts';
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

/** Every act of this chapter. */
export const STRIP = {
  /** A part that the profile does not know, found in the work. Its id is the command's. */
  'part.added': {
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
    trait: fact('adds a part', { isTakenBack: true, stage: 'body' }),
    effects: 'none',
    kept: null,
  },
  'part.moved': { body: movementSchema, trait: fact('moves parts', { isTakenBack: true, stage: 'body' }), effects: 'none', kept: null },
  /** Left off knowingly: who signs answers for it. */
  'part.leftOff': {
    body: leftOffSchema,
    trait: permit('signs for what is left off', 'technician', { isTakenBack: true }),
    effects: 'none',
    kept: 'leftOff',
  },
  'transfer.stated': {
    body: z.strictObject({ transferId: id, fate: z.enum(FATES), isDone: z.boolean() }),
    trait: fact('says what becomes of a part'),
    effects: 'none',
    kept: null,
  },
  'lift.planned': { body: liftPlanSchema, trait: fact('plans the lift', { stage: 'strip' }), effects: 'none', kept: null },
} as const satisfies Table;
export type StripAct = ActOf<typeof STRIP>;

/** Acts of choosing how the pack is repaired. */
import * as z from 'zod';
import { permit, type Trait } from '../chapter.ts';
import { idSchema, place } from '../words.ts';

export const SCHOOLS = ['matchedSet', 'spotRepair', 'spotRepairReordered', 'exchangePack'] as const;
export type School = (typeof SCHOOLS)[number];

export const SCHOOL_NAMES: Record<School, string> = {
  matchedSet: 'Whole matched set',
  spotRepair: 'Spot repair in place',
  spotRepairReordered: 'Spot repair, re-ordered',
  exchangePack: 'Exchange pack',
};

export const planSchema = z.strictObject({
  school: z.enum(SCHOOLS),
  /** Module ids in place order; empty for an exchange pack. */
  moduleIds: z.array(idSchema).max(200),
  /** Which of them come from the shelf. */
  fromShelf: z.array(idSchema).max(200),
  // the rest is computed where the plan is kept, whatever was sent
  rangeAh: z.number().min(0).nullable().default(null),
  lowerBoundAh: z.number().nullable().default(null),
  proven: z.boolean().default(false),
  blockMeanAh: z.array(z.number()).max(200).default([]),
  /** Places whose capacity was taken from the others because it was not measured. */
  assumedPlaces: z.array(place).max(200).default([]),
});

export const PLAN_ACTS = [
  z.strictObject({ type: z.literal('plan.chosen'), body: planSchema }),
  z.strictObject({ type: z.literal('plan.withdrawn'), body: z.strictObject({ planId: idSchema }) }),
] as const;
export type PlanAct = z.infer<(typeof PLAN_ACTS)[number]>;

export const PLAN_TRAITS = {
  'plan.chosen': permit('chooses the plan', 'technician', {
    isShownWaiting: true,
    serverFills: ['rangeAh', 'lowerBoundAh', 'proven', 'blockMeanAh', 'assumedPlaces'],
    stage: 'match',
    writes: ['reservation'],
  }),
  'plan.withdrawn': permit('withdraws a plan', 'technician', { isShownWaiting: true, writes: ['reservation'] }),
} satisfies Record<PlanAct['type'], Trait>;

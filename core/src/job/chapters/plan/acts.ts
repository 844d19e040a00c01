/** Acts of choosing how the pack is repaired. */
import * as z from 'zod';
import { permit } from '../chapter.ts';
import type { ActOf, Table } from '../table.ts';
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

/** Every act of this chapter. */
export const PLAN = {
  'plan.chosen': {
    body: planSchema,
    trait: permit('chooses the plan', 'technician', {
      isShownWaiting: true,
      serverFills: ['rangeAh', 'lowerBoundAh', 'proven', 'blockMeanAh', 'assumedPlaces'],
      stage: 'match',
      writes: ['reservation'],
    }),
    effects: 'none',
    kept: null,
  },
  'plan.withdrawn': {
    body: z.strictObject({ planId: idSchema }),
    trait: permit('withdraws a plan', 'technician', { isShownWaiting: true, writes: ['reservation'] }),
    effects: 'none',
    kept: null,
  },
} as const satisfies Table;
export type PlanAct = ActOf<typeof PLAN>;

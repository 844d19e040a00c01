/** Entries of the stage that takes the pack out of the vehicle. */
import * as z from 'zod';
import { findLift } from '../lift/niosh.ts';
import { COUPLINGS } from '../pack/parts.ts';
import { atLeastZero, entry, positive, type Entry } from './entry.ts';

const share = z.number().min(0).max(1);

export const LIFTING: readonly Entry[] = [
  entry({
    name: 'lift.niosh',
    title: 'Lift by one person',
    group: 'Lifting',
    purpose:
      'How heavy a load one person should lift at most, and how far this one is above it. It does not cover two people, kneeling or cramped spaces.',
    formula: 'RWL = 23 kg × H × V × D × A × F × C;  LI = load / RWL',
    source: 'Waters, Putz-Anderson and Garg 1994, DHHS (NIOSH) 94-110 (tables from memory)',
    example: {
      ...{ loadKilogram: 39, horizontalCentimetre: 45, verticalCentimetre: 55, travelCentimetre: 40 },
      ...{ asymmetryDegree: 45, liftsPerMinute: 0, durationHours: 1, coupling: 'fair' },
    },
    input: z.strictObject({
      loadKilogram: positive,
      horizontalCentimetre: atLeastZero,
      verticalCentimetre: atLeastZero,
      travelCentimetre: atLeastZero,
      asymmetryDegree: z.number().min(0).max(180),
      liftsPerMinute: atLeastZero,
      durationHours: z.number().positive().max(8),
      coupling: z.enum(COUPLINGS),
    }),
    output: z.strictObject({
      recommendedKilogram: z.number(),
      liftingIndex: z.number().nullable(),
      multipliers: z.strictObject({ H: share, V: share, D: share, A: share, F: share, C: share }),
    }),
    compute: (input) => findLift(input),
  }),
];

/** Acts of measuring the modules. */
import * as z from 'zod';
import { SWEEP_FIGURES } from '../../../reading/sweep-file.ts';
import { fact } from '../chapter.ts';
import type { ActOf, Table } from '../table.ts';
import { idSchema, place, shortText } from '../words.ts';

export const SWEEP_KINDS = ['openCircuit', 'rest', 'load', 'capacity', 'resistance'] as const;
export type SweepKind = (typeof SWEEP_KINDS)[number];

/** The quantities a sweep of each kind takes for each module, in the order they are asked. */
export const SWEEP_QUANTITIES: Record<SweepKind, readonly (typeof SWEEP_FIGURES)[number][]> = {
  openCircuit: ['openCircuitVolt'],
  rest: ['restVolt'],
  load: ['loadVolt', 'recoveredVolt'],
  capacity: ['capacityAh'],
  resistance: ['resistanceMilliohm'],
};

/** Of which modules the voltage is read again once the load is off: of all, of those that stand apart under it, of none. */
export const RECOVERED = ['all', 'standApart', 'none'] as const;

const quantity = z.enum(SWEEP_FIGURES);
/** Within what any number may be; what the quantity can be is asked of the module type. */
const value = z.number().min(-1e9).max(1e9);

/** How a sweep was made; what a later figure needs and a file may lack. */
export const sweepStartedSchema = z.strictObject({
  kind: z.enum(SWEEP_KINDS),
  /** Rest sweeps: the open-circuit sweep that the rest began with. */
  restSince: idSchema.nullable().default(null),
  /** Rest sweeps: hours of rest where a person or a file said so; else the time between the sweeps counts. */
  restHour: z.number().positive().max(100_000).nullable().default(null),
  loadAmpere: z.number().positive().max(5000).nullable().default(null),
  loadSecond: z.number().positive().max(86_400).nullable().default(null),
  recovered: z.enum(RECOVERED).default('all'),
  /** Smallest step of the meter, in the unit of the readings; null where unknown. */
  resolution: z.number().positive().max(1).nullable().default(null),
});

/** Every act of this chapter. */
export const SWEEP = {
  'sweep.started': {
    body: sweepStartedSchema,
    trait: fact('begins a sweep', { isTakenBack: true, stage: 'test', version: 2 }),
    effects: 'none',
    kept: null,
  },
  'sweep.ended': { body: z.strictObject({ sweepId: idSchema }), trait: fact('ends a sweep'), effects: 'none', kept: null },
  /** The module that was measured; null: the one at the place. */
  'reading.taken': {
    body: z.strictObject({ sweepId: idSchema, place, moduleId: idSchema.nullable(), quantity, value }),
    trait: fact('reads a module', { isTakenBack: true, stage: 'test', version: 2 }),
    effects: 'none',
    kept: null,
  },
  'readings.imported': {
    body: z.strictObject({
      fileName: shortText,
      /** When its first reading was taken; `unsaid`: nobody answered; `asKept`: of an application that did not ask. */
      measured: z.union([z.iso.datetime(), z.enum(['unsaid', 'asKept'])]),
      sweeps: z
        .array(
          z.strictObject({
            sweepId: idSchema,
            ...sweepStartedSchema.shape,
            readings: z.array(z.strictObject({ place, quantity, value })).min(1).max(1000),
          }),
        )
        .min(1)
        .max(5),
    }),
    trait: fact('imports readings', { isTakenBack: true, stage: 'test', version: 3 }),
    effects: 'none',
    kept: null,
  },
  'reading.chosen': {
    body: z.strictObject({ sweepId: idSchema, place, quantity, commandId: idSchema }),
    trait: fact('chooses between two readings'),
    effects: 'none',
    kept: null,
  },
  /** Readings that fell further than a module does, and are so all the same. */
  'readings.confirmed': {
    body: z.strictObject({ sweepId: idSchema, quantity, places: z.array(place).min(1).max(200) }),
    trait: fact('confirms readings that fell far', { isTakenBack: true, stage: 'test' }),
    effects: 'none',
    kept: null,
  },
  'readings.moved': {
    body: z.strictObject({
      sweepId: idSchema,
      quantity,
      /** Readings that were written at another module's place, each by the act that gave it. */
      moves: z
        .array(z.strictObject({ commandId: idSchema, from: place, to: place }))
        .min(1)
        .max(128)
        .refine((moves) => new Set(moves.map((m) => m.to)).size === moves.length, 'Two readings cannot be of one place.'),
      /** Places whose reading was another's and for which none is left. */
      anew: z.array(place).max(128),
    }),
    trait: fact('puts readings to the modules they are of', { isTakenBack: true, stage: 'test' }),
    effects: 'none',
    kept: null,
  },
} as const satisfies Table;
export type SweepAct = ActOf<typeof SWEEP>;

/** The kind of sweep that takes a quantity, where nobody told. */
export function kindFor(quantity: (typeof SWEEP_FIGURES)[number]): SweepKind {
  return SWEEP_KINDS.find((kind) => SWEEP_QUANTITIES[kind].includes(quantity)) ?? 'openCircuit';
}

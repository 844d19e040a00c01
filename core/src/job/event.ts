/**
 * The events of a job. A person's act and the event it becomes have one shape: an act asks to be kept, an event was kept. Every
 * type carries a version; upgrades of old events are made on reading and never touch what is stored.
 */
import * as z from 'zod';
import { GEAR_USES } from '../gear/due.ts';
import { PROOF_ENTRIES } from '../isolate/proof.ts';
import { factSchema } from '../pack/fact.ts';
import { STAGES } from '../pack/stage.ts';
import { SWEEP_FIGURES } from '../reading/sweep-file.ts';
import { STRIP_ACTS } from './strip-acts.ts';

export const idSchema = z.string().regex(/^[A-Za-z0-9][A-Za-z0-9._-]{0,63}$/, 'letters, digits, point, dash and underscore, up to 64');
const text = z.string().trim().max(2000);
const shortText = z.string().trim().min(1).max(120);
const place = z.int().min(1).max(200);
const value = z.number().min(-2000).max(1e6);

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

export const SCHOOLS = ['matchedSet', 'spotRepair', 'spotRepairReordered', 'exchangePack'] as const;
export type School = (typeof SCHOOLS)[number];

const quantity = z.enum(SWEEP_FIGURES);

export const vehicleSchema = z.strictObject({
  name: shortText,
  plate: z.string().trim().max(20),
  odometerKilometre: z.int().min(0).max(5_000_000).nullable(),
  note: text,
});

export const jobOpenedSchema = z.strictObject({
  number: z.int().min(1).max(1e9),
  profileId: idSchema,
  profileVersion: z.int().min(1),
  policyVersion: z.int().min(1),
  vehicle: vehicleSchema,
  /** Which module sits at which place, place 1 first. */
  moduleIds: z.array(idSchema).min(1).max(200),
});

/** How a sweep was made; what a later figure needs and a file may lack. */
export const sweepStartedSchema = z.strictObject({
  kind: z.enum(SWEEP_KINDS),
  /** Rest sweeps: the open-circuit sweep that the rest began with. */
  restSince: idSchema.nullable().default(null),
  /** Rest sweeps: hours of rest where a person or a file said so; else the time between the sweeps counts. */
  restHour: z.number().positive().max(100_000).nullable().default(null),
  loadAmpere: z.number().positive().max(5000).nullable().default(null),
  loadSecond: z.number().positive().max(86_400).nullable().default(null),
  /** Smallest step of the meter, in the unit of the readings; null where unknown. */
  resolution: z.number().positive().max(1).nullable().default(null),
});

export const planSchema = z.strictObject({
  school: z.enum(SCHOOLS),
  /** Module ids in place order; empty for an exchange pack. */
  moduleIds: z.array(idSchema).max(200),
  /** Which of them come from the shelf. */
  fromShelf: z.array(idSchema).max(200),
  rangeAh: z.number().min(0).nullable(),
  lowerBoundAh: z.number().nullable(),
  proven: z.boolean(),
  blockMeanAh: z.array(z.number()).max(200),
  /** Places whose capacity was taken from the others because it was not measured. */
  assumedPlaces: z.array(place).max(200),
});

const voltRead = z.number().min(-5000).max(5000);

/** How a proof of dead is taken. What the meter's known source must read and the limit are filled in by the server from its register. */
export const proofStartedSchema = z.strictObject({
  meterId: idSchema,
  source: z.enum(['battery', 'provingUnit']),
  /** The proving unit; null for the 12 V battery. */
  sourceId: idSchema.nullable(),
  point: shortText,
  known: z.strictObject({ lowVolt: z.number().positive().max(2000), highVolt: z.number().positive().max(2000) }),
  limitVolt: z.number().positive().max(60),
  resolutionVolt: z.number().positive().max(10),
});

export const insulationSchema = z.strictObject({
  packVolt: z.number().positive().max(5000),
  minusChassisVolt: z.number().min(0).max(5000),
  plusChassisVolt: z.number().min(0).max(5000),
  /** The larger of the two again with the known resistor beside it. */
  withResistorVolt: z.number().positive().max(5000),
  resistorOhm: z.number().positive().max(1e9),
});

/** Read by an insulation tester, each pole to the chassis. */
export const insulationTestSchema = z.strictObject({
  testerId: idSchema,
  minusOhm: z.number().min(0).max(1e13),
  plusOhm: z.number().min(0).max(1e13),
});

export const actSchema = z.discriminatedUnion('type', [
  z.strictObject({ type: z.literal('job.opened'), body: jobOpenedSchema }),
  z.strictObject({ type: z.literal('fact.stated'), body: z.strictObject({ stage: z.enum(STAGES), fact: factSchema }) }),
  z.strictObject({ type: z.literal('sweep.started'), body: sweepStartedSchema }),
  z.strictObject({ type: z.literal('sweep.ended'), body: z.strictObject({ sweepId: idSchema }) }),
  z.strictObject({
    type: z.literal('reading.taken'),
    body: z.strictObject({ sweepId: idSchema, place, moduleId: idSchema, quantity, value }),
  }),
  z.strictObject({
    type: z.literal('readings.imported'),
    body: z.strictObject({
      fileName: shortText,
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
  }),
  z.strictObject({
    type: z.literal('reading.chosen'),
    body: z.strictObject({ sweepId: idSchema, place, quantity, commandId: idSchema }),
  }),
  z.strictObject({ type: z.literal('act.withdrawn'), body: z.strictObject({ commandId: idSchema, reason: z.literal('mistyped') }) }),
  z.strictObject({ type: z.literal('plan.chosen'), body: planSchema }),
  z.strictObject({ type: z.literal('plan.withdrawn'), body: z.strictObject({ planId: idSchema }) }),
  z.strictObject({ type: z.literal('step.done'), body: z.strictObject({ stepId: idSchema, note: text.default('') }) }),
  z.strictObject({ type: z.literal('step.reopened'), body: z.strictObject({ stepId: idSchema }) }),
  z.strictObject({
    type: z.literal('gear.picked'),
    body: z.strictObject({ use: z.enum(GEAR_USES), gearId: idSchema, isAirTested: z.boolean().default(false) }),
  }),
  z.strictObject({ type: z.literal('wait.lengthened'), body: z.strictObject({ minute: z.int().min(1).max(1440), reason: shortText }) }),
  z.strictObject({ type: z.literal('proof.started'), body: proofStartedSchema }),
  z.strictObject({
    type: z.literal('proof.read'),
    body: z.strictObject({ proofId: idSchema, entry: z.enum(PROOF_ENTRIES), volt: voltRead, isFromMeter: z.boolean().default(false) }),
  }),
  /** An apprentice asks a qualified person to sign. */
  z.strictObject({ type: z.literal('cosign.asked'), body: z.strictObject({ proofId: idSchema }) }),
  /** Until when it stands at most, and the break that ends it, are filled in by the server from the shop's policy. */
  z.strictObject({
    type: z.literal('proof.signed'),
    body: z.strictObject({ proofId: idSchema, until: z.iso.datetime().nullable(), breakMinute: z.int().min(1).max(1440) }),
  }),
  z.strictObject({ type: z.literal('shift.ended'), body: z.strictObject({}) }),
  z.strictObject({
    type: z.literal('step.overridden'),
    body: z.strictObject({ stepId: idSchema, reason: z.string().trim().min(8).max(400) }),
  }),
  z.strictObject({ type: z.literal('insulation.read'), body: insulationSchema }),
  z.strictObject({ type: z.literal('insulation.tested'), body: insulationTestSchema }),
  z.strictObject({ type: z.literal('policy.adopted'), body: z.strictObject({ policyVersion: z.int().min(1) }) }),
  ...STRIP_ACTS,
]);
/** What a person did, as asked to be kept. */
export type Act = z.infer<typeof actSchema>;
export type ActType = Act['type'];
export type ActBody<T extends ActType> = Extract<Act, { type: T }>['body'];

/** Version of each type's body. */
export const EVENT_VERSION = 1;

/** Who did it and when by which clock; all that the fold needs beside the act. */
export interface EventHeader {
  /** 1-based within the job. */
  readonly number: number;
  readonly commandId: string;
  /** Id of the person. */
  readonly by: string;
  /** Time of the server, ISO 8601. */
  readonly at: string;
  /** Time of the device corrected by its measured offset, ISO 8601. */
  readonly deviceAt: string;
}

export type JobEvent = EventHeader & Act;

/** Acts that begin and end a job. Whose vehicle it is lies in rows that can be erased; the log names them by id and salted hash. */
import * as z from 'zod';
import { USE_NAMES, USES } from '../../../cool/interval.ts';
import { fact, permit } from '../chapter.ts';
import type { ActOf, Table } from '../table.ts';
import { idSchema, reason, shortText, text, version } from '../words.ts';
import { JOB_KINDS } from './kinds.ts';

/** What is written of a vehicle; never in the log. */
export const vehicleSchema = z.strictObject({
  name: shortText,
  plate: z.string().trim().max(20),
  odometerKilometre: z.int().min(0).max(5_000_000).nullable(),
  note: text,
});
export type Vehicle = z.infer<typeof vehicleSchema>;

/** Whose vehicle it is; never in the log. */
export const customerSchema = z.strictObject({ name: shortText, contact: z.string().trim().max(200) });
export type Customer = z.infer<typeof customerSchema>;

const saltedHash = z.string().regex(/^[0-9a-f]{64}$/);
/** Names a row that can be erased. */
const rowSchema = z.strictObject({ id: idSchema, hash: saltedHash });
export type NamedRow = z.infer<typeof rowSchema>;

export const jobOpenedSchema = z.strictObject({
  number: z.int().min(1).max(1e9),
  kind: z.enum(JOB_KINDS),
  profileId: idSchema,
  profileVersion: version,
  policyVersion: version,
  vehicle: rowSchema,
  /** Null: not said. */
  customer: rowSchema.nullable(),
  /** The earlier job that this one comes back from; null where it is none. */
  comebackOf: idSchema.nullable(),
  /** Which module sits at which place, place 1 first; empty where the kind of job names none. */
  moduleIds: z
    .array(idSchema)
    .max(200)
    .refine((ids) => new Set(ids).size === ids.length, 'Each module sits at one place: a name stands twice.'),
});

/** How a vehicle is used, as far as it tells of its pack: what it carries, and how it goes. */
export const VEHICLE_USES = [...USES, 'longParking', 'hills', 'stopAndGo', 'towing'] as const;
export type VehicleUse = (typeof VEHICLE_USES)[number];

export const VEHICLE_USE_NAMES: Record<VehicleUse, string> = {
  ...USE_NAMES,
  longParking: 'stands for weeks',
  hills: 'hills',
  stopAndGo: 'town, stop and go',
  towing: 'tows',
};

export const useSchema = z.strictObject({
  /** Empty: asked, and none of them. */
  uses: z
    .array(z.enum(VEHICLE_USES))
    .max(VEHICLE_USES.length)
    .refine((uses) => new Set(uses).size === uses.length, 'A use stands twice.'),
  /** Bulletins and software levels that were looked up; empty: not looked up. */
  lookedUp: text,
  /** Why the car was not scanned as it came; empty where it was, or is yet to be. */
  noScan: text,
});
export type UseNote = z.infer<typeof useSchema>;

export const OUTCOMES = ['finished', 'brokenOff'] as const;
export type Outcome = (typeof OUTCOMES)[number];

/** Every act of this chapter. */
export const INTAKE = {
  'job.opened': {
    body: jobOpenedSchema,
    trait: fact('opens a job', {
      serverFills: ['number', 'vehicle.hash', 'customer.hash'],
      version: 2,
      writes: ['papers', 'packModules'],
      isPassedOn: false,
    }),
    effects: 'some',
    kept: null,
  },
  'job.closed': {
    body: z.discriminatedUnion('outcome', [
      z.strictObject({ outcome: z.literal('finished'), note: text }),
      /** The work ends without being finished: the customer declined, the vehicle was fetched. */
      z.strictObject({ outcome: z.literal('brokenOff'), reason, unmet: z.array(z.string().max(400)).max(20) }),
    ]),
    trait: permit('closes a job', 'technician', { serverFills: ['unmet'], stage: 'handOver' }),
    effects: 'none',
    kept: null,
  },
  'job.reopened': { body: z.strictObject({ reason }), trait: permit('opens a job again', 'technician'), effects: 'none', kept: null },
  /** What is written of vehicle and customer, anew: rows of their own; those before stay until they are erased. */
  'papers.corrected': {
    body: z.strictObject({ vehicle: rowSchema, customer: rowSchema.nullable() }),
    trait: fact('corrects what is written of vehicle and customer', {
      serverFills: ['vehicle.hash', 'customer.hash'],
      writes: ['papers'],
      isPassedOn: false,
    }),
    effects: 'none',
    kept: null,
  },
  'use.noted': { body: useSchema, trait: fact('notes how the vehicle is used'), effects: 'none', kept: null },
} as const satisfies Table;
export type IntakeAct = ActOf<typeof INTAKE>;

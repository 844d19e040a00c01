/** Answers of the server, as the browser parses them. What an answer holds beyond these fields is passed over. */
import {
  CODE_STATUSES,
  competenceSchema,
  customerSchema,
  gearPolicySchema,
  gearSchema,
  instrumentSchema,
  JOB_KINDS,
  jobStateSchema,
  moduleTypeSchema,
  OUTCOMES,
  PART_KINDS,
  policySchema,
  profileSchema,
  ROLES,
  SCHOOLS,
  STAGES,
  stockModuleSchema,
  termsSchema,
  vehicleSchema,
} from '@estuarine/core';
import * as z from 'zod';

const text = z.string();
const instant = z.string();
/** How far in the order of the shop a list goes that is changed from a screen; the act that changes it says so. Older lists say nothing. */
const position = z.int().min(0).default(0);

export const personSchema = z.object({ id: text, name: text, role: z.enum(ROLES) });
export type Person = Readonly<z.infer<typeof personSchema>>;

/** An account of the demonstration, with its passphrase in the open. */
export const demoAccountSchema = personSchema.extend({ passphrase: text });
export type DemoAccount = Readonly<z.infer<typeof demoAccountSchema>>;

export const sessionSchema = z.object({
  /** Who is signed in; null for nobody. */
  person: personSchema.nullable(),
  isLocked: z.boolean(),
  /** The people of the shop; empty while nobody is signed in. */
  persons: z.array(personSchema).readonly(),
  /** Whether the data is the demonstration's. */
  isDemo: z.boolean(),
  /** Accounts to show on the sign-in page of a demonstration; empty elsewhere. */
  accounts: z.array(demoAccountSchema).readonly(),
  /** The shop has nobody yet: the first lead signs up with the code printed where the server was started. */
  needsFirstLead: z.boolean(),
});
export type Session = Readonly<z.infer<typeof sessionSchema>>;

/** Whoever signed in, or nobody. */
export const signedInSchema = z.object({ person: personSchema.nullable() });
/** Done, with nothing more to say. */
export const doneSchema = z.object({});

export const peopleAnswerSchema = z.object({
  persons: z.array(personSchema).readonly(),
  competences: z.array(competenceSchema).readonly(),
  /** By the shop's calendar. */
  today: z.iso.date(),
  position,
});
export type PeopleAnswer = z.infer<typeof peopleAnswerSchema>;

export const gearRowSchema = z.object({
  gear: gearSchema,
  /** Why it was taken out of use; null while it is in use. */
  retired: text.nullable(),
});
export type GearRow = Readonly<z.infer<typeof gearRowSchema>>;

export const gearAnswerSchema = z.object({
  rows: z.array(gearRowSchema),
  policy: gearPolicySchema,
  /** Calendar date at the shop. */
  today: text,
  /** Path of the feed of due dates, with its own key. */
  feed: text,
  position,
});
export type GearAnswer = z.infer<typeof gearAnswerSchema>;

/** An instrument that can be asked for a reading. */
export const instrumentRowSchema = instrumentSchema.extend({
  /** Part of the demonstration: computed, never measured. */
  isSimulated: z.boolean(),
});
export type InstrumentRow = Readonly<z.infer<typeof instrumentRowSchema>>;
export const instrumentsAnswerSchema = z.object({ instruments: z.array(instrumentRowSchema), position });
export type InstrumentsAnswer = z.infer<typeof instrumentsAnswerSchema>;

/** A reading taken from an instrument. */
export const measureAnswerSchema = z.object({
  value: z.number(),
  unit: z.enum(['V', 'ohm']),
  /** What the instrument calls itself. */
  identity: text,
  isSimulated: z.boolean(),
});
export type MeasureAnswer = Readonly<z.infer<typeof measureAnswerSchema>>;

/** What an electronic torque tool says of its last click. */
export const torqueAnswerSchema = z.object({
  newtonMetre: z.number(),
  /** Turned from the threshold on; null where the tool does not tell. */
  angleDegree: z.number().nullable(),
  identity: text,
  isSimulated: z.boolean(),
});
export type TorqueAnswer = Readonly<z.infer<typeof torqueAnswerSchema>>;

/** What a fan draws from a bench supply, and what it moves through an airflow meter. */
export const fanAnswerSchema = z.object({ ampere: z.number(), cubicMetrePerHour: z.number(), isSimulated: z.boolean() });
export type FanAnswer = Readonly<z.infer<typeof fanAnswerSchema>>;

/** What a 12 V tester says of a battery, at rest and at the end of its load. */
export const auxiliaryAnswerSchema = z.object({
  restVolt: z.number(),
  loadVolt: z.number(),
  celsius: z.number(),
  isSimulated: z.boolean(),
});
export type AuxiliaryAnswer = Readonly<z.infer<typeof auxiliaryAnswerSchema>>;

/** Figures of the battery unit; null where it did not say. */
export const watchAnswerSchema = z.object({
  /** Volt, block 1 first; empty where the profile maps none. */
  blockVolts: z.array(z.number().nullable()),
  /** As the unit adds it up itself. */
  packVolt: z.number().nullable(),
  celsius: z.array(z.number().nullable()),
  /** Discharge positive. */
  ampere: z.number().nullable(),
  chargePercent: z.number().nullable(),
  readerVersion: text,
});
export type WatchAnswer = Readonly<z.infer<typeof watchAnswerSchema>>;

/** A scan of a car. */
export const scanAnswerSchema = watchAnswerSchema.extend({
  reader: text,
  isSimulated: z.boolean(),
  codes: z.array(z.object({ code: text, status: z.enum(CODE_STATUSES) })),
  /** Null where the car does not say. */
  readiness: z.object({ isLampOn: z.boolean(), codeCount: z.int(), incomplete: z.array(text) }).nullable(),
});
export type ScanAnswer = Readonly<z.infer<typeof scanAnswerSchema>>;

const coreOwedSchema = z.object({
  supplier: text,
  what: z.enum(['pack', 'modules']),
  count: z.int(),
  deposit: z.number(),
  outstanding: z.number(),
  shipBy: text,
  isShipped: z.boolean(),
  isDisputed: z.boolean(),
  isSettled: z.boolean(),
});

/** What the jobs of the shop add up to. */
export const figuresAnswerSchema = z.object({
  currency: text,
  figures: z.object({
    comebacks: z
      .array(
        z.object({
          school: text,
          schoolName: text,
          profileName: text,
          closed: z.int(),
          comebacks: z.int(),
          share: z.number(),
          jobs: z.array(z.int()).readonly(),
        }),
      )
      .readonly(),
    minutes: z
      .array(
        z.object({
          stage: z.enum(STAGES),
          profileName: text,
          quotedMinute: z.number().nullable(),
          medianMinute: z.number(),
          jobs: z.int(),
        }),
      )
      .readonly(),
    money: z.array(coreOwedSchema.extend({ jobId: text, number: z.int(), isLate: z.boolean() })).readonly(),
    outstanding: z.number(),
    months: z.array(z.object({ month: text, in: z.int(), out: z.int(), closed: z.int() })).readonly(),
  }),
});
export type FiguresAnswer = z.infer<typeof figuresAnswerSchema>;

export const termsListAnswerSchema = z.object({ terms: z.array(termsSchema) });
export type TermsListAnswer = z.infer<typeof termsListAnswerSchema>;
export const termsAnswerSchema = z.object({ terms: termsSchema });
export type TermsAnswer = z.infer<typeof termsAnswerSchema>;

/** A job in the yard. */
export const jobSummarySchema = z.object({
  jobId: text,
  /** Version of the fold that computed it. */
  fold: z.int(),
  number: z.int(),
  kind: z.enum(JOB_KINDS),
  /** How it was closed; null while it is open. */
  closed: z.enum(OUTCOMES).nullable(),
  closedAt: instant.nullable(),
  /** Number of the job that it comes back from; null where it is none. */
  comebackOf: z.int().nullable(),
  vehicleName: text,
  plate: text,
  /** Empty where nobody said, or once erased. */
  customerName: text,
  profileId: text,
  profileName: text,
  stage: z.enum(STAGES),
  /** Within reach while the proof of dead stands, if one does. */
  reachableVolt: z.number(),
  /** Within reach once it has lapsed; the same where none stands. */
  lapsedVolt: z.number(),
  /** When the standing proof ends by the time alone, ISO 8601; null where none stands. */
  proofEndsAt: instant.nullable(),
  /** When the wait for the capacitors is over; null where none runs or a proof stands. */
  waitEndsAt: instant.nullable(),
  /** The modules rest: since when, and from when on a drop is judged; null where none runs. */
  rest: z.object({ since: instant, judgedFrom: instant }).nullable(),
  /** When its air path is looked at again; null where nobody said. */
  lookAt: instant.nullable(),
  /** When the pack is opened for its cells; null where nobody said. */
  stripAt: instant.nullable(),
  /** A voltage that stood steady at posts, until dead was proven there; null where none did. */
  steadyVolt: z.number().nullable(),
  /** An apprentice asks a qualified person to sign a proof. */
  asksCosign: z.boolean(),
  behindVolt: z.number(),
  /** The most that can stand there, for whoever may not know all. */
  highestVolt: z.number(),
  measuredCount: z.int(),
  moduleCount: z.int(),
  rejectCount: z.int(),
  /** A charger or another source lies across the ends. */
  hasSource: z.boolean(),
  /** Pieces that must be had new before it is whole. */
  toOrder: z.int(),
  /** Id of the person who did the last act. */
  lastBy: text,
  openedAt: instant,
  lastAt: instant,
});
export type JobSummary = Readonly<z.infer<typeof jobSummarySchema>>;
export const jobsAnswerSchema = z.object({ jobs: z.array(jobSummarySchema) });

/** What is written of a job's vehicle and customer; null once erased, or where nobody said. */
export const jobPapersSchema = z.object({
  vehicle: vehicleSchema.nullable(),
  customer: customerSchema.nullable(),
  /** Of which of them something stands written that was corrected since. */
  corrected: z.object({ vehicle: z.boolean(), customer: z.boolean() }).default({ vehicle: false, customer: false }),
});
export type JobPapers = z.infer<typeof jobPapersSchema>;

/** Rows of which nothing is written any more: a device forgets what it has of them. */
export const erasedAnswerSchema = z.object({ vehicles: z.array(text), customers: z.array(text) });
export type ErasedAnswer = z.infer<typeof erasedAnswerSchema>;

export const jobAnswerSchema = z.object({
  jobId: text,
  /** Version of the fold that made the state: another than one's own is never folded on. */
  fold: z.int(),
  /** Which log it is from. */
  epoch: text.default(''),
  state: jobStateSchema,
  profileId: text,
  profileVersion: z.int(),
});
export type JobAnswer = z.output<typeof jobAnswerSchema>;
export const profileAnswerSchema = z.object({ profile: profileSchema });
export type ProfileAnswer = z.infer<typeof profileAnswerSchema>;
/** The versions of a profile that a shop has, ascending. */
export const profileVersionsSchema = z.object({ versions: z.array(z.int()) });
export const profilesAnswerSchema = z.object({ profiles: z.array(profileSchema) });

export const policyAnswerSchema = z.object({ version: z.int(), policy: policySchema });
export type PolicyAnswer = z.infer<typeof policyAnswerSchema>;

/** A module known to the shop. */
export const stockRowSchema = stockModuleSchema.extend({
  quarantine: text.nullable(),
  /** Number of the job that has reserved it. */
  reservedBy: z.int().nullable(),
  /** Number of the job whose pack it sits in, with its place. */
  inJob: z.int().nullable(),
  place: z.int().nullable(),
});
export type StockRow = Readonly<z.infer<typeof stockRowSchema>>;

export const stockAnswerSchema = z.object({ types: z.array(moduleTypeSchema), rows: z.array(stockRowSchema), position });
export type StockAnswer = z.infer<typeof stockAnswerSchema>;

const foundPart = z.object({
  ...{ kind: z.enum(PART_KINDS), name: text, place: text, where: text, size: text, count: z.int().nullable() },
  ...{ isHidden: z.boolean(), isProposed: z.boolean() },
});

/** What the jobs on a profile left to remember. */
export const memoriesAnswerSchema = z.object({
  memories: z.array(
    z.object({
      number: z.int(),
      minutes: z.partialRecord(z.enum(STAGES), z.number()),
      broken: z.array(z.object({ partId: text, name: text, place: text, count: z.int() })),
      found: z.array(foundPart),
      air: z.object({ at: instant, foundShare: z.number(), wasCleaned: z.boolean() }).nullable(),
      school: z.enum(SCHOOLS).nullable(),
      closedAt: instant.nullable(),
      modules: z.object({ in: z.int(), out: z.int() }),
      warranty: z.object({ until: text, kilometre: z.int().nullable() }).nullable(),
      core: coreOwedSchema.nullable(),
      explained: text.nullable(),
      /** Of the vehicle of the job that asks, by its plate. */
      isSameVehicle: z.boolean(),
    }),
  ),
});
export type MemoriesAnswer = Readonly<z.infer<typeof memoriesAnswerSchema>>;

export const photoAnswerSchema = z.object({ sha256: text });

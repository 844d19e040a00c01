/** What happens to the shop as a whole rather than to one job: its policy, its profiles, its stock. Kept in the shop's own stream. */
import * as z from 'zod';
import { STAGE_NAMES, type Stage } from '../pack/stage.ts';
import { gearPolicySchema } from '../gear/due.ts';
import { gearSchema } from '../gear/gear.ts';
import { isolationPolicySchema } from '../isolate/policy.ts';
import { ROLES, type Role } from '../job/chapters/chapter.ts';
import { idSchema, version } from '../job/chapters/words.ts';
import { profileSchema } from '../pack/profile.ts';
import { termsSchema } from '../warranty/terms.ts';
import { DEFAULT_LIMITS, verdictLimitsSchema } from '../reading/verdict.ts';

const figure = (maximum: number) => z.number().min(0).max(maximum).nullable();

/** A module as it comes onto the shelf. Null: not measured. */
export const stockModuleSchema = z.strictObject({
  moduleId: idSchema,
  label: z.string().trim().min(1).max(60),
  /** Module type of a profile; only the same type fits. */
  typeId: idSchema,
  capacityAh: figure(1000),
  resistanceMilliohm: figure(100_000),
  restDropMillivolt: z.number().min(-5000).max(100_000).nullable(),
  ocvVolt: figure(1000),
  /** Where it lies: shelf, box, bench. */
  bin: z.string().trim().max(60),
});
export type StockModule = z.infer<typeof stockModuleSchema>;

export const MAXIMUM_IMPORT_ROWS = 20_000;

/** In which money deposits, credits and quotes are written. */
export const moneyPolicySchema = z.strictObject({
  currency: z
    .string()
    .regex(/^[A-Z]{3}$/, 'three capital letters, as ISO 4217 has them')
    .default('EUR'),
});

const stageWord = (stage: Stage) => z.string().trim().min(1, 'a word, not nothing').max(20).default(STAGE_NAMES[stage]);

/** How the shop calls the stages of a job. */
export const wordingPolicySchema = z.strictObject({
  ...{ intake: stageWord('intake'), isolate: stageWord('isolate'), strip: stageWord('strip'), open: stageWord('open') },
  ...{ test: stageWord('test'), match: stageWord('match'), rebuild: stageWord('rebuild'), cool: stageWord('cool') },
  ...{ refit: stageWord('refit'), handOver: stageWord('handOver') },
});

/** Limits and choices of a shop. Every change is a new version; a job records which it follows. */
export const policySchema = z.strictObject({
  limits: verdictLimitsSchema,
  matching: z.strictObject({
    objective: z.enum(['strongest', 'balanced']),
    minCapacityAh: figure(1000),
    maxResistanceMilliohm: figure(100_000),
    maxRestDropMillivolt: figure(100_000),
  }),
  /** Left out by policies older than these sections: then the defaults stand. */
  isolation: isolationPolicySchema.prefault({}),
  gear: gearPolicySchema.prefault({}),
  money: moneyPolicySchema.prefault({}),
  wording: wordingPolicySchema.prefault({}),
});
export type Policy = z.infer<typeof policySchema>;

export const DEFAULT_POLICY: Policy = {
  isolation: isolationPolicySchema.parse({}),
  gear: gearPolicySchema.parse({}),
  money: moneyPolicySchema.parse({}),
  wording: wordingPolicySchema.parse({}),
  limits: DEFAULT_LIMITS,
  matching: { objective: 'balanced', minCapacityAh: null, maxResistanceMilliohm: null, maxRestDropMillivolt: null },
};

const shortText = z.string().trim().min(1).max(120);

/** How a person is called in the log and on screen: initials or a short name. */
export const personIdSchema = z.string().regex(/^[a-z][a-z0-9]{1,11}$/, 'two to twelve small letters and digits, a letter first');

/** What a person can be competent for; who signs hazards needs `highVoltage`. */
const competenceKind = z.enum(['highVoltage']);

export const competenceSchema = z.strictObject({
  personId: idSchema,
  kind: competenceKind,
  /** The training, and who gave it. */
  training: shortText,
  givenBy: shortText,
  /** Last day on which it counts. */
  validUntil: z.iso.date(),
});
export type Competence = z.infer<typeof competenceSchema>;

/** A bench instrument that speaks SCPI over TCP. */
export const instrumentSchema = z.strictObject({
  instrumentId: idSchema,
  name: shortText,
  kind: z.enum(['meter', 'provingUnit', 'insulationTester', 'torqueTool', 'supply', 'airflowMeter', 'batteryTester', 'scanTool']),
  host: z.string().regex(/^[A-Za-z0-9.:-]{1,120}$/, 'an address'),
  port: z.int().min(1).max(65_535),
  /** The piece of gear it is, by the register; null where it is none. */
  gearId: idSchema.nullable(),
});
export type Instrument = z.infer<typeof instrumentSchema>;

export const shopActSchema = z.discriminatedUnion('type', [
  z.strictObject({
    type: z.literal('stock.imported'),
    body: z.strictObject({
      fileName: z.string().trim().min(1).max(120),
      modules: z.array(stockModuleSchema).min(1).max(MAXIMUM_IMPORT_ROWS),
    }),
  }),
  z.strictObject({
    type: z.literal('module.quarantined'),
    body: z.strictObject({ moduleId: idSchema, reason: z.string().trim().min(1).max(400) }),
  }),
  z.strictObject({ type: z.literal('module.released'), body: z.strictObject({ moduleId: idSchema }) }),
  z.strictObject({ type: z.literal('policy.set'), body: z.strictObject({ version, policy: policySchema }) }),
  z.strictObject({ type: z.literal('gear.saved'), body: z.strictObject({ gear: gearSchema }) }),
  /** A test, calibration or inspection was done and passed. */
  z.strictObject({ type: z.literal('gear.checked'), body: z.strictObject({ gearId: idSchema, on: z.iso.date(), by: shortText }) }),
  z.strictObject({ type: z.literal('gear.issued'), body: z.strictObject({ gearId: idSchema, on: z.iso.date() }) }),
  z.strictObject({ type: z.literal('gear.used'), body: z.strictObject({ gearId: idSchema, cycles: z.int().min(1).max(10_000) }) }),
  z.strictObject({ type: z.literal('gear.retired'), body: z.strictObject({ gearId: idSchema, reason: shortText }) }),
  /** A person of the shop. The name lies in a row that can be erased; its hash stands here. */
  z.strictObject({
    type: z.literal('person.added'),
    body: z.strictObject({ personId: personIdSchema, role: z.enum(ROLES), nameHash: z.string().regex(/^[0-9a-f]{64}$/) }),
  }),
  z.strictObject({ type: z.literal('person.role'), body: z.strictObject({ personId: idSchema, role: z.enum(ROLES) }) }),
  z.strictObject({ type: z.literal('person.left'), body: z.strictObject({ personId: idSchema }) }),
  z.strictObject({ type: z.literal('competence.recorded'), body: competenceSchema }),
  z.strictObject({
    type: z.literal('competence.withdrawn'),
    body: z.strictObject({ personId: idSchema, kind: competenceKind, reason: shortText }),
  }),
  z.strictObject({ type: z.literal('instrument.saved'), body: instrumentSchema }),
  z.strictObject({ type: z.literal('instrument.removed'), body: z.strictObject({ instrumentId: idSchema }) }),
  z.strictObject({ type: z.literal('profile.published'), body: z.strictObject({ profile: profileSchema }) }),
  z.strictObject({ type: z.literal('terms.published'), body: z.strictObject({ terms: termsSchema }) }),
  /** What was written of a vehicle or a customer is erased for good; jobs go on naming the row. */
  z.strictObject({ type: z.literal('vehicle.erased'), body: z.strictObject({ vehicleId: idSchema, reason: shortText }) }),
  z.strictObject({ type: z.literal('customer.erased'), body: z.strictObject({ customerId: idSchema, reason: shortText }) }),
]);
export type ShopAct = z.infer<typeof shopActSchema>;
export type ShopActType = ShopAct['type'];
export type ShopActBody<T extends ShopActType> = Extract<ShopAct, { type: T }>['body'];

/** Version of the body of every act of the shop. */
export const SHOP_EVENT_VERSION = 1;

/** The least role that may do each. */
export const SHOP_ACT_ROLES: Readonly<Record<ShopActType, Role>> = {
  'stock.imported': 'technician',
  'module.quarantined': 'technician',
  'module.released': 'technician',
  'policy.set': 'technician',
  'gear.saved': 'technician',
  'gear.checked': 'technician',
  'gear.issued': 'technician',
  'gear.used': 'apprentice',
  'gear.retired': 'technician',
  'person.added': 'lead',
  'person.role': 'lead',
  'person.left': 'lead',
  'competence.recorded': 'lead',
  'competence.withdrawn': 'lead',
  'instrument.saved': 'lead',
  'instrument.removed': 'lead',
  'profile.published': 'technician',
  'terms.published': 'technician',
  'vehicle.erased': 'lead',
  'customer.erased': 'lead',
};

/** What happens to the shop as a whole rather than to one job: its policy, its profiles, its stock. Kept in the shop's own stream. */
import * as z from 'zod';
import { idSchema } from '../job/event.ts';
import { profileSchema } from '../pack/profile.ts';
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

/** Limits and choices of a shop. Every change is a new version; a job records which it follows. */
export const policySchema = z.strictObject({
  limits: verdictLimitsSchema,
  matching: z.strictObject({
    objective: z.enum(['strongest', 'balanced']),
    minCapacityAh: figure(1000),
    maxResistanceMilliohm: figure(100_000),
    maxRestDropMillivolt: figure(100_000),
  }),
});
export type Policy = z.infer<typeof policySchema>;

export const DEFAULT_POLICY: Policy = {
  limits: DEFAULT_LIMITS,
  matching: { objective: 'balanced', minCapacityAh: null, maxResistanceMilliohm: null, maxRestDropMillivolt: null },
};

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
  z.strictObject({ type: z.literal('policy.set'), body: z.strictObject({ version: z.int().min(1), policy: policySchema }) }),
  z.strictObject({ type: z.literal('profile.published'), body: z.strictObject({ profile: profileSchema }) }),
]);
export type ShopAct = z.infer<typeof shopActSchema>;

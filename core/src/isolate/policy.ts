/** What a shop decides about isolation. The vehicle maker's information and local rules stand above it. */
import * as z from 'zod';
import { isTimeZone } from '../quantity/calendar.ts';

const volt = z.number().positive();

export const isolationPolicySchema = z.strictObject({
  /** 12 V first lets the contactors open unloaded (default); plug first is done by some for access, with the key away. */
  order: z.enum(['twelveVoltFirst', 'plugFirst']).default('twelveVoltFirst'),
  /** Dead is at or below this (common practice, no source; high voltage begins above 60 V DC by UN R100). */
  limitVolt: volt.max(60).default(30),
  /** Least wait for the capacitors in minutes; the profile's longer one stands. */
  leastWaitMinute: z.number().min(0).max(120).default(5),
  /** A break longer than this ends a proof. */
  breakMinute: z.int().min(5).max(480).default(60),
  /** Time of day at which every proof ends; null: no fixed end. */
  shiftEnd: z
    .string()
    .regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'a time such as 17:30')
    .nullable()
    .default(null),
  timeZone: z.string().max(60).refine(isTimeZone, 'a time zone such as Europe/Lisbon').default('UTC'),
  /** The 12 V battery as a known source reads within these (common practice, no source). */
  batteryLowVolt: volt.max(30).default(9),
  batteryHighVolt: volt.max(30).default(16),
  needsSecondPerson: z.boolean().default(false),
  needsInsulation: z.boolean().default(false),
  /** Whether instruments may stand on the shop's own network, not on this machine alone. */
  allowsNetworkInstruments: z.boolean().default(false),
});
export type IsolationPolicy = z.infer<typeof isolationPolicySchema>;

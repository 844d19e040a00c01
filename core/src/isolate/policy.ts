/** What a shop decides about isolation. The vehicle maker's information and local rules stand above it. */
import * as z from 'zod';
import { isTimeZone } from '../quantity/calendar.ts';

const volt = z.number().positive();

export const isolationPolicySchema = z.strictObject({
  /** 12 V first lets the contactors open unloaded (default); plug first is done by some for access, with the key away. */
  order: z.enum(['twelveVoltFirst', 'plugFirst']).default('twelveVoltFirst').meta({ title: 'Which is taken off first' }),
  /** Plug first wakes no unit that finds the string open (default); 12 V first is done by some, so that the interlock is seen as it closes. */
  back: z.enum(['plugFirst', 'twelveVoltFirst']).default('plugFirst').meta({ title: 'Which goes back on first' }),
  /** Dead is at or below this (common practice, no source; high voltage begins above 60 V DC by UN R100). */
  limitVolt: volt.max(60).default(30).meta({ title: 'Dead is at or below, V' }),
  /** Least wait for the capacitors in minutes; the profile's longer one stands. */
  leastWaitMinute: z.number().min(0).max(120).default(5).meta({ title: 'Least wait for the capacitors, min' }),
  /** A break longer than this ends a proof. */
  breakMinute: z.int().min(5).max(480).default(60).meta({ title: 'A break longer than this ends a proof, min' }),
  /** Time of day at which every proof ends; null: no fixed end. */
  shiftEnd: z
    .string()
    .regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'a time such as 17:30')
    .nullable()
    .default(null)
    .meta({ title: 'Time of day at which every proof ends' }),
  timeZone: z
    .string()
    .max(60)
    .refine(isTimeZone, 'a time zone such as Europe/Lisbon')
    .default('UTC')
    .meta({ title: 'Time zone of the shop' }),
  /** The 12 V battery as a known source reads within these (common practice, no source). */
  batteryLowVolt: volt.max(30).default(9).meta({ title: '12 V battery as known source, from V' }),
  batteryHighVolt: volt.max(30).default(16).meta({ title: '12 V battery as known source, to V' }),
  needsSecondPerson: z.boolean().default(false).meta({ title: 'A second person is asked for' }),
  needsInsulation: z.boolean().default(false).meta({ title: 'Insulation is measured on every job' }),
  /** Whether instruments may stand on the shop's own network, not on this machine alone. */
  allowsNetworkInstruments: z.boolean().default(false).meta({ title: 'Instruments may stand on the shop’s own network' }),
});
export type IsolationPolicy = z.infer<typeof isolationPolicySchema>;

/** When gear is due, by published rule and by the shop's policy where that is stricter, and whether it may be used on a hazard today. */
import * as z from 'zod';
import { addMonths, daysBetween, type CalendarDate } from '../quantity/calendar.ts';
import { GLOVE_VOLT_DC, lastCheck, type Gear, type GearKind, type GearOf } from './gear.ts';

const months = z.int().min(1).max(120);

/** Months between checks as the shop wants them. A published rule that is stricter stands above them. */
export const gearPolicySchema = z.strictObject({
  gloveMonth: months.default(6).meta({ title: 'Gloves: electrical test, months' }),
  meterMonth: months.default(12).meta({ title: 'Meters: calibration, months' }),
  provingUnitMonth: months.default(12).meta({ title: 'Proving units: check, months' }),
  insulationTesterMonth: months.default(12).meta({ title: 'Insulation testers: calibration, months' }),
  torqueToolMonth: months.default(12).meta({ title: 'Torque tools: calibration, months' }),
  torqueToolCycle: z.int().min(1).max(1e6).default(5000).meta({ title: 'Torque tools: cycles' }),
  chargerMonth: months.default(12).meta({ title: 'Chargers: inspection, months' }),
});
export type GearPolicy = z.infer<typeof gearPolicySchema>;

/** 29 CFR 1910.137, Table I-5: gloves are tested before first issue and every 6 months after. */
const GLOVE_MONTHS = 6;
/** 29 CFR 1910.137(c)(2)(viii) and Table I-5, note: not placed into service unless tested within the previous 12 months. */
const GLOVE_STORE_MONTHS = 12;
/** ISO 6789-1: 12 months or 5,000 cycles, whichever comes first (from memory). */
const TORQUE_MONTHS = 12;
const TORQUE_CYCLES = 5000;

export interface Due {
  /** First day on which it may no longer be used; null where only a count ends it or it is not in service. */
  readonly dueOn: CalendarDate | null;
  readonly daysLeft: number | null;
  /** What the date follows from. */
  readonly rule: string;
  readonly source: string;
  /** Why it cannot be picked for a hazard today, as a sentence; null where it can. */
  readonly refusal: string | null;
}

/** A day on which something is said to have been done that has not come yet, in any time zone; null for none. */
export function findAhead(gear: Gear, today: CalendarDate): { readonly field: string; readonly day: CalendarDate } | null {
  for (const field of ['testedOn', 'issuedOn', 'calibratedOn', 'checkedOn', 'inspectedOn']) {
    const day = (gear as Readonly<Record<string, unknown>>)[field];
    if (typeof day === 'string' && daysBetween(today, day) > 1) return { field, day };
  }
  return null;
}

/** @param today calendar date at the shop */
export function findDue(gear: Gear, policy: GearPolicy, today: CalendarDate): Due {
  const ahead = findAhead(gear, today);
  if (ahead) {
    const refusal = `Its last ${ahead.field === 'issuedOn' ? 'issue' : 'check'} is dated ${ahead.day}, which has not come yet: correct the date.`;
    return { dueOn: today, daysLeft: 0, rule: 'A check that has not come yet proves nothing', source: 'a date ahead of today', refusal };
  }
  switch (gear.kind) {
    case 'gloves':
      return dueGloves(gear, policy, today);
    case 'torqueTool':
      return dueTorqueTool(gear, policy, today);
    case 'mask':
      return close(gear.expiresOn, today, 'Expires by its date', 'printed on the mask', 'The mask expired');
    case 'meter':
      return byPolicy(gear, policy.meterMonth, today, 'calibration');
    case 'provingUnit':
      return byPolicy(gear, policy.provingUnitMonth, today, 'check');
    case 'insulationTester':
      return byPolicy(gear, policy.insulationTesterMonth, today, 'calibration');
    case 'charger':
      return byPolicy(gear, policy.chargerMonth, today, 'inspection');
  }
}

function close(dueOn: CalendarDate, today: CalendarDate, rule: string, source: string, sentence: string): Due {
  const daysLeft = daysBetween(today, dueOn);
  const ago = daysLeft === 0 ? 'today' : `${-daysLeft} day${daysLeft === -1 ? '' : 's'} ago`;
  return { dueOn, daysLeft, rule, source, refusal: daysLeft > 0 ? null : `${sentence} ${ago} (${dueOn}).` };
}

function byPolicy(gear: Gear, month: number, today: CalendarDate, what: string): Due {
  const dueOn = addMonths(lastCheck(gear) ?? today, month);
  return close(dueOn, today, `Next ${what} ${month} months after the last`, 'policy of the shop', `Its ${what} ran out`);
}

function dueGloves(gear: GearOf<'gloves'>, policy: GearPolicy, today: CalendarDate): Due {
  const source = '29 CFR 1910.137, Table I-5';
  if (gear.issuedOn === null) {
    const last = addMonths(gear.testedOn, GLOVE_STORE_MONTHS);
    const isStale = daysBetween(today, last) <= 0;
    return {
      ...{
        dueOn: last,
        daysLeft: daysBetween(today, last),
        source,
        rule: `In the store: to be issued within ${GLOVE_STORE_MONTHS} months of the test`,
      },
      refusal: isStale
        ? `Tested more than ${GLOVE_STORE_MONTHS} months ago (${gear.testedOn}) and never issued: test again before issue.`
        : 'Still in the store: issue the pair first.',
    };
  }
  if (daysBetween(gear.issuedOn, addMonths(gear.testedOn, GLOVE_STORE_MONTHS)) < 0)
    return {
      ...{
        dueOn: gear.issuedOn,
        daysLeft: daysBetween(today, gear.issuedOn),
        source,
        rule: `Issued more than ${GLOVE_STORE_MONTHS} months after the test`,
      },
      refusal: `Issued on ${gear.issuedOn}, more than ${GLOVE_STORE_MONTHS} months after its test of ${gear.testedOn}: test again.`,
    };
  const since = gear.testedOn > gear.issuedOn ? gear.testedOn : gear.issuedOn;
  const isStricter = policy.gloveMonth < GLOVE_MONTHS;
  const month = isStricter ? policy.gloveMonth : GLOVE_MONTHS;
  return close(
    addMonths(since, month),
    today,
    `Electrical test every ${month} months in service`,
    isStricter ? 'policy of the shop, stricter than 29 CFR 1910.137' : source,
    'Their electrical test ran out',
  );
}

function dueTorqueTool(gear: GearOf<'torqueTool'>, policy: GearPolicy, today: CalendarDate): Due {
  const month = Math.min(policy.torqueToolMonth, TORQUE_MONTHS);
  const cycles = Math.min(policy.torqueToolCycle, TORQUE_CYCLES);
  const isStricter = month < TORQUE_MONTHS || cycles < TORQUE_CYCLES;
  const due = close(
    addMonths(gear.calibratedOn, month),
    today,
    `Calibration every ${month} months or ${cycles} cycles, whichever first`,
    isStricter ? 'policy of the shop, stricter than ISO 6789-1' : 'ISO 6789-1',
    'Its calibration ran out',
  );
  return due.refusal === null && gear.cycles >= cycles
    ? { ...due, refusal: `${gear.cycles} cycles since the calibration: ${cycles} are the limit.` }
    : due;
}

/** What gear is picked for. */
export const GEAR_USES = ['gloves', 'meter', 'knownSource', 'insulation'] as const;
export type GearUse = (typeof GEAR_USES)[number];

const KIND_OF_USE: Record<GearUse, GearKind> = {
  gloves: 'gloves',
  meter: 'meter',
  knownSource: 'provingUnit',
  insulation: 'insulationTester',
};
/** Meter and leads for a traction pack (IEC 61010-2-033, -031; from memory). */
const LEAST_CATEGORY_VOLT = 1000;

/**
 * Why a piece cannot be picked for a use at a voltage, as a sentence; null where it can.
 * @param volt highest voltage it may meet, the whole string
 */
export function whyNotPick(gear: Gear, use: GearUse, volt: number, policy: GearPolicy, today: CalendarDate): string | null {
  if (gear.kind !== KIND_OF_USE[use]) return `${gear.label} is not for this use.`;
  if (gear.kind === 'gloves' && GLOVE_VOLT_DC[gear.gloveClass] < volt)
    return `Class ${gear.gloveClass} is for up to ${GLOVE_VOLT_DC[gear.gloveClass]} V DC; the string can stand at ${volt.toFixed(0)} V.`;
  if (gear.kind === 'meter' && (gear.category === 'II' || gear.categoryVolt < LEAST_CATEGORY_VOLT))
    return `CAT ${gear.category} ${gear.categoryVolt} V: a meter rated CAT III 1000 V or better is asked for.`;
  return findDue(gear, policy, today).refusal;
}

export interface Suggestion {
  readonly gear: Gear;
  readonly refusal: string | null;
  readonly daysLeft: number | null;
}

/** Every piece of the kind a use asks for: what can be picked first, the longest still good at the top. */
export function suggestGear(all: readonly Gear[], use: GearUse, volt: number, policy: GearPolicy, today: CalendarDate): Suggestion[] {
  return all
    .filter((g) => g.kind === KIND_OF_USE[use])
    .map((gear) => ({ gear, refusal: whyNotPick(gear, use, volt, policy, today), daysLeft: findDue(gear, policy, today).daysLeft }))
    .sort(
      (a, b) =>
        Number(a.refusal !== null) - Number(b.refusal !== null) ||
        (b.daysLeft ?? Infinity) - (a.daysLeft ?? Infinity) ||
        (a.gear.gearId < b.gear.gearId ? -1 : 1),
    );
}

/** Acts of putting the pack back and waking the car: groups tightened, the 12 V, the wake, scans, a drain, the road. */
import * as z from 'zod';
import { CODE_PATTERN, CODE_STATUSES } from '../../../scan/general.ts';
import { SCAN_MOMENTS } from '../../../scan/codes.ts';
import { fact } from '../chapter.ts';
import type { ActOf, Table } from '../table.ts';
import { idSchema, shortText, text } from '../words.ts';

export const REFIT_CHECKS = ['cablesHeld', 'harnessSeen', 'restTold'] as const;
/** Cables at their posts, pulled on; harness and interlock pressed home; what is left over was told. */
export type RefitCheck = (typeof REFIT_CHECKS)[number];

export const checkedSchema = z.strictObject({ check: z.enum(REFIT_CHECKS), isGood: z.boolean(), note: text.default('') });

/** Every piece of a group to its torque. */
export const tightenedSchema = z.strictObject({ partId: idSchema, newtonMetre: z.number().positive().max(10_000) });

const percent = z.number().min(0).max(100);
const celsius = z.number().min(-60).max(200);

export const testedSchema = z.strictObject({
  restVolt: z.number().min(0).max(60),
  /** At the end of the load; null where none was put on. */
  loadVolt: z.number().min(0).max(60).nullable(),
  celsius,
  isFromTester: z.boolean(),
});

export const SPARKS = ['none', 'small', 'strong'] as const;
/** At the first touch of the negative. */
export type Spark = (typeof SPARKS)[number];

export const triedSchema = z.strictObject({
  readyLight: z.boolean(),
  /** Null: not looked at. */
  lampsOut: z.boolean().nullable(),
  engine: z.enum(['byItself', 'byAccelerator', 'no']).nullable(),
  charging: z.enum(['takes', 'takesNothing']).nullable(),
  /** Charge that the car shows; null where it shows none. */
  chargePercent: percent.nullable(),
  note: text.default(''),
});

const blockVolts = z.array(z.number().min(-1000).max(1000).nullable()).max(200);

export const scannedSchema = z.strictObject({
  moment: z.enum(SCAN_MOMENTS),
  reader: shortText,
  readerVersion: z.string().trim().max(60),
  isSimulated: z.boolean(),
  codes: z.array(z.strictObject({ code: z.string().regex(CODE_PATTERN, 'a code such as P0562'), status: z.enum(CODE_STATUSES) })).max(300),
  readiness: z
    .strictObject({ isLampOn: z.boolean(), codeCount: z.int().min(0).max(127), incomplete: z.array(shortText).max(20) })
    .nullable(),
  blockVolts,
  /** As the unit adds it up itself; null where it does not say. */
  packVolt: z.number().min(-2000).max(2000).nullable(),
  celsius: z.array(celsius.nullable()).max(200),
  ampere: z.number().min(-2000).max(2000).nullable(),
  chargePercent: percent.nullable(),
});

export const drainedSchema = z
  .strictObject({
    when: z.enum(['before', 'after']),
    reader: shortText,
    readerVersion: z.string().trim().max(60),
    isSimulated: z.boolean(),
    startPercent: percent,
    endPercent: percent,
    ampereHour: z.number().positive().max(2000),
    seconds: z.number().positive().max(86_400),
    celsius,
    isCabinCooled: z.boolean(),
    isTwelveVoltSupported: z.boolean(),
    /** The block that ended it, from 1. */
    endsAtBlock: z.int().min(1).max(200),
    /** Volt a module between the highest and the lowest block at the end. */
    spreadVolt: z.number().min(0).max(500),
  })
  .refine((d) => d.startPercent > d.endPercent, { message: 'Nothing was drained.', path: ['endPercent'] });

export const drivenSchema = z.strictObject({
  minute: z.number().positive().max(1440),
  /** Volt a module between the highest and the lowest block, while it gives and while it takes; null where nobody looked. */
  spreadLoadVolt: z.number().min(0).max(500).nullable(),
  spreadChargeVolt: z.number().min(0).max(500).nullable(),
  highestCelsius: celsius.nullable(),
  isGood: z.boolean(),
  note: text.default(''),
});

export const lentSchema = z.strictObject({ minute: z.number().positive().max(1440), toPercent: percent.nullable() });

const seen = { isTakenBack: true, stage: 'refit' } as const;
/** Also done long before the pack goes back: the job stays at its stage. */
const anytime = { isTakenBack: true } as const;

/** Every act of this chapter. */
export const REFIT = {
  'refit.checked': { body: checkedSchema, trait: fact('looks at what was put back', seen), effects: 'none', kept: 'checked' },
  'group.tightened': { body: tightenedSchema, trait: fact('tightens a group', seen), effects: 'none', kept: 'tightened' },
  'auxiliary.tested': { body: testedSchema, trait: fact('tests the 12 V battery', anytime), effects: 'none', kept: 'tested' },
  'spark.seen': {
    body: z.strictObject({ spark: z.enum(SPARKS) }),
    trait: fact('judges the spark of the 12 V', seen),
    effects: 'some',
    kept: 'sparks',
  },
  'wake.tried': { body: triedSchema, trait: fact('wakes the car', seen), effects: 'some', kept: 'tried' },
  'car.scanned': { body: scannedSchema, trait: fact('scans the car', anytime), effects: 'some', kept: 'scanned' },
  // what was cleared is gone from the car, whoever takes the words back
  'codes.cleared': { body: z.strictObject({ reader: shortText }), trait: fact('clears the codes'), effects: 'some', kept: 'cleared' },
  'drain.measured': { body: drainedSchema, trait: fact('drains the pack in the car', anytime), effects: 'some', kept: 'drained' },
  'road.driven': { body: drivenSchema, trait: fact('drives the car', seen), effects: 'some', kept: 'driven' },
  'energy.lent': { body: lentSchema, trait: fact('lends the pack energy', seen), effects: 'some', kept: 'lent' },
} as const satisfies Table;
export type RefitAct = ActOf<typeof REFIT>;

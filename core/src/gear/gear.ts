/** Protective equipment, meters and tools of the shop: what each kind is known by. */
import * as z from 'zod';

const day = z.iso.date('a day as YYYY-MM-DD');
const text = z.string().trim().max(120);
const name = text.min(1);

/** Maximum use voltage of rubber insulating gloves by class, direct current (ASTM D120, IEC 60903; from memory). */
export const GLOVE_VOLT_DC = { '00': 750, '0': 1500, '1': 11_250, '2': 25_500, '3': 39_750, '4': 54_000 } as const;
export type GloveClass = keyof typeof GLOVE_VOLT_DC;

const common = {
  gearId: z.string().regex(/^[A-Za-z0-9][A-Za-z0-9._-]{0,63}$/, 'letters, digits, point, dash and underscore, up to 64'),
  /** What is written on it. */
  label: name,
  serial: text.default(''),
  note: z.string().trim().max(400).default(''),
};

export const gearSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    ...common,
    kind: z.literal('gloves'),
    gloveClass: z.enum(['00', '0', '1', '2', '3', '4']),
    size: text,
    /** Last electrical test. */
    testedOn: day,
    /** Put into service; null while in the store. */
    issuedOn: day.nullable(),
  }),
  z.strictObject({
    ...common,
    kind: z.literal('meter'),
    /** Measurement category of meter and leads, with its voltage (IEC 61010-2-033 and -031). */
    category: z.enum(['II', 'III', 'IV']),
    categoryVolt: z.int().min(1).max(10_000),
    resolutionVolt: z.number().positive().max(10),
    calibratedOn: day,
  }),
  z.strictObject({ ...common, kind: z.literal('provingUnit'), outputVolt: z.number().positive().max(2000), checkedOn: day }),
  z.strictObject({ ...common, kind: z.literal('insulationTester'), testVolt: z.number().positive().max(10_000), calibratedOn: day }),
  z.strictObject({
    ...common,
    kind: z.literal('torqueTool'),
    minNewtonMetre: z.number().positive().max(10_000),
    maxNewtonMetre: z.number().positive().max(10_000),
    calibratedOn: day,
    /** Clicks since the calibration: what was on the sheet, plus the uses recorded since. */
    cycles: z.int().min(0).max(1e7),
  }),
  z.strictObject({ ...common, kind: z.literal('charger'), maximumVolt: z.number().positive().max(2000), inspectedOn: day }),
  z.strictObject({ ...common, kind: z.literal('mask'), standard: name, expiresOn: day }),
]);
export type Gear = z.infer<typeof gearSchema>;
export type GearKind = Gear['kind'];
export type GearOf<K extends GearKind> = Extract<Gear, { kind: K }>;

export const GEAR_NAMES: Record<GearKind, string> = {
  gloves: 'Insulating gloves',
  meter: 'Meter',
  provingUnit: 'Proving unit',
  insulationTester: 'Insulation tester',
  torqueTool: 'Torque tool',
  charger: 'Charger',
  mask: 'Mask',
};

/** The day that its test, calibration or inspection was last done; null for a mask, which only expires. */
export function lastCheck(gear: Gear): string | null {
  switch (gear.kind) {
    case 'gloves':
      return gear.testedOn;
    case 'meter':
    case 'insulationTester':
    case 'torqueTool':
      return gear.calibratedOn;
    case 'provingUnit':
      return gear.checkedOn;
    case 'charger':
      return gear.inspectedOn;
    case 'mask':
      return null;
  }
}

/** The same gear with a test, calibration or inspection done on a day; counted cycles begin anew. */
export function withCheck(gear: Gear, day: string): Gear {
  switch (gear.kind) {
    case 'gloves':
      return { ...gear, testedOn: day };
    case 'meter':
    case 'insulationTester':
      return { ...gear, calibratedOn: day };
    case 'torqueTool':
      return { ...gear, calibratedOn: day, cycles: 0 };
    case 'provingUnit':
      return { ...gear, checkedOn: day };
    case 'charger':
      return { ...gear, inspectedOn: day };
    case 'mask':
      return gear;
  }
}

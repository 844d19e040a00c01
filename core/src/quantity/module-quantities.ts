/**
 * What is measured of a module: unit, decimals, which side is bad, and what it can and will read by the kind of module. The one table
 * that entry, import, acts, verdicts, drawings and exports read. Ranges are common practice, no source; they stand here.
 */
import { refuse, type Refusal } from '../result.ts';

export const MODULE_QUANTITIES = [
  ...(['openCircuitVolt', 'restVolt', 'loadVolt', 'recoveredVolt', 'capacityAh', 'resistanceMilliohm'] as const),
  ...(['restDropMillivolt', 'loadDropMillivolt'] as const),
] as const;
export type ModuleQuantity = (typeof MODULE_QUANTITIES)[number];

interface Quantity {
  /** What it is called in a sentence. */
  readonly name: string;
  readonly unit: 'V' | 'mV' | 'Ah' | 'mΩ';
  /** Decimals it is shown with. */
  readonly digits: number;
  /** Step of an instrument that nobody named, in the unit. */
  readonly resolution: number;
  /** +1 where more is worse, -1 where less is worse. */
  readonly bad: 1 | -1;
}

const VOLT = { unit: 'V', digits: 3, resolution: 1e-5, bad: -1 } as const;
const DROP = { unit: 'mV', digits: 0, resolution: 1e-2, bad: 1 } as const;

export const QUANTITIES: Record<ModuleQuantity, Quantity> = {
  openCircuitVolt: { name: 'open-circuit voltage', ...VOLT },
  restVolt: { name: 'voltage after rest', ...VOLT },
  loadVolt: { name: 'voltage under load', ...VOLT },
  recoveredVolt: { name: 'recovered voltage', ...VOLT },
  capacityAh: { name: 'capacity', unit: 'Ah', digits: 2, resolution: 1e-5, bad: -1 },
  resistanceMilliohm: { name: 'resistance', unit: 'mΩ', digits: 1, resolution: 1e-3, bad: 1 },
  restDropMillivolt: { name: 'rest drop', ...DROP },
  loadDropMillivolt: { name: 'load drop', ...DROP },
};

/** What of a module type its quantities hang on. */
export interface ModuleFigurePlan {
  readonly nominalVolt: number;
  readonly maximumModuleVolt: number;
  readonly nominalCapacityAh: number;
  readonly typicalMilliohm: number;
}

export interface Range {
  readonly least: number;
  readonly most: number;
}

/** What it can be at all: a module may be turned or reversed, and stands above its open-circuit maximum while it is charged. */
export function possibleRange(quantity: ModuleQuantity, type: ModuleFigurePlan): Range {
  const volt = 1.25 * type.maximumModuleVolt;
  switch (QUANTITIES[quantity].unit) {
    case 'V':
      return { least: -volt, most: volt };
    case 'mV':
      return { least: -2000 * volt, most: 2000 * volt };
    case 'Ah':
      return { least: 0, most: 5 * type.nominalCapacityAh };
    case 'mΩ':
      return { least: 0, most: 1000 * type.typicalMilliohm };
  }
}

/** What it will be, healthy or worn: outside of it a person is asked once whether it is so. */
export function likelyRange(quantity: ModuleQuantity, type: ModuleFigurePlan): Range {
  const { nominalVolt, maximumModuleVolt, nominalCapacityAh, typicalMilliohm } = type;
  switch (QUANTITIES[quantity].unit) {
    case 'V':
      return { least: (quantity === 'loadVolt' ? 0.75 : 0.8) * nominalVolt, most: maximumModuleVolt };
    case 'mV':
      return { least: -20, most: 600 * nominalVolt };
    case 'Ah':
      return { least: 0.2 * nominalCapacityAh, most: 1.2 * nominalCapacityAh };
    case 'mΩ':
      return { least: 0.3 * typicalMilliohm, most: 5 * typicalMilliohm };
  }
}

export function isWithin({ least, most }: Range, value: number): boolean {
  return value >= least && value <= most;
}

/** A value in the digits and the unit of its quantity; more digits where it would else read as zero. */
export function showQuantity(quantity: ModuleQuantity, value: number): string {
  const { unit, digits } = QUANTITIES[quantity];
  const plain = value.toFixed(digits);
  return `${Number(plain) === 0 && value !== 0 ? String(Number(value.toPrecision(3))) : plain} ${unit}`;
}

/** Slips of the hand: a prefix left out, a point that did not take, a sign too many. */
const SLIPS: readonly ((value: number) => number)[] = [(v) => v / 1000, (v) => v * 1000, (v) => -v, (v) => v / 10, (v) => v / 100];

/** The value that was probably meant by one that is not likely; null where nothing near it is. */
export function guessMeant(quantity: ModuleQuantity, value: number, type: ModuleFigurePlan): number | null {
  const likely = likelyRange(quantity, type);
  const meant = SLIPS.map((slip) => Number(slip(value).toPrecision(12))).find((v) => isWithin(likely, v));
  return meant ?? null;
}

/** A sentence with the range and what was probably meant. */
function sayMeant(quantity: ModuleQuantity, value: number, type: ModuleFigurePlan): string {
  const meant = guessMeant(quantity, value, type);
  return meant === null ? '' : ` Did you mean ${Number(meant.toPrecision(6))} ${QUANTITIES[quantity].unit}?`;
}

/** Why a value cannot be, with what was probably meant; null where it can. */
export function sayImpossible(quantity: ModuleQuantity, value: number, type: ModuleFigurePlan): string | null {
  const range = possibleRange(quantity, type);
  if (isWithin(range, value)) return null;
  const { unit, name } = QUANTITIES[quantity];
  const between = `${Number(range.least.toFixed(2))} to ${Number(range.most.toFixed(2))} ${unit}`;
  return `${value} ${unit} cannot be the ${name} of one of these modules (${between}).${sayMeant(quantity, value, type)}`;
}

/** Why a value is asked about once, with what was probably meant; null where it is likely. */
export function sayUnlikely(quantity: ModuleQuantity, value: number, type: ModuleFigurePlan): string | null {
  const range = likelyRange(quantity, type);
  if (isWithin(range, value)) return null;
  const { unit, name } = QUANTITIES[quantity];
  const between = `${Number(range.least.toFixed(2))} to ${Number(range.most.toFixed(2))} ${unit}`;
  return `${value} ${unit} is an unusual ${name} for these modules (${between}).${sayMeant(quantity, value, type)}`;
}

/** The refusal of a value that no module can have: code `impossible`. */
export function refuseImpossible(
  quantity: ModuleQuantity,
  value: number,
  type: ModuleFigurePlan,
  path: readonly (string | number)[],
): Refusal | null {
  const why = sayImpossible(quantity, value, type);
  return why === null ? null : refuse('impossible', why, path);
}

/**
 * The factor by which a whole column seems to be off, by its middle: 1000 where volts were taken for millivolts. Null where the
 * column fits, or no factor makes it fit.
 */
export function guessFactor(quantity: ModuleQuantity, values: readonly number[], type: ModuleFigurePlan): 1000 | 0.001 | null {
  const sorted = [...values].sort((a, b) => a - b);
  const middle = sorted[Math.floor(sorted.length / 2)];
  if (middle === undefined) return null;
  const likely = likelyRange(quantity, type);
  if (isWithin(likely, middle)) return null;
  return ([1000, 0.001] as const).find((factor) => isWithin(likely, middle * factor)) ?? null;
}

/** A column that would fit if its values were so many times as large. */
export interface UnitQuestion<Figure extends string = string> {
  readonly figure: Figure;
  readonly factor: number;
  readonly sentence: string;
}

/** What to ask about the unit of a whole column of values; null where it fits. */
export function askUnit<Figure extends string>(
  figure: Figure,
  quantity: ModuleQuantity,
  values: readonly number[],
  type: ModuleFigurePlan,
): UnitQuestion<Figure> | null {
  const factor = guessFactor(quantity, values, type);
  if (factor === null) return null;
  const { name, unit } = QUANTITIES[quantity];
  const { least, most } = likelyRange(quantity, type);
  const usual = `${Number(least.toFixed(2))} to ${Number(most.toFixed(2))} ${unit}`;
  return {
    figure,
    factor,
    sentence: `Taken in ${unit} the ${name} of these modules is far off ${usual}; ${factor} times as much would fit.`,
  };
}

/** A value so many times as large, without the digits that the multiplication adds. */
export function scaleBy(value: number, factor: number): number {
  return Number((value * factor).toPrecision(12));
}

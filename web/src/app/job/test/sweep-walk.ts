/** The walk through a sweep: which reading comes next, what a typed text means, and when it must be asked about. */
import { readDecimal, SWEEP_QUANTITIES, type ModuleType, type Sweep, type SweepFigure, type SweepKind } from '@estuarine/core';

export interface Slot {
  readonly place: number;
  readonly quantity: SweepFigure;
}

export const QUANTITY_NAMES: Record<SweepFigure, { readonly name: string; readonly unit: string }> = {
  openCircuitVolt: { name: 'open circuit', unit: 'V' },
  restVolt: { name: 'after rest', unit: 'V' },
  loadVolt: { name: 'under load', unit: 'V' },
  recoveredVolt: { name: 'recovered', unit: 'V' },
  capacityAh: { name: 'capacity', unit: 'Ah' },
  resistanceMilliohm: { name: 'resistance', unit: 'mΩ' },
};

export const SWEEP_NAMES: Record<SweepKind, string> = {
  openCircuit: 'Open circuit',
  rest: 'After rest',
  load: 'Under load',
  capacity: 'Capacity',
  resistance: 'Resistance',
};

/** All readings of a sweep in the order they are taken: module by module. */
export function listSlots(kind: SweepKind, moduleCount: number): Slot[] {
  return Array.from({ length: moduleCount }, (_, i) => SWEEP_QUANTITIES[kind].map((quantity) => ({ place: i + 1, quantity }))).flat();
}

/** Index of the first slot from `from` on without a reading; else from the start; else `from`. */
export function findOpenSlot(slots: readonly Slot[], sweep: Sweep, from = 0): number {
  const isOpen = ({ place, quantity }: Slot): boolean => (sweep.readings[quantity]?.[place]?.length ?? 0) === 0;
  const ahead = slots.findIndex((s, i) => i >= from && isOpen(s));
  if (ahead >= 0) return ahead;
  const any = slots.findIndex(isOpen);
  return any >= 0 ? any : Math.min(from, slots.length - 1);
}

/** What is likely for a module of this type; outside of it a person is asked once. Common practice, no source. */
export function likelyRange(quantity: SweepFigure, type: ModuleType): readonly [number, number] {
  switch (quantity) {
    case 'capacityAh':
      return [0.2 * type.nominalCapacityAh, 1.2 * type.nominalCapacityAh];
    case 'resistanceMilliohm':
      return [0.3 * type.typicalMilliohm, 5 * type.typicalMilliohm];
    case 'loadVolt':
      return [0.75 * type.nominalVolt, type.maximumModuleVolt];
    case 'openCircuitVolt':
    case 'restVolt':
    case 'recoveredVolt':
      return [0.8 * type.nominalVolt, type.maximumModuleVolt];
  }
}

export type Typed =
  | { readonly kind: 'nothing' }
  | { readonly kind: 'refused'; readonly reason: string }
  | { readonly kind: 'ask'; readonly value: number; readonly question: string }
  | { readonly kind: 'value'; readonly value: number };

/** Reads what was typed for a slot. `confirmed` is the text that was asked about just before. */
export function readTyped(text: string, quantity: SweepFigure, type: ModuleType, confirmed: string | null): Typed {
  if (text.trim() === '') return { kind: 'nothing' };
  const read = readDecimal(text);
  if (read.kind === 'refused') return { kind: 'refused', reason: read.message };
  if (text === confirmed) return { kind: 'value', value: read.value };
  const [low, high] = likelyRange(quantity, type);
  const { unit } = QUANTITY_NAMES[quantity];
  if (read.value < low || read.value > high)
    return {
      kind: 'ask',
      value: read.value,
      question: `${read.value} ${unit} lies outside ${round(low)} to ${round(high)} ${unit}. Enter again to keep it.`,
    };
  return { kind: 'value', value: read.value };
}

/** A number above zero that may be left out: null for blank, undefined for anything else. */
export function readOptional(text: string): number | null | undefined {
  if (text.trim() === '') return null;
  const read = readDecimal(text);
  return read.kind === 'answer' && read.value > 0 ? read.value : undefined;
}

function round(value: number): string {
  return String(Number(value.toPrecision(3)));
}

/** The walk through a sweep: which reading comes next, what a typed text means, and when it must be asked about. */
import {
  countingReading,
  QUANTITIES,
  readDecimal,
  sayImpossible,
  sayUnlikely,
  SWEEP_QUANTITIES,
  type Figure,
  type ModuleType,
  type Sweep,
  type SweepFigure,
  type SweepKind,
} from '@estuarine/core';

export interface Slot {
  readonly place: number;
  readonly quantity: SweepFigure;
}

/** Short names of the quantities, beside the field. */
const SHORT: Record<SweepFigure, string> = {
  openCircuitVolt: 'open circuit',
  restVolt: 'after rest',
  loadVolt: 'under load',
  recoveredVolt: 'recovered',
  capacityAh: 'capacity',
  resistanceMilliohm: 'resistance',
};

export function quantityLabel(quantity: SweepFigure): { readonly name: string; readonly unit: string } {
  return { name: SHORT[quantity], unit: QUANTITIES[quantity].unit };
}

export const FIGURE_NAMES: Record<Figure, string> = {
  openCircuitVolt: 'Open circuit',
  restDropMillivolt: 'Rest drop',
  loadDropMillivolt: 'Load drop',
  resistanceMilliohm: 'Resistance',
  capacityAh: 'Capacity',
};

export const SWEEP_NAMES: Record<SweepKind, string> = {
  openCircuit: 'Open circuit',
  rest: 'After rest',
  load: 'Under load',
  capacity: 'Capacity',
  resistance: 'Resistance',
};

export const RECOVERED_NAMES: Record<Sweep['recovered'], string> = { all: 'all', standApart: 'those that stand apart', none: 'none' };

/**
 * All readings of a sweep in the order they are taken: module by module, and last those that only some modules are read for.
 * @param apart places that stand apart by what the sweep has read so far
 */
export function listSlots(
  { kind, recovered }: Pick<Sweep, 'kind' | 'recovered'>,
  moduleCount: number,
  apart: readonly number[] = [],
): Slot[] {
  const asked = SWEEP_QUANTITIES[kind].filter((quantity) => quantity !== 'recoveredVolt' || recovered === 'all');
  const each = Array.from({ length: moduleCount }, (_, i) => asked.map((quantity) => ({ place: i + 1, quantity }))).flat();
  const isForSome = kind === 'load' && recovered === 'standApart';
  return isForSome ? [...each, ...apart.map((place) => ({ place, quantity: 'recoveredVolt' as const }))] : each;
}

/**
 * Index of the first slot from `from` on without a reading; else from the start; else `from`.
 * @param keys what the readings of each place are kept under
 */
export function findOpenSlot(slots: readonly Slot[], sweep: Sweep, keys: readonly string[], from = 0): number {
  const isOpen = ({ place, quantity }: Slot): boolean => countingReading(sweep, quantity, keys[place - 1] ?? '') === null;
  const ahead = slots.findIndex((s, i) => i >= from && isOpen(s));
  if (ahead >= 0) return ahead;
  const any = slots.findIndex(isOpen);
  return any >= 0 ? any : Math.min(from, slots.length - 1);
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
  const impossible = sayImpossible(quantity, read.value, type);
  if (impossible !== null) return { kind: 'refused', reason: impossible };
  const unlikely = text === confirmed ? null : sayUnlikely(quantity, read.value, type);
  return unlikely === null
    ? { kind: 'value', value: read.value }
    : { kind: 'ask', value: read.value, question: `${unlikely} Enter again to keep it.` };
}

/** A number above zero that may be left out: null for blank, undefined for anything else. */
export function readOptional(text: string): number | null | undefined {
  if (text.trim() === '') return null;
  const read = readDecimal(text);
  return read.kind === 'answer' && read.value > 0 ? read.value : undefined;
}

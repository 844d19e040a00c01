/** Invented modules that behave: capacity, resistance and leakage drawn from a fixed seed, voltages from the cell model. */
import { findCellVolt, PUBLISHED_PARAMETERS, type Generator } from '@estuarine/core';

const FRESH_AH = PUBLISHED_PARAMETERS.nimh.Q;

export interface TrueModule {
  readonly id: string;
  readonly cells: number;
  readonly capacityAh: number;
  readonly milliohm: number;
  /** Self-discharge while resting, millivolt an hour. */
  readonly leakMillivoltPerHour: number;
  readonly deadCells: number;
  /** Share of the charge that is left. */
  readonly charge: number;
}

export interface Fault {
  readonly kind: 'leaks' | 'tired' | 'deadCell';
}

/** A module with the wear of its age; `fault` makes it one of the bad ones, `heat` of 0.5 takes two thirds of an Ah from it. */
export function makeModule(id: string, generator: Generator, fault: Fault | null = null, cells = 6, heat = 0): TrueModule {
  const capacityAh = generator.normal(5.75, 0.22) - (fault?.kind === 'tired' ? 1.2 : 0) - 1.3 * heat;
  return {
    id,
    cells,
    capacityAh: Math.min(Math.max(capacityAh, 2), FRESH_AH),
    milliohm: (cells / 6) * (generator.normal(27, 0.9) + (fault?.kind === 'tired' ? 9 : 0)),
    leakMillivoltPerHour: Math.max(0.6, generator.normal(1.5, 0.15)) + (fault?.kind === 'leaks' ? 22 : 0),
    deadCells: fault?.kind === 'deadCell' ? 1 : 0,
    charge: generator.normal(0.6, 0.006),
  };
}

/** Terminal voltage after hours of rest, under a discharge current, rounded to a meter's millivolt with its noise. */
export function readVolt(module: TrueModule, generator: Generator, restHour = 0, ampere = 0): number {
  const drawn = (1 - module.charge) * module.capacityAh;
  const cell = findCellVolt(
    { ...PUBLISHED_PARAMETERS.nimh, Q: module.capacityAh, R: module.milliohm / 1000 / module.cells },
    ampere,
    drawn,
  );
  if (cell.kind === 'refused') throw new Error(cell.message);
  const volt = (module.cells - module.deadCells) * cell.value - (module.leakMillivoltPerHour * restHour) / 1000;
  return Math.round((volt + generator.normal(0, 0.0008)) * 1000) / 1000;
}

export function round(value: number, digits: number): number {
  return Number(value.toFixed(digits));
}

/** The slice of what was measured: sweeps with their readings by module. */
import * as z from 'zod';
import { SWEEP_FIGURES, type SweepFigure } from '../../../reading/sweep-file.ts';
import { entriesOf } from '../words.ts';
import { sweepStartedSchema } from './acts.ts';

const reading = z.strictObject({
  commandId: z.string(),
  value: z.number(),
  by: z.string(),
  number: z.int(),
  /** Where the module sat. */
  place: z.int(),
  /** When it was measured, by the device's corrected clock, ISO 8601. */
  readAt: z.string(),
});
/** One reading of one module; a later one stands beside it and corrects it. */
export type Reading = Readonly<z.infer<typeof reading>>;

const sweep = z.strictObject({
  ...z.strictObject(sweepStartedSchema.shape).shape,
  id: z.string(),
  by: z.string(),
  startedAt: z.string(),
  endedAt: z.string().nullable(),
  /** Name of the file it came from; null when it was typed. */
  fileName: z.string().nullable(),
  /** Readings of each quantity by module, in the order kept. */
  readings: z.partialRecord(z.enum(SWEEP_FIGURES), entriesOf(z.array(reading))),
  /** Readings chosen where two people differ: `quantity:module` to command id. */
  chosen: entriesOf(z.string()),
});
export type Sweep = z.infer<typeof sweep>;

const stay = z.strictObject({ moduleId: z.string().nullable(), since: z.int() });
type Stay = z.infer<typeof stay>;
export const UNNAMED: Stay = { moduleId: null, since: 0 };

export const sweepStateSchema = z.strictObject({
  sweeps: z.array(sweep),
  /** Number of the last event that says the pack was charged; readings before it no longer tell voltages. */
  chargedNumber: z.int(),
  /** What sat at each place since which event, place 1 first, the last at present; null: nothing, or a module that nobody named. */
  history: z.array(z.array(stay)),
});
export type SweepState = z.infer<typeof sweepStateSchema>;

function lastStay({ history }: Pick<SweepState, 'history'>, place: number): Stay {
  return history[place - 1]?.at(-1) ?? UNNAMED;
}

/** What readings of a place count for: its module, or whatever sits there unnamed since the place last changed. */
export function keyAt(slice: Pick<SweepState, 'history'>, place: number): string {
  const { moduleId, since } = lastStay(slice, place);
  return moduleId ?? (since === 0 ? `?${place}` : `?${place}@${since}`);
}

/** What a reading counts for: the module it names if that was ever in this pack, else what sits at its place. */
export function keyFor(slice: Pick<SweepState, 'history'>, place: number, moduleId: string | null): string {
  const isKnown = moduleId !== null && slice.history.some((stays) => stays.some((s) => s.moduleId === moduleId));
  return isKnown ? moduleId : keyAt(slice, place);
}

/** Notes what sits at a place from an event on; a named module is at no other place any more. */
export function moveModule({ history }: Pick<SweepState, 'history'>, place: number, moduleId: string | null, since: number): void {
  for (const [i, stays] of history.entries()) {
    const isHere = i === place - 1;
    if (isHere) stays.push({ moduleId, since });
    else if (moduleId !== null && stays.at(-1)?.moduleId === moduleId) stays.push({ moduleId: null, since });
  }
}

export function choiceKey(quantity: SweepFigure, key: string): string {
  return `${quantity}:${key}`;
}

/** The reading that counts for a module, or null: the chosen one, else the last kept. */
export function countingReading(sweep: Sweep, quantity: SweepFigure, key: string): Reading | null {
  const list = sweep.readings[quantity]?.get(key);
  if (!list || list.length === 0) return null;
  const chosen = sweep.chosen.get(choiceKey(quantity, key));
  return list.find((r) => r.commandId === chosen) ?? list[list.length - 1] ?? null;
}

/** Two readings of two people further apart than this, in volt, stand as "two readings" until one is chosen. */
export const TWO_READINGS_VOLT = 0.01;

/** The last reading of each person, when they differ and none is chosen; else an empty list. */
export function twoReadings(sweep: Sweep, quantity: SweepFigure, key: string): Reading[] {
  const list = sweep.readings[quantity]?.get(key);
  if (!list || list.length < 2 || sweep.chosen.has(choiceKey(quantity, key)) || !quantity.endsWith('Volt')) return [];
  const lastOf = new Map(list.map((r) => [r.by, r]));
  const values = [...lastOf.values()].map((r) => r.value);
  return Math.max(...values) - Math.min(...values) > TWO_READINGS_VOLT + 1e-9 ? [...lastOf.values()] : [];
}

export function findSweep({ sweeps }: SweepState, sweepId: string): Sweep | undefined {
  return sweeps.findLast((s) => s.id === sweepId);
}

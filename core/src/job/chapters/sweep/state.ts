/** The slice of what was measured: sweeps with their readings by module. */
import * as z from 'zod';
import { SWEEP_FIGURES, type SweepFigure } from '../../../reading/sweep-file.ts';
import { isAfter, orderOf, stampSchema, type Stamp } from '../stamp.ts';
import { entriesOf } from '../words.ts';
import { sweepStartedSchema } from './acts.ts';

const reading = z.strictObject({
  ...stampSchema.shape,
  commandId: z.string(),
  value: z.number(),
  /** Where the module sat. */
  place: z.int(),
  /** Number of the event that moved it here from the place where it was written; absent where it stands as written. */
  movedAt: z.int().optional(),
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
  /** Readings that fell far and were confirmed: `quantity:module` to the act that said so. */
  confirmed: entriesOf(z.string()),
  /** Whose last reading was another module's, until it is read anew: `quantity:module` to the act that said so. */
  aside: entriesOf(z.string()),
});
export type Sweep = z.infer<typeof sweep>;

const run = stampSchema.extend({
  commandId: z.string(),
  from: z.int(),
  to: z.int(),
  /** Without its sign. */
  volt: z.number(),
});
/** A voltage measured across the modules of a run, as they sat then and sit now. */
export type Run = Readonly<z.infer<typeof run>>;

export const sweepStateSchema = z.strictObject({
  sweeps: z.array(sweep),
  /** When the modules took charge or a source was on: a reading tells a voltage only if it is certainly later than each of them. */
  charges: z.array(stampSchema.extend({ commandId: z.string() })),
  /** Voltages across several modules, in the order kept, while nothing in them was moved. */
  runs: z.array(run),
  /** A fall between two sweeps beyond which a reading is doubted, in volt: half of what modules of the type usually span. */
  steepFallVolt: z.number(),
  /** Modules of which a voltage was taken back, by the number of that event: until they are read again nothing is known of them. */
  voided: entriesOf(z.int()),
  /**
   * What the readings of each place counted for, place 1 first, the last at present: a module, or `?3@57` for what sits unnamed at
   * place 3 since event 57.
   */
  keys: z.array(z.array(z.string())),
  /** When each of these came to its place, in the same order; null for what sat there as the job began. */
  arrivals: z.array(z.array(stampSchema.nullable())),
});
export type SweepState = z.infer<typeof sweepStateSchema>;

/** What readings of a place are kept under while nobody named a module there, from an event on. */
export function unnamedKey(place: number, since: number): string {
  return `?${place}@${since}`;
}

/** What readings of a place count for now. */
export function keyAt({ keys }: Pick<SweepState, 'keys'>, place: number): string {
  return keys[place - 1]?.at(-1) ?? unnamedKey(place, 0);
}

/** What a reading counts for: the module it names if that was ever in this pack, else what sits at its place. */
export function keyFor(slice: Pick<SweepState, 'keys'>, place: number, moduleId: string | null): string {
  const isKnown = moduleId !== null && slice.keys.some((list) => list.includes(moduleId));
  return isKnown ? moduleId : keyAt(slice, place);
}

/** What sat at a place when a file was measured that came later; what sits there only since is none of it. */
export function keyThen({ keys, arrivals }: Pick<SweepState, 'keys' | 'arrivals'>, place: number, stamp: Stamp): string {
  const index = arrivals[place - 1]?.findLastIndex((came) => came === null || isAfter(stamp, came)) ?? -1;
  return keys[place - 1]?.[index] ?? keyAt({ keys }, place);
}

/**
 * Notes what sits at a place from an event on; a named module is at no other place any more.
 * @param came null as the job begins
 */
export function moveModule(
  { keys, arrivals }: Pick<SweepState, 'keys' | 'arrivals'>,
  place: number,
  moduleId: string | null,
  since: number,
  came: Stamp | null,
): void {
  const put = (at: number, key: string): void => {
    keys[at]?.push(key);
    arrivals[at]?.push(came);
  };
  for (const [i, list] of keys.entries()) {
    if (i === place - 1) put(i, moduleId ?? unnamedKey(place, since));
    else if (moduleId !== null && list.at(-1) === moduleId) put(i, unnamedKey(i + 1, since));
  }
}

export function choiceKey(quantity: SweepFigure, key: string): string {
  return `${quantity}:${key}`;
}

/** The reading that counts for a module, or null: the chosen one, else the last kept, unless that was another module's. */
export function countingReading(sweep: Sweep, quantity: SweepFigure, key: string): Reading | null {
  const list = sweep.readings[quantity]?.get(key);
  if (!list || list.length === 0 || sweep.aside.has(choiceKey(quantity, key))) return null;
  const chosen = sweep.chosen.get(choiceKey(quantity, key));
  return list.find((r) => r.commandId === chosen) ?? list[list.length - 1] ?? null;
}

/** Two readings of two people further apart than this, in volt, stand as "two readings" until one is chosen. */
export const TWO_READINGS_VOLT = 0.01;

/** The last reading of each person, when they differ and none is chosen; else an empty list. */
export function twoReadings(sweep: Sweep, quantity: SweepFigure, key: string): Reading[] {
  const list = sweep.readings[quantity]?.get(key);
  const name = choiceKey(quantity, key);
  if (!list || list.length < 2 || sweep.chosen.has(name) || sweep.aside.has(name) || !quantity.endsWith('Volt')) return [];
  const lastOf = new Map(list.map((r) => [r.by, r]));
  const values = [...lastOf.values()].map((r) => r.value);
  return Math.max(...values) - Math.min(...values) > TWO_READINGS_VOLT + 1e-9 ? [...lastOf.values()] : [];
}

export function findSweep({ sweeps }: SweepState, sweepId: string): Sweep | undefined {
  return sweeps.findLast((s) => s.id === sweepId);
}

/** A voltage of a module that tells what it stands at. */
export interface StandingVolt {
  /** When it was read. */
  readonly read: Stamp;
  /** A later reading fell further than a module does, and is neither confirmed nor read again: it lowers nothing. */
  readonly isFallDoubted: boolean;
  /** As read; below zero for a module that is reversed. */
  readonly value: number;
  /** Readings of two people that differ, or of clocks that cannot be told apart: the higher counts. */
  readonly isDoubtful: boolean;
}

/** Open-circuit voltages: under load a module stands lower than it is. */
export const STANDING = ['openCircuitVolt', 'restVolt'] as const;

/** A reading with what it needs to be weighed. */
interface Told {
  readonly key: string;
  readonly sweep: Sweep;
  readonly quantity: SweepFigure;
  readonly reading: Reading;
}

/** A reading that fell too far, with the one before it. */
export interface Fall extends Told {
  readonly before: Reading;
}

/**
 * What a module stands at by its readings: the one measured last, since the last charge. Where two people's readings of a sweep differ
 * and none is chosen, and where it cannot be told which was last, the higher counts. One that fell too far lowers nothing. Null where
 * nothing is known.
 */
export function standingVolt(slice: SweepState, key: string): StandingVolt | null {
  const doubted = listDoubtedFalls(slice, key);
  const found = weighVolts(slice, key, doubted);
  if (!found) return null;
  return { ...found, isFallDoubted: doubted.length > 0 };
}

function weighVolts(slice: SweepState, key: string, doubted: readonly Told[]): Omit<StandingVolt, 'isFallDoubted'> | null {
  const { sweeps, charges, voided } = slice;
  const since = voided.get(key) ?? 0;
  const isDoubted = (r: Reading): boolean => doubted.some((d) => d.reading === r);
  const counts = (r: Reading): boolean => r.number > since && !isDoubted(r) && charges.every((charge) => isAfter(r, charge));
  const found: { readonly usable: readonly Reading[]; readonly all: readonly Reading[] }[] = [];
  for (const sweep of sweeps)
    for (const quantity of STANDING) {
      const list = sweep.readings[quantity]?.get(key);
      if (!list || sweep.aside.has(choiceKey(quantity, key))) continue;
      const chosen = sweep.chosen.get(choiceKey(quantity, key));
      // of a reading that was moved and the one it was put over either may be true
      const one = list.find((r) => r.commandId === chosen && r.movedAt === undefined);
      const all = one ? [one] : lastOfEach(list);
      const usable = all.filter(counts);
      if (usable.length > 0) found.push({ usable, all: all.filter((r) => r.number > since && !isDoubted(r)) });
    }
  const told = found.flatMap((f) => f.usable);
  // one that was moved here is only as good as whoever moved it: what was written for the module itself says which was last
  const written = told.filter((r) => r.movedAt === undefined);
  // nor is a module read again by what somebody put to it after its own was taken back
  if (since > 0 && written.length === 0) return null;
  const latest = latestOf(written.length > 0 ? written : told);
  if (!latest) return null;
  // beside the last stand those of the same sweep by others, a charge between them or not, and any that may be as late
  const standing = found.flatMap(({ usable, all }) => (all.includes(latest) ? all : usable.filter((r) => !isAfter(latest, r))));
  const worst = standing.reduce((high, r) => (Math.abs(r.value) > Math.abs(high.value) ? r : high), latest);
  // a file that tells before and after a rest says no time of either: the higher counts, and nobody has to choose
  const isOther = (r: Reading): boolean => r.number !== latest.number && Math.abs(Math.abs(r.value) - Math.abs(worst.value)) > 1e-9;
  return { value: worst.value, read: worst, isDoubtful: standing.some(isOther) || worst.number !== latest.number };
}

function latestOf(readings: readonly Reading[]): Reading | null {
  let latest: Reading | null = null;
  for (const r of readings) if (!latest || orderOf(r, latest) === 'after') latest = r;
  return latest;
}

/** Two readings this near to each other, as a share of the fall that is doubted, say the same. */
const SAME_SHARE = 0.1;

/**
 * Readings of a module that fell further than one does since a sweep before, latest first: a range that slipped, a point that did not
 * take, another module. One that was confirmed, or read again and came to the same, is none.
 */
export function listDoubtedFalls(slice: SweepState, key: string): Fall[] {
  const told = listTold(slice, key);
  const values = told.map(({ reading }) => Math.abs(reading.value));
  // hardly ever: looked into only where the whole row spans as much
  if (told.length < 2 || Math.max(...values) - Math.min(...values) <= slice.steepFallVolt) return [];
  const doubted: Fall[] = [];
  for (let rest = told; ;) {
    const latest = latestOf(rest.map((t) => t.reading));
    const last = rest.find((t) => t.reading === latest);
    const before = last && findHeightBefore(last, told, rest, slice);
    if (!last || !before) return doubted;
    doubted.push({ ...last, before });
    rest = rest.filter((t) => t !== last);
  }
}

/** The reading of a sweep before from which one fell too far; null where it did not. */
function findHeightBefore(
  { key, sweep, quantity, reading }: Told,
  told: readonly Told[],
  rest: readonly Told[],
  slice: SweepState,
): Reading | null {
  if (sweep.confirmed.has(choiceKey(quantity, key))) return null;
  const volt = Math.abs(reading.value);
  const before = latestOf(rest.filter((t) => t.sweep !== sweep).map((t) => t.reading));
  if (!before || Math.abs(before.value) - volt <= slice.steepFallVolt) return null;
  const isSame = (r: Reading): boolean => Math.abs(Math.abs(r.value) - volt) <= SAME_SHARE * slice.steepFallVolt;
  const isReadAgain = told.some((t) => t.reading.commandId !== reading.commandId && t.reading.number > before.number && isSame(t.reading));
  return isReadAgain ? null : before;
}

/** Meters differ this much, as a share; a run that stands further above its readings contradicts them. */
const METERS_DIFFER = 0.02;

/** Whether modules that add up to so little cannot be what was measured across them. */
export function isContradicted(measuredVolt: number, sumVolt: number): boolean {
  return measuredVolt > sumVolt * (1 + METERS_DIFFER);
}

/**
 * Whether the last voltage read of a module was below zero: a charge raises it and turns nothing round. Of a reading that was put to
 * another module either may be true, until one of the two is read anew.
 */
export function isReadReversed(slice: SweepState, key: string): boolean {
  // few ever are: which was the last matters only then
  const read = listTold(slice, key, true).map((t) => t.reading);
  if (!read.some((r) => r.value < 0)) return false;
  const isPutHere = (r: Reading): boolean => r.movedAt !== undefined && r.value < 0;
  const isReadSince = ({ movedAt = 0 }: Reading): boolean => read.some((r) => r.movedAt === undefined && r.number > movedAt);
  return (latestOf(read.filter((r) => r.movedAt === undefined))?.value ?? 0) < 0 || read.some((r) => isPutHere(r) && !isReadSince(r));
}

/** Every voltage of a module that was not taken back; also what was said to be another's, where that is asked for. */
function listTold({ sweeps, voided }: SweepState, key: string, withAside = false): Told[] {
  const since = voided.get(key) ?? 0;
  const told: Told[] = [];
  for (const sweep of sweeps)
    for (const quantity of STANDING)
      if (withAside || !sweep.aside.has(choiceKey(quantity, key)))
        for (const reading of sweep.readings[quantity]?.get(key) ?? [])
          if (reading.number > since) told.push({ key, sweep, quantity, reading });
  return told;
}

/** The last reading of each person; two that may be as late both stay. */
function lastOfEach(list: readonly Reading[]): readonly Reading[] {
  if (list.length < 2) return list;
  let last: Reading[] = [];
  for (const r of list) {
    if (last.some((k) => isOver(k, r))) continue;
    last = last.filter((k) => !isOver(r, k));
    last.push(r);
  }
  return last;
}

/** Whether one person's later reading takes the place of their earlier one. One that was moved takes no other's, and gives way to what came after. */
function isOver(later: Reading, earlier: Reading): boolean {
  if (later.by !== earlier.by || later.movedAt !== undefined) return false;
  return earlier.movedAt === undefined ? orderOf(later, earlier) === 'after' : later.number > earlier.movedAt;
}

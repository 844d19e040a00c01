/** The state of a job: what its events add up to. Plain data, so that it can be sent, kept and compared. */
import type { GearUse } from '../gear/due.ts';
import type { LeftOff, Movement } from '../ledger/ledger.ts';
import type { ProofReading } from '../isolate/proof.ts';
import type { Fact, PackState } from '../pack/fact.ts';
import { UNTOUCHED } from '../pack/fact.ts';
import type { Part } from '../pack/parts.ts';
import type { Stage } from '../pack/stage.ts';
import type { SweepFigure } from '../reading/sweep-file.ts';
import type { ActBody, ActType, School, SweepKind } from './event.ts';

/** One reading of one module; a later one stands beside it and corrects it. */
export interface Reading {
  readonly commandId: string;
  readonly value: number;
  readonly by: string;
  readonly number: number;
}

export interface Sweep {
  readonly id: string;
  readonly kind: SweepKind;
  readonly by: string;
  readonly startedAt: string;
  endedAt: string | null;
  readonly restSince: string | null;
  readonly restHour: number | null;
  readonly loadAmpere: number | null;
  readonly loadSecond: number | null;
  readonly resolution: number | null;
  /** Name of the file it came from; null when it was typed. */
  readonly fileName: string | null;
  /** Readings of each quantity by place, in the order kept. */
  readonly readings: Partial<Record<SweepFigure, Record<number, Reading[]>>>;
  /** Readings chosen where two people differ: `quantity:place` to command id. */
  readonly chosen: Record<string, string>;
}

export interface StatedFact {
  readonly number: number;
  readonly stage: Stage;
  readonly by: string;
  readonly at: string;
  readonly fact: Fact;
  /** Why this was not the usual order; null where it was. */
  readonly outOfOrder: string | null;
}

export interface ChosenPlan extends ActBody<'plan.chosen'> {
  readonly planId: string;
  readonly school: School;
  readonly by: string;
  readonly at: string;
  readonly number: number;
}

/** Who did something, and when by the server's clock. */
export interface Mark {
  readonly by: string;
  readonly at: string;
  readonly number: number;
}

export interface TakenReading extends ProofReading {
  readonly commandId: string;
  readonly by: string;
  readonly isFromMeter: boolean;
}

/** One go at proving dead. It lowers the line only while signed and not lapsed. */
export interface ProofRecord extends Mark, ActBody<'proof.started'> {
  readonly proofId: string;
  readings: TakenReading[];
  asked: Mark | null;
  signed: (Mark & { readonly until: string | null; readonly breakMinute: number }) | null;
  lapsed: { readonly at: string; readonly number: number; readonly reason: string } | null;
}

export interface GearPick extends Mark {
  readonly use: GearUse;
  readonly gearId: string;
  readonly isAirTested: boolean;
}

/** What was done to make the vehicle dead. */
export interface IsolationState {
  /** Steps said to be done that no fact tells. */
  steps: Record<string, Mark & { readonly note: string }>;
  picks: GearPick[];
  lengthened: (Mark & { readonly minute: number; readonly reason: string })[];
  overrides: (Mark & { readonly stepId: string; readonly reason: string })[];
  proofs: ProofRecord[];
  insulation: (Mark & ({ readonly read: ActBody<'insulation.read'> } | { readonly tested: ActBody<'insulation.tested'> }))[];
  /** When the plug came out and the 12 V off, by the server's clock; null while in place. */
  plugOutAt: string | null;
  twelveVoltOffAt: string | null;
  /** Number of the event that last touched plug, 12 V or key. */
  touchedNumber: number;
}

export interface MovedPart extends Movement, Mark {
  readonly commandId: string;
  readonly stage: Stage;
}

export interface AddedPart extends Mark {
  readonly part: Part;
  readonly isForeign: boolean;
  readonly isProposed: boolean;
}

export interface LeftOffPart extends LeftOff, Mark {
  readonly commandId: string;
  readonly reason: string;
  readonly followUp: string;
}

export interface Finding extends Mark, ActBody<'finding.noted'> {
  readonly findingId: string;
  settled: (Mark & { readonly note: string }) | null;
}

export interface Photo extends Mark, ActBody<'photo.taken'> {
  erased: (Mark & { readonly reason: string }) | null;
}

/** What came off, what was found, and how it lay. */
export interface StripState {
  added: AddedPart[];
  moved: MovedPart[];
  leftOff: LeftOffPart[];
  findings: Finding[];
  photos: Photo[];
  transfers: Record<string, Mark & Omit<ActBody<'transfer.stated'>, 'transferId'>>;
  lift: (Mark & ActBody<'lift.planned'>) | null;
  orientation: (Mark & ActBody<'orientation.recorded'>) | null;
  released: Mark | null;
}

/** Acts that their author can take back. */
export type UndoableType = Extract<
  ActType,
  'reading.taken' | 'readings.imported' | 'sweep.started' | 'proof.read' | 'part.added' | 'part.moved' | 'part.leftOff' | 'finding.noted'
>;

export interface JobState {
  /** Number of the last event; 0 before the job is opened. */
  head: number;
  opened: (ActBody<'job.opened'> & { readonly by: string; readonly at: string }) | null;
  policyVersion: number;
  stage: Stage;
  pack: PackState;
  isolation: IsolationState;
  strip: StripState;
  /** Minutes worked in each stage, breaks left out. */
  minutes: Partial<Record<Stage, number>>;
  facts: StatedFact[];
  /** Number of the last event that says the pack was charged; readings before it no longer tell voltages. */
  chargedNumber: number;
  /** Module at each place, place 1 first. */
  moduleIds: string[];
  sweeps: Sweep[];
  plan: ChosenPlan | null;
  /** Ids of the last commands that became events: an act on its way that is among them has arrived, whatever its sender knows. */
  recentIds: string[];
  /** What each person can still take back, latest last. */
  undoable: Record<string, { commandId: string; type: UndoableType }[]>;
  lastAt: string;
}

export function startState(): JobState {
  return {
    head: 0,
    opened: null,
    policyVersion: 0,
    stage: 'intake',
    pack: UNTOUCHED,
    isolation: {
      ...{ steps: {}, picks: [], lengthened: [], overrides: [], proofs: [], insulation: [] },
      ...{ plugOutAt: null, twelveVoltOffAt: null, touchedNumber: 0 },
    },
    strip: {
      ...{ added: [], moved: [], leftOff: [], findings: [], photos: [], transfers: {} },
      ...{ lift: null, orientation: null, released: null },
    },
    minutes: {},
    facts: [],
    chargedNumber: 0,
    moduleIds: [],
    sweeps: [],
    plan: null,
    recentIds: [],
    undoable: {},
    lastAt: '',
  };
}

/** The reading that counts for a place, or null: the chosen one, else the last kept. */
export function countingReading(sweep: Sweep, quantity: SweepFigure, place: number): Reading | null {
  const list = sweep.readings[quantity]?.[place];
  if (!list || list.length === 0) return null;
  const chosen = sweep.chosen[`${quantity}:${place}`];
  return list.find((r) => r.commandId === chosen) ?? list[list.length - 1] ?? null;
}

/** Two readings of two people further apart than this, in volt, stand as "two readings" until one is chosen. */
export const TWO_READINGS_VOLT = 0.01;

/** The last reading of each person, when they differ and none is chosen; else an empty list. */
export function twoReadings(sweep: Sweep, quantity: SweepFigure, place: number): Reading[] {
  const list = sweep.readings[quantity]?.[place];
  if (!list || list.length < 2 || sweep.chosen[`${quantity}:${place}`] !== undefined || !quantity.endsWith('Volt')) return [];
  const lastOf = new Map(list.map((r) => [r.by, r]));
  const values = [...lastOf.values()].map((r) => r.value);
  return Math.max(...values) - Math.min(...values) > TWO_READINGS_VOLT + 1e-9 ? [...lastOf.values()] : [];
}

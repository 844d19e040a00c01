/** The state of a job: what its events add up to. What the frame keeps, and a slice for each chapter. */
import * as z from 'zod';
import { wholePack } from '../../pack/effect.ts';
import { factSchema } from '../../pack/fact.ts';
import type { Profile } from '../../pack/profile.ts';
import { STAGES } from '../../pack/stage.ts';
import { markSchema } from '../chapters/chapter.ts';
import { cool } from '../chapters/cool/fold.ts';
import { coolStateSchema } from '../chapters/cool/state.ts';
import { findingStateSchema } from '../chapters/finding/state.ts';
import { finding } from '../chapters/finding/fold.ts';
import { handOver } from '../chapters/hand-over/fold.ts';
import { handOverStateSchema } from '../chapters/hand-over/state.ts';
import { intake } from '../chapters/intake/fold.ts';
import { intakeSchema } from '../chapters/intake/state.ts';
import { isolate } from '../chapters/isolate/fold.ts';
import { isolateStateSchema } from '../chapters/isolate/state.ts';
import { open } from '../chapters/open/fold.ts';
import { openStateSchema } from '../chapters/open/state.ts';
import { plan } from '../chapters/plan/fold.ts';
import { planStateSchema } from '../chapters/plan/state.ts';
import { rebuild } from '../chapters/rebuild/fold.ts';
import { rebuildStateSchema } from '../chapters/rebuild/state.ts';
import { refit } from '../chapters/refit/fold.ts';
import { refitStateSchema } from '../chapters/refit/state.ts';
import { strip } from '../chapters/strip/fold.ts';
import { stripStateSchema } from '../chapters/strip/state.ts';
import { sweep } from '../chapters/sweep/fold.ts';
import { standingVolt, sweepStateSchema } from '../chapters/sweep/state.ts';
import { keysOf } from '../chapters/sweep/view.ts';
import { startSlice } from '../chapters/table.ts';
import { entriesOf } from '../chapters/words.ts';
import { ACT_TYPES, saidSchema, type ActType } from './acts.ts';
import { stampSchema } from '../chapters/stamp.ts';
import { renewalSchema, statementsSchema } from './statements.ts';

/** In the order in which they hear of an effect. */
export const CHAPTERS = { intake, isolate, strip, finding, open, sweep, plan, rebuild, cool, refit, handOver } as const;
export type ChapterName = keyof typeof CHAPTERS;
export const CHAPTER_NAMES = Object.keys(CHAPTERS) as ChapterName[];

const statedFact = z.strictObject({
  ...markSchema.shape,
  stage: z.enum(STAGES),
  fact: factSchema,
  /** Why this was not the usual order; null where it was. */
  outOfOrder: z.string().nullable(),
  /** Not the last word on its thing when it came: said before what stood, or at the same time; null where it stood. */
  came: z.enum(['late', 'unclear']).nullable(),
  commandId: z.string(),
  stamp: stampSchema,
});
export type StatedFact = Readonly<z.infer<typeof statedFact>>;

const undoable = z.strictObject({ commandId: z.string(), type: z.enum(ACT_TYPES as [ActType, ...ActType[]]) });
/** An act that its author can take back. */
export type Undoable = Readonly<z.infer<typeof undoable>>;

const passedWord = z.strictObject({
  /** Who passed it on, and when that was kept. */
  ...markSchema.shape,
  /** The person in whose name. */
  of: z.string(),
  said: saidSchema,
  /** What of the pack it may have changed. */
  facts: z.array(factSchema),
  stamp: stampSchema,
});
/** A word in another's name that nothing proves: it may raise the line and end a proof, and counts for nothing else. */
export type PassedWord = Readonly<z.infer<typeof passedWord>>;

/** As it crosses a wall: maps as entries. */
export const jobStateSchema = z.strictObject({
  /** Number of the last event; 0 before the job is opened. */
  head: z.int(),
  /** Time of the last event by the server's clock, ISO 8601; empty before the first. */
  lastAt: z.string(),
  /** The latest time of any event: later than {@link lastAt} where the server's clock was set back. */
  latestAt: z.string(),
  /** Id of the person who did the last act; empty before the first. */
  lastBy: z.string(),
  stage: z.enum(STAGES),
  policyVersion: z.int(),
  /** Minutes worked in each stage, breaks left out. */
  minutes: z.partialRecord(z.enum(STAGES), z.number()),
  /** Ids of the last commands that became events: an act on its way that is among them has arrived, whatever its sender knows. */
  recentIds: z.array(z.string()),
  /** What each person can still take back, latest last. */
  undoable: entriesOf(z.array(undoable)),
  ...statementsSchema.shape,
  /** What was stated, in the order kept, but for what counts meant that were taken back. */
  facts: z.array(statedFact),
  /** What counts said again of things that stood so already, in the order kept. */
  renewals: z.array(renewalSchema),
  /** Until the person in whose name they are has answered for them, in the order kept. */
  passed: z.array(passedWord),
  intake: intakeSchema,
  isolate: isolateStateSchema,
  strip: stripStateSchema,
  finding: findingStateSchema,
  open: openStateSchema,
  sweep: sweepStateSchema,
  plan: planStateSchema,
  rebuild: rebuildStateSchema,
  cool: coolStateSchema,
  refit: refitStateSchema,
  handOver: handOverStateSchema,
});
export type JobState = z.output<typeof jobStateSchema>;

/** Text of a state for a wall: JSON with maps as entries, as {@link jobStateSchema} reads it. */
export function writeState(state: JobState): string {
  return JSON.stringify(state, (_, value: unknown) => (value instanceof Map ? [...value] : value));
}

export function startState(profile: Profile): JobState {
  return {
    head: 0,
    ...{ lastAt: '', latestAt: '', lastBy: '' },
    stage: 'intake',
    policyVersion: 0,
    minutes: {},
    recentIds: [],
    undoable: new Map(),
    ...{ pack: wholePack(profile), said: new Map(), late: [] },
    facts: [],
    renewals: [],
    passed: [],
    intake: startSlice(intake, profile),
    isolate: startSlice(isolate, profile),
    strip: startSlice(strip, profile),
    finding: startSlice(finding, profile),
    open: startSlice(open, profile),
    sweep: startSlice(sweep, profile),
    plan: startSlice(plan, profile),
    rebuild: startSlice(rebuild, profile),
    cool: startSlice(cool, profile),
    refit: startSlice(refit, profile),
    handOver: startSlice(handOver, profile),
  };
}

/** What each place stands at by its last reading at rest, place 1 first; null where nobody read it since the last charge. */
export function restingVolts({ sweep: slice }: Pick<JobState, 'sweep'>): (number | null)[] {
  return keysOf(slice).map((key) => standingVolt(slice, key)?.value ?? null);
}

/** Module at each place, place 1 first; empty where nobody named one. */
export function moduleIdsOf({ pack }: Pick<JobState, 'pack'>): string[] {
  return pack.places.map((p) => p.moduleId ?? '');
}

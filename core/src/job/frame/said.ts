/** Every act of a job as a noun, for notices, and a sample of each, for docs and tests: of one job, whose first acts have the ids c1 and on. */
import type { SaidOf } from '../chapters/table.ts';
import { INTAKE_SAID } from '../chapters/intake/said.ts';
import { ISOLATE_SAID } from '../chapters/isolate/said.ts';
import { STRIP_SAID } from '../chapters/strip/said.ts';
import { FINDING_SAID } from '../chapters/finding/said.ts';
import { OPEN_SAID } from '../chapters/open/said.ts';
import { SWEEP_SAID } from '../chapters/sweep/said.ts';
import { PLAN_SAID } from '../chapters/plan/said.ts';
import { REBUILD_SAID } from '../chapters/rebuild/said.ts';
import { COOL_SAID } from '../chapters/cool/said.ts';
import { REFIT_SAID } from '../chapters/refit/said.ts';
import { HAND_OVER_SAID } from '../chapters/hand-over/said.ts';
import type { Act, ActType, FRAME } from './acts.ts';

const FRAME_SAID: SaidOf<typeof FRAME> = {
  'fact.stated': { word: 'a stated fact', sample: { stage: 'isolate', fact: { kind: 'plug', isIn: false } } },
  'act.withdrawn': { word: 'taking back an act', sample: { commandId: 'c3', reason: 'mistyped' } },
  'word.passed': {
    word: 'a word passed on',
    sample: {
      of: 'mk',
      said: {
        deviceAt: '2026-05-04T08:00:00.000Z',
        device: { id: 'd1', isClockSure: true, turn: 1 },
        type: 'use.noted',
        version: 1,
        body: { uses: ['pets'], lookedUp: '', noScan: '' },
        commandId: 'p-2',
      },
    },
  },
  'word.confirmed': { word: 'the answer for words passed on', sample: { commandIds: ['p-1'], areSo: false } },
  'policy.adopted': { word: 'the change of limits', sample: { policyVersion: 2 } },
};

const SAID = {
  ...FRAME_SAID,
  ...INTAKE_SAID,
  ...ISOLATE_SAID,
  ...STRIP_SAID,
  ...FINDING_SAID,
  ...OPEN_SAID,
  ...SWEEP_SAID,
  ...PLAN_SAID,
  ...REBUILD_SAID,
  ...COOL_SAID,
  ...REFIT_SAID,
  ...HAND_OVER_SAID,
};

/** An act as a noun: "a reading". */
export function nameAct(type: ActType): string {
  return SAID[type].word;
}

/** One act of a type, as the job of {@link SAMPLE_JOB} takes it. */
export function sampleOf<T extends ActType>(type: T): Extract<Act, { type: T }> {
  return { type, body: SAID[type].sample } as unknown as Extract<Act, { type: T }>;
}

const PASSED = sampleOf('word.passed');

/** What a job begins with on which a person with every right could do each of the samples; the last was passed on by somebody else. */
export const SAMPLE_JOB: readonly Act[] = [
  sampleOf('job.opened'),
  sampleOf('sweep.started'),
  sampleOf('reading.taken'),
  sampleOf('proof.started'),
  { ...sampleOf('photo.taken'), body: { ...sampleOf('photo.taken').body, photoId: 'p1' } },
  sampleOf('finding.noted'),
  sampleOf('orientation.recorded'),
  { ...PASSED, body: { of: 'om', said: { ...PASSED.body.said, commandId: 'p-1' } } },
];

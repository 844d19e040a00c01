/** Acts of this chapter as nouns, and one of each as a sample. */
import type { SaidOf } from '../table.ts';
import type { INTAKE } from './acts.ts';

export const INTAKE_SAID: SaidOf<typeof INTAKE> = {
  'job.opened': {
    word: 'opening the job',
    sample: {
      number: 1,
      profileId: 'dunlin-28',
      profileVersion: 1,
      policyVersion: 1,
      kind: 'wholeRepair',
      vehicle: { id: 'v1', hash: '0'.repeat(64) },
      customer: null,
      comebackOf: null,
      moduleIds: Array.from({ length: 28 }, (_, i) => `m${i + 1}`),
    },
  },
  'job.closed': { word: 'closing the job', sample: { outcome: 'brokenOff', reason: 'The customer declined.', unmet: [] } },
  'job.reopened': { word: 'opening the job again', sample: { reason: 'The customer came back.' } },
  'papers.corrected': {
    word: 'a correction of the papers',
    sample: { vehicle: { id: 'v2', hash: '0'.repeat(64) }, customer: null },
  },
  'use.noted': { word: 'a note of the use', sample: { uses: ['pets', 'hills'], lookedUp: '', noScan: '' } },
};

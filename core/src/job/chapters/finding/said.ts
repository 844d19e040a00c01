/** Acts of this chapter as nouns, and one of each as a sample. */
import type { SaidOf } from '../table.ts';
import type { FINDING } from './acts.ts';

export const FINDING_SAID: SaidOf<typeof FINDING> = {
  'finding.noted': {
    word: 'a finding',
    sample: {
      stage: 'open',
      kind: 'leak',
      severity: 'slight',
      follow: 'clean',
      isOnArrival: false,
      pin: { on: 'module', place: 3 },
      note: '',
    },
  },
  'finding.settled': { word: 'the end of a finding', sample: { findingId: 'c6', note: 'wiped off' } },
  'photo.taken': {
    word: 'a photograph',
    sample: {
      stage: 'open',
      sha256: 'abababababababababababababababababababababababababababababababab',
      byte: 1000,
      width: 10,
      height: 10,
      caption: '',
      place: null,
      pairOf: null,
      photoId: 'p2',
    },
  },
  'photo.erased': { word: 'erasing a photograph', sample: { photoId: 'p1', reason: 'A face is on it.' } },
};

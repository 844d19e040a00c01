/** Acts of this chapter as nouns, and one of each as a sample. */
import type { SaidOf } from '../table.ts';
import type { SWEEP } from './acts.ts';

const HOW = {
  kind: 'openCircuit',
  restSince: null,
  restHour: null,
  loadAmpere: null,
  loadSecond: null,
  recovered: 'all',
  resolution: null,
} as const;

export const SWEEP_SAID: SaidOf<typeof SWEEP> = {
  'sweep.started': {
    word: 'the start of a sweep',
    sample: HOW,
  },
  'sweep.ended': { word: 'the end of a sweep', sample: { sweepId: 'c2' } },
  'reading.taken': { word: 'a reading', sample: { sweepId: 'c2', place: 3, moduleId: 'm3', quantity: 'openCircuitVolt', value: 7.7 } },
  'readings.imported': {
    word: 'an import',
    sample: {
      measured: 'unsaid',
      fileName: 'b.csv',
      sweeps: [
        {
          sweepId: 'i1',
          ...HOW,
          readings: [{ place: 1, quantity: 'openCircuitVolt', value: 7.8 }],
        },
      ],
    },
  },
  'reading.chosen': { word: 'a choice of readings', sample: { sweepId: 'c2', place: 3, quantity: 'openCircuitVolt', commandId: 'c3' } },
  'readings.confirmed': { word: 'a confirmation of readings', sample: { sweepId: 's1', quantity: 'restVolt', places: [3] } },
  'readings.moved': {
    word: 'readings put to their modules',
    sample: { sweepId: 'c2', quantity: 'openCircuitVolt', moves: [{ commandId: 'c3', from: 3, to: 4 }], anew: [3] },
  },
};

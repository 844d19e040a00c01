/** Acts of this chapter as nouns, and one of each as a sample. */
import type { SaidOf } from '../table.ts';
import type { ISOLATE } from './acts.ts';

export const ISOLATE_SAID: SaidOf<typeof ISOLATE> = {
  'step.done': { word: 'a step said to be done', sample: { stepId: 'key', note: '' } },
  'step.reopened': { word: 'a step opened again', sample: { stepId: 'key' } },
  'gear.picked': { word: 'picking gear', sample: { use: 'gloves', gearId: 'G-07', isAirTested: true } },
  'wait.lengthened': { word: 'lengthening the wait', sample: { minute: 5, reason: 'cold' } },
  'proof.started': {
    word: 'the start of a proof of dead',
    sample: {
      meterId: 'M-02',
      source: 'battery',
      sourceId: null,
      point: { at: 'carSide', label: 'posts' },
      known: { lowVolt: 9, highVolt: 16 },
      limitVolt: 30,
      resolutionVolt: 0.1,
    },
  },
  'proof.read': { word: 'a reading of the proof of dead', sample: { proofId: 'c4', entry: 'plusMinus', volt: 0.1, isFromMeter: false } },
  'cosign.asked': { word: 'asking for a co-sign', sample: { proofId: 'c4' } },
  'proof.signed': { word: 'signing the proof of dead', sample: { proofId: 'c4', until: null, breakMinute: 30 } },
  'shift.ended': { word: 'the end of the shift', sample: {} },
  'step.overridden': { word: 'an override', sample: { stepId: 'gear', reason: 'The sheet is late.' } },
  'insulation.read': {
    word: 'an insulation reading',
    sample: { packVolt: 220, minusChassisVolt: 60, plusChassisVolt: 160, withResistorVolt: 100, resistorOhm: 200000 },
  },
  'insulation.tested': { word: 'a reading of the insulation tester', sample: { testerId: 'I-1', minusOhm: 3000000, plusOhm: 3000000 } },
};

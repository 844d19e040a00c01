/** Acts of this chapter as nouns, and one of each as a sample. */
import type { SaidOf } from '../table.ts';
import type { REFIT } from './acts.ts';

export const REFIT_SAID: SaidOf<typeof REFIT> = {
  'refit.checked': { word: 'a look at what was put back', sample: { check: 'cablesHeld', isGood: true, note: '' } },
  'group.tightened': { word: 'a group tightened', sample: { partId: 'pack-bolt', newtonMetre: 19 } },
  'auxiliary.tested': { word: 'a test of the 12 V battery', sample: { restVolt: 12.6, loadVolt: 10.4, celsius: 18, isFromTester: false } },
  'spark.seen': { word: 'the spark of the 12 V', sample: { spark: 'small' } },
  'wake.tried': {
    word: 'a wake',
    sample: { readyLight: true, lampsOut: true, engine: 'byItself', charging: 'takes', chargePercent: 60, note: '' },
  },
  'car.scanned': {
    word: 'a scan',
    sample: {
      moment: 'asFound',
      reader: 'reader',
      readerVersion: '1',
      isSimulated: false,
      codes: [{ code: 'P0A80', status: 'stored' }],
      readiness: null,
      blockVolts: [],
      packVolt: null,
      celsius: [24],
      ampere: 0,
      chargePercent: 60,
    },
  },
  'codes.cleared': { word: 'the clearing of the codes', sample: { reader: 'reader' } },
  'drain.measured': {
    word: 'a drain in the car',
    sample: {
      when: 'before',
      reader: 'reader',
      readerVersion: '1',
      isSimulated: false,
      startPercent: 70,
      endPercent: 45,
      ampereHour: 1.57,
      seconds: 868,
      celsius: 24,
      isCabinCooled: true,
      isTwelveVoltSupported: true,
      endsAtBlock: 3,
      spreadVolt: 0.2,
    },
  },
  'road.driven': {
    word: 'a road test',
    sample: { minute: 20, spreadLoadVolt: 0.1, spreadChargeVolt: 0.1, highestCelsius: 35, isGood: true, note: '' },
  },
  'energy.lent': { word: 'energy lent to the pack', sample: { minute: 30, toPercent: 40 } },
};

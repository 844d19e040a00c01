/** Acts of this chapter as nouns, and one of each as a sample. */
import type { SaidOf } from '../table.ts';
import type { REBUILD } from './acts.ts';

export const REBUILD_SAID: SaidOf<typeof REBUILD> = {
  'torque.set': {
    word: 'the setting of a torque tool',
    sample: { partId: 'bar-nut', toolId: 'T-01', reads: 'click', setNewtonMetre: 5.4, toolLabel: 'T-01' },
  },
  'fastener.torqued': {
    word: 'a tightened fastener',
    sample: { settingId: 'none', partId: 'bar-nut', seat: 1, pass: 1, newtonMetre: null },
  },
  'rebuild.checked': { word: 'a look at the stack', sample: { check: 'endsFlush', isGood: true, note: '' } },
  'pack.turned': { word: 'turning the pack', sample: { up: 'bottom' } },
  'module.dropped': { word: 'a dropped module', sample: { moduleId: 'S042', note: '' } },
  'bars.readied': {
    word: 'bars made ready',
    sample: { frame: 'vent-frame', how: 'cleaned', isInFrame: true, isDry: true, plating: 'whole', haveNewNuts: true },
  },
  'sensors.sited': { word: 'the places of the sensors', sample: { school: 'asMade', sites: [{ sensorId: 't-front', place: 3 }] } },
  'joints.surveyed': {
    word: 'a survey of the joints',
    sample: { ampere: 10, resolutionMillivolt: 0.1, joints: [{ link: 1, millivolt: 1 }] },
  },
  'half.measured': { word: 'a half measured', sample: { from: 1, to: 14, volt: 109.2 } },
  'leak.tested': { word: 'a test of the loop', sample: { readings: [{ minute: 0, kilopascal: 150 }] } },
  'paste.laid': { word: 'paste laid', sample: { from: 1, to: 4, gram: 200, pattern: 'lines' } },
};

/** Acts of this chapter as nouns, and one of each as a sample. */
import type { SaidOf } from '../table.ts';
import type { COOL } from './acts.ts';

export const COOL_SAID: SaidOf<typeof COOL> = {
  'air.found': { word: 'a look', sample: { part: 1, when: 'asFound', blockedShare: 0.5, note: '' } },
  'air.cleaned': { word: 'a cleaning', sample: { part: 1, school: 'dry', note: '' } },
  'air.told': { word: 'what a part of the air path is', sample: { part: 1, word: 'plasticCrushed' } },
  'air.returned': { word: 'the air that comes back', sample: { when: 'asFound', cabinCelsius: 25, inletCelsius: 29, outletCelsius: 39 } },
  'air.driven': { word: 'the air of a drive', sample: { when: 'after', ampere: 20, riseKelvin: 8 } },
  'air.checked': { word: 'a look before the air path is shut', sample: { check: 'sensorSeated', isGood: true } },
  'fan.tested': { word: 'a test of the fan', sample: { part: 2, spins: true, noise: 'none', hasPlay: false, startVolt: 3.5 } },
  'fan.measured': { word: 'the curve of a fan', sample: { part: 2, points: [{ volt: 12, ampere: 1.4, cubicMetrePerHour: 270 }] } },
  'cooling.judged': { word: 'what the cooling answers', sample: { isAnswered: true, note: '' } },
  'look.set': { word: 'the next look', sample: { months: 6, stripMonths: null, uses: ['pets'] } },
};

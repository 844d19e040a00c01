/** One act of every type on a job that takes them all, for walks of every act by every role. */
import type { Act, ActBody, ActType } from '../src/job/frame/acts.ts';
import { profile, Recorder } from './job-fixture.ts';

export interface Walked {
  readonly job: Recorder;
  readonly acts: { readonly [T in ActType]: Extract<Act, { type: T }> };
}

const how = { restSince: null, restHour: null, loadAmpere: null, loadSecond: null, recovered: 'all', resolution: null } as const;
const point = { at: 'carSide', label: 'posts' } as const;
const proofStart = { meterId: 'M-02', source: 'battery', sourceId: null, point, known: { lowVolt: 9, highVolt: 16 }, limitVolt: 30, resolutionVolt: 0.1 } as const; // prettier-ignore
const lying: ActBody<'orientation.recorded'> = {
  positiveCorner: 'lastFar',
  firstAt: 'first',
  threaded: 'near',
  vents: 'far',
  sensors: [],
  note: '',
};

/** A job on which a person with every right could do each of these, and the acts. */
export function everyAct(): Walked {
  const job = new Recorder().open();
  const first = job.events[0] as Extract<Act, { type: 'job.opened' }>;
  const sweepId = job.startSweep('openCircuit');
  const read = (value: number): string =>
    job.add({ type: 'reading.taken', body: { sweepId, place: 3, moduleId: 'm3', quantity: 'openCircuitVolt', value } });
  const reading = read(7.8);
  const proofId = job.add({ type: 'proof.started', body: proofStart });
  const photo = { stage: 'open', sha256: 'ab'.repeat(32), byte: 1000, width: 10, height: 10, caption: '', place: null, pairOf: null } as const; // prettier-ignore
  job.add({ type: 'photo.taken', body: { ...photo, photoId: 'p1' } });
  const noted = { stage: 'open', kind: 'leak', severity: 'slight', follow: 'clean', isOnArrival: false, pin: { on: 'module', place: 3 }, note: '' } as const; // prettier-ignore
  const findingId = job.add({ type: 'finding.noted', body: noted });
  job.add({ type: 'orientation.recorded', body: lying });
  const plan = { school: 'exchangePack', moduleIds: [], fromShelf: [], rangeAh: null, lowerBoundAh: null, proven: false, blockMeanAh: [], assumedPlaces: [] }; // prettier-ignore
  const part = { stage: 'strip', kind: 'fastener', name: 'washer', place: 'bay', where: 'here', size: '8 mm', count: 1, isHidden: true, isForeign: false, isProposed: true } as const; // prettier-ignore
  const moved = { stage: 'strip', partId: 'pack-bolt', count: 1, from: { kind: 'inPlace' }, to: { kind: 'stud' }, condition: 'good' } as const; // prettier-ignore
  const said = { deviceAt: '2026-05-04T08:00:00.000Z', device: { id: 'd1', isClockSure: true, turn: 1 }, type: 'use.noted', version: 1, body: { uses: ['pets'], lookedUp: '', noScan: '' } }; // prettier-ignore
  job.add({ type: 'word.passed', body: { of: 'om', said: { ...said, commandId: 'p-1' } } }, 'ts');
  const acts: Walked['acts'] = {
    'job.opened': { type: 'job.opened', body: first.body },
    'job.closed': { type: 'job.closed', body: { outcome: 'brokenOff', reason: 'The customer declined.', unmet: [] } },
    'job.reopened': { type: 'job.reopened', body: { reason: 'The customer came back.' } },
    'papers.corrected': { type: 'papers.corrected', body: { vehicle: { id: 'v2', hash: '0'.repeat(64) }, customer: null } },
    'use.noted': { type: 'use.noted', body: { uses: ['pets', 'hills'], lookedUp: '', noScan: '' } },
    'fact.stated': { type: 'fact.stated', body: { stage: 'isolate', fact: { kind: 'plug', isIn: false } } },
    'act.withdrawn': { type: 'act.withdrawn', body: { commandId: reading, reason: 'mistyped' } },
    'word.passed': { type: 'word.passed', body: { of: 'mk', said: { ...said, commandId: 'p-2' } } },
    'word.confirmed': { type: 'word.confirmed', body: { commandIds: ['p-1'], areSo: false } },
    'policy.adopted': { type: 'policy.adopted', body: { policyVersion: 2 } },
    'step.done': { type: 'step.done', body: { stepId: 'key', note: '' } },
    'step.reopened': { type: 'step.reopened', body: { stepId: 'key' } },
    'gear.picked': { type: 'gear.picked', body: { use: 'gloves', gearId: 'G-07', isAirTested: true } },
    'wait.lengthened': { type: 'wait.lengthened', body: { minute: 5, reason: 'cold' } },
    'proof.started': { type: 'proof.started', body: proofStart },
    'proof.read': { type: 'proof.read', body: { proofId, entry: 'plusMinus', volt: 0.1, isFromMeter: false } },
    'cosign.asked': { type: 'cosign.asked', body: { proofId } },
    'proof.signed': { type: 'proof.signed', body: { proofId, until: null, breakMinute: 30 } },
    'shift.ended': { type: 'shift.ended', body: {} },
    'step.overridden': { type: 'step.overridden', body: { stepId: 'gear', reason: 'The sheet is late.' } },
    'insulation.read': { type: 'insulation.read', body: { packVolt: 220, minusChassisVolt: 60, plusChassisVolt: 160, withResistorVolt: 100, resistorOhm: 2e5 } }, // prettier-ignore
    'insulation.tested': { type: 'insulation.tested', body: { testerId: 'I-1', minusOhm: 3e6, plusOhm: 3e6 } },
    'part.added': { type: 'part.added', body: part },
    'part.moved': { type: 'part.moved', body: moved },
    'part.leftOff': { type: 'part.leftOff', body: { partId: 'pack-bolt', count: 1, reason: 'None in stock.', followUp: 'order' } },
    'transfer.stated': { type: 'transfer.stated', body: { transferId: profile.transfer[0]?.id ?? '', fate: 'moves', isDone: true } },
    'lift.planned': { type: 'lift.planned', body: { by: 'hoist', with: 'the yard hoist', isPathClear: true, note: '' } },
    'finding.noted': { type: 'finding.noted', body: noted },
    'finding.settled': { type: 'finding.settled', body: { findingId, note: 'wiped off' } },
    'photo.taken': { type: 'photo.taken', body: { ...photo, photoId: 'p2' } },
    'photo.erased': { type: 'photo.erased', body: { photoId: 'p1', reason: 'A face is on it.' } },
    'orientation.recorded': { type: 'orientation.recorded', body: lying },
    'modules.released': { type: 'modules.released', body: {} },
    'sweep.started': { type: 'sweep.started', body: { kind: 'openCircuit', ...how } },
    'sweep.ended': { type: 'sweep.ended', body: { sweepId } },
    'reading.taken': { type: 'reading.taken', body: { sweepId, place: 3, moduleId: 'm3', quantity: 'openCircuitVolt', value: 7.7 } },
    'readings.imported': { type: 'readings.imported', body: { measured: 'unsaid', fileName: 'b.csv', sweeps: [{ sweepId: 'i1', kind: 'openCircuit', ...how, readings: [{ place: 1, quantity: 'openCircuitVolt', value: 7.8 }] }] } }, // prettier-ignore
    'reading.chosen': { type: 'reading.chosen', body: { sweepId, place: 3, quantity: 'openCircuitVolt', commandId: reading } },
    'readings.confirmed': { type: 'readings.confirmed', body: { sweepId: 's1', quantity: 'restVolt', places: [3] } },
    'readings.moved': { type: 'readings.moved', body: { sweepId, quantity: 'openCircuitVolt', moves: [{ commandId: reading, from: 3, to: 4 }], anew: [3] } }, // prettier-ignore
    'torque.set': {
      type: 'torque.set',
      body: { partId: 'bar-nut', toolId: 'T-01', reads: 'click', setNewtonMetre: 5.4, toolLabel: 'T-01' },
    },
    'fastener.torqued': { type: 'fastener.torqued', body: { settingId: 'none', partId: 'bar-nut', seat: 1, pass: 1, newtonMetre: null } },
    'rebuild.checked': { type: 'rebuild.checked', body: { check: 'endsFlush', isGood: true, note: '' } },
    'pack.turned': { type: 'pack.turned', body: { up: 'bottom' } },
    'module.dropped': { type: 'module.dropped', body: { moduleId: 'S042', note: '' } },
    'bars.readied': {
      type: 'bars.readied',
      body: { frame: 'vent-frame', how: 'cleaned', isInFrame: true, isDry: true, plating: 'whole', haveNewNuts: true },
    },
    'sensors.sited': { type: 'sensors.sited', body: { school: 'asMade', sites: [{ sensorId: 't-front', place: 3 }] } },
    'joints.surveyed': {
      type: 'joints.surveyed',
      body: { ampere: 10, resolutionMillivolt: 0.1, joints: [{ link: 1, millivolt: 1 }] },
    },
    'half.measured': { type: 'half.measured', body: { from: 1, to: 14, volt: 109.2 } },
    'leak.tested': { type: 'leak.tested', body: { readings: [{ minute: 0, kilopascal: 150 }] } },
    'paste.laid': { type: 'paste.laid', body: { from: 1, to: 4, gram: 200, pattern: 'lines' } },
    'air.found': { type: 'air.found', body: { part: 1, when: 'asFound', blockedShare: 0.5, note: '' } },
    'air.cleaned': { type: 'air.cleaned', body: { part: 1, school: 'dry', note: '' } },
    'fan.tested': { type: 'fan.tested', body: { part: 2, spins: true, noise: 'none', hasPlay: false, startVolt: 3.5 } },
    'cooling.judged': { type: 'cooling.judged', body: { isAnswered: true, note: '' } },
    'air.told': { type: 'air.told', body: { part: 1, word: 'plasticCrushed' } },
    'air.returned': { type: 'air.returned', body: { when: 'asFound', cabinCelsius: 25, inletCelsius: 29, outletCelsius: 39 } },
    'air.driven': { type: 'air.driven', body: { when: 'after', ampere: 20, riseKelvin: 8 } },
    'air.checked': { type: 'air.checked', body: { check: 'sensorSeated', isGood: true } },
    'fan.measured': { type: 'fan.measured', body: { part: 2, points: [{ volt: 12, ampere: 1.4, cubicMetrePerHour: 270 }] } },
    'look.set': { type: 'look.set', body: { months: 6, stripMonths: null, uses: ['pets'] } },
    'refit.checked': { type: 'refit.checked', body: { check: 'cablesHeld', isGood: true, note: '' } },
    'group.tightened': { type: 'group.tightened', body: { partId: 'pack-bolt', newtonMetre: 19 } },
    'auxiliary.tested': { type: 'auxiliary.tested', body: { restVolt: 12.6, loadVolt: 10.4, celsius: 18, isFromTester: false } },
    'spark.seen': { type: 'spark.seen', body: { spark: 'small' } },
    'wake.tried': {
      type: 'wake.tried',
      body: { readyLight: true, lampsOut: true, engine: 'byItself', charging: 'takes', chargePercent: 60, note: '' },
    },
    'car.scanned': {
      type: 'car.scanned',
      body: {
        ...{ moment: 'asFound', reader: 'reader', readerVersion: '1', isSimulated: false, codes: [{ code: 'P0A80', status: 'stored' }] },
        ...{ readiness: null, blockVolts: [], packVolt: null, celsius: [24], ampere: 0, chargePercent: 60 },
      },
    },
    'codes.cleared': { type: 'codes.cleared', body: { reader: 'reader' } },
    'drain.measured': {
      type: 'drain.measured',
      body: {
        ...{ when: 'before', reader: 'reader', readerVersion: '1', isSimulated: false, startPercent: 70, endPercent: 45 },
        ...{ ampereHour: 1.57, seconds: 868, celsius: 24, isCabinCooled: true, isTwelveVoltSupported: true },
        ...{ endsAtBlock: 3, spreadVolt: 0.2 },
      },
    },
    'road.driven': {
      type: 'road.driven',
      body: { minute: 20, spreadLoadVolt: 0.1, spreadChargeVolt: 0.1, highestCelsius: 35, isGood: true, note: '' },
    },
    'energy.lent': { type: 'energy.lent', body: { minute: 30, toPercent: 40 } },
    'cause.answered': { type: 'cause.answered', body: { cause: 'joint', isAnswered: true, how: 'bars renewed' } },
    'report.prepared': { type: 'report.prepared', body: { photoIds: [], toCustomer: 'All is well.' } },
    'warranty.given': { type: 'warranty.given', body: { months: 12, kilometre: 20_000, words: '' } },
    'terms.chosen': { type: 'terms.chosen', body: { terms: { id: 'marsh-cells', version: 1 } } },
    'terms.met': { type: 'terms.met', body: { condition: 'newNuts', isMet: true, note: '' } },
    'core.agreed': {
      type: 'core.agreed',
      body: { supplier: 'Marsh Cells', what: 'modules', count: 28, deposit: 280, shipBy: '2026-12-20' },
    },
    'core.checked': { type: 'core.checked', body: { check: 'whole', isGood: true } },
    'core.shipped': { type: 'core.shipped', body: { on: '2026-12-04', count: 28, carrier: '' } },
    'core.settled': { type: 'core.settled', body: { outcome: 'credited', credit: 280, note: '' } },
    'accessory.offered': { type: 'accessory.offered', body: { what: 'Cabin filter', answer: 'refused', note: '' } },
    'comeback.explained': { type: 'comeback.explained', body: { what: 'joint', at: 4, note: '' } },
    'plan.chosen': { type: 'plan.chosen', body: { ...plan, school: 'exchangePack' } },
    'plan.withdrawn': { type: 'plan.withdrawn', body: { planId: 'none' } },
  };
  return { job, acts };
}

import { Recorder } from '../../../test/job-fixture.ts';
import { findInsulationFault } from './fault-place.ts';

function read(job: Recorder, minusChassisVolt: number, plusChassisVolt: number): Recorder {
  job.add({
    type: 'insulation.read',
    body: { packVolt: 220, minusChassisVolt, plusChassisVolt, withResistorVolt: 1, resistorOhm: 2e5 },
  });
  return job;
}
const found = (job: Recorder) => findInsulationFault(job.state(), job.pack);
/** Every module read at rest, the first half at twice of the second: 168 V in all. */
function measured(upTo = 28): Recorder {
  const job = new Recorder().open();
  const sweepId = job.startSweep('openCircuit');
  for (let place = 1; place <= upTo; place++)
    job.add({
      type: 'reading.taken',
      body: { sweepId, place, moduleId: `m${place}`, quantity: 'openCircuitVolt', value: place <= 14 ? 8 : 4 },
    });
  return job;
}

// the divider that one leak makes of an unloaded string: N V- / (V- + V+)
describe('where a single insulation fault lies', () => {
  it('is not known before two voltages were read, nor by a tester that says resistances', () => {
    const job = new Recorder().open();
    expect(found(job)).toBeNull();
    job.add({ type: 'insulation.tested', body: { testerId: 'I-1', minusOhm: 3e6, plusOhm: 1e4 } });
    expect(found(job)).toBeNull();
  });
  it('by modules that are all alike where they were not all measured, in the module or at its plus post', () => {
    expect(found(read(new Recorder().open(), 50, 150))).toEqual({ modulesFromNegative: 7, place: 7, isMeasured: false });
    expect(found(read(new Recorder().open(), 51, 149))).toMatchObject({ place: 8, isMeasured: false });
    expect(found(read(measured(27), 50, 150))).toMatchObject({ modulesFromNegative: 7, isMeasured: false });
  });
  it('by what each module stands at where all were measured', () => {
    // 168 V in all: a quarter of it is 42 V, five modules of 8 V and a quarter of the sixth
    expect(found(read(measured(), 42, 126))).toEqual({ modulesFromNegative: 5.25, place: 6, isMeasured: true });
  });
  it('by all alike again beside a module that sits turned, and while a source is on', () => {
    const turned = measured();
    turned.fact('rebuild', { kind: 'module', place: 3, moduleId: 'm3', isTurned: true });
    expect(found(read(turned, 42, 126))).toMatchObject({ modulesFromNegative: 7, isMeasured: false });
    const charging = measured();
    charging.fact('test', { kind: 'charger', volt: 230 });
    expect(found(read(charging, 42, 126))).toMatchObject({ modulesFromNegative: 7, isMeasured: false });
  });
  it('at the ends stays within the string, and by the last reading', () => {
    const job = read(new Recorder().open(), 0, 200);
    expect(found(job)).toMatchObject({ modulesFromNegative: 0, place: 1 });
    expect(found(read(job, 200, 0))).toMatchObject({ modulesFromNegative: 28, place: 28 });
    // neither pole stands off the chassis
    expect(found(read(job, 0, 0))).toBeNull();
  });
});

import { profile, Recorder } from '../../../test/job-fixture.ts';
import { isolationPolicySchema } from '../../isolate/policy.ts';
import { PROOF_ENTRIES } from '../../isolate/proof.ts';
import { findIsolation } from '../chapters/isolate/view.ts';
import { refitOf } from '../frame/refitting.ts';
import { findNextStep } from './next-step.ts';

const policy = isolationPolicySchema.parse({});
const next = (job: Recorder, now = job.now) => findNextStep(job.state(), profile, findIsolation(job.state(), profile, policy, now), now);

function down(): Recorder {
  const job = new Recorder().open();
  job.fact('isolate', { kind: 'key', isAway: true });
  job.add({ type: 'gear.picked', body: { use: 'gloves', gearId: 'G-07', isAirTested: true } });
  job.fact('isolate', { kind: 'twelveVolt', isOff: true });
  job.fact('isolate', { kind: 'plug', isIn: false });
  return job;
}

function prove(job: Recorder, volts: readonly number[], isSigned = true): void {
  const { point } = profile.isolation;
  const start = { meterId: 'M-02', source: 'battery', sourceId: null, point, known: { lowVolt: 9, highVolt: 16 }, limitVolt: 30, resolutionVolt: 0.1 } as const; // prettier-ignore
  const proofId = job.add({ type: 'proof.started', body: start });
  for (const [i, entry] of PROOF_ENTRIES.entries())
    job.add({ type: 'proof.read', body: { proofId, entry, volt: volts[i] ?? 0, isFromMeter: false } });
  if (isSigned) job.add({ type: 'proof.signed', body: { proofId, until: null, breakMinute: 60 } });
}

it('is the step that the list of steps has next, all the way to dead', () => {
  const job = new Recorder().open();
  expect(next(job)?.text).toBe('park brake on, ignition off, key out and away');
  expect(next(down())?.text).toMatch(/^wait for the capacitors, .* to go$/);
  const waited = down();
  waited.waitMinutes(12);
  for (const at of [job, down(), waited]) expect(next(at)?.stepId).toBe(findIsolation(at.state(), profile, policy, at.now).nextId);
});

it('goes on to what comes off, then to what parts the string, then to what goes back', () => {
  const job = down();
  job.waitMinutes(12);
  prove(job, [12.4, 0.1, 0.1, 0, 0, 12.4]);
  expect(next(job)).toMatchObject({ stepId: null, text: 'seat bolt M10, seat base to floor (rear seat)' });
  job.fact('strip', { kind: 'pack', isOnBench: true });
  job.fact('open', { kind: 'case', isOpen: true });
  expect(next(job)?.text).toBe('unplug the sense harness');
  for (const fact of [{ kind: 'harness', isUnplugged: true }, { kind: 'frame', frame: 'vent-frame', isOff: true }, { kind: 'frame', frame: 'cable-frame', isOff: true }] as const) job.fact('open', fact); // prettier-ignore
  expect(next(job)?.text).toContain('(');
  job.startSweep('openCircuit');
  expect(next(job)).toBeNull();
  const [from, to] = [{ kind: 'inPlace' }, { kind: 'tray', cell: 'A1' }] as const;
  job.add({ type: 'part.moved', body: { stage: 'rebuild', partId: 'hold-down', count: 28, from, to, condition: 'good' } });
  expect(next(job)?.text).toBe('look: interlocking nubs seated');
});

it('is hands off while a steady voltage is not resolved, whatever else is begun meanwhile', () => {
  const job = down();
  job.waitMinutes(12);
  const { point } = profile.isolation;
  const start = { meterId: 'M-02', source: 'battery', sourceId: null, point, known: { lowVolt: 9, highVolt: 16 }, limitVolt: 30, resolutionVolt: 0.1 } as const; // prettier-ignore
  const proofId = job.add({ type: 'proof.started', body: start });
  job.add({ type: 'proof.read', body: { proofId, entry: 'knownBefore', volt: 12.4, isFromMeter: false } });
  for (let i = 0; i < 4; i++) {
    job.waitMinutes(1);
    job.add({ type: 'proof.read', body: { proofId, entry: 'plusMinus', volt: 215, isFromMeter: false } });
  }
  expect(next(job)).toMatchObject({ isAlarm: true, text: expect.stringContaining('hands off: steady at 215 V') });
  // another go is begun: the voltage is no less steady
  job.add({ type: 'proof.started', body: start });
  expect(next(job)?.isAlarm).toBe(true);
  job.waitMinutes(1);
  prove(job, [12.4, 0.1, 0.1, 0, 0, 12.4]);
  expect(next(job)?.isAlarm).toBe(false);
});

it('asks nothing of a closed job, and of a filter service nothing high', () => {
  const closed = new Recorder().open('filterService');
  expect(next(closed)).toBeNull();
  closed.add({ type: 'job.closed', body: { outcome: 'finished', note: '' } });
  expect(next(closed)).toBeNull();
});

it('is what goes back once the pack is on its way into the car, at the stages of rebuild and refit alike', () => {
  const job = down();
  job.fact('strip', { kind: 'pack', isOnBench: true });
  job.fact('rebuild', { kind: 'pack', isOnBench: false });
  job.waitMinutes(12);
  // made dead again in the car
  prove(job, [12.4, 0.1, 0.1, 0, 0, 12.4]);
  job.fact('rebuild', { kind: 'case', isOpen: false });
  const refit = () => refitOf(job.state(), profile).next?.todo;
  expect(next(job)?.text).toBe(refit());
  job.fact('refit', { kind: 'pack', isOnBench: false });
  expect(next(job)?.text).toBe(refit());
  expect(refit()).not.toBeUndefined();
});

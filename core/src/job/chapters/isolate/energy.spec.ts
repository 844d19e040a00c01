import { Isolating } from '../../../../test/isolating.ts';
import { profile } from '../../../../test/job-fixture.ts';
import type { Fact } from '../../../pack/fact.ts';
import type { Act } from '../../frame/acts.ts';
import { standingVolt } from '../sweep/state.ts';
import { keyAt } from '../sweep/state.ts';
import { findStanding } from './view.ts';

const OUTLETS = { at: 'outletPosts', label: 'HV posts of the pack' } as const;
const wake = { readyLight: true, lampsOut: null, engine: null, chargePercent: null, note: '' } as const;
const scan = {
  ...{ reader: 'R', readerVersion: '1', isSimulated: false, codes: [], readiness: null, celsius: [], blockVolts: [] },
  ...{ packVolt: null, ampere: null, chargePercent: null },
};
const road = { minute: 10, spreadLoadVolt: null, spreadChargeVolt: null, highestCelsius: null, isGood: true, note: '' };
const drain: Act = {
  type: 'drain.measured',
  body: {
    ...{ when: 'before', reader: 'R', readerVersion: '1', isSimulated: false, startPercent: 60, endPercent: 40, ampereHour: 1.3 },
    ...{ seconds: 720, celsius: 20, isCabinCooled: true, isTwelveVoltSupported: true, endsAtBlock: 1, spreadVolt: 0.1 },
  },
};
const stated = (fact: Fact): Act => ({ type: 'fact.stated', body: { stage: 'isolate', fact } });
const isStanding = (job: Isolating): boolean => findStanding(job.state(), job.now) !== null;

describe('a proof of dead that stands', () => {
  it.each<[string, Act]>([
    ['any spark', { type: 'spark.seen', body: { spark: 'none' } }],
    ['a wake', { type: 'wake.tried', body: { ...wake, charging: null } }],
    ['a scan with the voltage of the pack', { type: 'car.scanned', body: { moment: 'asFound', ...scan, packVolt: 210 } }],
    [
      'a scan with a block',
      { type: 'car.scanned', body: { moment: 'asFound', ...scan, blockVolts: [15.5, ...Array<null>(13).fill(null)] } },
    ],
    ['a scan after the repair, codes alone', { type: 'car.scanned', body: { moment: 'afterRepair', ...scan } }],
    ['codes cleared', { type: 'codes.cleared', body: { reader: 'R' } }],
    ['energy lent', { type: 'energy.lent', body: { minute: 8, toPercent: null } }],
    ['a drain', drain],
    ['the road', { type: 'road.driven', body: road }],
    ['contactors stated shut', stated({ kind: 'contactors', are: 'shut' })],
    ['the 12 V on', stated({ kind: 'twelveVolt', isOff: false })],
    ['a source', stated({ kind: 'charger', volt: 240 })],
    ['a charge', stated({ kind: 'charged' })],
  ])('is ended by %s', (_what, act) => {
    const job = new Isolating().proven();
    expect(isStanding(job)).toBe(true);
    expect(job.do(act)).toBeNull();
    expect(isStanding(job)).toBe(false);
    expect(job.state().isolate.proofs.at(-1)?.lapsed?.reason).toMatch(/\.$/);
  });

  it.each<[string, Act]>([
    ['codes that were read as it came', { type: 'car.scanned', body: { moment: 'asFound', ...scan } }],
    ['the relay block taken off', stated({ kind: 'contactors', are: 'takenOut' })],
    ['bars that come off', stated({ kind: 'frame', frame: 'vent-frame', isOff: true })],
    ['a half that was measured', { type: 'half.measured', body: { from: 1, to: 14, volt: 100 } }],
  ])('outlives %s', (_what, act) => {
    const job = new Isolating().proven();
    expect(job.do(act)).toBeNull();
    expect(isStanding(job)).toBe(true);
  });

  it('is ended by what was said of it late, unless that was certainly before its first reading', () => {
    const job = new Isolating().proven();
    const spark = (minutesAgo: number): boolean => {
      const late = new Isolating();
      late.events.push(...job.events);
      const at = new Date(job.now + 1000).toISOString();
      const deviceAt = new Date(job.now - minutesAgo * 60_000).toISOString();
      late.events.push({
        number: late.events.length + 1,
        commandId: 'late',
        by: 'ts',
        at,
        deviceAt,
        type: 'spark.seen',
        body: { spark: 'small' },
      });
      return findStanding(late.state(), job.now + 1000) !== null;
    };
    expect([spark(0), spark(20)]).toEqual([false, true]);
  });

  it('at bare posts on the bench is ended by contactors stated shut, by the relay block put back, by links and modules that go in', () => {
    const onBench = (): Isolating => {
      const job = new Isolating().down();
      job.say({ kind: 'connectors', are: 'insulated' });
      job.say({ kind: 'pack', isOnBench: true });
      job.say({ kind: 'frame', frame: 'vent-frame', isOff: true });
      job.say({ kind: 'module', place: 4, moduleId: null, isTurned: false });
      const refusal = job.sign(job.prove(OUTLETS));
      if (refusal) throw new Error(refusal);
      return job;
    };
    expect(onBench().reach()).toBeLessThan(1);
    for (const facts of [
      [{ kind: 'contactors', are: 'shut' }],
      [
        { kind: 'contactors', are: 'takenOut' },
        { kind: 'contactors', are: 'unknown' },
      ],
      [{ kind: 'frame', frame: 'vent-frame', isOff: false }],
      [{ kind: 'module', place: 4, moduleId: 'S-1', isTurned: false }],
      [
        { kind: 'harness', isUnplugged: true },
        { kind: 'harness', isUnplugged: false },
      ],
    ] as const satisfies readonly Fact[][]) {
      const job = onBench();
      for (const fact of facts) job.say(fact);
      expect([facts.at(-1), isStanding(job)]).toEqual([facts.at(-1), false]);
    }
  });
});

describe('signing over what feeds the posts', () => {
  const source: Fact = { kind: 'charger', volt: 240 };
  const shut: Fact = { kind: 'contactors', are: 'shut' };
  it.each<[string, Fact, RegExp]>([
    ['a source', source, /source of 240 V/],
    ['contactors stated shut', shut, /stated shut/],
  ])('is refused over %s, stated before, between or after the readings', (_what, fact, said) => {
    const before = new Isolating().down();
    before.say(fact);
    expect(before.sign(before.prove())).toMatch(said);

    const between = new Isolating().down();
    between.waitMinutes(10);
    const proofId = between.begin();
    for (const entry of ['knownBefore', 'plusMinus', 'minusPlus'] as const) between.read(proofId, entry);
    between.say(fact);
    for (const entry of ['plusChassis', 'minusChassis', 'knownAfter'] as const) between.read(proofId, entry);
    expect(between.sign(proofId)).toMatch(said);

    const after = new Isolating().down();
    const all = after.prove();
    after.say(fact);
    expect(after.sign(all)).toMatch(said);
  });

  it('is refused where a source was on and off again between the readings and the signature, and says so', () => {
    const job = new Isolating().down();
    const proofId = job.prove();
    job.say(source);
    job.say({ kind: 'charger', volt: null });
    expect(job.sign(proofId)).toMatch(/^A source was joined to the pack after the first of these readings/);
    // readings taken anew since are good
    expect(job.sign(job.prove())).toBeNull();
  });

  it('is refused over a word that came late and may hold', () => {
    const job = new Isolating().down();
    job.say({ kind: 'charger', volt: null });
    const proofId = job.prove();
    const at = new Date(job.now + 1000).toISOString();
    job.events.push({
      number: job.events.length + 1,
      commandId: 'late',
      by: 'ts',
      at,
      deviceAt: '2026-05-04T07:00:00.000Z',
      ...stated(source),
    });
    expect(job.state().late).toHaveLength(1);
    expect(job.sign(proofId)).toMatch(/source of 240 V/);
  });
});

describe('a charge', () => {
  it.each<[string, Act]>([
    ['energy lent', { type: 'energy.lent', body: { minute: 8, toPercent: null } }],
    ['a wake that takes charge', { type: 'wake.tried', body: { ...wake, charging: 'takes' } }],
    ['the road', { type: 'road.driven', body: road }],
    ['a balance charge that ends', stated({ kind: 'charger', volt: null })],
    ['a charge that is told', stated({ kind: 'charged' })],
  ])('by %s ends older readings, and taking it back gives them back', (_what, act) => {
    const job = new Isolating().open();
    const sweepId = job.startSweep('openCircuit');
    job.add({ type: 'reading.taken', body: { sweepId, place: 1, moduleId: 'm1', quantity: 'openCircuitVolt', value: 7.4 } });
    const read = (): number | undefined => standingVolt(job.state().sweep, keyAt(job.state().sweep, 1))?.value;
    expect(read()).toBe(7.4);
    const commandId = job.add(act);
    expect(read()).toBeUndefined();
    job.add({ type: 'act.withdrawn', body: { commandId, reason: 'mistyped' } });
    // a fact is stated anew, never taken back
    expect(read()).toBe(act.type === 'fact.stated' ? undefined : 7.4);
  });

  it('is no wake that takes nothing, and no drain', () => {
    const job = new Isolating().open();
    const sweepId = job.startSweep('openCircuit');
    job.add({ type: 'reading.taken', body: { sweepId, place: 1, moduleId: 'm1', quantity: 'openCircuitVolt', value: 7.4 } });
    for (const act of [{ type: 'wake.tried', body: { ...wake, charging: 'takesNothing' } }, drain] as const) job.add(act);
    expect(standingVolt(job.state().sweep, 'm1')?.value).toBe(7.4);
  });
});

it('while a proof is read its points are at hand: the number is that of the string until it is signed, or the posts are covered', () => {
  const job = new Isolating().down();
  expect(job.reach()).toBe(0);
  const proofId = job.begin();
  const string = profile.moduleCount * profile.moduleType.maximumModuleVolt;
  expect(job.reach()).toBeCloseTo(string, 6);
  job.read(proofId, 'plusMinus', 50.1);
  expect(job.reach()).toBeCloseTo(string, 6);
  job.say({ kind: 'connectors', are: 'closed' });
  expect(job.reach()).toBe(0);
  const signed = new Isolating().down();
  expect(signed.sign(signed.prove())).toBeNull();
  expect(signed.reach()).toBe(0);
});

import { profile, Recorder } from '../../../test/job-fixture.ts';
import type { Act } from '../frame/acts.ts';
import { findJobExposure } from './exposure.ts';
import { listQuestions } from './questions.ts';
import { findModuleVolts } from './volts.ts';

const PLACES = Array.from({ length: 28 }, (_, i) => i + 1);

/** A pack on the bench, of which sweeps are read. */
class Reading extends Recorder {
  constructor() {
    super();
    this.open();
  }
  sweep(volt: (place: number) => number, places: readonly number[] = PLACES): string {
    const sweepId = this.startSweep('openCircuit');
    for (const place of places) this.read(sweepId, place, volt(place));
    return sweepId;
  }
  read(sweepId: string, place: number, value: number): string {
    return this.add({ type: 'reading.taken', body: { sweepId, place, moduleId: null, quantity: 'openCircuitVolt', value } });
  }
  volts(): number[] {
    return findModuleVolts(this.state(), profile).map((m) => m.volt);
  }
  sum(from = 1, to = 28): number {
    return this.volts()
      .slice(from - 1, to)
      .reduce((all, v) => all + v, 0);
  }
  asks(): string[] {
    return listQuestions(this.state(), [], profile).map((q) => q.ask);
  }
}

describe('a voltage measured across several modules', () => {
  it.each<[string, Act]>([
    ['a half', { type: 'half.measured', body: { from: 1, to: 14, volt: 125 } }],
    ['a half with the leads swapped', { type: 'half.measured', body: { from: 1, to: 14, volt: -125 } }],
  ])('raises the number: %s', (_what, act) => {
    const job = new Reading();
    job.sweep(() => 7.4);
    // 14 modules at 7.4 V
    expect(job.sum(1, 14)).toBeCloseTo(103.6, 6);
    job.add(act);
    expect(job.sum(1, 14)).toBeGreaterThanOrEqual(125);
    // the readings of this half are wrong, those of the other stand
    expect(job.volts()[0]).toBe(9.6);
    expect(job.volts()[14]).toBe(7.4);
    expect(findModuleVolts(job.state(), profile)[0]).toMatchObject({ isMeasured: false, isContradicted: true });
  });

  it('by the meter at the posts, by an insulation test and by the car itself too', () => {
    const scan = {
      ...{ moment: 'asFound' as const, reader: 'R', readerVersion: '1', isSimulated: false, codes: [], readiness: null, celsius: [] },
      ...{ ampere: null, chargePercent: null },
    } as const;
    const blocks = (volt: number): (number | null)[] => [volt, ...Array<null>(13).fill(null)];
    const insulation = { minusChassisVolt: 1, plusChassisVolt: 1, withResistorVolt: 1, resistorOhm: 1e6 };
    for (const [act, from, to, least] of [
      [{ type: 'proof.read', body: { proofId: 'p', entry: 'plusMinus', volt: 230, isFromMeter: false } }, 1, 28, 230],
      [{ type: 'proof.read', body: { proofId: 'p', entry: 'minusPlus', volt: -230, isFromMeter: false } }, 1, 28, 230],
      [{ type: 'insulation.read', body: { packVolt: 230, ...insulation } }, 1, 28, 230],
      [{ type: 'car.scanned', body: { ...scan, packVolt: 230, blockVolts: [] } }, 1, 28, 230],
      [{ type: 'car.scanned', body: { ...scan, packVolt: null, blockVolts: blocks(17.5) } }, 1, 2, 17.5],
    ] as const satisfies readonly (readonly [Act, number, number, number])[]) {
      const job = new Reading();
      job.sweep(() => 7.4);
      job.add(act);
      expect([act.type, job.sum(from, to) >= least]).toEqual([act.type, true]);
    }
    // a pole to the chassis is no voltage of the string
    const job = new Reading();
    job.sweep(() => 7.4);
    job.add({ type: 'proof.read', body: { proofId: 'p', entry: 'plusChassis', volt: 230, isFromMeter: false } });
    expect(job.sum()).toBeCloseTo(207.2, 6);
  });

  it('is shared out where it is more by no more than meters differ, and counts beyond the maximum too', () => {
    const job = new Reading();
    job.sweep(() => 7.4);
    job.add({ type: 'half.measured', body: { from: 1, to: 14, volt: 104.5 } });
    expect(job.sum(1, 14)).toBeCloseTo(104.5, 6);
    expect(findModuleVolts(job.state(), profile)[0]).toMatchObject({ isMeasured: true, isContradicted: false });
    job.add({ type: 'half.measured', body: { from: 1, to: 14, volt: 140 } });
    // 14 at 9.6 V are 134.4
    expect(job.sum(1, 14)).toBeCloseTo(140, 6);
  });

  it('lowers nothing, and gives way to what is read since, to being taken back, and to the modules that were moved', () => {
    const job = new Reading();
    const sweepId = job.sweep(() => 7.4);
    job.add({ type: 'half.measured', body: { from: 1, to: 14, volt: 90 } });
    expect(job.sum(1, 14)).toBeCloseTo(103.6, 6);
    const commandId = job.add({ type: 'half.measured', body: { from: 1, to: 14, volt: 125 } });
    job.add({ type: 'act.withdrawn', body: { commandId, reason: 'mistyped' } });
    expect(job.sum(1, 14)).toBeCloseTo(103.6, 6);
    job.add({ type: 'half.measured', body: { from: 1, to: 14, volt: 125 } });
    for (const place of PLACES.slice(0, 14)) job.read(sweepId, place, 7.5);
    expect(job.sum(1, 14)).toBeCloseTo(105, 6);
  });

  it('goes on speaking against its readings when a module of it is moved', () => {
    const job = new Reading();
    job.sweep(() => 7.4);
    job.add({ type: 'half.measured', body: { from: 1, to: 14, volt: 125 } });
    job.fact('rebuild', { kind: 'module', place: 20, moduleId: 'm3', isTurned: false });
    expect(job.state().sweep.runs).toEqual([]);
    expect(job.volts()[19]).toBe(9.6);
    expect(job.volts()[0]).toBe(9.6);
    expect(job.volts()[20]).toBe(7.4);
  });
});

describe('a reading that falls further than a module does', () => {
  it('of a whole sweep at about a tenth of the last is doubted aloud and lowers nothing', () => {
    const job = new Reading();
    job.sweep(() => 9.5);
    job.sweep(() => 0.74);
    expect(job.sum()).toBeCloseTo(28 * 9.5, 6);
    expect(job.asks()).toEqual(['28 modules fell, module 1 from 9.50 to 0.74 V, about a tenth: did a range or a point slip?']);
    expect(findModuleVolts(job.state(), profile)[0]).toMatchObject({ isFallDoubted: true });
  });

  it('of one module is doubted from half of what its type usually spans, and no sooner', () => {
    // 0.8 of 7.2 V to 9.6 V are 3.84 V: half of it is 1.92
    for (const [volt, isDoubted] of [
      [7.57, true],
      [7.59, false],
    ] as const) {
      const job = new Reading();
      job.sweep(() => 9.5);
      job.sweep(() => volt, [5]);
      expect([volt, job.volts()[4]]).toEqual([volt, isDoubted ? 9.5 : volt]);
      expect(job.asks()).toHaveLength(isDoubted ? 1 : 0);
    }
  });

  it('counts once it is confirmed by one press, until that is taken back', () => {
    const job = new Reading();
    job.sweep(() => 9.5);
    const sweepId = job.sweep(() => 7.4);
    const [question] = listQuestions(job.state(), [], profile);
    expect(question).toMatchObject({
      cause: 'readings',
      answers: [{ act: { type: 'readings.confirmed', body: { sweepId, places: PLACES } } }],
    });
    const commandId = job.add(question?.answers[0]?.act as Act);
    expect(job.sum()).toBeCloseTo(207.2, 6);
    expect(job.asks()).toEqual([]);
    // another reading of the module is another question
    job.read(sweepId, 9, 7.3);
    expect(job.volts()[8]).toBe(7.3);
    job.add({ type: 'act.withdrawn', body: { commandId, reason: 'mistyped' } });
    expect(job.volts()[0]).toBe(9.5);
  });

  it('counts once it is read anew and comes to the same; a reading in between takes its place', () => {
    const job = new Reading();
    job.sweep(() => 9.5);
    const sweepId = job.sweep(() => 7.4, [1, 2]);
    job.read(sweepId, 1, 7.42);
    job.read(sweepId, 2, 9.4);
    expect(job.volts().slice(0, 2)).toEqual([7.42, 9.4]);
    expect(job.asks()).toEqual([]);
  });

  it('lowers nothing across a charge either, and a fall within one sweep is a correction', () => {
    const job = new Reading();
    job.sweep(() => 9.5);
    job.fact('test', { kind: 'charged' });
    job.sweep(() => 0.74, [1]);
    expect(job.volts()[0]).toBe(9.6);
    const corrected = new Reading();
    const sweepId = corrected.sweep(() => 9.5, [1]);
    corrected.read(sweepId, 1, 7.3);
    expect(corrected.volts()[0]).toBe(7.3);
  });
});

describe('a module that was away', () => {
  it('counts full when it is back, until it is read', () => {
    const job = new Reading();
    const sweepId = job.sweep(() => 7.4);
    job.fact('open', { kind: 'module', place: 5, moduleId: null, isTurned: false });
    expect(job.volts()[4]).toBe(9.6);
    job.fact('open', { kind: 'module', place: 5, moduleId: 'm5', isTurned: false });
    expect(job.volts()[4]).toBe(9.6);
    job.read(sweepId, 5, 7.5);
    expect(job.volts()[4]).toBe(7.5);
  });

  it('is none that is only laid in another order, or stated again where it is', () => {
    const job = new Reading();
    job.sweep((place) => 7.2 + place / 100);
    job.fact('open', { kind: 'module', place: 5, moduleId: 'm5', isTurned: false });
    expect(job.volts()[4]).toBeCloseTo(7.25, 9);
    job.fact('rebuild', { kind: 'module', place: 5, moduleId: 'm6', isTurned: false });
    job.fact('rebuild', { kind: 'module', place: 6, moduleId: 'm5', isTurned: false });
    expect(job.volts().slice(4, 6)).toEqual([7.26, 7.25]);
  });
});

it('a reading in the name of a module that is put to its place later is of that one, and of none that lay there', () => {
  const job = new Reading();
  const sweepId = job.sweep(() => 7.4, [5]);
  const value = { sweepId, place: 5, quantity: 'openCircuitVolt' as const };
  job.add({ type: 'reading.taken', body: { ...value, moduleId: 'S-3', value: 9.1 } });
  // until then it is taken for the module of the place, whose label was misread
  expect(job.volts()[4]).toBe(9.1);
  job.fact('open', { kind: 'module', place: 5, moduleId: 'S-3', isTurned: false });
  job.add({ type: 'reading.taken', body: { ...value, moduleId: 'S-3', value: 8.8 } }, 'ts');
  // two people, two readings of one sweep: the higher
  expect(job.volts()[4]).toBe(9.1);
  job.fact('rebuild', { kind: 'module', place: 7, moduleId: 'm5', isTurned: false });
  expect(job.volts()[6]).toBe(9.6);
});

it('a module that was read below zero stays turned when that is said to be the next one’s, which may be turned as well, until it is read anew', () => {
  const job = new Reading();
  const sweepId = job.sweep(() => 7.4, [3]);
  const read = job.read(sweepId, 2, -7.5);
  const moves = [{ commandId: read, from: 2, to: 3 }];
  job.add({ type: 'readings.moved', body: { sweepId, quantity: 'openCircuitVolt', moves, anew: [2] } });
  const turned = (): number[] => findModuleVolts(job.state(), profile).flatMap((m) => (m.isReversed ? [m.place] : []));
  expect(turned()).toEqual([2, 3]);
  job.read(sweepId, 2, 7.5);
  expect(turned()).toEqual([3]);
  job.read(sweepId, 3, 7.4);
  expect(turned()).toEqual([]);
});

it('a module of which a reading was taken back is not read again by what is said to be its own of another’s', () => {
  const job = new Reading();
  const sweepId = job.sweep(() => 7.4, [3]);
  job.add({ type: 'act.withdrawn', body: { commandId: job.read(sweepId, 3, 7.6), reason: 'mistyped' } });
  const read = job.read(sweepId, 2, 7.5);
  const moves = [{ commandId: read, from: 2, to: 3 }];
  job.add({ type: 'readings.moved', body: { sweepId, quantity: 'openCircuitVolt', moves, anew: [] } });
  expect(job.volts()[2]).toBe(9.6);
  job.read(sweepId, 3, 7.4);
  expect(job.volts()[2]).toBe(7.4);
});

describe('a file', () => {
  const how = { restSince: null, restHour: null, loadAmpere: null, loadSecond: null, recovered: 'all', resolution: 0.001 } as const;
  const file = (job: Reading, measured: string, value = 7.4): string =>
    job.add({
      type: 'readings.imported',
      body: {
        ...{ fileName: 'bench.csv', measured: measured },
        sweeps: [
          { sweepId: `i${job.events.length}`, kind: 'openCircuit', ...how, readings: [{ place: 3, quantity: 'openCircuitVolt', value }] },
        ],
      },
    });

  it('of which nobody said when it was measured is older than every charge', () => {
    const job = new Reading();
    file(job, 'unsaid');
    expect(job.volts()[2]).toBe(7.4);
    job.fact('test', { kind: 'charged' });
    job.waitMinutes(60);
    file(job, 'unsaid');
    expect(job.volts()[2]).toBe(9.6);
    // one of an application that did not ask counts as it did
    file(job, 'asKept');
    expect(job.volts()[2]).toBe(7.4);
  });

  it('is held against charges by when it was measured', () => {
    const job = new Reading();
    const before = new Date(job.now).toISOString();
    job.waitMinutes(5);
    job.fact('test', { kind: 'charged' });
    job.waitMinutes(5);
    const after = new Date(job.now).toISOString();
    job.waitMinutes(5);
    file(job, before, 7.3);
    expect(job.volts()[2]).toBe(9.6);
    file(job, after, 7.5);
    expect(job.volts()[2]).toBe(7.5);
    expect(job.state().sweep.sweeps.at(-1)?.startedAt).toBe(after);
  });

  it('measured before another module came to a place says nothing of that one', () => {
    const job = new Reading();
    const before = new Date(job.now).toISOString();
    job.waitMinutes(5);
    job.fact('rebuild', { kind: 'module', place: 3, moduleId: 'S-1', isTurned: false });
    file(job, before);
    expect(job.volts()[2]).toBe(9.6);
    job.waitMinutes(5);
    file(job, new Date(job.now).toISOString());
    expect(job.volts()[2]).toBe(7.4);
  });
});

it('an empty place parts the string, and a source from outside stands across the gap', () => {
  const job = new Recorder().open('benchOnly');
  for (const fact of [
    { kind: 'plug', isIn: true },
    { kind: 'outletPosts', areBare: false },
    { kind: 'case', isOpen: true },
    { kind: 'covers', areOff: true },
    { kind: 'module', place: 8, moduleId: null, isTurned: false },
  ] as const)
    job.fact('open', fact);
  // 7 on one side, 20 on the other, at 9.6 V each
  expect(findJobExposure(job.state(), profile).reachable.volt).toBeCloseTo(20 * 9.6, 6);
  expect(findJobExposure(job.state(), profile).islands.map((i) => [i.from, i.to])).toEqual([
    [1, 7],
    [9, 28],
  ]);
  job.fact('open', { kind: 'charger', volt: 300 });
  expect(findJobExposure(job.state(), profile).reachable.volt).toBeCloseTo(300, 6);
});

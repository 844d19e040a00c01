import { profile, Recorder, shippedProfile } from '../../../test/job-fixture.ts';
import type { Fact } from '../../pack/fact.ts';
import type { Stage } from '../../pack/stage.ts';
import type { JobEvent } from '../frame/acts.ts';
import { fold } from '../frame/fold.ts';
import { passThrough } from '../frame/waiting.ts';
import { findHighestPossible, findJobExposure, findWorstExposure, type JobExposure } from './exposure.ts';
import { traceExposure } from './trace.ts';

const MAXIMUM = 28 * 9.6;

/** What a device shows that holds the acts after a kept state as waiting ones. */
function shownWith(kept: ReturnType<Recorder['state']>, recorder: Recorder, now?: number): JobExposure {
  const waiting = recorder.events.filter((e) => e.number > kept.head);
  return findWorstExposure(passThrough(kept, profile, waiting, now ?? Infinity), profile, now);
}

describe('findJobExposure', () => {
  it('lets nothing be reached in a shut pack, and never hides what is behind the covers', () => {
    const found = findJobExposure(new Recorder().open().state(), profile);
    expect(found.reachable).toMatchObject({ volt: 0, between: null });
    expect(found.behind.volt).toBeCloseTo(MAXIMUM, 9);
    expect(found.basis[0]).toBe('0 of 28 modules measured, the rest at their maximum of 9.6 V.');
    expect(found.next).toMatchObject({ label: 'pull the service plug' });
  });

  it('leads to no cut on a job that leaves the high voltage alone, until somebody parts the string all the same', () => {
    const filter = new Recorder().open('filterService');
    expect(findJobExposure(filter.state(), profile)).toMatchObject({ next: null, behind: { volt: expect.closeTo(MAXIMUM, 9) as number } });
    filter.fact('isolate', { kind: 'twelveVolt', isOff: true });
    expect(findJobExposure(filter.state(), profile).next).toMatchObject({ label: 'pull the service plug' });
    expect(findJobExposure(new Recorder().open('benchOnly').state(), profile).next).not.toBeNull();
  });

  it('counts bare cable ends at the full string while the pack hangs on the car', () => {
    const recorder = new Recorder().open();
    recorder.fact('isolate', { kind: 'plug', isIn: false });
    recorder.fact('isolate', { kind: 'connectors', are: 'open' });
    expect(findJobExposure(recorder.state(), profile).reachable).toMatchObject({
      volt: expect.closeTo(MAXIMUM, 6),
      between: ['28+', '1-'],
    });
    // insulated, the car is out of it, and the posts they sat on are covered with them until the pack leaves the car
    recorder.fact('isolate', { kind: 'connectors', are: 'insulated' });
    expect(findJobExposure(recorder.state(), profile).reachable.volt).toBe(0);
    recorder.fact('strip', { kind: 'pack', isOnBench: true });
    expect(findJobExposure(recorder.state(), profile).reachable.volt).toBeCloseTo(MAXIMUM, 6);
    recorder.fact('strip', { kind: 'outletPosts', areBare: false });
    expect(findJobExposure(recorder.state(), profile).reachable.volt).toBe(0);
  });

  it('counts what no cover lies over: with one side joined, the cover of the other leaves nothing between two posts', () => {
    const recorder = new Recorder().open('benchOnly');
    const [vent, cable] = [1, 0].map((from) => Array.from({ length: 29 }, (_, k) => k).filter((k) => k % 2 === from)) as [
      number[],
      number[],
    ];
    for (const fact of [
      { kind: 'plug', isIn: false },
      { kind: 'outletPosts', areBare: false },
      { kind: 'case', isOpen: true },
      { kind: 'harness', isUnplugged: true },
      { kind: 'covers', areOff: true },
      { kind: 'frame', frame: 'cable-frame', isOff: true },
    ] as const)
      recorder.fact('open', fact);
    const volt = (over: number[] | null) => {
      const job = recorder.state();
      const bare = job.pack.bareJoints.filter((k) => !over?.includes(k));
      return findJobExposure({ ...job, pack: { ...job.pack, bareJoints: bare, isHarnessUnplugged: true } }, profile).reachable.volt;
    };
    const pins = findJobExposure(recorder.state(), profile).pinVolt ?? 0;
    expect(volt(null)).toBeCloseTo(Math.max(2 * 9.6, pins), 6);
    expect(volt(vent)).toBeCloseTo(Math.max(2 * 9.6, pins), 6);
    expect(volt(cable)).toBeCloseTo(pins, 6);
    recorder.fact('rebuild', { kind: 'covers', areOff: false, over: cable });
    expect(findJobExposure(recorder.state(), profile).reachable.volt).toBeCloseTo(pins, 6);
    expect(findJobExposure(recorder.state(), profile).basis).toContain('Terminal covers are stated on over 15 of 29 joints.');
  });

  it('counts the islands as one string until the harness is off, then by the plug', () => {
    const recorder = new Recorder().open();
    recorder.fact('isolate', { kind: 'plug', isIn: false });
    recorder.fact('strip', { kind: 'pack', isOnBench: true });
    recorder.fact('open', { kind: 'case', isOpen: true });
    recorder.fact('open', { kind: 'covers', areOff: true });
    expect(findJobExposure(recorder.state(), profile).reachable.volt).toBeCloseTo(MAXIMUM, 6);
    expect(findJobExposure(recorder.state(), profile).next).toMatchObject({
      label: 'unplug the sense harness',
      volt: expect.closeTo(14 * 9.6, 6),
    });
    recorder.fact('open', { kind: 'harness', isUnplugged: true });
    const found = findJobExposure(recorder.state(), profile);
    expect(found.reachable).toMatchObject({ volt: expect.closeTo(14 * 9.6, 6), between: ['14+', '1-'] });
    expect(found.next).toMatchObject({ fact: { kind: 'frame', frame: 'vent-frame', isOff: true } });
  });

  it('takes the latest open-circuit reading, never below nominal, and forgets it when the pack is charged', () => {
    const recorder = new Recorder().open();
    const sweep = recorder.startSweep('openCircuit');
    for (let place = 1; place <= 28; place++)
      recorder.add({
        type: 'reading.taken',
        body: { sweepId: sweep, place, moduleId: `m${place}`, quantity: 'openCircuitVolt', value: place === 9 ? 6 : 7.8 },
      });
    expect(findJobExposure(recorder.state(), profile).behind.volt).toBeCloseTo(27 * 7.8 + 7.2, 9);
    recorder.fact('test', { kind: 'charged' });
    expect(findJobExposure(recorder.state(), profile).behind.volt).toBeCloseTo(MAXIMUM, 9);
  });

  it('lets waiting acts raise the voltages: a higher reading and a charge do, a lower reading does not', () => {
    const recorder = new Recorder().open();
    const sweep = recorder.startSweep('openCircuit');
    const take = (place: number, value: number): string =>
      recorder.add({ type: 'reading.taken', body: { sweepId: sweep, place, moduleId: `m${place}`, quantity: 'openCircuitVolt', value } });
    for (let place = 1; place <= 28; place++) take(place, 7.8);
    const kept = recorder.state();
    take(1, 8.4);
    take(2, 7.3);
    const behind = (): number => shownWith(kept, recorder).behind.volt;
    expect(behind()).toBeCloseTo(27 * 7.8 + 8.4, 9);
    recorder.fact('test', { kind: 'charged' });
    expect(behind()).toBeCloseTo(MAXIMUM, 9);
    // and a reading that waits behind a charge that waits is not hidden by it
    take(5, 10.1);
    expect(behind()).toBeCloseTo(27 * 9.6 + 10.1, 9);
    expect(findHighestPossible(shownWith(kept, recorder), profile)).toBeGreaterThanOrEqual(behind());
  });

  it('counts a module that came to a place at the most it can have, until it was read itself', () => {
    const job = new Recorder().open();
    const sweepId = job.startSweep('openCircuit');
    const read = (place: number, moduleId: string | null, value: number): string =>
      job.add({ type: 'reading.taken', body: { sweepId, place, moduleId, quantity: 'openCircuitVolt', value } });
    const voltAt = (place: number): number | undefined => findJobExposure(job.state(), profile).modules[place - 1]?.volt;
    read(3, 'm3', 7.5);
    job.fact('rebuild', { kind: 'module', place: 3, moduleId: 'S-1', isTurned: false });
    expect(voltAt(3)).toBe(9.6);
    read(3, 'S-1', 7.9);
    expect(voltAt(3)).toBe(7.9);
    // a reading that comes late from the device that had it belongs to the module that left
    read(3, 'm3', 7.4);
    expect(voltAt(3)).toBe(7.9);
    // the same module cannot be at two places; what is where it was is not known
    job.fact('rebuild', { kind: 'module', place: 5, moduleId: 'S-1', isTurned: false });
    expect([voltAt(3), voltAt(5)]).toEqual([9.6, 7.9]);
    // unnamed readings end with what sat there
    read(3, null, 7.6);
    expect(voltAt(3)).toBe(7.6);
    job.fact('rebuild', { kind: 'module', place: 3, moduleId: null, isTurned: false });
    expect(voltAt(3)).toBe(9.6);
    // and a name that was never in this pack is no module of it: the place counts
    read(3, 'constructor', 7.7);
    expect(voltAt(3)).toBe(7.7);
  });

  it('raises a place while it waits to be kept that another module came to it', () => {
    const job = new Recorder().open();
    const sweepId = job.startSweep('openCircuit');
    job.add({ type: 'reading.taken', body: { sweepId, place: 3, moduleId: 'm3', quantity: 'openCircuitVolt', value: 7.5 } });
    const waiting: Fact = { kind: 'module', place: 3, moduleId: 'S-1', isTurned: false };
    const kept = job.state();
    job.fact('rebuild', waiting);
    expect(shownWith(kept, job).modules[2]).toMatchObject({ volt: 9.6, isMeasured: false });
  });

  it('draws the procedure from where the job stands', () => {
    const recorder = new Recorder().open();
    const fresh = traceExposure(recorder.state(), profile);
    expect(fresh.planned.length).toBe(profile.procedure.length);
    // the fields come back from the log in another order than the profile has them
    for (const { stage, fact } of profile.procedure.slice(0, 5))
      recorder.fact(stage, Object.fromEntries(Object.entries(fact).reverse()) as unknown as Fact);
    const later = traceExposure(recorder.state(), profile);
    expect(later.done).toHaveLength(5);
    expect(later.planned).toHaveLength(profile.procedure.length - 5);
    expect(Math.max(...later.planned.map((p) => p.reachableVolt))).toBeGreaterThan(60);
  });
});

/** A job of a pack, said in one line: each fact, in order. */
function said(facts: readonly Fact[], pack = profile): JobExposure {
  const recorder = new Recorder().open();
  for (const fact of facts) recorder.fact('open', fact);
  return findJobExposure(fold(pack, recorder.events), pack);
}

const OUT: readonly Fact[] = [{ kind: 'plug', isIn: false }];
const ON_BENCH: readonly Fact[] = [...OUT, { kind: 'connectors', are: 'insulated' }, { kind: 'pack', isOnBench: true }];
const BARE: readonly Fact[] = [
  { kind: 'case', isOpen: true },
  { kind: 'covers', areOff: true },
];
const CAPPED: Fact = { kind: 'outletPosts', areBare: false };

describe('the number is never below what the record allows', () => {
  it('counts a link of a one-piece frame as joined while the frame is on, and says so', () => {
    const pack = shippedProfile('greenshank-28');
    const whole = 28 * pack.moduleType.maximumModuleVolt;
    const apart: Fact[] = [...ON_BENCH, ...BARE, { kind: 'harness', isUnplugged: true }];
    const link = pack.frames[0]?.links[6] ?? 0;
    expect(said([...apart, { kind: 'links', links: [link], areOpen: true }], pack).reachable.volt).toBeCloseTo(whole, 6);
    expect(said([...apart, { kind: 'frame', frame: pack.frames[0]?.id ?? '', isOff: true }], pack).reachable.volt).toBeLessThan(whole / 10);
  });

  it('ties the ends of the string through joined cables, also across an open plug link', () => {
    // 14 x 9.6 = 134.4 V in each half; an empty capacitor holds the ends together: 268.8 V across the plug
    const found = said([...OUT, ...BARE, { kind: 'harness', isUnplugged: true }]);
    expect(found.reachable.volt).toBeCloseTo(MAXIMUM, 6);
    expect(found.basis.join(' ')).toContain('Joined cables tie the ends');
    expect(said([...ON_BENCH, ...BARE, { kind: 'harness', isUnplugged: true }]).reachable.volt).toBeCloseTo(MAXIMUM / 2, 6);
  });

  it('counts bare outlet posts on the bench while nothing proves the contactors open', () => {
    expect(said(ON_BENCH).reachable).toMatchObject({ volt: expect.closeTo(MAXIMUM, 6), between: ['28+', '1-'] });
    expect(said([...ON_BENCH, { kind: 'contactors', are: 'open' }]).reachable.volt).toBeCloseTo(MAXIMUM, 6);
    expect(said([...ON_BENCH, { kind: 'contactors', are: 'takenOut' }]).reachable.volt).toBe(0);
    expect(said([...ON_BENCH, CAPPED]).reachable.volt).toBe(0);
    // a pack that came without its car lies bare on the bench from the first
    expect(findJobExposure(new Recorder().open('benchOnly').state(), profile).reachable.volt).toBeCloseTo(MAXIMUM, 6);
  });

  it('counts the pins of a harness that is out, with their volts', () => {
    const found = said([...ON_BENCH, CAPPED, { kind: 'harness', isUnplugged: true }]);
    expect(found.reachable.volt).toBeCloseTo(MAXIMUM / 2, 6);
    expect(found.pinVolt).toBeCloseTo(MAXIMUM / 2, 6);
    expect(found.basis.join(' ')).toContain('pins');
    expect(said([...ON_BENCH, CAPPED]).pinVolt).toBeNull();
  });

  const read = (job: Recorder, sweepId: string, value: number, by = 'om', at: Partial<JobEvent> = {}): string => {
    const id = job.add({ type: 'reading.taken', body: { sweepId, place: 3, moduleId: 'm3', quantity: 'openCircuitVolt', value } }, by);
    Object.assign(job.events.at(-1) as JobEvent, at);
    return id;
  };
  const thirdOf = (job: Recorder) => findJobExposure(job.state(), profile).modules[2];

  it('counts a module that reads below zero by its size, and names it', () => {
    const job = new Recorder().open();
    read(job, job.startSweep('openCircuit'), -9.4);
    expect(thirdOf(job)).toMatchObject({ volt: 9.4, isReversed: true, isMeasured: true });
    expect(findJobExposure(job.state(), profile).basis.join(' ')).toContain('Module 3 read below zero');
  });

  it('counts the higher of two people until one is chosen', () => {
    const job = new Recorder().open();
    const sweepId = job.startSweep('openCircuit');
    read(job, sweepId, 8.4, 'om');
    const lower = read(job, sweepId, 7.6, 'ts');
    expect(thirdOf(job)).toMatchObject({ volt: 8.4, isDoubtful: true });
    job.add({ type: 'reading.chosen', body: { sweepId, place: 3, quantity: 'openCircuitVolt', commandId: lower } });
    expect(thirdOf(job)).toMatchObject({ volt: 7.6, isDoubtful: false });
    // a correction by the same hand counts at once
    read(job, sweepId, 7.5, 'ts');
    read(job, sweepId, 7.7, 'om');
    expect(thirdOf(job)?.volt).toBe(7.7);
  });

  it('takes a reading for what it was measured, whenever it came', () => {
    const job = new Recorder().open();
    const sweepId = job.startSweep('openCircuit');
    const early = new Date(job.now).toISOString();
    job.waitMinutes(60);
    job.fact('test', { kind: 'charged' });
    // measured before the charge and kept after it
    read(job, sweepId, 7.5, 'om', { deviceAt: early });
    expect(thirdOf(job)).toMatchObject({ volt: 9.6, isMeasured: false });
    read(job, sweepId, 8.1, 'om');
    expect(thirdOf(job)).toMatchObject({ volt: 8.1, isMeasured: true });
    // by another person's clock it may have been before the charge
    const other = new Recorder().open();
    other.fact('test', { kind: 'charged' });
    other.waitMinutes(1);
    read(other, other.startSweep('openCircuit', 'ts'), 7.5, 'ts');
    expect(thirdOf(other)?.isMeasured).toBe(true);
    const close = other.now;
    other.fact('test', { kind: 'charged' });
    read(other, other.startSweep('openCircuit', 'ts'), 7.6, 'ts', { deviceAt: new Date(close + 2000).toISOString() });
    expect(thirdOf(other)).toMatchObject({ volt: 9.6, isMeasured: false });
  });

  it('counts every module as full while a source is on, and after it, until it is read', () => {
    const job = new Recorder().open();
    read(job, job.startSweep('openCircuit'), 7.5);
    job.fact('test', { kind: 'charger', volt: 250 });
    expect(thirdOf(job)).toMatchObject({ volt: 9.6, isMeasured: false });
    read(job, job.startSweep('openCircuit'), 8.9);
    expect(thirdOf(job)?.volt).toBe(9.6);
    job.fact('test', { kind: 'charger', volt: null });
    expect(thirdOf(job)).toMatchObject({ volt: 9.6, isMeasured: false });
    read(job, job.startSweep('openCircuit'), 8.7);
    expect(thirdOf(job)).toMatchObject({ volt: 8.7, isMeasured: true });
  });

  it('counts a source across an open link at whatever it may give', () => {
    // 14 x 9.6 V on each side of the plug: 168 V across the ends leave 100.8 V across it, a source that is off all of it
    const apart: Fact[] = [...ON_BENCH, CAPPED, ...BARE, { kind: 'harness', isUnplugged: true }];
    expect(said([...apart, { kind: 'charger', volt: 168 }]).reachable.volt).toBeCloseTo(MAXIMUM, 6);
    expect(said([...apart, { kind: 'charger', volt: 300 }]).reachable).toMatchObject({ volt: 300, between: ['28+', '1-'] });
  });

  it('leaves a module at its maximum when its reading is taken back, at once, also while that waits', () => {
    const job = new Recorder().open();
    const sweepId = job.startSweep('openCircuit');
    read(job, sweepId, 7.5);
    const last = read(job, sweepId, 7.6);
    const kept = job.state();
    job.add({ type: 'act.withdrawn', body: { commandId: last, reason: 'mistyped' } });
    expect(thirdOf(job)).toMatchObject({ volt: 9.6, isMeasured: false });
    expect(shownWith(kept, job).modules[2]).toMatchObject({ volt: 9.6, isMeasured: false });
  });

  it('keeps the short-circuit current when an empty sweep of resistance is begun', () => {
    const job = new Recorder().open();
    for (const fact of [...ON_BENCH, ...BARE]) job.fact('open', fact);
    const sweepId = job.startSweep('resistance');
    for (let place = 1; place <= 28; place++)
      job.add({ type: 'reading.taken', body: { sweepId, place, moduleId: `m${place}`, quantity: 'resistanceMilliohm', value: 5 } });
    const ampere = (): number | undefined => findJobExposure(job.state(), profile).reachable.worstShort?.ampere;
    expect(ampere()).toBeCloseTo(9600 / 5, 6);
    job.startSweep('resistance');
    expect(ampere()).toBeCloseTo(9600 / 5, 6);
  });

  it('says how much of it stands above what is known, by cause', () => {
    const found = said([...ON_BENCH, ...BARE, { kind: 'harness', isUnplugged: true }]);
    expect(found.excess).toEqual([{ cause: 'unmeasured', volt: expect.closeTo(14 * (9.6 - 7.2), 6), sentence: expect.any(String) }]);
    expect(said(ON_BENCH).excess[0]).toMatchObject({ cause: 'contactors', volt: expect.closeTo(MAXIMUM, 6) });
  });

  it('names what waits where only that will lower it once it is kept', () => {
    const job = new Recorder().open();
    for (const fact of [...ON_BENCH, CAPPED, ...BARE]) job.fact('open', fact);
    job.fact('open', { kind: 'contactors', are: 'takenOut' });
    job.fact('open', { kind: 'harness', isUnplugged: true });
    const sweepId = job.startSweep('openCircuit');
    for (let place = 1; place <= 28; place++)
      job.add({ type: 'reading.taken', body: { sweepId, place, moduleId: `m${place}`, quantity: 'openCircuitVolt', value: 7.5 } });
    const kept = job.state();
    expect(shownWith(kept, job).excess).toEqual([]);
    job.fact('open', { kind: 'frame', frame: 'vent-frame', isOff: true });
    const { reachable, excess } = shownWith(kept, job);
    expect(reachable.volt).toBeCloseTo(14 * 7.5, 6);
    // the modules lie in pairs then
    expect(excess).toEqual([{ cause: 'waiting', volt: expect.closeTo(12 * 7.5, 6), sentence: expect.any(String) }]);
  });

  it('names modules that were read below their nominal voltage and count at it', () => {
    const job = new Recorder().open();
    for (const fact of [...ON_BENCH, CAPPED, ...BARE]) job.fact('open', fact);
    job.fact('open', { kind: 'contactors', are: 'takenOut' });
    const sweepId = job.startSweep('openCircuit');
    for (let place = 1; place <= 28; place++)
      job.add({ type: 'reading.taken', body: { sweepId, place, moduleId: `m${place}`, quantity: 'openCircuitVolt', value: 6.9 } });
    const { reachable, excess } = findJobExposure(job.state(), profile);
    expect(reachable.volt).toBeCloseTo(28 * 7.2, 6);
    expect(excess).toEqual([{ cause: 'low', volt: expect.closeTo(28 * 0.3, 6), sentence: expect.any(String) }]);
  });
});

describe('a statement that comes late', () => {
  const late = (job: Recorder, stage: Stage, fact: Fact, minutesAgo: number, by = 'ts'): void => {
    job.fact(stage, fact);
    Object.assign(job.events.at(-1) as JobEvent, { by, deviceAt: new Date(job.now - minutesAgo * 60_000).toISOString() });
  };
  const opened = (): Recorder => {
    const job = new Recorder().open();
    for (const fact of [...ON_BENCH, CAPPED]) job.fact('strip', fact);
    job.waitMinutes(180);
    for (const fact of BARE) job.fact('open', fact);
    return job;
  };
  const volt = (job: Recorder): number => findJobExposure(job.state(), profile).reachable.volt;

  it('changes nothing where it is less hazardous than what was stated since, and is marked', () => {
    const job = opened();
    late(job, 'open', { kind: 'case', isOpen: false }, 120);
    expect(volt(job)).toBeCloseTo(MAXIMUM, 6);
    expect(job.state().pack.isCaseOpen).toBe(true);
    expect(job.state().facts.at(-1)).toMatchObject({ came: 'late', outOfOrder: expect.stringContaining('late') });
    expect(job.state().late).toEqual([]);
  });

  it('raises the line where it is more hazardous, until the thing is stated anew', () => {
    const job = opened();
    job.fact('open', { kind: 'covers', areOff: false });
    expect(volt(job)).toBe(0);
    late(job, 'open', { kind: 'covers', areOff: true }, 30);
    expect(volt(job)).toBeCloseTo(MAXIMUM, 6);
    expect(findJobExposure(job.state(), profile).basis.join(' ')).toContain('came late');
    expect(traceExposure(job.state(), profile).done.at(-1)?.reachableVolt).toBeCloseTo(MAXIMUM, 6);
    job.fact('open', { kind: 'covers', areOff: false });
    expect(volt(job)).toBe(0);
  });

  it('raises it where covers came off and only those of one side were put on since', () => {
    const sides = [1, 0].map((from) => Array.from({ length: 29 }, (_, k) => k).filter((k) => k % 2 === from));
    const job = opened();
    job.fact('rebuild', { kind: 'covers', areOff: false });
    job.waitMinutes(60);
    job.fact('rebuild', { kind: 'covers', areOff: false, over: sides[0] as number[] });
    expect(volt(job)).toBe(0);
    late(job, 'rebuild', { kind: 'covers', areOff: true }, 30);
    // the vent side was covered after that word, the cable side and both ends were not
    expect(job.state().pack.bareJoints).toEqual(sides[1]);
    expect(volt(job)).toBeCloseTo(MAXIMUM, 6);
    job.fact('rebuild', { kind: 'covers', areOff: false, over: sides[1] as number[] });
    // of the vent side the late word holds beside what stands, until that is stated anew too
    expect(volt(job)).toBeGreaterThan(26 * 9.6 - 1e-6);
    job.fact('rebuild', { kind: 'covers', areOff: false, over: sides[0] as number[] });
    expect(volt(job)).toBe(0);
  });

  it('takes nothing for late that came after the server’s clock was set back, kept or waiting', () => {
    const job = opened();
    const word = (id: string, turn: number) => ({ device: { id, turn, isClockSure: true } });
    job.fact('open', { kind: 'covers', areOff: false });
    Object.assign(job.events.at(-1) as JobEvent, word('a', 1));
    const closed = job.state();
    job.wait(-2);
    job.fact('open', { kind: 'covers', areOff: true });
    const bare = { ...job.events.at(-1), ...word('b', 1) } as JobEvent;
    Object.assign(job.events.at(-1) as JobEvent, bare);
    expect(volt(job)).toBeCloseTo(MAXIMUM, 6);
    expect(findWorstExposure(passThrough(closed, profile, [bare], job.now), profile, job.now).reachable.volt).toBeCloseTo(MAXIMUM, 6);
    // one device numbers its acts, whatever the clock
    job.fact('open', { kind: 'covers', areOff: false });
    Object.assign(job.events.at(-1) as JobEvent, word('b', 2));
    job.fact('open', { kind: 'covers', areOff: false });
    Object.assign(job.events.at(-1) as JobEvent, word('a', 2));
    expect(job.state().latestAt).toBe(closed.lastAt);
    job.wait(3);
    job.fact('open', { kind: 'covers', areOff: false });
    expect(volt(job)).toBe(0);
  });

  it('holds the more hazardous of two that clocks cannot tell apart', () => {
    const job = opened();
    const word = (id: string, turn: number) => ({ device: { id, turn, isClockSure: true } });
    job.fact('open', { kind: 'covers', areOff: true });
    Object.assign(job.events.at(-1) as JobEvent, word('a', 1));
    job.fact('open', { kind: 'covers', areOff: false });
    Object.assign(job.events.at(-1) as JobEvent, word('b', 1));
    expect(volt(job)).toBeCloseTo(MAXIMUM, 6);
    expect(job.state().facts.at(-1)?.came).toBe('unclear');
    // the same device is sure of its own order, however fast the hand was
    job.fact('open', { kind: 'covers', areOff: false });
    Object.assign(job.events.at(-1) as JobEvent, word('a', 2));
    expect(volt(job)).toBe(0);
  });

  it('keeps a word that says the same where it may be later than what is said next of the other', () => {
    const job = opened();
    const word = (id: string, turn: number) => ({ device: { id, turn, isClockSure: true } });
    for (const [id, turn, areOff] of [
      ['a', 1, true],
      ['b', 1, true],
      ['a', 2, false],
    ] as const) {
      job.fact('open', { kind: 'covers', areOff });
      Object.assign(job.events.at(-1) as JobEvent, word(id, turn));
    }
    // it was off, on and off again, or off, off and on: nobody can tell
    expect(volt(job)).toBeCloseTo(MAXIMUM, 6);
  });

  it('leaves a place of which it names another module at the most that one can have', () => {
    const job = new Recorder().open();
    const sweepId = job.startSweep('openCircuit');
    const put: Fact = { kind: 'module', place: 3, moduleId: 'm3', isTurned: false };
    job.waitMinutes(60);
    job.fact('rebuild', put);
    job.add({ type: 'reading.taken', body: { sweepId, place: 3, moduleId: 'm3', quantity: 'openCircuitVolt', value: 7.5 } });
    const third = () => findJobExposure(job.state(), profile).modules[2];
    expect(third()).toMatchObject({ volt: 7.5, isMeasured: true });
    late(job, 'rebuild', { ...put, moduleId: 'S-9' }, 30);
    expect(third()).toMatchObject({ volt: 9.6, isMeasured: false });
    expect(job.state().pack.places[2]?.moduleId).toBe('m3');
    job.fact('rebuild', put);
    expect(third()?.volt).toBe(7.5);
  });

  it('believes no clock that is not sure: what it says to be less hazardous lowers nothing', () => {
    const job = opened();
    job.fact('open', { kind: 'covers', areOff: true });
    Object.assign(job.events.at(-1) as JobEvent, { device: { id: 'a', turn: 1, isClockSure: true } });
    job.waitMinutes(5);
    job.fact('open', { kind: 'covers', areOff: false });
    Object.assign(job.events.at(-1) as JobEvent, { device: { id: 'b', turn: 1, isClockSure: false } });
    expect(volt(job)).toBeCloseTo(MAXIMUM, 6);
  });
});

import { contextOf, profile, Recorder } from '../../../../test/job-fixture.ts';
import type { Act, ActBody } from '../../frame/acts.ts';
import { meansBesides } from '../../frame/counts.ts';
import { decide } from '../../frame/decide.ts';
import { isStageDone } from '../../frame/completeness.ts';
import { findRebuild, tryFrame, type TorqueGroup } from './view.ts';

/** A job on the bench whose pack is wholly open, every count said by hand; acts are kept with what they mean besides. */
class Bench extends Recorder {
  constructor() {
    super();
    this.open();
    this.fact('strip', { kind: 'pack', isOnBench: true });
    for (const { fact } of profile.layers) if (fact) this.do({ type: 'fact.stated', body: { stage: 'open', fact } });
    for (const part of profile.parts)
      if (part.torque && profile.layers.some((l) => l.id === part.place)) this.count(part.id, part.count ?? 1, 'inPlace', 'onPart');
  }

  do(act: Act): string {
    const besides = meansBesides(this.state(), act, profile, null);
    const id = this.add(act);
    for (const more of besides) {
      this.add(more);
      Object.assign(this.events.at(-1) ?? {}, { commandId: id });
    }
    return id;
  }

  count(partId: string, count: number, from: 'inPlace' | 'onPart', to: 'inPlace' | 'onPart'): void {
    this.do({ type: 'part.moved', body: { stage: 'open', partId, count, from: { kind: from }, to: { kind: to }, condition: 'good' } });
  }

  set(partId: string, setNewtonMetre: number, reads: 'click' | 'figure' = 'click'): string {
    return this.add({ type: 'torque.set', body: { partId, toolId: 'T-01', reads, setNewtonMetre, toolLabel: 'T-01' } });
  }

  tighten(settingId: string, partId: string, seat: number, pass: 1 | 2 = 1, newtonMetre: number | null = null): string {
    return this.do({ type: 'fastener.torqued', body: { settingId, partId, seat, pass, newtonMetre } });
  }

  now3() {
    return findRebuild(this.state(), profile);
  }

  group(partId: string): TorqueGroup {
    const group = this.now3()
      .steps.flatMap((s) => s.groups)
      .find((g) => g.part.id === partId);
    if (!group) throw new Error(partId);
    return group;
  }

  owed(partId: string): number {
    return this.state()
      .strip.moved.filter((m) => m.partId === partId)
      .reduce((n, m) => n + (m.to.kind === 'inPlace' ? -m.count : m.count), 0);
  }
}

it('leads from the innermost layer out, and is done when everything is on and tight', () => {
  const job = new Bench();
  expect(job.now3().steps.map((s) => s.id)).toEqual(['stack', 'end', 'cable-bars', 'vent-bars', 'terminal-covers', 'sense', 'case-lid']);
  expect(job.now3().next?.id).toBe('end');
  expect(isStageDone('rebuild', job.state(), profile)).toBe(false);
  for (const check of ['nubsSeated', 'endsFlush', 'gapsOpen', 'flapStraight'] as const)
    job.add({ type: 'rebuild.checked', body: { check, isGood: true, note: '' } });
  for (const step of job.now3().steps) {
    if (step.fact) job.do({ type: 'fact.stated', body: { stage: 'rebuild', fact: step.fact } });
    for (const { part, wantedPasses } of step.groups) {
      const setting = job.set(part.id, part.torque?.newtonMetre ?? 1);
      for (let pass = 1; pass <= wantedPasses; pass++)
        for (let seat = 1; seat <= (part.count ?? 0); seat++) job.tighten(setting, part.id, seat, pass as 1 | 2);
    }
    for (const part of profile.parts.filter((p) => p.place === step.id && p.torque === null && p.effects.length === 0))
      if (job.owed(part.id) > 0) job.count(part.id, job.owed(part.id), 'onPart', 'inPlace');
  }
  expect(job.now3().next).toBeNull();
  expect(isStageDone('rebuild', job.state(), profile)).toBe(true);
});

describe('the torque record', () => {
  it('takes one key a nut: 28 a side, each once, then each once more', () => {
    const job = new Bench();
    const setting = job.set('bar-nut', 5.4);
    expect(job.group('bar-nut').next).toEqual({ seat: 1, pass: 1 });
    for (let seat = 1; seat <= 28; seat++) job.tighten(setting, 'bar-nut', seat);
    expect(job.group('bar-nut')).toMatchObject({ isDone: false, next: { seat: 1, pass: 2 } });
    for (let seat = 1; seat <= 28; seat++) job.tighten(setting, 'bar-nut', seat, 2);
    expect(job.group('bar-nut')).toMatchObject({ isDone: true, next: null });
    // a second click proves "at least", never "not over"
    expect(job.group('bar-nut').seats[0]).toEqual({ seat: 1, passes: 2, said: '5.4 N·m (48 lbf·in) at least', fault: null });
  });

  it('counts a fastener back when it is tightened first, and once', () => {
    const job = new Bench();
    const setting = job.set('bar-nut', 5.4);
    expect(job.owed('bar-nut')).toBe(28);
    job.tighten(setting, 'bar-nut', 3);
    job.tighten(setting, 'bar-nut', 3, 2);
    job.tighten(setting, 'bar-nut', 4);
    expect(job.owed('bar-nut')).toBe(26);
  });

  it('leaves a hole where a nut was forgotten, and where a second pass came without a first', () => {
    const job = new Bench();
    const setting = job.set('bar-nut', 5.4);
    for (let seat = 1; seat <= 28; seat++) if (seat !== 7) job.tighten(setting, 'bar-nut', seat);
    expect(job.group('bar-nut').next).toEqual({ seat: 7, pass: 1 });
    job.tighten(setting, 'bar-nut', 7, 2);
    expect(job.group('bar-nut').seats[6]?.passes).toBe(0);
  });

  it('does not count a figure off its specification, and names the slip', () => {
    const job = new Bench();
    const setting = job.set('bar-nut', 5.4, 'figure');
    job.tighten(setting, 'bar-nut', 1, 1, 64.8);
    expect(job.group('bar-nut').seats[0]).toMatchObject({ passes: 0, fault: expect.stringContaining('read as lbf·ft') });
    job.tighten(setting, 'bar-nut', 1, 1, 5.5);
    expect(job.group('bar-nut').seats[0]).toMatchObject({ passes: 1, fault: null });
    job.tighten('none', 'bar-nut', 2);
    expect(job.group('bar-nut').seats[1]).toMatchObject({ passes: 0, fault: 'No tool was set for it.' });
  });

  it('is lost where the bar comes off again, or the nuts are counted off', () => {
    const job = new Bench();
    job.do({ type: 'fact.stated', body: { stage: 'rebuild', fact: { kind: 'frame', frame: 'vent-frame', isOff: false } } });
    const setting = job.set('bar-nut', 5.4);
    job.tighten(setting, 'bar-nut', 1);
    job.fact('rebuild', { kind: 'frame', frame: 'cable-frame', isOff: true });
    expect(job.group('bar-nut').seats[0]?.passes).toBe(1);
    job.fact('rebuild', { kind: 'frame', frame: 'vent-frame', isOff: true });
    expect(job.group('bar-nut').seats[0]).toEqual({ seat: 1, passes: 0, said: '', fault: null });
    job.tighten(job.set('hold-down', 4.5), 'hold-down', 1);
    job.count('hold-down', 1, 'inPlace', 'onPart');
    expect(job.group('hold-down').seats[0]?.passes).toBe(0);
  });

  it('can be taken back by the hand that made it', () => {
    const job = new Bench();
    const commandId = job.tighten(job.set('bar-nut', 5.4), 'bar-nut', 1);
    job.add({ type: 'act.withdrawn', body: { commandId, reason: 'mistyped' } });
    expect(job.group('bar-nut').seats[0]?.passes).toBe(0);
  });
});

describe('a torque tool', () => {
  const job = new Bench();
  const ask = (toolId: string, setNewtonMetre: number, partId = 'bar-nut') =>
    decide(job.state(), { type: 'torque.set', body: { partId, toolId, reads: 'click', setNewtonMetre, toolLabel: 'my own words' } }, contextOf(job)); // prettier-ignore
  it('is granted within its range and its calibration, under its own label', () => {
    expect(ask('T-01', 5.4)).toMatchObject({ kind: 'answer', value: [{ body: { toolLabel: 'T-01' } }] });
  });
  it.each([
    ['T-old', 5.4, /does not count/],
    ['T-60', 5.4, /does not suit. 5.4 N·m is below 12 N·m, 20 %/],
    ['T-01', 0.61, /8.85 times too little/],
    ['T-01', 6.5, /5.4 N·m \(48 lbf·in\) is wanted, within 10 %/],
    ['M-02', 5.4, /no torque tool/],
    ['constructor', 5.4, /no torque tool/],
  ])('%s at %d is refused with the reason', (toolId, set, message) => {
    expect(ask(toolId, set)).toMatchObject({ kind: 'refused', message: expect.stringMatching(message) });
  });
  it('is for a part that there is, and a seat for one of its pieces', () => {
    expect(ask('T-01', 5.4, 'no-part')).toMatchObject({ kind: 'refused', path: ['body', 'partId'] });
    const body = { settingId: 's', partId: 'bar-nut', seat: 29, pass: 1 as const, newtonMetre: null };
    expect(decide(job.state(), { type: 'fastener.torqued', body }, contextOf(job))).toMatchObject({ path: ['body', 'seat'] });
  });
});

describe('the stack', () => {
  const plan = {
    school: 'spotRepair' as const,
    rangeAh: null,
    lowerBoundAh: null,
    proven: false,
    blockMeanAh: [],
    assumedPlaces: [],
  } satisfies Partial<ActBody<'plan.chosen'>>;
  const planned = (): Bench => {
    const job = new Bench();
    const moduleIds = Array.from({ length: 28 }, (_, i) => (i === 4 ? 'S-1' : `m${i + 1}`));
    job.add({ type: 'plan.chosen', body: { ...plan, moduleIds, fromShelf: ['S-1'] } });
    return job;
  };
  const lay = (job: Bench, place: number, moduleId: string | null, isTurned = false) =>
    job.fact('rebuild', { kind: 'module', place, moduleId, isTurned });

  it('says which place waits for which module, and what lies wrong', () => {
    const job = planned();
    // what lay there as it came is out by now
    expect(job.now3().places[4]).toMatchObject({ planned: 'S-1', laid: '', fault: null, isDone: false });
    expect(job.now3().next?.id).toBe('stack');
    lay(job, 5, 'm5');
    expect(job.now3().places[4]).toMatchObject({ laid: 'm5', fault: 'm5 is not in the plan: it comes out.' });
    lay(job, 5, 'm6');
    expect(job.now3().places[4]?.fault).toBe('m6 belongs at place 6.');
    expect(job.now3().places[5]).toMatchObject({ laid: '', fault: null, isDone: false });
    lay(job, 6, 'm6');
    lay(job, 5, 'S-1', true);
    expect(job.now3().places[4]?.fault).toContain('end for end');
    lay(job, 5, 'S-1');
    expect(job.now3().places.every((p) => p.isDone)).toBe(true);
  });

  it('tells before a frame is laid what it would do with the modules as they lie', () => {
    const job = planned();
    const volts = Array.from({ length: 28 }, () => 7.8);
    const hand = (over: object = {}) => ({ frame: 'cable-frame', shift: 0, isOtherSide: false, ...over });
    const tried = (over?: object) => tryFrame(job.state().pack, profile, volts, [], over === undefined ? null : hand(over));
    const opens = (over?: object) => tried(over)?.faults.filter((f) => f.kind === 'open').length;
    expect([opens(), opens({})]).toEqual([26, 14]);
    job.fact('rebuild', { kind: 'frame', frame: 'vent-frame', isOff: false });
    // the plug is out of it: it stays in
    expect(tried({})).toMatchObject({ outputVolt: expect.closeTo(218.4, 6), faults: [], loose: 0 });
    // one to the right it lies across modules that the other frame joins already, on the other side it ties all their posts there
    expect(tried({ shift: 1 })?.faults.find((f) => f.kind === 'short')?.ampere).toBeGreaterThan(100);
    expect(Math.abs(tried({ isOtherSide: true })?.outputVolt ?? 0)).toBeLessThan(60);
    lay(job, 5, 'S-1', true);
    expect(tried({})?.faults).toEqual([expect.objectContaining({ kind: 'turned', modules: [5] })]);
  });
});

it('leaves Open and Test ticked while other modules go in and bars go on', () => {
  const job = new Bench();
  job.add({ type: 'orientation.recorded', body: { positiveCorner: 'lastFar', firstAt: 'first', threaded: 'near', vents: 'far', sensors: [], note: '' } }); // prettier-ignore
  const done = (stage: 'open' | 'test') => isStageDone(stage, job.state(), profile);
  expect([done('open'), done('test')]).toEqual([true, false]);
  const plan = { school: 'spotRepair', fromShelf: ['S-1'], rangeAh: null, lowerBoundAh: null, proven: false, blockMeanAh: [], assumedPlaces: [] } as const; // prettier-ignore
  const moduleIds = Array.from({ length: 28 }, (_, i) => (i === 4 ? 'S-1' : `m${i + 1}`));
  job.add({ type: 'plan.chosen', body: { ...plan, fromShelf: ['S-1'], blockMeanAh: [], assumedPlaces: [], moduleIds } });
  job.fact('rebuild', { kind: 'module', place: 5, moduleId: 'S-1', isTurned: false });
  job.fact('rebuild', { kind: 'frame', frame: 'cable-frame', isOff: false });
  expect([done('open'), done('test')]).toEqual([true, true]);
});

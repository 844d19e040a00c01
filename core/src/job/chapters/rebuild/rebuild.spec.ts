import { contextOf, profile, Recorder, SHIPPED, shippedProfile } from '../../../../test/job-fixture.ts';
import type { Part } from '../../../pack/parts.ts';
import type { Act, ActBody, JobEvent } from '../../frame/acts.ts';
import { meansBesides } from '../../frame/means-besides.ts';
import { decide } from '../../frame/decide.ts';
import { isStageDone } from '../../frame/completeness.ts';
import { extend } from '../../frame/fold.ts';
import { restingVolts, type JobState } from '../../frame/state.ts';
import { passThrough } from '../../frame/waiting.ts';
import { findLeak, findPasteView } from './measured.ts';
import { listSides } from './sides.ts';
import { findTorqueGroup, placesOfSeats, type TorqueGroup } from './torque-view.ts';
import { heldBar, heldFrame, tryFrame, type Held } from './trial.ts';
import { findRebuild, sayRebuildNext } from './view.ts';

/** A job on the bench whose pack is wholly open, every count said by hand; acts are kept with what they mean besides. */
class Bench extends Recorder {
  constructor(pack = profile) {
    super(pack);
    this.open();
    this.fact('strip', { kind: 'pack', isOnBench: true });
    for (const { fact } of pack.layers) if (fact) this.do({ type: 'fact.stated', body: { stage: 'open', fact } });
    for (const part of pack.parts)
      if (part.torque && pack.layers.some((l) => l.id === part.place)) this.count(part.id, part.count ?? 1, 'inPlace', 'onPart');
  }

  do(act: Act): string {
    const besides = meansBesides(this.state(), act, this.pack, null);
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
    return findRebuild({ ...this.state(), volts: restingVolts(this.state()) }, this.pack);
  }

  next(): string | null {
    return sayRebuildNext(this.now3(), this.pack);
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

describe('a nut whose second pass read low', () => {
  it('is corrected at its own nut, and the others stay', () => {
    const job = new Bench();
    const { newtonMetre: spec = 0 } = job.pack.parts.find((p) => p.id === 'bar-nut')?.torque ?? {};
    const setting = job.set('bar-nut', spec, 'figure');
    for (const pass of [1, 2] as const) for (let seat = 1; seat <= 28; seat++) job.tighten(setting, 'bar-nut', seat, pass, spec);
    const passes = (): number[] => job.group('bar-nut').seats.map((s) => s.passes);
    expect(passes()).toEqual(Array<number>(28).fill(2));
    job.tighten(setting, 'bar-nut', 5, 2, spec / 2);
    expect(passes()).toEqual(Array<number>(28).fill(2).with(4, 0));
    expect(job.group('bar-nut').next).toEqual({ seat: 5, pass: 1 });
    job.tighten(setting, 'bar-nut', 5, 1, spec);
    expect(passes()).toEqual(Array<number>(28).fill(2).with(4, 1));
    expect(job.group('bar-nut')).toMatchObject({ isDone: false, next: { seat: 5, pass: 2 } });
    job.tighten(setting, 'bar-nut', 5, 2, spec);
    expect(job.group('bar-nut')).toMatchObject({ isDone: true, next: null });
    expect(job.group('bar-nut').seats[4]).toMatchObject({ passes: 2, fault: null });
  });
});

describe('a module that comes out again', () => {
  const H = shippedProfile('spoonbill-16');
  const lay = (job: Bench, place: number, moduleId: string | null): string =>
    job.fact('rebuild', { kind: 'module', place, moduleId, isTurned: false });
  const paste = (job: Bench, from: number, to = from): string => {
    const { gram } = findPasteView(job.state(), H) ?? { gram: 1 };
    return job.add({ type: 'paste.laid', body: { from, to, gram: gram * (to - from + 1), pattern: 'lines' } });
  };
  const test = (job: Bench): string =>
    job.add({ type: 'leak.tested', body: { readings: [0, 3, 6, 10].map((minute) => ({ minute, kilopascal: 150 })) } });

  it('takes its paste and the test of the loop with it', () => {
    const job = new Bench(H);
    lay(job, 3, null);
    test(job);
    paste(job, 3);
    lay(job, 3, 'S-1');
    expect(findPasteView(job.state(), H)?.missing).toEqual([]);
    expect(findLeak(job.state(), H)).toMatchObject({ kind: 'answer' });
    lay(job, 3, null);
    expect(findPasteView(job.state(), H)?.missing).toEqual([3]);
    expect(findLeak(job.state(), H)).toBeNull();
    test(job);
    paste(job, 3);
    lay(job, 3, 'S-1');
    expect(findPasteView(job.state(), H)?.missing).toEqual([]);
    expect(findLeak(job.state(), H)).toMatchObject({ kind: 'answer' });
  });

  it('stated in one go with the next, leaves what was laid between the two', () => {
    const job = new Bench(H);
    paste(job, 4);
    lay(job, 4, 'S-1');
    expect(findPasteView(job.state(), H)?.missing).toEqual([]);
    lay(job, 4, 'S-2');
    expect(findPasteView(job.state(), H)?.missing).toEqual([4]);
  });
});

/** Does one step as its screen asks, and nothing else. */
function doStep(job: Bench, id: string): void {
  const step = job.now3().steps.find((s) => s.id === id);
  if (!step) throw new Error(id);
  const { plan, fact } = step;
  if (step.isToTurn && plan.up) job.add({ type: 'pack.turned', body: { up: plan.up } });
  if (plan.does === 'bars')
    job.add({ type: 'bars.readied', body: { frame: null, how: 'new', isInFrame: true, isDry: null, plating: null, haveNewNuts: true } });
  if (plan.does === 'sensors') job.do({ type: 'sensors.sited', body: { school: 'asMade', sites: [] } });
  if (plan.does === 'leak')
    job.add({ type: 'leak.tested', body: { readings: [0, 3, 6, 10].map((minute) => ({ minute, kilopascal: 150 })) } });
  if (plan.does === 'paste') {
    const { gram, places } = findPasteView(job.state(), job.pack) ?? { gram: 1, places: [] };
    job.add({ type: 'paste.laid', body: { from: 1, to: places.length, gram: gram * places.length, pattern: 'lines' } });
  }
  if (plan.does === 'halves') {
    const { opensLink } = job.pack.plug;
    const { moduleCount, moduleType } = job.pack;
    const runs = opensLink === null || job.state().pack.isPlugIn ? [[1, moduleCount]] : [[1, opensLink], [opensLink + 1, moduleCount]]; // prettier-ignore
    for (const [from = 1, to = 1] of runs)
      job.add({ type: 'half.measured', body: { from, to, volt: (to - from + 1) * moduleType.nominalVolt } });
  }
  if (fact) job.do({ type: 'fact.stated', body: { stage: 'rebuild', fact } });
  for (const { part, wantedPasses } of step.groups) {
    const setting = job.set(part.id, part.torque?.newtonMetre ?? 1);
    for (let pass = 1; pass <= wantedPasses; pass++)
      for (let seat = 1; seat <= (part.count ?? 0); seat++) job.tighten(setting, part.id, seat, pass as 1 | 2);
  }
  for (const partId of plan.parts) if (job.owed(partId) > 0) job.count(partId, job.owed(partId), 'onPart', 'inPlace');
  for (const check of plan.looks) job.add({ type: 'rebuild.checked', body: { check, isGood: true, note: '' } });
}

describe('the way up', () => {
  it('is the order of the profile, with what goes on only in the car left to the car', () => {
    expect(new Bench().now3().steps.map((s) => s.id)).toEqual(profile.rebuild.map((s) => s.id));
    const [cover] = shippedProfile('whimbrel-34').rebuild.filter((s) => s.isInCar);
    expect(cover?.id).toBe('cable-cover');
    expect(new Bench(shippedProfile('whimbrel-34')).now3().steps.map((s) => s.id)).not.toContain('cable-cover');
  });

  // one that forgets a part, a layer or a torque would never end
  it.each(SHIPPED)('of %s ends with everything on, tight and measured', (id) => {
    const job = new Bench(shippedProfile(id));
    for (let i = 0; job.now3().next; i++) {
      if (i > 40) throw new Error(`${id} does not get beyond ${job.next()}`);
      doStep(job, job.now3().next?.id ?? '');
    }
    expect(job.next()).toBeNull();
    expect(isStageDone('rebuild', job.state(), job.pack)).toBe(true);
  });

  it('says which way up the pack is to lie, once, and then what is done', () => {
    const job = new Bench();
    for (const id of ['stack', 'end-plate']) doStep(job, id);
    expect(job.next()).toBe('turn the pack: bottom up');
    job.add({ type: 'pack.turned', body: { up: 'bottom' } });
    expect(job.next()).toBe('underside temperature sensors');
    doStep(job, 'sensors');
    expect(job.next()).toBe('look: case flap straight');
    doStep(job, 'hold-downs');
    doStep(job, 'bars-ready');
    expect(job.next()).toBe('turn the pack: top up');
  });

  it('counts the clips of the sensors back with the sensors', () => {
    const job = new Bench();
    job.count('sensor-clip', 3, 'inPlace', 'onPart');
    const step = () => job.now3().steps.find((s) => s.id === 'sensors');
    expect(step()?.owed).toEqual([{ name: 'temperature sensor clip', count: 3 }]);
    job.do({ type: 'sensors.sited', body: { school: 'gathered', sites: [{ sensorId: 't-middle', place: 14 }] } });
    expect(step()).toMatchObject({ owed: [], isDone: true });
    expect(job.owed('sensor-clip')).toBe(0);
  });

  it('says what is out of reach once a step is done, before it is done and after', () => {
    const job = new Bench();
    for (const id of ['stack', 'end-plate']) doStep(job, id);
    const at = (id: string) => job.now3().steps.find((s) => s.id === id);
    expect(at('hold-downs')?.shutsOff).toEqual(['underside temperature sensors']);
    expect(at('sensors')?.shutBy).toBeNull();
    job.tighten(job.set('hold-down', 4.5), 'hold-down', 1);
    expect(at('sensors')?.shutBy).toBe('case bottom and hold-downs');
  });

  it('lays a pack in bays bay by bay', () => {
    const pack = shippedProfile('turnstone-30');
    const job = new Bench(pack);
    job.fact('open', { kind: 'module', place: 12, moduleId: 'X', isTurned: true });
    const done = () =>
      Object.fromEntries(
        job
          .now3()
          .steps.filter((s) => s.plan.does === 'stack')
          .map((s) => [s.id, s.isDone]),
      );
    expect(done()).toEqual({ 'stack-left': true, 'stack-middle': false, 'stack-right': true });
  });

  it('waits for a bar that was cleaned until it is dry and keeps its plating', () => {
    const job = new Bench();
    const say = (over: Partial<ActBody<'bars.readied'>>) =>
      job.add({
        type: 'bars.readied',
        body: { frame: null, how: 'cleaned', isInFrame: true, isDry: true, plating: 'whole', haveNewNuts: false, ...over },
      });
    const isDone = () => job.now3().steps.find((s) => s.id === 'bars-ready')?.isDone;
    say({ isDry: false });
    expect(isDone()).toBe(false);
    say({ plating: 'gone' });
    expect(isDone()).toBe(false);
    say({ plating: 'thin' });
    expect(isDone()).toBe(true);
    say({ frame: 'vent-frame', isDry: null });
    expect(isDone()).toBe(false);
    const commandId = job.events.at(-1)?.commandId ?? '';
    job.add({ type: 'act.withdrawn', body: { commandId, reason: 'mistyped' } });
    expect(isDone()).toBe(true);
  });

  it('measures halves and joints anew once a bar came off', () => {
    const job = new Bench();
    const step = (id: string) => job.now3().steps.find((s) => s.id === id);
    for (const id of ['vent-bars', 'cable-bars', 'halves']) doStep(job, id);
    job.add({ type: 'joints.surveyed', body: { ampere: 10, resolutionMillivolt: 0.1, joints: [1, 2, 3].map((link) => ({ link, millivolt: 1 })) } }); // prettier-ignore
    expect([step('halves')?.isDone, step('survey')?.isDone, step('survey')?.isOptional]).toEqual([true, true, true]);
    job.fact('rebuild', { kind: 'frame', frame: 'vent-frame', isOff: true });
    job.fact('rebuild', { kind: 'frame', frame: 'vent-frame', isOff: false });
    expect([step('halves')?.isDone, step('survey')?.isDone]).toEqual([false, false]);
  });

  it('takes photographs of both sides for the look at them, as the bars lie now', () => {
    const job = new Bench();
    const take = (photoId: string, place: string, stage: 'rebuild' | 'open' = 'rebuild'): string =>
      job.add({
        type: 'photo.taken',
        body: { stage, photoId, sha256: 'a'.repeat(64), byte: 9, width: 9, height: 9, caption: '', place, pairOf: null },
      });
    const look = () => job.now3().steps.flatMap((s) => s.checks).find((c) => c.check === 'sidesPhotographed')?.isGood; // prettier-ignore
    take('vent', 'vent-bars');
    take('as-it-came', 'cable-bars', 'open');
    expect(look()).toBeNull();
    take('cable', 'cable-bars');
    expect(look()).toBe(true);
    job.add({ type: 'photo.erased', body: { photoId: 'vent', reason: 'a face in it' } });
    expect(look()).toBeNull();
    take('vent-again', 'vent-bars');
    // the bars of a side came off again: it looks otherwise now
    job.fact('rebuild', { kind: 'frame', frame: 'cable-frame', isOff: false });
    job.fact('rebuild', { kind: 'frame', frame: 'cable-frame', isOff: true });
    expect(listSides(job.state(), profile).map((s) => s.photoIds)).toEqual([['vent-again'], []]);
    expect(look()).toBeNull();
    job.add({ type: 'rebuild.checked', body: { check: 'sidesPhotographed', isGood: true, note: 'on the shop camera' } });
    expect(look()).toBe(true);
    // single bars are one side, three bays of frames are two
    expect(listSides(new Bench(shippedProfile('avocet-12')).state(), shippedProfile('avocet-12')).map((s) => s.layerId)).toEqual(['bars']);
    const bays = shippedProfile('turnstone-30');
    expect(listSides(new Bench(bays).state(), bays).map((s) => s.layerId)).toEqual(['front-bars', 'back-bars']);
  });

  it('takes out a module that was dropped, wherever it lies', () => {
    const job = new Bench();
    const commandId = job.add({ type: 'module.dropped', body: { moduleId: 'm9', note: '' } });
    expect(job.now3().places[8]).toMatchObject({ fault: 'm9 was dropped: it comes out.', isDone: false });
    job.add({ type: 'act.withdrawn', body: { commandId, reason: 'mistyped' } });
    expect(job.now3().places[8]).toMatchObject({ fault: null, isDone: true });
  });

  it('advises on a module that stands apart from its neighbours, and stops nothing', () => {
    const job = new Bench();
    const volts = Array.from({ length: 28 }, (_, i) => (i === 3 ? 8.1 : 7.8));
    const [, , , fourth, fifth] = findRebuild({ ...job.state(), volts }, profile).places;
    expect(fourth).toMatchObject({ advice: expect.stringMatching(/^0.30 V above/), isDone: true });
    expect(fifth?.advice).toBeNull();
  });
});

it.each<[string, number | null, readonly number[]]>([
  ['bar-nut', 28, [1, 2, 28]],
  ['bar-nut-cable', 28, [1, 2, 28]],
  ['hold-down', null, []],
])('knows where the seats of %s sit on the drawing', (partId, count, some) => {
  const part = profile.parts.find((p) => p.id === partId);
  const seats = part ? placesOfSeats(part, profile) : null;
  expect(seats?.places.length ?? null).toBe(count);
  expect(some.every((p) => seats?.places.includes(p))).toBe(true);
  // three bays: the posts that eyelets take hold no frame nut
  const bays = shippedProfile('turnstone-30');
  const of = (id: string) => placesOfSeats(bays.parts.find((p) => p.id === id) ?? part!, bays)?.places;
  expect([of('bar-nut')?.length, of('bar-nut-back')?.length, of('bar-nut-back')?.includes(10)]).toEqual([30, 26, false]);
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
    const left = job.set('plate-bolt', 9, 'figure');
    expect(left).toBeDefined();
    job.tighten(job.set('bar-nut', 5.4, 'figure'), 'bar-nut', 3, 1, 9);
    expect(job.group('bar-nut').seats[2]?.fault).toMatch(/9.0 N·m is what this tool was set to before/);
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

  it('goes on without the server: the tool that waits counts here, and is asked of the server all the same', () => {
    const job = new Bench();
    const kept = job.state();
    const from = job.events.length;
    const setting = job.set('bar-nut', 5.4);
    job.add({ type: 'fastener.torqued', body: { settingId: setting, partId: 'bar-nut', seat: 1, pass: 1, newtonMetre: null } });
    const waiting = job.events.slice(from);
    const seen = passThrough(kept, profile, waiting, Infinity).at(-1) ?? kept;
    const seats = (state: JobState) => findTorqueGroup(profile.parts.find((p) => p.id === 'bar-nut') as Part, state, profile).seats;
    expect(seats(seen)[0]?.passes).toBe(1);
    // the fact comes first, and counts for nothing until its tool is granted
    const [tool, fastener] = waiting as [JobEvent, JobEvent];
    const early = extend(kept, profile, [{ ...fastener, number: from + 1 }]);
    expect(seats(early)[0]).toMatchObject({ passes: 0, fault: 'No tool was set for it.' });
    expect(seats(extend(early, profile, [{ ...tool, number: from + 2 }]))[0]?.passes).toBe(1);
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
    expect(job.next()).toBe('S-1 into place 5');
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

  it('says what comes off again for a module that lies wrong under bars', () => {
    const job = new Bench();
    doStep(job, 'end-plate');
    doStep(job, 'vent-bars');
    lay(job, 5, 'm5', true);
    expect(job.now3().places[4]?.reopens).toEqual(['vent side frame', 'end plate, evenly']);
    doStep(job, 'cable-bars');
    expect(job.now3().places[4]?.reopens).toEqual(['cable side frame', 'vent side frame', 'end plate, evenly']);
    expect(job.now3().places[5]?.reopens).toEqual([]);
    // the last place has no bar on one of its posts
    lay(job, 28, 'm28', true);
    expect(job.now3().places[27]?.reopens).toEqual(['vent side frame', 'end plate, evenly']);
  });

  it('tells what each sense channel will read: two modules each, and less where one is turned', () => {
    const job = new Bench();
    doStep(job, 'vent-bars');
    doStep(job, 'cable-bars');
    const volts = Array.from({ length: 28 }, () => 7.8);
    const read = () => tryFrame(job.state().pack, profile, volts, [], null)?.channels.map((c) => c.volt?.toFixed(1));
    expect(read()).toEqual(Array.from({ length: 14 }, () => '15.6'));
    lay(job, 3, 'm3', true);
    expect(read()?.slice(0, 3)).toEqual(['15.6', '0.0', '15.6']);
  });

  it('tells before a frame is laid what it would do with the modules as they lie', () => {
    const job = planned();
    const volts = Array.from({ length: 28 }, () => 7.8);
    const cable = heldFrame(profile, 'cable-frame') as Held;
    const hand = (over: object = {}) => ({ ...cable, shift: 0, isOtherSide: false, ...over });
    const tried = (over?: object) => tryFrame(job.state().pack, profile, volts, [], over === undefined ? null : hand(over));
    const opens = (over?: object) => tried(over)?.faults.filter((f) => f.kind === 'open').length;
    expect([opens(), opens({})]).toEqual([26, 14]);
    job.fact('rebuild', { kind: 'frame', frame: 'vent-frame', isOff: false });
    // the plug is out of it: it stays in
    expect(tried({})).toMatchObject({ outputVolt: expect.closeTo(218.4, 6), faults: [], loose: 0 });
    // one to the right it lies across modules that the other frame joins already, on the other side it ties all their posts there
    expect(tried({ shift: 1 })?.faults.find((f) => f.kind === 'short')?.ampere).toBeGreaterThan(100);
    expect(Math.abs(tried({ isOtherSide: true })?.outputVolt ?? 0)).toBeLessThan(60);
    // a bar by itself: one too far it spans a pair that is joined on the other side already
    const bar = heldBar(profile, 2);
    const single = (shift: number) => tryFrame(job.state().pack, profile, volts, [], { ...bar, shift, isOtherSide: false });
    expect(single(0)?.faults.some((f) => f.kind === 'short')).toBe(false);
    expect(single(1)?.faults.some((f) => f.kind === 'short')).toBe(true);
    expect(heldFrame(profile, 'constructor')).toBeNull();
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

it('takes paste from the least to the most that is good, both included, and says of what is off which way', () => {
  const H = shippedProfile('spoonbill-16');
  const faultOf = (each: (need: NonNullable<ReturnType<typeof findPasteView>>) => number): string | null => {
    const job = new Bench(H);
    job.fact('rebuild', { kind: 'module', place: 3, moduleId: null, isTurned: false });
    const need = findPasteView(job.state(), H);
    if (!need) throw new Error('no paste');
    job.add({ type: 'paste.laid', body: { from: 3, to: 4, gram: 2 * each(need), pattern: 'lines' } });
    return findPasteView(job.state(), H)?.fault ?? null;
  };
  expect([faultOf((n) => n.leastGram), faultOf((n) => n.mostGram)]).toEqual([null, null]);
  expect(faultOf((n) => n.leastGram - 0.1)).toMatch(/too little/);
  expect(faultOf((n) => n.mostGram + 0.1)).toMatch(/too much/);
});

it('surveys every link that the pack has, and none beyond the last', () => {
  const job = new Bench();
  const survey = (link: number) =>
    decide(job.state(), { type: 'joints.surveyed', body: { ampere: 10, resolutionMillivolt: 0.1, joints: [{ link: 1, millivolt: 1 }, { link, millivolt: 1 }] } }, contextOf(job)); // prettier-ignore
  expect(survey(27).kind).toBe('answer');
  expect(survey(28)).toMatchObject({ code: 'impossible', path: ['body', 'joints', 1, 'link'] });
});

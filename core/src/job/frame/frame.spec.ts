import { contextOf, profile, Recorder } from '../../../test/job-fixture.ts';
import { isStageDone } from './completeness.ts';
import { DEFAULT_LIMITS } from '../../reading/verdict.ts';
import { listOpenBars } from '../../pack/join.ts';
import type { DecideContext } from '../chapters/chapter.ts';
import { countingReading, twoReadings } from '../chapters/sweep/state.ts';
import { recordModules } from '../chapters/sweep/view.ts';
import { actSchema, type Act } from './acts.ts';
import { decide } from './decide.ts';
import { extend, fold } from './fold.ts';
import { moduleIdsOf, startState, writeState } from './state.ts';

const context: DecideContext = contextOf(new Recorder());

function reading(
  sweepId: string,
  place: number,
  value: number,
  quantity: 'openCircuitVolt' | 'restVolt' | 'loadVolt' = 'openCircuitVolt',
): Act {
  return { type: 'reading.taken', body: { sweepId, place, moduleId: `m${place}`, quantity, value } };
}

describe('fold', () => {
  it('gives the same state however the events are cut', () => {
    const recorder = new Recorder().open();
    const sweep = recorder.startSweep('openCircuit');
    for (let place = 1; place <= 28; place++) recorder.add(reading(sweep, place, 7.8 + place / 1000));
    recorder.add({ type: 'sweep.ended', body: { sweepId: sweep } });
    const whole = fold(profile, recorder.events);
    for (const cut of [1, 5, 17]) {
      const part = fold(profile, recorder.events.slice(0, cut));
      const before = writeState(part);
      expect(extend(part, profile, recorder.events)).toEqual(whole);
      expect(writeState(part)).toBe(before);
    }
    expect(extend(whole, profile, recorder.events)).toBe(whole);
  });

  it('lets a correction stand beside what it corrects, the later counting', () => {
    const recorder = new Recorder().open();
    const sweep = recorder.startSweep('openCircuit');
    recorder.add(reading(sweep, 3, 7.1));
    recorder.add(reading(sweep, 3, 7.8));
    const kept = recorder.state().sweep.sweeps[0];
    expect(kept?.readings.openCircuitVolt?.get('m3')?.map((r) => r.value)).toEqual([7.1, 7.8]);
    expect(kept && countingReading(kept, 'openCircuitVolt', 'm3')?.value).toBe(7.8);
  });

  it('takes back a reading and lets the former count again', () => {
    const recorder = new Recorder().open();
    const sweep = recorder.startSweep('openCircuit');
    recorder.add(reading(sweep, 3, 7.1));
    const second = recorder.add(reading(sweep, 3, 7.8));
    recorder.add({ type: 'act.withdrawn', body: { commandId: second, reason: 'mistyped' } });
    const kept = recorder.state().sweep.sweeps[0];
    expect(kept && countingReading(kept, 'openCircuitVolt', 'm3')?.value).toBe(7.1);
  });

  it('takes back a whole import and a whole sweep', () => {
    const recorder = new Recorder().open();
    const sweep = recorder.startSweep('rest');
    const imported = recorder.add({
      type: 'readings.imported',
      body: {
        fileName: 'bench.csv',
        measured: 'asKept',
        sweeps: [
          {
            ...{
              sweepId: 'i-1',
              kind: 'openCircuit',
              restSince: null,
              restHour: null,
              loadAmpere: null,
              loadSecond: null,
              recovered: 'all' as const,
              resolution: null,
            },
            readings: [{ place: 1, quantity: 'openCircuitVolt', value: 7.8 }],
          },
        ],
      },
    });
    expect(recorder.state().sweep.sweeps.map((s) => s.id)).toEqual([sweep, 'i-1']);
    recorder.add({ type: 'act.withdrawn', body: { commandId: imported, reason: 'mistyped' } });
    recorder.add({ type: 'act.withdrawn', body: { commandId: sweep, reason: 'mistyped' } });
    expect(recorder.state().sweep.sweeps).toEqual([]);
  });

  it('shows two readings of two people more than 10 mV apart until one is chosen', () => {
    const recorder = new Recorder().open();
    const sweep = recorder.startSweep('openCircuit');
    const first = recorder.add(reading(sweep, 3, 7.8), 'om');
    recorder.add(reading(sweep, 3, 7.811), 'ts');
    const now = () => recorder.state().sweep.sweeps[0];
    expect(now() && twoReadings(now()!, 'openCircuitVolt', 'm3')).toHaveLength(2);
    recorder.add({ type: 'reading.chosen', body: { sweepId: sweep, place: 3, quantity: 'openCircuitVolt', commandId: first } });
    expect(now() && twoReadings(now()!, 'openCircuitVolt', 'm3')).toEqual([]);
    expect(now() && countingReading(now()!, 'openCircuitVolt', 'm3')?.value).toBe(7.8);
  });

  it('lets a reading taken after a choice count again', () => {
    const recorder = new Recorder().open();
    const sweep = recorder.startSweep('openCircuit');
    const first = recorder.add(reading(sweep, 3, 7.8), 'om');
    recorder.add(reading(sweep, 3, 7.9), 'ts');
    recorder.add({ type: 'reading.chosen', body: { sweepId: sweep, place: 3, quantity: 'openCircuitVolt', commandId: first } });
    recorder.add(reading(sweep, 3, 7.85), 'ts');
    const kept = recorder.state().sweep.sweeps[0];
    expect(kept && countingReading(kept, 'openCircuitVolt', 'm3')?.value).toBe(7.85);
    expect(kept && twoReadings(kept, 'openCircuitVolt', 'm3')).toHaveLength(2);
  });

  it('marks a fact out of order and keeps it all the same', () => {
    const recorder = new Recorder().open();
    recorder.fact('open', { kind: 'links', links: [3], areOpen: true });
    expect(recorder.state().facts[0]?.outOfOrder).toContain('with the frame on');
    expect(listOpenBars(recorder.state().pack, profile)).toEqual([]);
    recorder.fact('open', { kind: 'frame', frame: 'vent-frame', isOff: true });
    expect(recorder.state().facts[1]?.outOfOrder).toContain('Links were moved');
    expect(listOpenBars(recorder.state().pack, profile)).toHaveLength(14);
  });
});

describe('decide', () => {
  const opened = new Recorder().open().state();
  const plan = (change: Partial<Extract<Act, { type: 'plan.chosen' }>['body']> = {}): Act => ({
    type: 'plan.chosen',
    body: {
      ...{ school: 'spotRepair', rangeAh: 0.1, lowerBoundAh: 0, proven: false, blockMeanAh: [], assumedPlaces: [] },
      moduleIds: ['s1', ...moduleIdsOf(opened).slice(1)],
      fromShelf: ['s1'],
      ...change,
    },
  });

  it('accepts facts whatever the order, and refuses names that do not exist', () => {
    const frame = (id: string): Act => ({ type: 'fact.stated', body: { stage: 'open', fact: { kind: 'frame', frame: id, isOff: true } } });
    expect(decide(opened, frame('vent-frame'), context)).toMatchObject({ kind: 'answer' });
    expect(decide(opened, frame('nowhere'), context)).toMatchObject({ code: 'unknownName', path: ['body', 'fact', 'frame'] });
    const link: Act = { type: 'fact.stated', body: { stage: 'open', fact: { kind: 'links', links: [3, 14], areOpen: true } } };
    expect(decide(opened, link, context)).toMatchObject({ code: 'unknownName', path: ['body', 'fact', 'links', 1] });
  });

  it('keeps readings that come before their sweep, counts them at once, and gives them to it when it comes', () => {
    const recorder = new Recorder().open();
    for (const fact of [
      reading('later', 3, 9.4),
      { type: 'sweep.ended', body: { sweepId: 'nowhere' } },
      { type: 'reading.chosen', body: { sweepId: 'nowhere', place: 3, quantity: 'openCircuitVolt', commandId: 'x' } },
      { type: 'finding.settled', body: { findingId: 'nowhere', note: '' } },
      { type: 'cosign.asked', body: { proofId: 'nowhere' } },
    ] as const satisfies readonly Act[]) {
      expect(decide(recorder.state(), fact, context)).toMatchObject({ kind: 'answer' });
      recorder.add(fact);
    }
    const before = recorder.state();
    expect(recordModules(before, profile, DEFAULT_LIMITS)[2]?.figures.openCircuitVolt).toBe(9.4);
    const told = fold(profile, [
      ...recorder.events,
      {
        ...{ number: before.head + 1, commandId: 'later', by: 'om', at: before.lastAt, deviceAt: before.lastAt },
        type: 'sweep.started',
        body: {
          kind: 'openCircuit',
          restSince: null,
          restHour: null,
          loadAmpere: null,
          loadSecond: null,
          recovered: 'all' as const,
          resolution: 0.001,
        },
      },
    ]);
    expect(told.sweep.sweeps).toHaveLength(1);
    expect(told.sweep.sweeps[0]).toMatchObject({ id: 'later', resolution: 0.001 });
    expect(recordModules(told, profile, DEFAULT_LIMITS)[2]?.figures.openCircuitVolt).toBe(9.4);
  });

  it('takes a choice of a reading that is not there for none', () => {
    const recorder = new Recorder().open();
    const sweep = recorder.startSweep('openCircuit');
    recorder.add(reading(sweep, 3, 7.1));
    recorder.add(reading(sweep, 3, 7.8), 'ts');
    recorder.add({ type: 'reading.chosen', body: { sweepId: sweep, place: 3, quantity: 'openCircuitVolt', commandId: 'gone' } });
    const [kept] = recorder.state().sweep.sweeps;
    expect(kept && twoReadings(kept, 'openCircuitVolt', 'm3')).toHaveLength(2);
  });

  it('refuses a reading of another kind than its sweep, and of a place that is not there', () => {
    const recorder = new Recorder().open();
    const sweep = recorder.startSweep('rest');
    expect(decide(recorder.state(), reading(sweep, 1, 7.8), context)).toMatchObject({ code: 'mismatch' });
    expect(decide(recorder.state(), reading(sweep, 29, 7.8, 'restVolt'), context)).toMatchObject({ code: 'unknownName' });
  });

  it('lets each person take back only own acts', () => {
    const recorder = new Recorder().open();
    const sweep = recorder.startSweep('openCircuit', 'ts');
    const undo: Act = { type: 'act.withdrawn', body: { commandId: sweep, reason: 'mistyped' } };
    expect(decide(recorder.state(), undo, context)).toMatchObject({ code: 'gone' });
    expect(decide(recorder.state(), undo, { ...context, by: 'ts' })).toMatchObject({ kind: 'answer' });
  });

  it('lets an apprentice measure but not choose a plan', () => {
    const apprentice = { ...context, role: 'apprentice' } as const;
    expect(
      decide(opened, { type: 'fact.stated', body: { stage: 'isolate', fact: { kind: 'plug', isIn: false } } }, apprentice),
    ).toMatchObject({ kind: 'answer' });
    expect(decide(opened, plan(), apprentice)).toMatchObject({ code: 'notPermitted' });
  });

  it('chooses a plan once, with modules that are free', () => {
    expect(decide(opened, plan(), context)).toMatchObject({ kind: 'answer' });
    expect(decide(opened, plan(), { ...context, whyNotFree: () => 'Taken by job 7.' })).toMatchObject({
      code: 'taken',
      path: ['body', 'fromShelf', 0],
    });
    expect(decide(opened, plan({ moduleIds: ['s1'] }), context)).toMatchObject({ code: 'mismatch' });
    expect(decide(opened, plan({ fromShelf: [] }), context)).toMatchObject({ code: 'unknownName', path: ['body', 'moduleIds', 0] });
    expect(decide(opened, plan({ fromShelf: ['s1', 's2'] }), context)).toMatchObject({ code: 'mismatch', path: ['body', 'fromShelf', 1] });
    expect(decide(opened, plan({ school: 'exchangePack', moduleIds: [], fromShelf: [] }), context)).toMatchObject({ kind: 'answer' });
    const recorder = new Recorder().open();
    recorder.add(plan());
    expect(decide(recorder.state(), plan(), context)).toMatchObject({ code: 'notPermitted' });
  });

  it('opens a job once, with as many modules as it has places', () => {
    const act = new Recorder().open().events[0];
    if (act?.type !== 'job.opened') throw new Error('not opened');
    const open: Act = { type: 'job.opened', body: act.body };
    expect(decide(opened, open, context)).toMatchObject({ code: 'notPermitted' });
    expect(decide(startState(profile), { ...open, body: { ...act.body, moduleIds: ['a'] } }, context)).toMatchObject({ code: 'mismatch' });
    expect(decide(startState(profile), reading('x', 1, 7), context)).toMatchObject({ code: 'gone' });
  });
});

describe('minutes', () => {
  it('are counted between acts, and a gap of more than half an hour is a break', () => {
    const recorder = new Recorder().open();
    recorder.fact('isolate', { kind: 'key', isAway: true });
    const before = recorder.state().minutes.isolate ?? 0;
    recorder.waitMinutes(25);
    recorder.fact('isolate', { kind: 'key', isAway: true });
    const worked = recorder.state().minutes.isolate ?? 0;
    expect(worked - before).toBeCloseTo(25, 0);
    recorder.waitMinutes(40);
    recorder.fact('isolate', { kind: 'key', isAway: true });
    expect(recorder.state().minutes.isolate ?? 0).toBe(worked);
  });
});

describe('the limits that a job follows', () => {
  it('are changed by a technician, not by an apprentice', () => {
    const recorder = new Recorder().open();
    const adopt: Act = { type: 'policy.adopted', body: { policyVersion: 2 } };
    expect(decide(recorder.state(), adopt, contextOf(recorder, { role: 'apprentice' }))).toMatchObject({ kind: 'refused', code: 'notPermitted' }); // prettier-ignore
    expect(decide(recorder.state(), adopt, contextOf(recorder))).toMatchObject({ kind: 'answer' });
  });
});

describe('recordModules', () => {
  it('counts the drop from the sweep the rest began with, and per hour from the time between', () => {
    const recorder = new Recorder().open();
    const first = recorder.startSweep('openCircuit');
    for (let place = 1; place <= 28; place++) recorder.add(reading(first, place, 7.85));
    recorder.wait(10);
    const rest = recorder.startSweep('rest', 'om', { restSince: first });
    for (let place = 1; place <= 28; place++) recorder.add(reading(rest, place, place === 17 ? 7.5 : 7.83, 'restVolt'));
    const records = recordModules(recorder.state(), profile, DEFAULT_LIMITS);
    expect(records[0]).toMatchObject({ verdict: 'keep', figures: { restDropMillivolt: 20 }, restingVolt: 7.83 });
    expect(records[0]?.restDropPerHour).toBeCloseTo(2, 1);
    expect(records[16]).toMatchObject({ verdict: 'reject', figures: { restDropMillivolt: 350 } });
  });

  it('judges no rest shorter than the shop’s shortest, but one that somebody says was long enough, and one of which nothing is known', () => {
    const judged = (minutes: number, how: { restHour?: number } = {}): [number | undefined, string | undefined] => {
      const recorder = new Recorder().open();
      const first = recorder.startSweep('openCircuit');
      for (let place = 1; place <= 28; place++) recorder.add(reading(first, place, 7.85));
      if (minutes > 0) recorder.waitMinutes(minutes);
      const rest = recorder.startSweep('rest', 'om', { restSince: first });
      for (let place = 1; place <= 28; place++) recorder.add(reading(rest, place, place === 17 ? 7.5 : 7.83, 'restVolt'));
      const events = recorder.events.map((e) =>
        e.type === 'sweep.started' && e.commandId === rest ? { ...e, body: { ...e.body, ...how } } : e,
      );
      const record = recordModules(fold(profile, events), profile, DEFAULT_LIMITS)[16];
      return [record?.figures.restDropMillivolt, record?.verdict];
    };
    expect(judged(30)).toEqual([undefined, 'keep']);
    expect(judged(70)).toEqual([350, 'reject']);
    expect(judged(30, { restHour: 12 })).toEqual([350, 'reject']);
    expect(judged(600, { restHour: 0.2 })).toEqual([undefined, 'keep']);
  });

  it('doubts a voltage that rises under load, and a whole row of one resistance', () => {
    const recorder = new Recorder().open();
    const open = recorder.startSweep('openCircuit');
    for (let place = 1; place <= 28; place++) recorder.add(reading(open, place, 7.8 + place / 1000));
    const load = recorder.startSweep('load', 'om', { loadAmpere: 20, loadSecond: 10 });
    for (let place = 1; place <= 28; place++) recorder.add(reading(load, place, place === 4 ? 7.9 : 7.3 + place / 1000, 'loadVolt'));
    const resistance = recorder.startSweep('resistance');
    for (let place = 1; place <= 28; place++) recorder.add({ type: 'reading.taken', body: { sweepId: resistance, place, moduleId: `m${place}`, quantity: 'resistanceMilliohm', value: 25 } }); // prettier-ignore
    const records = recordModules(recorder.state(), profile, DEFAULT_LIMITS);
    const kinds = (place: number): string[] => records[place - 1]?.doubts.map((d) => d.kind) ?? [];
    expect(kinds(4)).toEqual(expect.arrayContaining(['risesUnderLoad', 'stuckMeter']));
    expect(kinds(5)).toEqual(['stuckMeter']);
    expect(records[3]?.doubts.find((d) => d.kind === 'risesUnderLoad')?.sentence).toContain('no voltage rises under load');
  });

  it('counts the dip from what the voltage came back to, where nothing was read before the load', () => {
    const recorder = new Recorder().open();
    const load = recorder.startSweep('load', 'om', { loadAmpere: 20, loadSecond: 10 });
    recorder.add(reading(load, 1, 7.3, 'loadVolt'));
    recorder.add({ type: 'reading.taken', body: { sweepId: load, place: 1, moduleId: 'm1', quantity: 'recoveredVolt', value: 7.7 } });
    const [first] = recordModules(recorder.state(), profile, DEFAULT_LIMITS);
    expect(first?.figures.loadDropMillivolt).toBeCloseTo(400, 9);
  });

  it('gives a resistance from the load sweep when its current is known', () => {
    const recorder = new Recorder().open();
    const open = recorder.startSweep('openCircuit');
    recorder.add(reading(open, 1, 7.8));
    const load = recorder.startSweep('load', 'om', { loadAmpere: 20, loadSecond: 10 });
    recorder.add(reading(load, 1, 7.3, 'loadVolt'));
    const [first] = recordModules(recorder.state(), profile, DEFAULT_LIMITS);
    expect(first?.milliohm).toBeCloseTo(25, 9);
    expect(first?.figures.resistanceMilliohm).toBeCloseTo(25, 9);
  });
});

describe('isStageDone', () => {
  it('ticks Open when the harness and every link are off, and it is recorded how the pack lay', () => {
    const recorder = new Recorder().open();
    recorder.fact('open', { kind: 'harness', isUnplugged: true });
    recorder.fact('open', { kind: 'frame', frame: 'vent-frame', isOff: true });
    expect(isStageDone('open', recorder.state(), profile)).toBe(false);
    recorder.fact('open', { kind: 'frame', frame: 'cable-frame', isOff: true });
    expect(isStageDone('open', recorder.state(), profile)).toBe(false);
    recorder.add({
      type: 'orientation.recorded',
      body: { positiveCorner: 'lastFar', firstAt: 'first', threaded: 'alternating', vents: 'near', sensors: [], note: '' },
    });
    expect(isStageDone('open', recorder.state(), profile)).toBe(true);
  });
});

it('refuses an act with a field too many', () => {
  expect(actSchema.safeParse({ type: 'sweep.ended', body: { sweepId: 'a', extra: 1 } }).success).toBe(false);
});

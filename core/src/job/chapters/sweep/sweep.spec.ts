import { profile, Recorder } from '../../../../test/job-fixture.ts';
import { DEFAULT_POLICY } from '../../../shop/act.ts';
import { findJobExposure } from '../../line/exposure.ts';
import type { SweepFigure } from '../../../reading/sweep-file.ts';
import { countingReading, twoReadings } from './state.ts';
import {
  capacityOf,
  findRest,
  isEveryModuleRested,
  keysOf,
  latestSweep,
  proposeMends,
  recordModules,
  rowOf,
  wasEveryPlaceRested,
} from './view.ts';

const COUNT = profile.moduleCount;
/** Open-circuit voltages of a pack, no two alike. */
const TRUE = Array.from({ length: COUNT }, (_, i) => Number((7.8 + ((i * 37) % 23) * 0.006).toFixed(3)));
const AFTER = TRUE.map((v, i) => Number((v - 0.02 - 0.001 * (i % 3)).toFixed(3)));
const { limits } = DEFAULT_POLICY;

function readRow(
  job: Recorder,
  sweepId: string,
  quantity: 'openCircuitVolt' | 'restVolt',
  row: readonly (number | null)[],
  by = 'om',
): void {
  for (const [i, value] of row.entries())
    if (value !== null) job.add({ type: 'reading.taken', body: { sweepId, place: i + 1, moduleId: `m${i + 1}`, quantity, value } }, by);
}

/** A job whose modules were read before and after a rest of a night. */
function rested(before: readonly (number | null)[], after: readonly (number | null)[]): { job: Recorder; open: string; rest: string } {
  const job = new Recorder().open();
  const open = job.startSweep('openCircuit');
  readRow(job, open, 'openCircuitVolt', before);
  job.wait(12);
  const rest = job.startSweep('rest', 'om', { restSince: open });
  readRow(job, rest, 'restVolt', after);
  return { job, open, rest };
}
const rowIn = (job: Recorder, at: number, quantity: 'openCircuitVolt' | 'restVolt') =>
  rowOf(job.state().sweep.sweeps[at], quantity, keysOf(job.state().sweep));
const row = (values: readonly (number | null)[]): Map<number, number> =>
  new Map(values.flatMap((v, i) => (v === null ? [] : [[i + 1, v] as const])));

describe('readings put to the modules they are of', () => {
  it('mends two that were swapped: nothing is doubted any more, and the originals stay', () => {
    const { job } = rested(TRUE, AFTER.with(4, AFTER[5] as number).with(5, AFTER[4] as number));
    const [ways] = proposeMends(job.state());
    expect(ways?.map((w) => w.kind)).toEqual(['rest', 'openCircuit']);
    expect(ways?.[0]?.rows).toEqual([
      { place: 5, before: AFTER[5], after: AFTER[4] },
      { place: 6, before: AFTER[4], after: AFTER[5] },
    ]);
    job.add(ways![0]!.act);
    expect(rowIn(job, 1, 'restVolt')).toEqual(row(AFTER));
    expect(proposeMends(job.state())).toEqual([]);
    expect(recordModules(job.state(), profile, limits)[4]?.doubts).toEqual([]);
    expect(
      job
        .state()
        .sweep.sweeps[1]?.readings.restVolt?.get('m5')
        ?.map((r) => r.value),
    ).toEqual([AFTER[5], AFTER[4]]);
  });

  it('moves a row in which one was passed over; that one has no reading until it is read anew', () => {
    const { job, rest } = rested(TRUE, [...AFTER.slice(0, 6), ...AFTER.slice(7), null]);
    job.add(proposeMends(job.state())[0]![0]!.act);
    expect(rowIn(job, 1, 'restVolt')).toEqual(row(AFTER.with(6, null as never)));
    job.add({ type: 'reading.taken', body: { sweepId: rest, place: 7, moduleId: 'm7', quantity: 'restVolt', value: AFTER[6] as number } });
    expect(rowIn(job, 1, 'restVolt')).toEqual(row(AFTER));
    expect(proposeMends(job.state())).toEqual([]);
  });

  it('mends the earlier row where a person says that it was that one', () => {
    const { job } = rested(TRUE.with(4, TRUE[5] as number).with(5, TRUE[4] as number), AFTER);
    job.add(proposeMends(job.state())[0]![1]!.act);
    expect(rowIn(job, 0, 'openCircuitVolt')).toEqual(row(TRUE));
  });

  it('moves what an import gave, whose readings are all of one act', () => {
    const job = new Recorder().open();
    const how = { restHour: null, loadAmpere: null, loadSecond: null, recovered: 'all', resolution: 0.001 } as const;
    const spoilt = AFTER.with(4, AFTER[5] as number).with(5, AFTER[4] as number);
    const readings = <T extends string>(quantity: T, values: readonly number[]) =>
      values.map((value, i) => ({ place: i + 1, quantity, value }));
    const sweeps = [
      { sweepId: 'i-1', kind: 'openCircuit' as const, restSince: null, ...how, readings: readings('openCircuitVolt' as const, TRUE) },
      { sweepId: 'i-2', kind: 'rest' as const, restSince: 'i-1', ...how, readings: readings('restVolt' as const, spoilt) },
    ];
    job.add({ type: 'readings.imported', body: { fileName: 'bench.csv', measured: 'asKept', sweeps } });
    job.add(proposeMends(job.state())[0]![0]!.act);
    expect(rowIn(job, 1, 'restVolt')).toEqual(row(AFTER));
  });

  it('takes the whole mend back, and mends again', () => {
    const spoilt = [...AFTER.slice(0, 6), ...AFTER.slice(7), null];
    const { job } = rested(TRUE, spoilt);
    const mend = () => job.add(proposeMends(job.state())[0]![0]!.act);
    job.add({ type: 'act.withdrawn', body: { commandId: mend(), reason: 'mistyped' } });
    expect(rowIn(job, 1, 'restVolt')).toEqual(row(spoilt));
    mend();
    expect(rowIn(job, 1, 'restVolt')).toEqual(row(AFTER.with(6, null as never)));
  });

  it('asks nobody to choose between what was written and what was moved there, also over another person’s', () => {
    const { job, rest } = rested(TRUE, AFTER);
    job.add(
      { type: 'reading.taken', body: { sweepId: rest, place: 5, moduleId: 'm5', quantity: 'restVolt', value: AFTER[5] as number } },
      'ts',
    );
    const ts = job.events.at(-1)!.commandId;
    const om = job.events.find((e) => e.type === 'reading.taken' && e.body.sweepId === rest && e.body.place === 6)!.commandId;
    const moves = [{ commandId: om, from: 6, to: 5 }, { commandId: ts, from: 5, to: 6 }]; // prettier-ignore
    job.add({ type: 'readings.moved', body: { sweepId: rest, quantity: 'restVolt', moves, anew: [] } });
    const sweep = job.state().sweep.sweeps[1]!;
    expect([twoReadings(sweep, 'restVolt', 'm5'), twoReadings(sweep, 'restVolt', 'm6')]).toEqual([[], []]);
    expect(countingReading(sweep, 'restVolt', 'm5')?.value).toBe(AFTER[5]);
  });

  it('passes over what it names and is not there', () => {
    const { job, rest } = rested(TRUE, AFTER);
    const before = job.state().sweep.sweeps;
    const move = (sweepId: string, from: number) =>
      job.add({ type: 'readings.moved', body: { sweepId, quantity: 'restVolt', moves: [{ commandId: 'none', from, to: 2 }], anew: [] } });
    move('nowhere', 1);
    move(rest, 1);
    expect(job.state().sweep.sweeps).toEqual(before);
  });
});

describe('the line while a row is mended', () => {
  const volts = (job: Recorder) => findJobExposure(job.state(), profile).modules.map((m) => m.volt);

  it('counts the higher of what was written and what was moved there, until it is read again', () => {
    const job = new Recorder().open();
    const sweepId = job.startSweep('openCircuit');
    readRow(job, sweepId, 'openCircuitVolt', [8.2, 7.9]);
    const [first, second] = job.events.filter((e) => e.type === 'reading.taken').map((e) => e.commandId) as [string, string];
    const moves = [{ commandId: first, from: 1, to: 2 }, { commandId: second, from: 2, to: 1 }]; // prettier-ignore
    job.add({ type: 'readings.moved', body: { sweepId, quantity: 'openCircuitVolt', moves, anew: [] } });
    expect(volts(job).slice(0, 2)).toEqual([8.2, 8.2]);
    readRow(job, sweepId, 'openCircuitVolt', [7.9]);
    expect(volts(job).slice(0, 2)).toEqual([7.9, 8.2]);
  });

  it('takes a module to its maximum whose reading was another’s', () => {
    const job = new Recorder().open();
    const sweepId = job.startSweep('openCircuit');
    readRow(job, sweepId, 'openCircuitVolt', [7.9, 7.8]);
    const first = job.events.find((e) => e.type === 'reading.taken')!.commandId;
    job.add({
      type: 'readings.moved',
      body: { sweepId, quantity: 'openCircuitVolt', moves: [{ commandId: first, from: 1, to: 2 }], anew: [1] },
    });
    expect(volts(job).slice(0, 2)).toEqual([profile.moduleType.maximumModuleVolt, 7.9]);
  });

  it('falls back to what another sweep read of it', () => {
    const { job } = rested(TRUE, [...AFTER.slice(0, 6), ...AFTER.slice(7), null]);
    job.add(proposeMends(job.state())[0]![0]!.act);
    expect(volts(job)[6]).toBe(TRUE[6]);
  });

  it('measures nothing anew: a charge after the reading still ends what it told', () => {
    const job = new Recorder().open();
    const sweepId = job.startSweep('openCircuit');
    readRow(job, sweepId, 'openCircuitVolt', [7.9, 7.8]);
    const first = job.events.find((e) => e.type === 'reading.taken')!.commandId;
    job.waitMinutes(10);
    job.fact('test', { kind: 'charged' });
    job.waitMinutes(10);
    job.add({
      type: 'readings.moved',
      body: { sweepId, quantity: 'openCircuitVolt', moves: [{ commandId: first, from: 1, to: 2 }], anew: [] },
    });
    expect(volts(job)[1]).toBe(profile.moduleType.maximumModuleVolt);
  });
});

describe('the rest that runs', () => {
  it('begins with a whole or ended open-circuit sweep, is judged from the least rest on, and ends with the sweep after it', () => {
    const job = new Recorder().open();
    const open = job.startSweep('openCircuit');
    const since = Date.parse(job.state().sweep.sweeps[0]!.startedAt);
    readRow(job, open, 'openCircuitVolt', TRUE.slice(0, COUNT - 1));
    expect(findRest(job.state(), limits)).toBeNull();
    job.add({ type: 'sweep.ended', body: { sweepId: open } });
    expect(findRest(job.state(), limits)).toEqual({ since, judgedFrom: since + limits.leastRestHour * 3_600_000 });
    job.startSweep('rest', 'om', { restSince: open });
    expect(findRest(job.state(), limits)).toBeNull();
    const whole = new Recorder().open();
    readRow(whole, whole.startSweep('openCircuit'), 'openCircuitVolt', TRUE);
    expect(findRest(whole.state(), limits)).not.toBeNull();
  });
});

describe('what the sweeps say of a module', () => {
  const read = (job: Recorder, sweepId: string, quantity: SweepFigure, place: number, value: number, by = 'om'): string =>
    job.add({ type: 'reading.taken', body: { sweepId, place, moduleId: `m${place}`, quantity, value } }, by);
  const recordOf = (job: Recorder, place: number, over = limits) => recordModules(job.state(), profile, over)[place - 1];

  it('is nothing where nothing was read, and its name', () => {
    const job = new Recorder().open();
    expect(recordOf(job, 3)).toMatchObject({
      ...{ place: 3, moduleId: 'm3', verdict: 'unknown', figures: {}, restingVolt: null, milliohm: null, restDropPerHour: null, two: [] },
      doubts: [],
    });
    expect(proposeMends(job.state())).toEqual([]);
    expect(latestSweep(job.state(), 'openCircuit')).toBeUndefined();
    job.startSweep('openCircuit');
    expect(latestSweep(job.state(), 'openCircuit')).toBeUndefined();
  });

  it('is its drop over the hours of the rest, judged from the least rest on and told an hour only beyond a quarter', () => {
    const restedFor = (hours: number, over = limits) => {
      const job = new Recorder().open();
      const open = job.startSweep('openCircuit');
      read(job, open, 'openCircuitVolt', 3, 7.85);
      job.wait(hours);
      read(job, job.startSweep('rest', 'om', { restSince: open }), 'restVolt', 3, 7.83);
      return recordOf(job, 3, over);
    };
    expect(restedFor(10)).toMatchObject({ figures: { openCircuitVolt: 7.85, restDropMillivolt: 20 }, restingVolt: 7.83 });
    expect(restedFor(10)?.restDropPerHour).toBeCloseTo(2, 2);
    expect(restedFor(0.5)?.figures.restDropMillivolt).toBeUndefined();
    expect(restedFor(0.5, { ...limits, leastRestHour: 0.2 })).toMatchObject({ figures: { restDropMillivolt: 20 } });
    expect(restedFor(0.2, { ...limits, leastRestHour: 0.1 })).toMatchObject({ figures: { restDropMillivolt: 20 }, restDropPerHour: null });
  });

  it('is its dip under load against the voltage before it, with the resistance where the current is known', () => {
    const job = new Recorder().open();
    const load = job.startSweep('load', 'om', { loadAmpere: 10 });
    read(job, load, 'loadVolt', 1, 7.5);
    read(job, load, 'recoveredVolt', 1, 7.7);
    // the voltage that it came back to, where nothing was read before
    expect(recordOf(job, 1)).toMatchObject({ figures: { loadDropMillivolt: 200 }, milliohm: expect.closeTo(20, 6) });
    const open = job.startSweep('openCircuit');
    read(job, open, 'openCircuitVolt', 1, 7.75);
    expect(recordOf(job, 1)).toMatchObject({ figures: { loadDropMillivolt: 250 }, milliohm: expect.closeTo(25, 6) });
    read(job, job.startSweep('resistance'), 'resistanceMilliohm', 1, 31);
    expect(recordOf(job, 1)?.milliohm).toBe(31);
    // a load whose current nobody said, and a voltage that rose
    const other = new Recorder().open();
    read(other, other.startSweep('openCircuit'), 'openCircuitVolt', 1, 7.7);
    read(other, other.startSweep('load'), 'loadVolt', 1, 7.5);
    expect(recordOf(other, 1)).toMatchObject({ figures: { loadDropMillivolt: 200 }, milliohm: null });
    read(other, other.startSweep('load', 'om', { loadAmpere: 10 }), 'loadVolt', 1, 7.9);
    expect(recordOf(other, 1)).toMatchObject({ milliohm: null, doubts: [{ kind: 'risesUnderLoad' }] });
  });

  it('is doubted where one value repeats, and where it is unlikely', () => {
    const job = new Recorder().open();
    const open = job.startSweep('openCircuit');
    for (const place of [1, 2, 3]) read(job, open, 'openCircuitVolt', place, 7.81);
    read(job, open, 'openCircuitVolt', 9, 0.9);
    expect(recordOf(job, 2)?.doubts.map((d) => d.kind)).toEqual(['repeatedValue']);
    expect(recordOf(job, 9)?.doubts.map((d) => d.kind)).toEqual(['unlikelyValue']);
    expect(recordOf(job, 4)?.doubts).toEqual([]);
  });

  it('counts no difference within a step of the meter', () => {
    const judged = (resolution: number) => {
      const job = new Recorder().open();
      const open = job.add({
        type: 'sweep.started',
        body: { kind: 'openCircuit', restSince: null, restHour: null, loadAmpere: null, loadSecond: null, recovered: 'all', resolution },
      });
      for (let place = 1; place <= COUNT; place++)
        read(job, open, 'openCircuitVolt', place, place === COUNT ? 7.86 : 7.9 - 0.001 * (place % 2));
      return recordOf(job, COUNT)?.verdict;
    };
    expect([judged(0.001), judged(0.1)]).toEqual(['watch', 'keep']);
  });

  it('is two readings where two people differ by more than ten millivolt, until one is chosen', () => {
    const job = new Recorder().open();
    const open = job.startSweep('openCircuit');
    const first = read(job, open, 'openCircuitVolt', 3, 7.8);
    read(job, open, 'openCircuitVolt', 3, 7.81, 'ts');
    expect(recordOf(job, 3)?.two).toEqual([]);
    read(job, open, 'openCircuitVolt', 3, 7.82, 'ts');
    expect(recordOf(job, 3)?.two).toMatchObject([
      { sweepId: open, quantity: 'openCircuitVolt', readings: [{ value: 7.8 }, { value: 7.82 }] },
    ]);
    expect(recordOf(job, 4)?.two).toEqual([]);
    const choose = (commandId: string) =>
      job.add({ type: 'reading.chosen', body: { sweepId: open, place: 3, quantity: 'openCircuitVolt', commandId } });
    choose('nothing');
    expect(recordOf(job, 3)?.two).toHaveLength(1);
    choose(first);
    expect(recordOf(job, 3)).toMatchObject({ two: [], figures: { openCircuitVolt: 7.8 } });
    // a capacity that two measured is no such question
    const capacity = job.startSweep('capacity');
    read(job, capacity, 'capacityAh', 3, 5);
    read(job, capacity, 'capacityAh', 3, 6, 'ts');
    expect(recordOf(job, 3)?.two).toEqual([]);
    expect([capacityOf(job.state().sweep, 'm3'), capacityOf(job.state().sweep, 'm4')]).toEqual([6, null]);
    expect(capacityOf(new Recorder().open().state().sweep, 'm3')).toBeNull();
  });

  it('was read before and after a rest only where every one was', () => {
    const { job, rest } = rested(TRUE, AFTER.with(6, null as never));
    expect([isEveryModuleRested(job.state()), wasEveryPlaceRested(job.state())]).toEqual([false, false]);
    read(job, rest, 'restVolt', 7, AFTER[6] as number);
    expect([isEveryModuleRested(job.state()), wasEveryPlaceRested(job.state())]).toEqual([true, true]);
    // another module laid since was not read itself, and takes nothing from what was
    job.fact('rebuild', { kind: 'module', place: 7, moduleId: 'x7', isTurned: false });
    expect([isEveryModuleRested(job.state()), wasEveryPlaceRested(job.state())]).toEqual([false, true]);
    expect(isEveryModuleRested(new Recorder().open().state())).toBe(false);
    expect(wasEveryPlaceRested(rested(TRUE.with(2, null as never), AFTER).job.state())).toBe(false);
  });

  it('is of the open-circuit sweep that its rest began with, else of the latest', () => {
    const job = new Recorder().open();
    const first = job.startSweep('openCircuit');
    read(job, first, 'openCircuitVolt', 3, 7.9);
    job.wait(1);
    read(job, job.startSweep('openCircuit'), 'openCircuitVolt', 3, 7.85);
    job.wait(12);
    read(job, job.startSweep('rest', 'om', { restSince: first }), 'restVolt', 3, 7.8);
    expect(recordOf(job, 3)?.figures).toMatchObject({ openCircuitVolt: 7.85, restDropMillivolt: 100 });
    read(job, job.startSweep('rest'), 'restVolt', 3, 7.8);
    expect(recordOf(job, 3)?.figures).toMatchObject({ restDropMillivolt: 50 });
  });
});

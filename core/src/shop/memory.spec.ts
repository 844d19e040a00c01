import { profile, Recorder } from '../../test/job-fixture.ts';
import type { Spot } from '../ledger/spot.ts';
import type { Competence } from './act.ts';
import { whyNotSign } from './competence.ts';
import { adoptPart, type FoundPart } from './found-part.ts';
import { recallJobs } from './recall.ts';
import { rememberJob, type JobMemory } from './remember.ts';

const IN = { kind: 'inPlace' } as const;
const WASHER: FoundPart = {
  ...{ kind: 'fastener', name: 'lock washer', place: 'boot', where: 'under the carpet', size: '8 mm', count: 1 },
  ...{ isHidden: true, isProposed: true },
};
const remember = (job: Recorder): JobMemory => rememberJob(job.state(), job.pack, 'UTC');

describe('what a job leaves to remember', () => {
  const move = (job: Recorder, partId: string, count: number, condition: 'good' | 'broken' | 'stripped', from: Spot = IN): void =>
    void job.add({ type: 'part.moved', body: { stage: 'strip', partId, count, from, to: { kind: 'scrapped' }, condition } });

  it('is nothing but the job, where nothing happened', () => {
    expect(remember(new Recorder().open())).toEqual({
      ...{ number: 1, minutes: {}, broken: [], found: [], air: null, school: null, closedAt: null },
      ...{ modules: { in: 0, out: 0 }, warranty: null, core: null, explained: null },
    });
  });

  it('is what broke or was stripped on the way out, and not what broke in a tray or came out whole', () => {
    const job = new Recorder().open();
    move(job, 'trim-clip', 2, 'broken');
    move(job, 'trim-clip', 1, 'broken');
    move(job, 'seat-bolt', 1, 'stripped');
    move(job, 'belt-bolt', 1, 'good');
    move(job, 'duct-screw', 1, 'broken', { kind: 'tray', cell: 'A1' });
    const of = (partId: string) => profile.parts.find((p) => p.id === partId);
    expect(remember(job).broken).toEqual([
      { partId: 'trim-clip', name: of('trim-clip')?.name, place: of('trim-clip')?.place, count: 3 },
      { partId: 'seat-bolt', name: of('seat-bolt')?.name, place: of('seat-bolt')?.place, count: 1 },
    ]);
  });

  it('is what the profile did not know, and not what was never the pack’s', () => {
    const job = new Recorder().open();
    for (const isForeign of [false, true]) job.add({ type: 'part.added', body: { ...WASHER, stage: 'strip', isForeign } });
    expect(remember(job).found).toEqual([WASHER]);
  });

  it('is how much of the air path was shut, and whether it was clean in the end, once all of it was looked at', () => {
    const job = new Recorder().open();
    const parts = job.pack.airPath.length;
    expect(parts).toBeGreaterThan(1);
    const find = (part: number, when: 'asFound' | 'after', blockedShare: number): string =>
      job.add({ type: 'air.found', body: { part, when, blockedShare, note: '' } });
    find(0, 'asFound', 0.5);
    expect(remember(job).air).toBeNull();
    for (let part = 1; part < parts; part++) find(part, 'asFound', 0);
    const found = remember(job).air;
    expect(found).toMatchObject({ wasCleaned: false });
    job.wait(1);
    job.add({ type: 'air.cleaned', body: { part: 0, school: 'dry', note: '' } });
    find(0, 'after', 0.02);
    const cleaned = remember(job).air;
    expect(cleaned).toEqual({ at: job.events.at(-1)?.at, foundShare: found?.foundShare, wasCleaned: true });
  });

  it('is the modules that came and went, what is promised, what goes back, and what it came back for', () => {
    const job = new Recorder().open();
    for (const [place, moduleId] of [[3, 'S1'], [4, null], [5, null]] as const) job.fact('rebuild', { kind: 'module', place, moduleId, isTurned: false }); // prettier-ignore
    job.add({ type: 'plan.chosen', body: { school: 'spotRepair', moduleIds: [], fromShelf: [], rangeAh: null, lowerBoundAh: null, proven: false, blockMeanAh: [], assumedPlaces: [] } }); // prettier-ignore
    job.add({ type: 'core.agreed', body: { supplier: 'Marsh', what: 'modules', count: 3, deposit: 30, shipBy: '2026-12-20' } });
    for (const what of ['joint', 'cooling'] as const) job.add({ type: 'comeback.explained', body: { what, at: null, note: '' } });
    expect(remember(job)).toMatchObject({
      ...{ modules: { in: 1, out: 3 }, school: 'spotRepair', explained: 'cooling', closedAt: null },
      core: { supplier: 'Marsh', what: 'modules', count: 3, deposit: 30, outstanding: 30, isShipped: false, isDisputed: false, isSettled: false }, // prettier-ignore
    });
    job.add({ type: 'core.shipped', body: { on: '2026-12-04', count: 3, carrier: '' } });
    expect(remember(job).core).toMatchObject({ isShipped: true, isSettled: false });
    job.add({ type: 'core.settled', body: { outcome: 'disputed', credit: 0, note: '' } });
    expect(remember(job).core).toMatchObject({ isDisputed: true });
    job.add({ type: 'core.settled', body: { outcome: 'credited', credit: 30, note: '' } });
    expect(remember(job).core).toMatchObject({ isDisputed: false, isSettled: true, outstanding: 0 });
    job.add({ type: 'warranty.given', body: { months: 12, kilometre: null, words: '' } });
    job.add({ type: 'job.closed', body: { outcome: 'finished', note: '' } });
    expect(remember(job)).toMatchObject({ closedAt: job.events.at(-1)?.at, warranty: { until: '2027-05-04' } });
  });
});

describe('what the jobs on a profile add up to', () => {
  const NONE = remember(new Recorder().open());
  const recall = (...some: (Partial<JobMemory> & { isSameVehicle?: boolean })[]) => recallJobs(some.map((m, i) => ({ ...NONE, number: i + 1, ...m })), profile); // prettier-ignore

  it('is the middle of the minutes of a stage over those who worked in it, in the order of the work', () => {
    const { stages } = recall({ minutes: { strip: 40 } }, { minutes: { strip: 60, open: 0 } }, { minutes: { strip: 90 } }, {});
    expect(stages.map((s) => s.stage)).toEqual(['intake', 'isolate', 'strip', 'open', 'test', 'match', 'rebuild', 'cool', 'refit', 'handOver'].filter((s) => profile.stages.includes(s as never))); // prettier-ignore
    const quoted = profile.quotes.find((q) => q.stage === 'strip')?.minute ?? null;
    expect(stages.find((s) => s.stage === 'strip')).toEqual({ stage: 'strip', quotedMinute: quoted, medianMinute: 60, jobs: 3 });
    expect(stages.find((s) => s.stage === 'open')).toMatchObject({ medianMinute: null, jobs: 0 });
  });

  it('is a hint for each thing that broke or was hidden, once, with the jobs that it is from', () => {
    const clip = { partId: 'trim-clip', name: 'lining clip', place: 'boot', count: 2 };
    const plain = { ...WASHER, name: 'Shim', count: null, size: '', isHidden: false, isProposed: false };
    const { hints, proposed } = recall(
      { broken: [clip], found: [WASHER] },
      { broken: [{ ...clip, count: 3 }, { ...clip, place: 'bay' }], found: [{ ...WASHER, name: 'Lock Washer' }, plain] },
    ); // prettier-ignore
    expect(hints).toEqual([
      { place: 'boot', text: 'Hidden: 1 × lock washer (8 mm), under the carpet.', jobs: [1, 2] },
      { place: 'boot', text: 'Not in the profile: some × Shim, under the carpet.', jobs: [2] },
      { place: 'boot', text: '5 × lining clip broke on the way out: have spares at hand.', jobs: [1, 2] },
      { place: 'bay', text: '2 × lining clip broke on the way out: have spares at hand.', jobs: [2] },
    ]);
    expect(proposed).toEqual([WASHER]);
  });

  it('tells the air of this vehicle, the latest first, from that of others', () => {
    const air = (at: string, foundShare: number) => ({ at, foundShare, wasCleaned: foundShare < 0.3 });
    const { air: found } = recall(
      { air: air('2026-01-02T00:00:00Z', 0.2), isSameVehicle: true },
      { air: air('2026-03-02T00:00:00Z', 0.4), isSameVehicle: true },
      { air: air('2026-02-02T00:00:00Z', 0.5) },
      { air: air('2026-02-03T00:00:00Z', 0.7), isSameVehicle: false },
      { air: air('2026-02-04T00:00:00Z', 0.8) },
      {},
    );
    expect(found).toEqual({
      own: [
        { number: 2, at: Date.UTC(2026, 2, 2), foundShare: 0.4, wasCleaned: false },
        { number: 1, at: Date.UTC(2026, 0, 2), foundShare: 0.2, wasCleaned: true },
      ],
      ...{ others: 3, othersShare: 0.7 },
    });
    expect(recall({}).air).toEqual({ own: [], others: 0, othersShare: null });
  });
});

describe('a part that a job found', () => {
  const partOf = (found: FoundPart, of = profile) => adoptPart(of, found).parts.at(-1);

  it('comes into the profile with what is known of it', () => {
    const { isProposed: _, ...known } = WASHER;
    expect(partOf(WASHER)).toEqual({ ...known, id: 'lock-washer', tool: '', torque: null, caution: '', effects: [] });
    expect(adoptPart(profile, WASHER).parts).toHaveLength(profile.parts.length + 1);
  });

  it('has an id of its own, of plain letters', () => {
    expect(partOf({ ...WASHER, name: '  “Lock”  washer,  8!' })?.id).toBe('lock-washer-8');
    expect(partOf({ ...WASHER, name: '::' })?.id).toBe('part');
    expect(partOf({ ...WASHER, name: 'a'.repeat(80) })?.id).toBe('a'.repeat(50));
    const once = adoptPart(profile, WASHER);
    const twice = adoptPart(once, { ...WASHER, place: 'bay' });
    expect(partOf({ ...WASHER, place: 'flap' }, twice)?.id).toBe('lock-washer-3');
  });

  it('is left where one of that name is there, and where the profile has no such place', () => {
    const once = adoptPart(profile, WASHER);
    expect(adoptPart(once, { ...WASHER, name: 'LOCK washer' })).toBe(once);
    expect(adoptPart(profile, { ...WASHER, place: 'attic' })).toBe(profile);
    expect(adoptPart(profile, { ...WASHER, place: profile.layers[0]?.id ?? '' })).not.toBe(profile);
  });
});

describe('who may sign hazards', () => {
  const until = (validUntil: string): Competence => ({ personId: 'om', kind: 'highVoltage', training: 'Two days', givenBy: 'the quay', validUntil }); // prettier-ignore

  it('is whoever has a training that has not run out, the latest of them', () => {
    expect(whyNotSign('technician', [until('2026-12-01')], '2026-12-01')).toBeNull();
    expect(whyNotSign('lead', [until('2027-01-01'), until('2025-01-01')], '2026-12-01')).toBeNull();
    expect(whyNotSign('lead', [until('2025-01-01'), until('2027-01-01')], '2026-12-01')).toBeNull();
    expect(whyNotSign('technician', [until('2026-11-30'), until('2026-01-01')], '2026-12-01')).toBe(
      'Your high-voltage training ran out on 2026-11-30.',
    );
  });

  it('is nobody without one, and no apprentice', () => {
    expect(whyNotSign('technician', [], '2026-12-01')).toMatch(/No high-voltage training/);
    expect(whyNotSign('apprentice', [until('2999-01-01')], '2026-12-01')).toMatch(/co-sign/);
  });
});

import fc from 'fast-check';
import { contextOf, profile, Recorder, shippedProfile, SHIPPED } from '../../../../test/job-fixture.ts';
import { listBackwards } from '../../../ledger/ledger.ts';
import type { Spot } from '../../../ledger/spot.ts';
import { compareOrientation, expectedCorner } from '../../../pack/orientation.ts';
import { readProfile } from '../../../pack/read-profile.ts';
import type { Stage } from '../../../pack/stage.ts';
import { adoptPart } from '../../../shop/found-part.ts';
import { recallJobs } from '../../../shop/recall.ts';
import { rememberJob } from '../../../shop/remember.ts';
import type { Act, ActBody } from '../../frame/acts.ts';
import { decide } from '../../frame/decide.ts';
import { extend, fold } from '../../frame/fold.ts';
import { findInterruption } from '../../line/interruption.ts';
import { listLayers } from '../../line/layers.ts';
import { findLedger, findPackLift, followingPlace, listPlaces, listTransfers } from './view.ts';

const B3: Spot = { kind: 'tray', cell: 'B3' };

function moved(partId: string, count: number, change: Partial<ActBody<'part.moved'>> = {}): Act {
  const body = { stage: 'strip' as Stage, partId, count, from: { kind: 'inPlace' } as Spot, to: B3, condition: 'good' as const, ...change };
  return { type: 'part.moved', body };
}

const EXTRA: Act = {
  type: 'part.added',
  body: {
    ...{ stage: 'strip', kind: 'fastener', name: 'washer', place: 'bay', where: 'under the left bracket', size: '8 mm', count: 1 },
    ...{ isHidden: true, isForeign: false, isProposed: true },
  },
};

const LYING: ActBody<'orientation.recorded'> = {
  ...{ positiveCorner: expectedCorner(profile), firstAt: 'first', threaded: 'alternating', vents: 'near', note: '' },
  sensors: profile.sensors.map((s) => ({ sensorId: s.id, place: s.place })),
};

describe('the ledger of a job', () => {
  it('adds what the profile does not know, in the middle of the work', () => {
    const job = new Recorder().open();
    job.add(moved('pack-bolt', 6));
    const id = job.add(EXTRA);
    job.add(moved(id, 1, { to: { kind: 'bag', label: 'left' } }));
    const balance = findLedger(job.state(), profile);
    expect(balance).toMatchObject({ out: 7, owed: 7 });
    expect(listBackwards(balance).map((b) => b.part.name)).toEqual(['washer', 'pack bolt M8']);
    const bay = listPlaces(profile.zones, balance).find((p) => p.place.id === 'bay');
    expect(bay?.parts.at(-1)?.part).toMatchObject({ name: 'washer', isHidden: true });
  });

  it('is exact again when an act is taken back', () => {
    const partId = fc.constantFrom('pack-bolt', 'trim-clip', 'bar-nut');
    fc.assert(
      fc.property(fc.array(fc.tuple(partId, fc.integer({ min: 1, max: 9 }))), partId, (list, last) => {
        const job = new Recorder().open();
        for (const [id, count] of list) job.add(moved(id, count));
        const before = job.state();
        const commandId = job.add(moved(last, 2));
        job.add({ type: 'act.withdrawn', body: { commandId, reason: 'mistyped' } });
        expect(job.state().strip).toEqual(before.strip);
      }),
    );
  });

  it('keeps what two devices recorded, event by event or at once', () => {
    const job = new Recorder().open();
    for (const by of ['om', 'jf', 'om']) job.add(moved('trim-clip', 3), by);
    const step = job.events.reduce((state, e) => extend(state, profile, [e]), fold(profile, []));
    expect(step).toEqual(job.state());
    expect(findLedger(step, profile).parts.find((b) => b.part.id === 'trim-clip')).toMatchObject({ out: 9, owed: 9 });
  });
});

describe('deciding', () => {
  const job = new Recorder().open();
  const photo: Act = {
    type: 'photo.taken',
    body: { stage: 'strip', photoId: 'p1', sha256: 'a'.repeat(64), byte: 9, width: 9, height: 9, caption: '', place: null, pairOf: null },
  };
  const finding = (pin: ActBody<'finding.noted'>['pin']): Act => ({
    type: 'finding.noted',
    body: { stage: 'open', kind: 'corrosion', severity: 'slight', follow: 'clean', note: '', isOnArrival: true, pin },
  });
  const leftOff: Act = { type: 'part.leftOff', body: { partId: 'trim-clip', count: 1, reason: 'None in stock.', followUp: 'order' } };
  const ask = (act: Act, over = {}) => decide(job.state(), act, contextOf(job, over));

  it.each<[string, Act, readonly (string | number)[]]>([
    ['a part that is not there', moved('none', 1), ['body', 'partId']],
    ['a place that is not there', { ...EXTRA, body: { ...EXTRA.body, place: 'roof' } }, ['body', 'place']],
    ['pieces that become new', moved('pack-bolt', 1, { to: { kind: 'new' } }), ['body', 'to']],
    ['a pin on no zone', finding({ on: 'zone', zone: 'roof' }), ['body', 'pin']],
    ['a pin on no module', finding({ on: 'module', place: 29 }), ['body', 'pin']],
    [
      'a transfer that the profile does not know',
      { type: 'transfer.stated', body: { transferId: 'x', fate: 'moves', isDone: true } },
      ['body', 'transferId'],
    ],
    [
      'a sensor that is not there',
      { type: 'orientation.recorded', body: { ...LYING, sensors: [{ sensorId: 'x', place: 1 }] } },
      ['body', 'sensors', 0],
    ],
  ])('refuses %s with the place', (_what, act, path) => {
    expect(ask(act)).toMatchObject({ kind: 'refused', path });
  });

  it('keeps what an apprentice saw, but lets no apprentice sign for a part left off', () => {
    expect(ask(moved('trim-clip', 14), { role: 'apprentice' }).kind).toBe('answer');
    expect(ask(leftOff, { role: 'apprentice' })).toMatchObject({ kind: 'refused', code: 'notPermitted' });
    expect(ask(leftOff).kind).toBe('answer');
  });

  it('lets no module be moved before it is written down how the pack lies', () => {
    const release: Act = { type: 'modules.released', body: {} };
    expect(ask(release)).toMatchObject({ kind: 'refused', code: 'notPermitted', message: expect.stringContaining('corner') });
    const other = new Recorder().open();
    other.add({ type: 'orientation.recorded', body: LYING });
    expect(decide(other.state(), release, contextOf(other)).kind).toBe('answer');
    expect(decide(other.state(), release, contextOf(other, { role: 'apprentice' }))).toMatchObject({ code: 'notPermitted' });
  });

  it('takes one photograph of an id, and lets others than its author erase it only as lead', () => {
    const taken = new Recorder().open();
    taken.add(photo);
    const erase: Act = { type: 'photo.erased', body: { photoId: 'p1', reason: 'A face is on it.' } };
    expect(decide(taken.state(), photo, contextOf(taken))).toMatchObject({ code: 'taken' });
    expect(decide(taken.state(), erase, contextOf(taken, { by: 'jf' }))).toMatchObject({ code: 'notPermitted' });
    expect(decide(taken.state(), erase, contextOf(taken, { by: 'ts', role: 'lead' })).kind).toBe('answer');
    taken.add(erase);
    expect(taken.state().finding.photos[0]?.erased).toMatchObject({ by: 'om' });
  });
});

it('says where the record of how the pack lies differs from the profile', () => {
  expect(compareOrientation(profile, LYING)).toEqual([]);
  const odd = {
    ...LYING,
    firstAt: 'last' as const,
    positiveCorner: 'firstNear' as const,
    sensors: [{ sensorId: 't-middle', place: null }],
  };
  expect(compareOrientation(profile, odd)).toEqual([
    expect.stringContaining('Module 1 is recorded at the fan end'),
    expect.stringContaining('control unit, vent side'),
    'Temperature, middle was not found; it belongs at 14.',
  ]);
});

describe('the layers', () => {
  it.each(SHIPPED)('of %s lead from a shut pack to parted modules, and ask for gloves until they are parted', (id) => {
    const own = shippedProfile(id);
    const job = new Recorder().open();
    job.fact('isolate', { kind: 'plug', isIn: false });
    job.fact('strip', { kind: 'pack', isOnBench: true });
    const state = fold(own, job.events);
    const layers = listLayers(state, own, findLedger(state, own));
    const string = own.moduleCount * own.moduleType.maximumModuleVolt;
    expect(layers[0]?.behindVolt).toBeGreaterThan(string / 2 - 1);
    expect(layers.every((l) => !l.isOff)).toBe(true);
    const covers = layers.find((l) => l.place.fact?.kind === 'covers');
    expect(covers?.gloves.areNeeded).toBe(true);
    // with every bar off one module is left; modules that reach above 60 V by themselves keep the gloves on
    const last = layers[layers.length - 1];
    expect(last?.reachableVolt).toBeCloseTo(own.moduleType.maximumModuleVolt, 6);
  });

  it('are off when what they state is so, and those without a fact when their parts are out', () => {
    const job = new Recorder().open();
    job.fact('open', { kind: 'case', isOpen: true });
    job.add(moved('plate-bolt', 4, { stage: 'open' }));
    job.add(moved('hold-down', 28, { stage: 'open' }));
    const layers = listLayers(job.state(), profile, findLedger(job.state(), profile));
    expect(layers.filter((l) => l.isOff).map((l) => l.place.id)).toEqual(['case-lid', 'end']);
  });
});

it('says why one person must not lift the pack', () => {
  const lift = findPackLift(profile);
  expect(lift?.recommendedKilogram).toBeLessThan(15);
  expect(lift?.liftingIndex).toBeGreaterThan(2.5);
});

it('takes the fates of an exchange from the profile until somebody says otherwise', () => {
  const job = new Recorder().open();
  job.add({ type: 'transfer.stated', body: { transferId: 'fan', fate: 'supplied', isDone: true } });
  const views = listTransfers(job.state(), profile);
  expect(views.find((v) => v.transfer.id === 'fan')).toMatchObject({ fate: 'supplied', isDone: true });
  expect(views.find((v) => v.transfer.id === 'relay-block')).toMatchObject({ fate: 'moves', isDone: false, mark: null });
});

describe('coming back to a job', () => {
  const job = new Recorder().open();
  job.add(moved('seat-bolt', 4));
  job.add(moved('seat-clip', 2, { condition: 'broken' }));
  const state = job.state();
  const balance = findLedger(state, profile);

  it('says nothing while the work goes on', () => {
    expect(findInterruption(state, profile, balance, job.now + 60_000, null, null)).toBeNull();
  });

  it('says what is off, what is to order, what has lapsed and what is next', () => {
    expect(findInterruption(state, profile, balance, job.now + 3_600_000, 'The shift ended.', 'what comes next')?.lines).toEqual([
      'Nothing was recorded for 1 h 00 min.',
      'Off: 6 at rear seat.',
      'To order: 2 × seat back clip.',
      'The proof of dead no longer stands. The shift ended.',
      'Next: what comes next.',
    ]);
  });
});

describe('what the shop remembers', () => {
  it('counts the minutes of a stage without the breaks, and holds the quote beside them', () => {
    const job = new Recorder().open();
    job.waitMinutes(12);
    job.add(moved('seat-bolt', 4));
    job.wait(3);
    job.add(moved('trim-clip', 14));
    job.waitMinutes(8);
    job.add(moved('lining-bolt', 4));
    const [memory] = [rememberJob(job.state(), profile, 'UTC')];
    expect(memory.minutes.strip).toBeCloseTo(20, 0);
    expect(recallJobs([memory], profile).stages.find((s) => s.stage === 'strip')).toMatchObject({ quotedMinute: 60, jobs: 1 });
  });

  it('tells of what broke and what was hidden, once a part, with the jobs it is from', () => {
    const one = new Recorder().open();
    one.add(EXTRA);
    one.add(moved('trim-clip', 3, { condition: 'broken' }));
    const memory = rememberJob(one.state(), profile, 'UTC');
    const { hints, proposed } = recallJobs([memory, { ...memory, number: 2 }], profile);
    expect(hints).toEqual([
      { place: 'bay', text: 'Hidden: 1 × washer (8 mm), under the left bracket.', jobs: [1, 2] },
      { place: 'boot', text: '6 × lining clip broke on the way out: have spares at hand.', jobs: [1, 2] },
    ]);
    expect(proposed).toMatchObject([{ name: 'washer', place: 'bay', count: 1 }]);
    const [washer] = proposed;
    if (!washer) throw new Error('nothing proposed');
    const grown = adoptPart(profile, washer);
    expect(grown.parts.at(-1)).toMatchObject({ id: 'washer', kind: 'fastener', place: 'bay', isHidden: true });
    expect(readProfile(grown).kind).toBe('answer');
    // once is enough, another place is another part, and a place that is gone takes nothing
    expect(adoptPart(grown, washer)).toBe(grown);
    expect(adoptPart(grown, { ...washer, place: 'boot' }).parts.at(-1)?.id).toBe('washer-2');
    expect(adoptPart(profile, { ...washer, place: 'roof' })).toBe(profile);
  });
});

describe('the place to go on to', () => {
  const places = (inPlace: readonly number[]) => {
    const known = listPlaces(profile.zones, findLedger(new Recorder().open().state(), profile));
    return inPlace.map((count, i) => ({ ...(known[0] as (typeof known)[number]), place: { ...(known[0] as (typeof known)[number]).place, id: `p${i}` }, inPlace: count })); // prettier-ignore
  };

  it.each<[string, number[], string, string | null]>([
    ['the next with pieces in', [1, 0, 2, 3], 'p0', 'p2'],
    ['from the first again after the last', [4, 0, 0, 3], 'p3', 'p0'],
    ['none where all others are clear', [0, 2, 0], 'p1', null],
    ['the first from a place that nobody knows', [0, 2, 5], 'x', 'p1'],
  ])('is %s', (_which, inPlace, from, to) => {
    expect(followingPlace(places(inPlace), from)?.place.id ?? null).toBe(to);
  });
});

it('what was signed for as left off counts until that is taken back, and no other with it', () => {
  const job = new Recorder().open();
  job.add(moved('pack-bolt', 4));
  const left = (partId: string): Act => ({ type: 'part.leftOff', body: { partId, count: 1, reason: 'None in stock.', followUp: 'order' } });
  const first = job.add(left('pack-bolt'));
  job.add(left('pack-bolt'));
  job.add({ type: 'act.withdrawn', body: { commandId: first, reason: 'mistyped' } });
  expect(job.state().strip.leftOff.map((l) => l.commandId)).toEqual(['c4']);
});

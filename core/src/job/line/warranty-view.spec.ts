import fc from 'fast-check';
import { Recorder, shippedProfile } from '../../../test/job-fixture.ts';
import { findTorqueGroup } from '../chapters/rebuild/torque-view.ts';
import { TERMS_FORMAT, type Condition, type SupplierTerms } from '../../warranty/terms.ts';
import { judgeTerms, type JudgedCondition } from './warranty-view.ts';

const A = shippedProfile('dunlin-28');
const terms = (...conditions: Condition[]): SupplierTerms => ({
  format: TERMS_FORMAT,
  id: 't',
  version: 1,
  supplier: 'T',
  months: 12,
  conditions,
});
function judge(job: Recorder, condition: Condition, now = job.now): JudgedCondition {
  const [judged] = judgeTerms(job.state(), job.pack, terms(condition), now, 'UTC');
  if (!judged) throw new Error('not judged');
  return judged;
}
const standing = (job: Recorder, condition: Condition, now?: number): string => judge(job, condition, now).standing;
const DAY = 86_400_000;

function chosen(job: Recorder, moduleIds: string[]): Recorder {
  const body = {
    school: 'matchedSet',
    moduleIds,
    fromShelf: [],
    rangeAh: null,
    lowerBoundAh: null,
    proven: false,
    blockMeanAh: [],
    assumedPlaces: [],
  } as const;
  job.add({ type: 'plan.chosen', body: { ...body, moduleIds: [...body.moduleIds], fromShelf: [], blockMeanAh: [], assumedPlaces: [] } });
  return job;
}
const ids = A.moduleCount;
const own = Array.from({ length: ids }, (_, i) => `m${i + 1}`);
const TERMINALS = A.parts.filter((p) => p.torque !== null && findTorqueGroup(p, new Recorder(A).open().state(), A).wantedPasses === 2);

function tightenAll(job: Recorder, passes: readonly (1 | 2)[], but: { partId: string; seat: number } | null = null): void {
  for (const part of TERMINALS) {
    const settingId = job.add({
      type: 'torque.set',
      body: { partId: part.id, toolId: 'T-01', reads: 'click', setNewtonMetre: part.torque?.newtonMetre ?? 1, toolLabel: '' },
    });
    for (const pass of passes)
      for (let seat = 1; seat <= (part.count ?? 0); seat++)
        if (but?.partId !== part.id || but.seat !== seat)
          job.add({ type: 'fastener.torqued', body: { settingId, partId: part.id, seat, pass, newtonMetre: null } });
  }
}

describe('the order', () => {
  it('is kept, not begun, or broken by whatever lies elsewhere', () => {
    const job = new Recorder(A).open();
    expect(judge(job, { kind: 'orderKept' })).toMatchObject({ standing: 'missing', stage: 'match' });
    chosen(job, own);
    expect(standing(job, { kind: 'orderKept' })).toBe('met');
    const swapped = ['m2', 'm1', ...own.slice(2)];
    const other = chosen(new Recorder(A).open(), swapped);
    expect(judge(other, { kind: 'orderKept' })).toMatchObject({
      standing: 'missing',
      why: '2 of 28 places are not filled as the order says.',
    });
    for (const [i, moduleId] of swapped.entries()) other.fact('rebuild', { kind: 'module', place: i + 1, moduleId, isTurned: false });
    expect(standing(other, { kind: 'orderKept' })).toBe('met');
    other.fact('rebuild', { kind: 'module', place: 1, moduleId: 'm9', isTurned: false });
    expect(standing(other, { kind: 'orderKept' })).not.toBe('met');
  });
});

describe('the torque', () => {
  it('is met only by every terminal in both passes; whichever is left out shows', () => {
    const seats = TERMINALS.flatMap((p) => Array.from({ length: p.count ?? 0 }, (_, i) => ({ partId: p.id, seat: i + 1 })));
    expect(seats.length).toBe(56);
    const whole = new Recorder(A).open();
    tightenAll(whole, [1, 2]);
    expect(judge(whole, { kind: 'torqueBothPasses' })).toMatchObject({ standing: 'met', why: 'All 56 in two passes.' });
    fc.assert(
      fc.property(fc.constantFrom(...seats), (but) => {
        const job = new Recorder(A).open();
        tightenAll(job, [1, 2], but);
        expect(judge(job, { kind: 'torqueBothPasses' })).toMatchObject({ standing: 'missing', why: '55 of 56 in two passes.' });
      }),
      { numRuns: 12, seed: 16 },
    );
    const once = new Recorder(A).open();
    tightenAll(once, [1]);
    expect(standing(once, { kind: 'torqueBothPasses' })).toBe('missing');
  });

  it('is broken once the case is shut in the car, and open again when it comes out', () => {
    const job = new Recorder(A).open();
    tightenAll(job, [1]);
    job.fact('strip', { kind: 'pack', isOnBench: true });
    job.fact('refit', { kind: 'pack', isOnBench: false });
    expect(standing(job, { kind: 'torqueBothPasses' })).toBe('broken');
    job.fact('strip', { kind: 'pack', isOnBench: true });
    expect(standing(job, { kind: 'torqueBothPasses' })).toBe('missing');
  });
});

describe('bars and nuts', () => {
  const ready = (job: Recorder, change: { frame?: string | null; how?: 'new' | 'cleaned'; haveNewNuts?: boolean }): void =>
    void job.add({
      type: 'bars.readied',
      body: { frame: null, how: 'new', isInFrame: true, isDry: null, plating: null, haveNewNuts: true, ...change },
    });

  it('are of every frame, by the last word on each', () => {
    const job = new Recorder(A).open();
    expect(standing(job, { kind: 'barsRenewed' })).toBe('missing');
    const [first, second] = A.frames;
    ready(job, { frame: first?.id ?? null });
    expect(judge(job, { kind: 'barsRenewed' })).toMatchObject({ standing: 'missing', why: 'Not said of every bar yet.' });
    ready(job, { frame: second?.id ?? null });
    expect(standing(job, { kind: 'barsRenewed' })).toBe('met');
    ready(job, { frame: first?.id ?? null, how: 'cleaned', haveNewNuts: false });
    expect(standing(job, { kind: 'barsRenewed' })).toBe('missing');
    expect(standing(job, { kind: 'newNuts' })).toBe('missing');
    // one word on the whole pack stands above what was said before it
    ready(job, {});
    expect(standing(job, { kind: 'barsRenewed' })).toBe('met');
    expect(standing(job, { kind: 'newNuts' })).toBe('met');
  });
});

describe('what has a day', () => {
  it('old ones go back in time, late, or not at all', () => {
    const condition: Condition = { kind: 'oldReturned', withinDays: 14 };
    const job = new Recorder(A).open();
    job.add({ type: 'core.agreed', body: { supplier: 'T', what: 'modules', count: 3, deposit: 0, shipBy: '2026-06-01' } });
    expect(standing(job, condition)).toBe('missing');
    expect(standing(job, condition, job.now + 15 * DAY)).toBe('broken');
    job.add({ type: 'core.shipped', body: { on: '2026-05-10', count: 1, carrier: '' } });
    expect(judge(job, condition)).toMatchObject({ standing: 'missing', why: expect.stringMatching(/^1 of 3 shipped/) as string });
    job.add({ type: 'core.shipped', body: { on: '2026-05-12', count: 2, carrier: '' } });
    expect(standing(job, condition, job.now + 400 * DAY)).toBe('met');
    const late = new Recorder(A).open();
    late.add({ type: 'core.shipped', body: { on: '2026-05-19', count: 1, carrier: '' } });
    expect(standing(late, condition)).toBe('broken');
  });

  it('a job is finished within its days, by when it was closed and not by when it is asked', () => {
    const condition: Condition = { kind: 'finishedWithin', days: 30 };
    const job = new Recorder(A).open();
    expect(standing(job, condition)).toBe('missing');
    expect(standing(job, condition, job.now + 31 * DAY)).toBe('broken');
    job.add({ type: 'job.closed', body: { outcome: 'brokenOff', reason: 'The owner fetched it.', unmet: [] } });
    expect(standing(job, condition, job.now + 400 * DAY)).toBe('met');
  });
});

describe('a last day', () => {
  /** A job that is opened at a moment, and judged at another, by the calendar of a shop. */
  const at = (opened: string, asked: string, timeZone: string, condition: Condition): string => {
    const job = new Recorder(A).open();
    for (const event of job.events) Object.assign(event, { at: opened, deviceAt: opened });
    return judgeTerms(job.state(), A, terms(condition), Date.parse(asked), timeZone)[0]?.standing ?? '';
  };

  it('is whole: nothing is broken before it is over at the shop', () => {
    const finished: Condition = { kind: 'finishedWithin', days: 10 };
    // opened at 9 in the morning of 4 May: the last day is 14 May
    const opened = '2026-05-04T09:00:00.000Z';
    expect(at(opened, '2026-05-14T15:00:00.000Z', 'UTC', finished)).toBe('missing');
    expect(at(opened, '2026-05-14T23:59:00.000Z', 'UTC', finished)).toBe('missing');
    expect(at(opened, '2026-05-15T00:01:00.000Z', 'UTC', finished)).toBe('broken');
    // in Sydney, ten hours ahead, 4 May began and 14 May ends ten hours sooner
    expect(at(opened, '2026-05-14T13:59:00.000Z', 'Australia/Sydney', finished)).toBe('missing');
    expect(at(opened, '2026-05-14T14:01:00.000Z', 'Australia/Sydney', finished)).toBe('broken');
    expect(at('2026-05-03T20:00:00.000Z', '2026-05-14T13:59:00.000Z', 'Australia/Sydney', { kind: 'oldReturned', withinDays: 10 })).toBe(
      'missing',
    );
  });

  it('stays over: what is broken is not mended by agreeing anew, by a second word, or by opening again', () => {
    const returned: Condition = { kind: 'oldReturned', withinDays: 14 };
    const job = new Recorder(A).open();
    const agree = (): string =>
      job.add({ type: 'core.agreed', body: { supplier: 'T', what: 'modules', count: 1, deposit: 0, shipBy: '2026-06-01' } });
    agree();
    job.wait(24 * 20);
    expect(standing(job, returned)).toBe('broken');
    agree();
    expect(standing(job, returned)).toBe('broken');
    const said = new Recorder(A).open();
    const word = (isMet: boolean): string => said.add({ type: 'terms.met', body: { condition: 'coolingAnswered', isMet, note: '' } });
    const mistyped = word(false);
    word(true);
    expect(standing(said, { kind: 'coolingAnswered' })).toBe('broken');
    said.add({ type: 'act.withdrawn', body: { commandId: mistyped, reason: 'mistyped' } });
    expect(standing(said, { kind: 'coolingAnswered' })).toBe('met');
    const closed = new Recorder(A).open();
    closed.add({ type: 'job.closed', body: { outcome: 'brokenOff', reason: 'The owner fetched it.', unmet: [] } });
    closed.add({ type: 'job.reopened', body: { reason: 'forgot' } });
    expect(standing(closed, { kind: 'finishedWithin', days: 2 }, closed.now + 9 * DAY)).toBe('met');
  });

  it('counts each shipment by its own day, whatever the order in which they were noted', () => {
    const job = new Recorder(A).open();
    const returned: Condition = { kind: 'oldReturned', withinDays: 14 };
    job.add({ type: 'core.agreed', body: { supplier: 'T', what: 'modules', count: 3, deposit: 0, shipBy: '2026-06-01' } });
    for (const [on, count] of [['2026-05-20', 1], ['2026-05-10', 2]] as const) job.add({ type: 'core.shipped', body: { on, count, carrier: '' } }); // prettier-ignore
    expect(judge(job, returned)).toMatchObject({ standing: 'broken', why: 'Shipped 2026-05-20, after 2026-05-18.' });
  });
});

describe('scan, cooling, photographs', () => {
  it('a scan counts that was made after the road test, since the pack came back', () => {
    const scanned = { reader: 'r', readerVersion: '', isSimulated: false, codes: [], readiness: null, blockVolts: [], packVolt: null, celsius: [], ampere: null, chargePercent: null }; // prettier-ignore
    const job = new Recorder(A).open();
    job.add({ type: 'car.scanned', body: { moment: 'afterRepair', ...scanned } });
    expect(standing(job, { kind: 'scanKept' })).toBe('missing');
    job.add({ type: 'car.scanned', body: { moment: 'afterRoadTest', ...scanned } });
    expect(standing(job, { kind: 'scanKept' })).toBe('met');
    job.fact('strip', { kind: 'pack', isOnBench: true });
    job.fact('refit', { kind: 'pack', isOnBench: false });
    expect(standing(job, { kind: 'scanKept' })).toBe('missing');
  });

  it('photographs count that were not erased', () => {
    const job = new Recorder(A).open();
    const photo = (photoId: string) => ({ stage: 'open', photoId, sha256: 'a'.repeat(64), byte: 9, width: 4, height: 3, caption: '', place: null, pairOf: null }) as const; // prettier-ignore
    for (const id of ['p1', 'p2']) job.add({ type: 'photo.taken', body: photo(id) });
    expect(standing(job, { kind: 'photographs', least: 2 })).toBe('met');
    job.add({ type: 'photo.erased', body: { photoId: 'p1', reason: 'A face was in it.' } });
    expect(judge(job, { kind: 'photographs', least: 2 })).toMatchObject({ standing: 'missing', why: '1 of 2.' });
  });

  it('a person’s word stands where no record says otherwise, and never against a record', () => {
    const job = new Recorder(A).open();
    job.add({ type: 'terms.met', body: { condition: 'coolingAnswered', isMet: true, note: 'seen by the supplier' } });
    expect(judge(job, { kind: 'coolingAnswered' })).toMatchObject({
      standing: 'met',
      isSaid: true,
      why: 'Said by OM. seen by the supplier',
    });
    job.add({ type: 'terms.met', body: { condition: 'coolingAnswered', isMet: false, note: '' } });
    expect(standing(job, { kind: 'coolingAnswered' })).toBe('broken');
    const late = new Recorder(A).open();
    late.add({ type: 'core.shipped', body: { on: '2026-08-19', count: 1, carrier: '' } });
    late.add({ type: 'terms.met', body: { condition: 'oldReturned', isMet: true, note: '' } });
    expect(judge(late, { kind: 'oldReturned', withinDays: 14 })).toMatchObject({ standing: 'broken', isSaid: false });
  });
});

import { contextOf, Recorder, shippedProfile } from '../../../../test/job-fixture.ts';
import { rememberJob } from '../../../shop/remember.ts';
import { decide } from '../../frame/decide.ts';
import { findUnmet } from '../../frame/closing.ts';
import { findHandOver, findWarranty } from '../../frame/handing-over.ts';
import { isStageDone } from '../../frame/completeness.ts';
import type { Act } from '../../frame/acts.ts';
import type { Cause } from './acts.ts';
import { findCauses, findCoreDesk, findOffers } from './view.ts';

const A = shippedProfile('dunlin-28');
const slice = (job: Recorder) => job.state().handOver;
const cause = (of: Cause, isAnswered: boolean, how = ''): Act => ({ type: 'cause.answered', body: { cause: of, isAnswered, how } });
const agreed = (change: Partial<{ what: 'pack' | 'modules'; count: number; deposit: number }> = {}): Act => ({
  type: 'core.agreed',
  body: { supplier: 'Marsh', what: 'pack', count: 1, deposit: 300, shipBy: '2026-12-20', ...change },
});
const settled = (outcome: 'credited' | 'disputed' | 'refused', credit: number): Act => ({
  type: 'core.settled',
  body: { outcome, credit, note: '' },
});
const unmet = (job: Recorder): string[] => findUnmet(job.state(), job.pack);

describe('causes', () => {
  it('keep the last word on each, in the order named', () => {
    const job = new Recorder(A).open();
    for (const act of [cause('joint', false), cause('age', true), cause('joint', true, 'bars new')]) job.add(act);
    expect(findCauses(slice(job)).map((c) => [c.cause, c.isAnswered, c.how])).toEqual([
      ['joint', true, 'bars new'],
      ['age', true, ''],
    ]);
  });

  it('stand against closing while none is named or one is not answered; the cooling says heat already', () => {
    const job = new Recorder(A).open('exchange');
    expect(unmet(job)).toContain('No cause of the damage is named.');
    job.add(cause('joint', false));
    expect(unmet(job)).toContain('Not answered: a loose or corroded joint.');
    expect(unmet(job)).not.toContain('No cause of the damage is named.');
    job.add(cause('joint', true));
    expect(unmet(job).join()).not.toMatch(/answered: a loose|No cause/);
    // nobody is asked twice about heat
    const hot = new Recorder(A).open('exchange');
    hot.add({ type: 'cooling.judged', body: { isAnswered: true, note: '' } });
    expect(unmet(hot).join()).not.toMatch(/No cause/);
    // whoever says otherwise later means it
    hot.add(cause('heat', false));
    expect(unmet(hot)).toContain('Not answered: heat: the cooling did not keep up.');
    hot.add({ type: 'cooling.judged', body: { isAnswered: true, note: '' } });
    expect(unmet(hot).join()).not.toMatch(/Not answered/);
    hot.add({ type: 'cooling.judged', body: { isAnswered: false, note: '' } });
    expect(unmet(hot)).toContain('Not answered: heat: the cooling did not keep up.');
  });

  it('a finding that asks for a new part stands against closing until it is settled', () => {
    const job = new Recorder(A).open('exchange');
    job.add(cause('age', true));
    const findingId = job.add({
      type: 'finding.noted',
      body: {
        stage: 'open',
        kind: 'corrosion',
        severity: 'severe',
        follow: 'renew',
        pin: { on: 'link', link: 3 },
        note: '',
        isOnArrival: false,
      },
    });
    expect(unmet(job)).toContain('1 finding asks for a new part and is not settled.');
    job.add({ type: 'finding.settled', body: { findingId, note: 'renewed' } });
    expect(unmet(job).join()).not.toMatch(/finding/);
  });

  it('a filter service names none and has no scan after a road test', () => {
    const job = new Recorder(A).open('filterService');
    job.fact('isolate', { kind: 'plug', isIn: false });
    job.fact('isolate', { kind: 'plug', isIn: true, isLatched: true });
    expect(unmet(job).join()).not.toMatch(/cause|scan/i);
    const whole = new Recorder(A).open();
    whole.fact('isolate', { kind: 'plug', isIn: false });
    expect(unmet(whole)).toContain('The car was not scanned after the road test.');
  });
});

describe('a pack that was tested', () => {
  const readAll = (job: Recorder, but: number | null = null): void => {
    for (const [kind, quantity] of [
      ['openCircuit', 'openCircuitVolt'],
      ['rest', 'restVolt'],
    ] as const) {
      // prettier-ignore
      const sweepId = job.startSweep(kind);
      for (let place = 1; place <= A.moduleCount; place++)
        if (place !== but) job.add({ type: 'reading.taken', body: { sweepId, place, moduleId: `m${place}`, quantity, value: 7.8 } });
    }
  };
  const tested = 'Not every module was read before and after a rest.';

  it('stays so when another module lies in it, and is not while one was left out', () => {
    const job = new Recorder(A).open();
    expect(unmet(job)).toContain(tested);
    readAll(job);
    expect(unmet(job)).not.toContain(tested);
    job.fact('rebuild', { kind: 'module', place: 5, moduleId: 'S1', isTurned: false });
    expect(unmet(job)).not.toContain(tested);
    const short = new Recorder(A).open();
    readAll(short, 17);
    expect(unmet(short)).toContain(tested);
  });

  it('counts a warranty from the day on which it was closed at the shop, the same in every place', () => {
    const job = new Recorder(A).open();
    job.add({ type: 'warranty.given', body: { months: 6, kilometre: null, words: '' } });
    job.add({ type: 'job.closed', body: { outcome: 'brokenOff', reason: 'The owner fetched it.', unmet: [] } });
    Object.assign(job.events.at(-1) ?? {}, { at: '2026-05-04T20:00:00.000Z' });
    expect(findWarranty(job.state(), 'UTC')?.until).toBe('2026-11-04');
    expect(findWarranty(job.state(), 'Australia/Sydney')?.until).toBe('2026-11-05');
    expect(rememberJob(job.state(), A, 'Australia/Sydney').warranty?.until).toBe('2026-11-05');
  });

  it('owes the old ones until every one of them is shipped', () => {
    const job = new Recorder(A).open();
    job.add({ type: 'core.agreed', body: { supplier: 'T', what: 'pack', count: 2, deposit: 400, shipBy: '2026-06-01' } });
    const desk = () => findCoreDesk(job.state().handOver);
    expect(desk()).toMatchObject({ isAllShipped: false, next: expect.stringMatching(/^2 old packs back to T by 2026-06-01/) as string });
    job.add({ type: 'core.shipped', body: { on: '2026-05-10', count: 1, carrier: '' } });
    expect(desk()).toMatchObject({
      shippedCount: 1,
      isAllShipped: false,
      next: expect.stringMatching(/^1 more old pack back to T/) as string,
    });
    expect(rememberJob(job.state(), A, 'UTC').core?.isShipped).toBe(false);
    job.add({ type: 'core.shipped', body: { on: '2026-05-12', count: 1, carrier: '' } });
    expect(desk()).toMatchObject({ isAllShipped: true, next: 'wait for the credit of T' });
    expect(rememberJob(job.state(), A, 'UTC').core?.isShipped).toBe(true);
  });

  it('leaves its warranty to remember, and none where none was given', () => {
    const job = new Recorder(A).open();
    expect(rememberJob(job.state(), A, 'UTC').warranty).toBeNull();
    job.add({ type: 'warranty.given', body: { months: 6, kilometre: 10_000, words: '' } });
    // recorded on 4 May 2026
    expect(rememberJob(job.state(), A, 'UTC').warranty).toEqual({ until: '2026-11-04', kilometre: 10_000 });
    job.add({ type: 'warranty.given', body: { months: 0, kilometre: null, words: '' } });
    expect(rememberJob(job.state(), A, 'UTC').warranty).toBeNull();
  });
});

describe('the core desk', () => {
  it('is nothing before something was agreed', () => expect(findCoreDesk(slice(new Recorder(A).open()))).toBeNull());

  it('goes from looking to shipping to the credit', () => {
    const job = new Recorder(A).open();
    job.add(agreed());
    expect(findCoreDesk(slice(job))).toMatchObject({
      outstanding: 300,
      next: 'the old pack back to Marsh by 2026-12-20, 7 to look at before',
    });
    for (const { check } of findCoreDesk(slice(job))!.checks) job.add({ type: 'core.checked', body: { check, isGood: true } });
    expect(findCoreDesk(slice(job))?.next).toBe('the old pack back to Marsh by 2026-12-20');
    job.add({ type: 'core.shipped', body: { on: '2026-12-01', count: 1, carrier: 'ferry' } });
    expect(findCoreDesk(slice(job))).toMatchObject({ next: 'wait for the credit of Marsh', outstanding: 300 });
    job.add(settled('disputed', 100));
    expect(findCoreDesk(slice(job))).toMatchObject({ next: 'Marsh disputes it: settle the deposit', outstanding: 200 });
    job.add(settled('credited', 300));
    expect(findCoreDesk(slice(job))).toMatchObject({ next: null, outstanding: 0 });
  });

  it('a refusal for good is written off; a credit that falls short stays out', () => {
    const refused = new Recorder(A).open();
    refused.add(agreed());
    refused.add(settled('refused', 0));
    expect(findCoreDesk(slice(refused))).toMatchObject({ outstanding: 0, next: null });
    const short = new Recorder(A).open();
    short.add(agreed());
    short.add(settled('credited', 250));
    expect(findCoreDesk(slice(short))?.outstanding).toBe(50);
    // more than the deposit is not a debt of ours
    short.add(settled('credited', 400));
    expect(findCoreDesk(slice(short))?.outstanding).toBe(0);
  });

  it('of loose modules asks for no cable ends, and counts in words', () => {
    const job = new Recorder(A).open();
    job.add(agreed({ what: 'modules', count: 28 }));
    const desk = findCoreDesk(slice(job));
    expect(desk?.checks.map((c) => c.check)).not.toContain('cablesInsulated');
    expect(desk?.next).toMatch(/^28 old modules back/);
    job.add(agreed({ what: 'modules', count: 1 }));
    expect(findCoreDesk(slice(job))?.next).toMatch(/^the old module back/);
  });

  it('names who shipped it and how', () => {
    const job = new Recorder(A).open();
    job.add(agreed());
    job.add({ type: 'core.shipped', body: { on: '2026-12-01', count: 1, carrier: 'ferry' } });
    expect(findCoreDesk(slice(job))?.shipped).toMatchObject({ by: 'om', carrier: 'ferry' });
  });
});

describe('handing over', () => {
  const next = (job: Recorder) => findHandOver(job.state(), job.pack).next;

  it('leads from the cause to the warranty to closing, and from there to the supplier', () => {
    const job = new Recorder(A).open('exchange');
    expect(next(job)).toMatchObject({ id: 'causes', room: 'finish', todo: 'name what brought the car in, and whether it is answered' });
    job.add(cause('age', true));
    expect(next(job)).toMatchObject({ id: 'warranty' });
    job.add({ type: 'warranty.given', body: { months: 12, kilometre: null, words: '' } });
    // the cooling of the car is looked at in an exchange too
    expect(next(job)).toMatchObject({ id: 'rest', todo: expect.stringMatching(/^the cooling is not answered/) as string });
    job.add(agreed());
    expect(findHandOver(job.state(), job.pack).steps.map((s) => s.id)).toEqual(['causes', 'warranty', 'rest', 'close', 'core']);
    job.add({ type: 'job.closed', body: { outcome: 'brokenOff', reason: 'The owner fetched it.', unmet: [] } });
    expect(next(job)).toMatchObject({ id: 'core', room: 'core' });
    expect(isStageDone('handOver', job.state(), job.pack)).toBe(true);
    job.add(settled('credited', 300));
    expect(next(job)).toBeNull();
  });

  it('asks for photographs only where some were taken', () => {
    const job = new Recorder(A).open('diagnosis');
    expect(findHandOver(job.state(), job.pack).steps.map((s) => s.id)).toEqual(['warranty', 'rest', 'close']);
    const sha256 = 'a'.repeat(64);
    const photo = { stage: 'open', photoId: 'p1', sha256, byte: 10, width: 4, height: 3, caption: '', place: null, pairOf: null } as const;
    job.add({ type: 'photo.taken', body: photo });
    expect(findHandOver(job.state(), job.pack).steps.map((s) => s.id)).toContain('photographs');
    job.add({ type: 'report.prepared', body: { photoIds: ['p1'], toCustomer: '' } });
    expect(findHandOver(job.state(), job.pack).steps.find((s) => s.id === 'photographs')?.isDone).toBe(true);
  });

  it('takes back what was mistyped, and only that', () => {
    const job = new Recorder(A).open();
    job.add(cause('age', true));
    const wrong = job.add(cause('leak', true));
    job.add({ type: 'act.withdrawn', body: { commandId: wrong, reason: 'mistyped' } });
    expect(findCauses(slice(job)).map((c) => c.cause)).toEqual(['age']);
  });

  it('offers stand by their last word, whatever the letters', () => {
    const job = new Recorder(A).open();
    job.add({ type: 'accessory.offered', body: { what: 'Cabin filter', answer: 'open', note: '' } });
    job.add({ type: 'accessory.offered', body: { what: 'cabin filter', answer: 'refused', note: '' } });
    expect(findOffers(slice(job)).map((o) => o.answer)).toEqual(['refused']);
  });
});

describe('what may be said', () => {
  const ask = (act: Act, role: 'apprentice' | 'technician') => {
    const job = new Recorder(A).open();
    return decide(job.state(), act, contextOf(job, { role, profile: A }));
  };

  it('an apprentice packs and ships, and promises nothing', () => {
    expect(ask(agreed(), 'apprentice').kind).toBe('answer');
    expect(ask({ type: 'warranty.given', body: { months: 12, kilometre: null, words: '' } }, 'apprentice')).toMatchObject({
      code: 'notPermitted',
    });
    expect(ask({ type: 'warranty.given', body: { months: 12, kilometre: null, words: '' } }, 'technician').kind).toBe('answer');
    expect(ask({ type: 'terms.chosen', body: { terms: null } }, 'apprentice')).toMatchObject({ code: 'notPermitted' });
  });

  it('names a place that is there', () => {
    const say = (at: number): Act => ({ type: 'comeback.explained', body: { what: 'module', at, note: '' } });
    expect(ask(say(28), 'apprentice').kind).toBe('answer');
    expect(ask(say(29), 'apprentice')).toMatchObject({ code: 'unknownName', path: ['body', 'at'] });
  });
});

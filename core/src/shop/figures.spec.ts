import { findFigures, type FigureJob } from './figures.ts';
import type { CoreOwed } from './remember.ts';

const CORE: CoreOwed = {
  ...{ supplier: 'Marsh', what: 'modules', count: 2, deposit: 80, outstanding: 80, shipBy: '2026-05-10' },
  ...{ isShipped: false, isDisputed: false, isSettled: false },
};
function job(number: number, change: Partial<FigureJob['memory']> = {}, more: Partial<FigureJob> = {}): FigureJob {
  return {
    ...{ jobId: `j${number}`, number, kind: 'wholeRepair', profileId: 'p', profileName: 'Pack', comebackOfId: null, ...more },
    memory: {
      minutes: {},
      school: 'matchedSet',
      closedAt: '2026-05-01T10:00:00.000Z',
      modules: { in: 0, out: 0 },
      core: null,
      explained: null,
      ...change,
    },
  };
}
const QUOTES = [{ id: 'p', quotes: [{ stage: 'strip', minute: 60 }] }] as const;

describe('findFigures', () => {
  it('counts a job that came back twice once, by the school and pack of the job before', () => {
    const { comebacks } = findFigures(
      [
        job(1),
        job(2),
        job(3, { closedAt: null }, { comebackOfId: 'j1' }),
        job(4, { closedAt: null }, { comebackOfId: 'j1' }),
        job(5, { school: 'spotRepair' }),
      ],
      [],
      Date.parse('2026-06-01T12:00:00Z'),
      'UTC',
    );
    expect(comebacks).toEqual([
      // by hand, Laplace: (1 + 1) / (2 + 2) and (0 + 1) / (1 + 2)
      { school: 'matchedSet', schoolName: 'Whole matched set', profileName: 'Pack', closed: 2, comebacks: 1, share: 0.5, jobs: [3, 4] },
      { school: 'spotRepair', schoolName: 'Spot repair in place', profileName: 'Pack', closed: 1, comebacks: 0, share: 1 / 3, jobs: [] },
    ]);
  });

  it('counts an exchange as one though no plan was chosen, and a job without modules by itself', () => {
    const { comebacks } = findFigures(
      [job(1, { school: null }, { kind: 'exchange' }), job(2, { school: null }, { kind: 'filterService' })],
      [],
      Date.parse('2026-06-01T12:00:00Z'),
      'UTC',
    );
    expect(comebacks.map((c) => c.school).sort()).toEqual(['exchangePack', 'none']);
  });

  it('holds the median of what was worked against the quote, and leaves out who never was there', () => {
    const { minutes } = findFigures([job(1, { minutes: { strip: 50 } }), job(2, { minutes: { strip: 90 } }), job(3, { minutes: { cool: 5 } })], QUOTES, Date.parse('2026-06-01T12:00:00Z'), 'UTC'); // prettier-ignore
    expect(minutes).toEqual([
      { stage: 'strip', profileName: 'Pack', quotedMinute: 60, medianMinute: 70, jobs: 2 },
      { stage: 'cool', profileName: 'Pack', quotedMinute: null, medianMinute: 5, jobs: 1 },
    ]);
  });

  it('lists what is out, the earliest day first, late only while it was not shipped', () => {
    const { money, outstanding } = findFigures(
      [
        job(1, { core: { ...CORE, shipBy: '2026-06-10' } }),
        job(2, { core: CORE }),
        job(3, { core: { ...CORE, isShipped: true, outstanding: 30, isDisputed: true, shipBy: '2026-05-20' } }),
        job(4, { core: { ...CORE, isSettled: true, outstanding: 0 } }),
      ],
      [],
      Date.parse('2026-06-01T12:00:00Z'),
      'UTC',
    );
    expect(money.map((m) => [m.number, m.isLate])).toEqual([[2, true], [3, false], [1, false]]); // prettier-ignore
    expect(outstanding).toBe(190);
    // on its last day it is not late yet
    expect(findFigures([job(1, { core: CORE })], [], Date.parse('2026-05-10T12:00:00Z'), 'UTC').money[0]?.isLate).toBe(false);
  });

  it('takes days and months from the calendar of the shop', () => {
    // 30 April in Greenwich is 1 May in Sydney
    const closed = [job(1, { closedAt: '2026-04-30T20:00:00.000Z' })];
    const months = (timeZone: string) => findFigures(closed, [], Date.parse('2026-05-02T00:00:00Z'), timeZone).months.map((m) => m.month);
    expect([months('UTC'), months('Australia/Sydney')]).toEqual([['2026-04'], ['2026-05']]);
    const owed = [job(1, { core: { ...CORE, shipBy: '2026-05-10' } })];
    const isLate = (timeZone: string) => findFigures(owed, [], Date.parse('2026-05-10T16:00:00Z'), timeZone).money[0]?.isLate;
    expect([isLate('UTC'), isLate('Australia/Sydney')]).toEqual([false, true]);
  });

  it('adds modules up by the month in which jobs were closed', () => {
    const { months } = findFigures(
      [
        job(1, { modules: { in: 3, out: 3 } }),
        job(2, { modules: { in: 1, out: 2 } }),
        job(3, { modules: { in: 9, out: 9 }, closedAt: null }),
        job(4, { modules: { in: 5, out: 0 }, closedAt: '2026-04-30T10:00:00.000Z' }),
      ],
      [],
      Date.parse('2026-06-01T12:00:00Z'),
      'UTC',
    );
    expect(months).toEqual([
      { month: '2026-04', in: 5, out: 0, closed: 1 },
      { month: '2026-05', in: 4, out: 5, closed: 2 },
    ]);
  });

  it('stands in an order of its own, whatever order the jobs come in', () => {
    const core = (shipBy: string) => ({ core: { ...CORE, shipBy } });
    const jobs = [
      job(4, { ...core('2026-05-20'), closedAt: '2026-03-01T10:00:00.000Z' }),
      job(2, { ...core('2026-05-10'), school: 'spotRepair' }),
      job(3, { ...core('2026-05-20'), closedAt: '2026-06-01T10:00:00.000Z' }, { profileId: 'o', profileName: 'Other' }),
      job(5, { closedAt: null }, { comebackOfId: 'j2' }),
      job(1, { ...core('2026-05-30'), school: null }, { kind: 'diagnosis' }),
    ];
    for (const list of [jobs, [...jobs].reverse()]) {
      const { money, months, comebacks } = findFigures(list, [], Date.parse('2026-06-01T12:00:00Z'), 'UTC');
      expect(money.map((m) => m.number)).toEqual([2, 3, 4, 1]);
      expect(months.map((m) => m.month)).toEqual(['2026-03', '2026-05', '2026-06']);
      // what came back most in front, then by name
      expect(comebacks.map((c) => [c.schoolName, c.profileName, c.comebacks])).toEqual([
        ['Spot repair in place', 'Pack', 1],
        ['No modules changed', 'Pack', 0],
        ['Whole matched set', 'Other', 0],
        ['Whole matched set', 'Pack', 0],
      ]);
    }
  });
});

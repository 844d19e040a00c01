import { findHands, findYardWait, sortLane, type YardJob } from './lanes.ts';

const NOW = Date.parse('2026-05-04T09:00:00Z');
const at = (minute: number): string => new Date(NOW + 60_000 * minute).toISOString();
const FREE: YardJob = {
  ...{ number: 1, closed: null, steadyVolt: null, asksCosign: false, proofEndsAt: null, waitEndsAt: null, rest: null },
  ...{ hasSource: false, toOrder: 0, lookAt: null, stripAt: null, lastAt: at(-5), lastBy: 'om' },
};
const job = (change: Partial<YardJob>): YardJob => ({ ...FREE, ...change });
const waitOf = (change: Partial<YardJob>) => {
  const { lane, kind } = findYardWait(job(change), NOW);
  return `${lane} ${kind}`;
};

describe('the lane of a job', () => {
  it('calls for hands at once where something hurts or is asked for', () => {
    expect(waitOf({ steadyVolt: 215, toOrder: 3 })).toBe('now steady');
    expect(waitOf({ asksCosign: true })).toBe('now cosign');
    expect(waitOf({ proofEndsAt: at(-1) })).toBe('now lapsed');
    expect(waitOf({ waitEndsAt: at(0) })).toBe('now drained');
  });

  it('waits by the clock while capacitors drain, a source charges or modules rest', () => {
    expect(waitOf({ waitEndsAt: at(4) })).toBe('clock capacitors');
    expect(waitOf({ hasSource: true })).toBe('clock charge');
    expect(waitOf({ rest: { since: at(-20), judgedFrom: at(40) } })).toBe('clock rest');
    expect(findYardWait(job({ rest: { since: at(-20), judgedFrom: at(40) } }), NOW).at).toBe(NOW + 40 * 60_000);
  });

  it('is free for hands once the rest is long enough, while a proof stands, and where nothing is waited for', () => {
    expect(waitOf({ rest: { since: at(-90), judgedFrom: at(-30) } })).toBe('hands rested');
    expect(waitOf({ proofEndsAt: at(20), toOrder: 1 })).toBe('hands proven');
    expect(waitOf({})).toBe('hands null');
  });

  it('changes at its time and not before', () => {
    expect(waitOf({ proofEndsAt: at(0) })).toBe('hands proven');
    expect(waitOf({ rest: { since: at(-60), judgedFrom: at(0) } })).toBe('hands rested');
    expect(findYardWait(job({ closed: 'finished' }), NOW)).toEqual({ lane: 'left', kind: null, at: null });
  });

  it('waits for parts where nothing else is to be done first, and has left once it is closed', () => {
    expect(waitOf({ toOrder: 2 })).toBe('parts parts');
    expect(waitOf({ closed: 'finished', steadyVolt: 3 })).toBe('left null');
    expect(findYardWait(job({ closed: 'finished', lookAt: at(90), stripAt: at(60) }), NOW)).toEqual({
      lane: 'left',
      kind: 'look',
      at: NOW + 3_600_000,
    });
  });

  it('has what the clock frees first in front, then what was touched longest ago', () => {
    const rows = [
      job({ number: 1, waitEndsAt: at(9) }),
      job({ number: 2, hasSource: true, lastAt: at(-50) }),
      job({ number: 3, waitEndsAt: at(2) }),
      job({ number: 4, hasSource: true, lastAt: at(-90) }),
    ].map((j) => ({ job: j, wait: findYardWait(j, NOW) }));
    expect(sortLane(rows).map((r) => r.job.number)).toEqual([3, 1, 4, 2]);
  });
});

describe('whose hands are free', () => {
  it('follows the last act of each person, over all jobs', () => {
    const hands = findHands(
      [
        job({ number: 1, lastBy: 'om', lastAt: at(-10) }),
        job({ number: 2, lastBy: 'om', lastAt: at(-3), waitEndsAt: at(6) }),
        job({ number: 3, lastBy: 'ts', lastAt: at(-2) }),
        job({ number: 4, lastBy: 'jf', lastAt: at(-31) }),
        job({ number: 5, lastBy: '', lastAt: at(-1) }),
      ],
      NOW,
    );
    expect(hands).toEqual([
      { by: 'jf', number: 4, since: NOW - 31 * 60_000, free: { until: null } },
      { by: 'om', number: 2, since: NOW - 3 * 60_000, free: { until: NOW + 6 * 60_000 } },
      { by: 'ts', number: 3, since: NOW - 2 * 60_000, free: null },
    ]);
  });

  const freeOf = (change: Partial<YardJob>) => findHands([job(change)], NOW)[0]?.free;

  it('are those of whoever waits: for the clock, for parts, or for nothing once it is closed', () => {
    expect(freeOf({ hasSource: true })).toEqual({ until: null });
    expect(freeOf({ toOrder: 1 })).toEqual({ until: null });
    expect(freeOf({ closed: 'finished' })).toEqual({ until: null });
    expect(freeOf({ closed: 'finished', lookAt: at(90) })).toEqual({ until: null });
    expect(freeOf({ proofEndsAt: at(20) })).toBeNull();
    expect(freeOf({ lastAt: at(-30) })).toBeNull();
  });

  it('stand with the longest free in front, then by name', () => {
    const rows = [
      job({ number: 1, lastBy: 'zz' }),
      job({ number: 2, lastBy: 'cc', waitEndsAt: at(6) }),
      job({ number: 3, lastBy: 'dd', toOrder: 1 }),
      job({ number: 4, lastBy: 'bb', waitEndsAt: at(9) }),
      job({ number: 5, lastBy: 'aa' }),
      job({ number: 6, lastBy: 'ab', toOrder: 1 }),
    ];
    expect(findHands(rows, NOW).map((h) => h.by)).toEqual(['ab', 'dd', 'bb', 'cc', 'aa', 'zz']);
    expect(findHands([...rows].reverse(), NOW).map((h) => h.by)).toEqual(['ab', 'dd', 'bb', 'cc', 'aa', 'zz']);
  });
});

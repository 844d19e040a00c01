import fc from 'fast-check';
import { addMonths, daysBetween, localTime, nextTimeOfDay } from '../quantity/calendar.ts';
import { findDue, gearPolicySchema, suggestGear, whyNotPick } from './due.ts';
import { gearSchema, withCheck, type Gear } from './gear.ts';

const policy = gearPolicySchema.parse({});
const gloves = (over: object = {}): Gear =>
  gearSchema.parse({
    kind: 'gloves',
    gearId: 'g',
    label: 'G-07',
    gloveClass: '0',
    size: '10',
    testedOn: '2026-05-31',
    issuedOn: '2026-06-15',
    ...over,
  });
const wrench = (over: object = {}): Gear =>
  gearSchema.parse({
    kind: 'torqueTool',
    gearId: 't',
    label: 'T-1',
    minNewtonMetre: 2,
    maxNewtonMetre: 10,
    calibratedOn: '2026-01-10',
    cycles: 10,
    ...over,
  });
const meter = (over: object = {}): Gear =>
  gearSchema.parse({
    kind: 'meter',
    gearId: 'm',
    label: 'M-02',
    category: 'III',
    categoryVolt: 1000,
    resolutionVolt: 0.1,
    calibratedOn: '2026-03-01',
    ...over,
  });

describe('calendar', () => {
  it('adds months to the end of a month', () => {
    expect(addMonths('2026-08-31', 6)).toBe('2027-02-28');
    expect(addMonths('2023-08-31', 6)).toBe('2024-02-29');
    expect(addMonths('2026-11-25', 12)).toBe('2027-11-25');
  });
  it('finds the next shift end in a zone, across a change of the clocks', () => {
    // 25 October 2026, clocks go back at 01:00 UTC in the United Kingdom
    const before = Date.parse('2026-10-24T20:00:00Z');
    expect(new Date(nextTimeOfDay(before, '17:00', 'Europe/London')).toISOString()).toBe('2026-10-25T17:00:00.000Z');
    expect(new Date(nextTimeOfDay(Date.parse('2026-07-01T10:00:30Z'), '16:30', 'Europe/London')).toISOString()).toBe(
      '2026-07-01T15:30:00.000Z',
    );
    expect(localTime(before, 'Europe/London')).toEqual({ date: '2026-10-24', time: '21:00' });
  });
  it('always shows that time, later than now and within 25 hours', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: Date.parse('2025-01-01'), max: Date.parse('2028-01-01') }),
        fc.integer({ min: 0, max: 1439 }),
        (at, minute) => {
          const time = `${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}`;
          const next = nextTimeOfDay(at, time, 'UTC');
          expect(localTime(next, 'UTC').time).toBe(time);
          expect(next).toBeGreaterThan(at);
          expect(next - at).toBeLessThanOrEqual(86_400_000);
        },
      ),
    );
  });
});

describe('gloves (29 CFR 1910.137, Table I-5 and its note)', () => {
  it('are due six months after issue, or after a later test', () => {
    expect(findDue(gloves(), policy, '2026-11-25')).toMatchObject({
      dueOn: '2026-12-15',
      daysLeft: 20,
      refusal: null,
      source: '29 CFR 1910.137, Table I-5',
    });
    expect(findDue(gloves({ testedOn: '2026-09-01' }), policy, '2026-11-25').dueOn).toBe('2027-03-01');
  });
  it('cannot be picked from the day they are due, and can the day before', () => {
    expect(findDue(gloves(), policy, '2026-12-14').refusal).toBeNull();
    expect(findDue(gloves(), policy, '2026-12-15').refusal).toBe('Their electrical test ran out today (2026-12-15).');
    expect(findDue(gloves(), policy, '2026-12-20').refusal).toContain('5 days ago');
  });
  it('are not issued from a store older than twelve months', () => {
    expect(findDue(gloves({ issuedOn: null, testedOn: '2025-11-20' }), policy, '2026-11-25').refusal).toContain('test again before issue');
    expect(findDue(gloves({ issuedOn: null }), policy, '2026-11-25').refusal).toContain('issue the pair first');
    expect(findDue(gloves({ testedOn: '2025-01-01', issuedOn: '2026-11-01' }), policy, '2026-11-25').refusal).toContain(
      'more than 12 months after its test',
    );
  });
  it('follow the shop only where it is stricter', () => {
    expect(findDue(gloves(), { ...policy, gloveMonth: 3 }, '2026-11-25').refusal).toContain('2026-09-15');
    expect(findDue(gloves(), { ...policy, gloveMonth: 24 }, '2026-12-20').refusal).not.toBeNull();
  });
  it('must bear the whole string', () => {
    expect(whyNotPick(gloves(), 'gloves', 400, policy, '2026-11-25')).toBeNull();
    expect(whyNotPick(gloves({ gloveClass: '00' }), 'gloves', 800, policy, '2026-11-25')).toContain('up to 750 V DC');
  });
});

describe('torque tools (ISO 6789-1)', () => {
  it('are due after 12 months or 5,000 cycles, whichever first', () => {
    expect(findDue(wrench(), policy, '2026-11-25')).toMatchObject({ dueOn: '2027-01-10', refusal: null });
    expect(findDue(wrench({ cycles: 5000 }), policy, '2026-11-25').refusal).toContain('5000 cycles');
    expect(findDue(wrench(), policy, '2027-01-10').refusal).toContain('calibration ran out');
    expect(findDue(withCheck(wrench({ cycles: 5000 }), '2026-11-25'), policy, '2026-11-26').refusal).toBeNull();
  });
});

it('takes a meter of CAT III 1000 V or better, in date', () => {
  expect(whyNotPick(meter(), 'meter', 300, policy, '2026-11-25')).toBeNull();
  expect(whyNotPick(meter({ categoryVolt: 600 }), 'meter', 300, policy, '2026-11-25')).toContain('CAT III 600 V');
  expect(whyNotPick(meter({ category: 'II' }), 'meter', 300, policy, '2026-11-25')).toContain('CAT II');
  expect(whyNotPick(meter({ calibratedOn: '2025-01-01' }), 'meter', 300, policy, '2026-11-25')).toContain('calibration ran out');
});

it('suggests what can be picked first, the longest still good at the top', () => {
  const all = [
    gloves({ gearId: 'old', issuedOn: '2026-01-01', testedOn: '2025-12-20' }),
    gloves({ gearId: 'b' }),
    gloves({ gearId: 'a', testedOn: '2026-09-01' }),
    meter(),
  ];
  expect(suggestGear(all, 'gloves', 270, policy, '2026-11-25').map((s) => s.gear.gearId)).toEqual(['a', 'b', 'old']);
});

it('counts days across years', () => {
  expect(daysBetween('2026-12-31', '2027-01-01')).toBe(1);
});

describe('a date that has not come yet', () => {
  it('proves nothing: neither a check nor an issue makes gear good', () => {
    for (const gear of [
      meter({ calibratedOn: '2099-01-01' }),
      gloves({ testedOn: '2099-01-01' }),
      gloves({ issuedOn: '2027-01-01' }),
      wrench({ calibratedOn: '9999-12-31' }),
    ])
      // prettier-ignore
      expect(findDue(gear, policy, '2026-11-26').refusal).toMatch(/is dated \d{4}-01-01|9999-12-31, which has not come yet/);
    expect(whyNotPick(meter({ calibratedOn: '2099-01-01' }), 'meter', 270, policy, '2026-11-26')).toMatch(/has not come yet/);
  });
  it('may be tomorrow’s, where the day begins earlier', () => {
    expect(findDue(meter({ calibratedOn: '2026-11-27' }), policy, '2026-11-26').refusal).toBeNull();
  });
});

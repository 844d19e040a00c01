import { contextOf, profile, Recorder, shippedProfile } from '../../../../test/job-fixture.ts';
import { findPathShare } from '../../../cool/path.ts';
import { decide } from '../../frame/decide.ts';
import { isStageDone } from '../../frame/completeness.ts';
import { stagesOf } from '../../frame/stages.ts';
import type { AirCheck, AirWord } from '../../../cool/air-words.ts';
import { everyAct } from '../../../../test/every-act.ts';
import { curveSchema } from './acts.ts';
import { compareDamage, findCoolEffect, findDriven, findReturned } from './effect.ts';
import { findLookAt, lookAfter, monthsSinceClean, proposeLook } from './looks.ts';
import { findCooling } from './view.ts';

const at = (job: Recorder) => findCooling(job.state(), profile);
const effectOf = (job: Recorder) => findCoolEffect(at(job), job.state().cool, profile);
/** Grille, duct, fan, gaps, outlet. */
function lookedAt(shares: readonly number[]): Recorder {
  const job = new Recorder().open();
  for (const [part, blockedShare] of shares.entries())
    job.add({ type: 'air.found', body: { part, when: 'asFound', blockedShare, note: '' } });
  return job;
}

describe('findPathShare', () => {
  it('is the share of its only part, and open where nothing is shut', () => {
    expect(findPathShare([{ kind: 'fan', blockedShare: 0.8 }])).toBeCloseTo(0.8, 12);
    expect(findPathShare([])).toBe(0);
    expect(findPathShare([0, 0, 0].map((blockedShare) => ({ kind: 'cells', blockedShare })))).toBeCloseTo(0, 12);
  });
  it('adds resistances of parts in a row, and shares the air of twins', () => {
    // two parts, one half shut, by hand: (1 + 4) / 2 = 2.5, 1 - 1/sqrt(2.5)
    expect(findPathShare([{ kind: 'fan', blockedShare: 0.5 }, { kind: 'cells', blockedShare: 0 }])).toBeCloseTo(1 - 1 / Math.sqrt(2.5), 12); // prettier-ignore
    expect(findPathShare([{ kind: 'filter', blockedShare: 1 }, { kind: 'filter', blockedShare: 0 }])).toBeCloseTo(0.5, 12); // prettier-ignore
    expect(findPathShare([{ kind: 'filter', blockedShare: 1 }, { kind: 'fan', blockedShare: 0 }])).toBe(1); // prettier-ignore
  });
});

describe('the air path', () => {
  it('leads from looking to cleaning, to the fan, to the cause, to the next look', () => {
    const job = new Recorder().open();
    expect(at(job).next).toBe('look at the grille beside the rear seat');
    for (const part of [0, 1, 2, 3, 4])
      job.add({ type: 'air.found', body: { part, when: 'asFound', blockedShare: part === 2 ? 0.8 : 0.05, note: '' } });
    expect(at(job).next).toBe('clean the pack fan');
    job.add({ type: 'air.cleaned', body: { part: 2, school: 'dry', note: '' } });
    expect(at(job).next).toBe('look at the pack fan again');
    job.add({ type: 'air.found', body: { part: 2, when: 'after', blockedShare: 0.3, note: '' } });
    expect(at(job).next).toBe('clean the pack fan once more');
    job.add({ type: 'air.cleaned', body: { part: 2, school: 'washed', note: '' } });
    job.add({ type: 'air.found', body: { part: 2, when: 'after', blockedShare: 0, note: '' } });
    expect(at(job).next).toBe('pack fan on 12 V before it goes back');
    const fan = { part: 2, spins: true, noise: 'none', hasPlay: false, startVolt: null } as const;
    job.add({ type: 'fan.tested', body: { ...fan, spins: false } });
    expect(at(job).next).toBe('another pack fan: it does not turn on 12 V');
    job.add({ type: 'fan.tested', body: fan });
    expect(at(job).next).toBe('look: foam seal whole and in its groove');
    for (const check of ['sealWhole', 'strapHeld', 'sensorSeated'] as const)
      job.add({ type: 'air.checked', body: { check, isGood: true } });
    expect(at(job).next).toBe('say whether the cooling answers the damage');
    job.add({ type: 'cooling.judged', body: { isAnswered: true, note: '' } });
    expect(isStageDone('cool', job.state(), profile)).toBe(false);
    job.add({ type: 'look.set', body: { months: 6, stripMonths: null, uses: [] } });
    expect(at(job).next).toBeNull();
    expect(isStageDone('cool', job.state(), profile)).toBe(true);
  });

  it('has all of it looked at before any of it is cleaned', () => {
    const job = lookedAt([0.9, 0]);
    expect(at(job)).toMatchObject({ next: 'look at the pack fan', nextPart: 2 });
    for (const part of [2, 3, 4]) job.add({ type: 'air.found', body: { part, when: 'asFound', blockedShare: 0, note: '' } });
    expect(at(job)).toMatchObject({ next: 'clean the grille beside the rear seat', nextPart: 0 });
  });

  it('takes back what was mistyped, and asks anew', () => {
    const job = new Recorder().open();
    const commandId = job.add({ type: 'air.found', body: { part: 0, when: 'asFound', blockedShare: 0.5, note: '' } });
    job.add({ type: 'act.withdrawn', body: { commandId, reason: 'mistyped' } });
    expect(at(job).parts[0]).toMatchObject({ asFound: null, todo: 'look at the grille beside the rear seat' });
  });

  it('refuses a part that is not there, and a fan that is none', () => {
    const job = new Recorder().open();
    const ask = (part: number) => decide(job.state(), { type: 'air.found', body: { part, when: 'asFound', blockedShare: 0, note: '' } }, contextOf(job)); // prettier-ignore
    expect(ask(5)).toMatchObject({ kind: 'refused', path: ['body', 'part'] });
    expect(ask(4)).toMatchObject({ kind: 'answer' });
    const body = { part: 1, spins: true, noise: 'none', hasPlay: false, startVolt: null } as const;
    expect(decide(job.state(), { type: 'fan.tested', body }, contextOf(job))).toMatchObject({
      kind: 'refused',
      message: 'seat duct is no fan.',
    });
  });
});

describe('what it did', () => {
  it('is not told before every part was looked at, then hotter as found than clean, and clean again once cleaned', () => {
    expect(effectOf(lookedAt([0, 0, 0.8]))).toBeNull();
    const job = lookedAt([0, 0, 0.8, 0, 0]);
    const effect = effectOf(job);
    expect(effect?.hotterKelvin).toBeGreaterThan(3);
    expect(effect?.ageingFactor).toBeGreaterThan(1.2);
    expect(effect?.found.airflowCubicMetrePerHour).toBeLessThan(0.6 * (effect?.clean.airflowCubicMetrePerHour ?? 0));
    job.add({ type: 'air.found', body: { part: 2, when: 'after', blockedShare: 0, note: '' } });
    const after = effectOf(job);
    expect(after?.now.moduleCelsius[13]).toBeCloseTo(after?.clean.moduleCelsius[13] ?? 0, 9);
  });

  it('tells nothing of air where coolant does it, and asks all else the same', () => {
    const pack = shippedProfile('spoonbill-16');
    const job = new Recorder(pack).open();
    for (const part of pack.airPath.keys()) job.add({ type: 'air.found', body: { part, when: 'asFound', blockedShare: 0.1, note: '' } });
    const cooling = findCooling(job.state(), pack);
    expect(findCoolEffect(cooling, job.state().cool, pack)).toBeNull();
    expect(cooling).toMatchObject({ foundShare: expect.any(Number), next: 'say whether the cooling answers the damage' });
  });

  it('agrees with the damage where the hottest are the weakest, and not where they are not', () => {
    const celsius = effectOf(lookedAt([0, 0, 0.8, 0, 0]))?.found.moduleCelsius ?? [];
    expect(compareDamage(celsius, celsius)).toMatchObject({ agrees: true, hottest: [13, 14, 15, 16], weakest: [13, 14, 15, 16] });
    expect(compareDamage(celsius, celsius.map((c) => -c))).toMatchObject({ agrees: false }); // prettier-ignore
    expect(compareDamage(celsius, celsius.map((c, i) => (i < 7 ? c : null)))).toBeNull(); // prettier-ignore
  });

  it('says the day of the next look: 182.6 days on for half a year', () => {
    const job = lookedAt([]);
    expect(findLookAt(job.state())).toBeNull();
    job.add({ type: 'look.set', body: { months: 6, stripMonths: null, uses: [] } });
    expect(new Date(findLookAt(job.state())?.look ?? 0).toISOString().slice(0, 10)).toBe('2026-11-02');
  });

  it('proposes the next look by what was found and how long after the last cleaning', () => {
    const cooling = at(lookedAt([0, 0, 0, 0, 0]));
    expect(proposeLook(cooling, null, [], profile)?.monthsToNext).toBe(3);
    expect(proposeLook(cooling, 6, [], profile)?.monthsToNext).toBe(12);
    expect(proposeLook(cooling, 6, ['pets'], profile)?.monthsToNext).toBeLessThan(12);
  });

  it('adds what earlier jobs of the vehicle found, and tells the strip of a pack that has one', () => {
    const DAY = 86_400_000;
    const now = Date.parse('2026-06-01');
    const earlier = [
      { at: now - 730 * DAY, foundShare: 0.6, wasCleaned: true },
      { at: now - 365 * DAY, foundShare: 0.3, wasCleaned: true },
      { at: now - 30 * DAY, foundShare: 0.02, wasCleaned: false },
    ];
    expect(monthsSinceClean(earlier, now)).toBeCloseTo(365 / 30.4375, 6);
    expect(monthsSinceClean(earlier.slice(2), now)).toBeNull();
    const cooling = at(lookedAt([0, 0, 0, 0, 0]));
    // by hand: through 0.3 after 12 months, 0.02 after 11 and 0 after 12: 3.8 / 409 = 0.93 % a month
    const alone = proposeLook(cooling, 12, [], profile)?.monthsToNext ?? 0;
    const known = proposeLook(cooling, 12, [], profile, earlier);
    expect(alone).toBe(24);
    expect(known?.monthsToNext).toBeCloseTo(0.2 / ((11.99 * 0.3 + 11.01 * 0.02) / (11.99 ** 2 + 11.01 ** 2 + 144)), 0);
    expect(known).not.toHaveProperty('monthsToStrip');
    const opened = shippedProfile('avocet-12');
    expect(proposeLook(cooling, null, [], opened)?.monthsToStrip).toBe(30);
    expect(lookAfter(0, 12) / DAY).toBeCloseTo(365.25, 6);
    const job = new Recorder().open();
    job.add({ type: 'look.set', body: { months: 3, stripMonths: 30, uses: [] } });
    const due = findLookAt(job.state());
    expect(((due?.strip ?? 0) - (due?.look ?? 0)) / DAY).toBeCloseTo(27 * 30.4375, 6);
  });
});

describe('what was measured of the air', () => {
  const measured = (cabinCelsius: number, inletCelsius: number, outletCelsius: number, when: 'asFound' | 'after' = 'asFound') => {
    const job = lookedAt([0, 0, 0.5, 0, 0]);
    job.add({ type: 'air.returned', body: { when, cabinCelsius, inletCelsius, outletCelsius } });
    return job;
  };

  it('says what comes back: 0.3 where the inlet lies 4.29 K over the cabin and the air warms by 10 K', () => {
    const found = findReturned(measured(25, 29.2857, 39.2857).state().cool, 'asFound');
    expect(found?.share).toBeCloseTo(0.3, 4);
    expect(found?.liftKelvin).toBeCloseTo(4.29, 2);
    expect(findReturned(measured(25, 24.6, 39).state().cool, 'asFound')).toEqual({ share: 0, liftKelvin: 0 });
    // figures that say nothing
    for (const [inlet, outlet] of [
      [26, 25],
      [30, 30],
      [31, 30],
    ] as const)
      expect(findReturned(measured(25, inlet, outlet).state().cool, 'asFound')).toBeNull();
    expect(findReturned(measured(25, 29, 39, 'after').state().cool, 'asFound')).toBeNull();
  });

  it('lifts every module by what comes back, until it was measured to have stopped', () => {
    const [plain, warm] = [effectOf(lookedAt([0, 0, 0.5, 0, 0])), effectOf(measured(25, 29.2857, 39.2857))];
    const rise = (plain?.found.outletCelsius ?? 0) - 25;
    for (const [i, celsius] of (warm?.found.moduleCelsius ?? []).entries())
      expect(celsius - (plain?.found.moduleCelsius[i] ?? 0)).toBeCloseTo((0.3 * rise) / 0.7, 2);
    expect(warm?.clean).toEqual(plain?.clean);
    expect(warm?.now.moduleCelsius[0]).toBeCloseTo(warm?.found.moduleCelsius[0] ?? 0, 9);
    const job = measured(25, 29.2857, 39.2857);
    job.add({ type: 'air.returned', body: { when: 'after', cabinCelsius: 25, inletCelsius: 25, outletCelsius: 33 } });
    expect(effectOf(job)?.now.moduleCelsius[0]).toBeCloseTo(plain?.now.moduleCelsius[0] ?? 0, 9);
  });

  it('holds the air of a drive against what was found', () => {
    const job = lookedAt([0, 0, 0.8, 0, 0]);
    const reckoned = effectOf(job)?.found ?? null;
    const flow = reckoned?.airflowCubicMetrePerHour ?? 0;
    const drive = (airflow: number) => {
      // I²R of 20 A through 756 mΩ is 302.4 W
      job.add({ type: 'air.driven', body: { when: 'asFound', ampere: 20, riseKelvin: 302.4 / ((1.2 * 1006 * airflow) / 3600) } });
      return findDriven(job.state().cool, 'asFound', 756, reckoned, profile);
    };
    expect(drive(flow)).toMatchObject({ watt: expect.closeTo(302.4, 6) as number, agrees: true });
    expect(drive(flow)?.shareOfClean).toBeCloseTo(flow / profile.cooling.cleanCubicMetrePerHour, 9);
    expect(drive(flow / 3)?.agrees).toBe(false);
    expect(drive(flow * 3)?.agrees).toBe(false);
    expect(findDriven(job.state().cool, 'after', 756, reckoned, profile)).toBeNull();
    expect(findDriven(job.state().cool, 'asFound', 756, null, profile)?.agrees).toBeNull();
  });
});

describe('what is said beside the share', () => {
  it('leads from a crushed duct to another one, and from a dirty one to feeling it', () => {
    const job = lookedAt([0, 0.6, 0, 0, 0]);
    const told = (word: 'plasticCrushed' | 'metalCrushed' | 'plasticWhole') => job.add({ type: 'air.told', body: { part: 1, word } });
    expect(at(job).next).toBe('feel the seat duct: metal or plastic, crushed or whole');
    told('plasticCrushed');
    expect(at(job).next).toBe('another seat duct: it stays flat');
    told('metalCrushed');
    expect(at(job).next).toBe('press the seat duct out and feel it again');
    told('plasticWhole');
    expect(at(job).next).toBe('clean the seat duct');
  });

  it('is refused of a part that it says nothing of', () => {
    const job = new Recorder().open();
    const tell = (part: number, word: AirWord) => decide(job.state(), { type: 'air.told', body: { part, word } }, contextOf(job));
    expect(tell(2, 'absent')).toMatchObject({ kind: 'refused', path: ['body', 'word'], message: '"not there" is said of no part like pack fan.' }); // prettier-ignore
    expect(tell(0, 'metalCrushed')).toMatchObject({ kind: 'refused' });
    expect(tell(9, 'absent')).toMatchObject({ kind: 'refused', path: ['body', 'part'] });
    expect(tell(0, 'homeMade')).toMatchObject({ kind: 'answer' });
    expect(tell(1, 'plasticCrushed')).toMatchObject({ kind: 'answer' });
  });

  it('is looked at before it is shut again, by what was cleaned', () => {
    const job = lookedAt([0, 0, 0.5, 0, 0]);
    expect(at(job).checks).toEqual([]);
    job.add({ type: 'air.cleaned', body: { part: 2, school: 'dry', note: '' } });
    expect(at(job).checks.map((c) => c.check)).toEqual(['sealWhole', 'strapHeld', 'sensorSeated']);
    job.add({ type: 'air.found', body: { part: 2, when: 'after', blockedShare: 0, note: '' } });
    job.add({ type: 'fan.tested', body: { part: 2, spins: true, noise: 'none', hasPlay: false, startVolt: null } });
    expect(at(job).next).toBe('look: foam seal whole and in its groove');
    const check = (which: AirCheck, isGood: boolean) => job.add({ type: 'air.checked', body: { check: which, isGood } });
    for (const which of ['sealWhole', 'strapHeld'] as const) check(which, true);
    check('sensorSeated', false);
    expect(at(job).next).toBe('look: airflow sensor seated exactly');
    check('sensorSeated', true);
    expect(at(job).next).toBe('say whether the cooling answers the damage');
    const filter = new Recorder(shippedProfile('godwit-24')).open('filterService');
    filter.add({ type: 'air.cleaned', body: { part: 0, school: 'dry', note: '' } });
    expect(findCooling(filter.state(), filter.pack).checks.map((c) => c.check)).toEqual(['tabRight', 'sensorSeated']);
    // a service answers no damage, and is not asked whether it does
    expect(findCooling(filter.state(), filter.pack).isJudged).toBe(false);
  });
});

describe('a fan', () => {
  it('that ground is not well because it moves air, and one that is blocked not because it spins', () => {
    const job = lookedAt([0, 0, 0, 0, 0]);
    const free = 2 * profile.cooling.cleanCubicMetrePerHour;
    const sound = (noise: 'none' | 'grinding') => job.add({ type: 'fan.tested', body: { part: 2, spins: true, noise, hasPlay: false, startVolt: null } }); // prettier-ignore
    const curve = (share: number) => job.add({ type: 'fan.measured', body: { part: 2, points: [{ volt: 12, ampere: 1.4, cubicMetrePerHour: share * free }] } }); // prettier-ignore
    const verdict = () => at(job).parts[2]?.fan?.verdict;
    sound('none');
    expect(verdict()).toBe('free');
    curve(0.3);
    expect(verdict()).toBe('blocked');
    sound('none');
    expect(verdict()).toBe('free');
    sound('grinding');
    curve(1);
    expect(verdict()).toBe('worn');
    expect(at(job).next).toBe('another pack fan: its bearing grinds');
    sound('none');
    expect(at(job).next).toBe('say whether the cooling answers the damage');
  });

  it('is measured by a curve alone, too', () => {
    const job = lookedAt([0, 0, 0, 0, 0]);
    job.add({ type: 'fan.measured', body: { part: 2, points: [{ volt: 12, ampere: 0, cubicMetrePerHour: 0 }] } });
    expect(at(job).next).toBe('another pack fan: it draws nothing: look at its plug first');
    const twice = { part: 2, points: [{ volt: 12, ampere: 1, cubicMetrePerHour: 1 }, { volt: 12, ampere: 1, cubicMetrePerHour: 2 }] }; // prettier-ignore
    expect(curveSchema.safeParse(twice).success).toBe(false);
  });
});

it.each([
  'air.found',
  'air.told',
  'air.returned',
  'air.driven',
  'air.cleaned',
  'air.checked',
  'fan.tested',
  'fan.measured',
  'cooling.judged',
  'look.set',
] as const)('%s can be taken back', (type) => {
  const job = new Recorder().open();
  const before = job.state().cool;
  const commandId = job.add(everyAct().acts[type]);
  expect(job.state().cool).not.toEqual(before);
  job.add({ type: 'act.withdrawn', body: { commandId, reason: 'mistyped' } });
  expect(job.state().cool).toEqual(before);
});

it('asks a fan that sits away from the high voltage for no proof of dead', () => {
  const stages = (id: string) => {
    const pack = shippedProfile(id);
    return stagesOf(new Recorder(pack).open('fanCleaning').state(), pack);
  };
  expect(stages('godwit-24')).not.toContain('isolate');
  expect(stages('dunlin-28')).toContain('isolate');
});

it('what was found after an earlier cleaning says nothing of the last', () => {
  const pack = shippedProfile('dunlin-28');
  const job = new Recorder(pack).open('fanCleaning');
  const found = (when: 'asFound' | 'after', blockedShare: number): string =>
    job.add({ type: 'air.found', body: { part: 1, when, blockedShare, note: '' } });
  const clean = (): string => job.add({ type: 'air.cleaned', body: { part: 1, school: 'dry', note: '' } });
  const part = () => findCooling(job.state(), pack).parts.find((p) => p.part === 1);
  found('asFound', 0.8);
  clean();
  expect(part()?.after).toBeNull();
  found('after', 0.05);
  expect(part()?.after).toBe(0.05);
  clean();
  expect(part()?.after).toBeNull();
});

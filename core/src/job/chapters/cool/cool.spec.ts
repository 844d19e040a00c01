import { contextOf, profile, Recorder, shippedProfile } from '../../../../test/job-fixture.ts';
import { findPathShare } from '../../../cool/path.ts';
import { decide } from '../../frame/decide.ts';
import { isStageDone } from '../../frame/completeness.ts';
import { compareDamage, findCoolEffect, findCooling, findLookAt, judgeFan, proposeLook } from './view.ts';

const at = (job: Recorder) => findCooling(job.state(), profile);
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
    expect(at(job).next).toBe('say whether the cooling answers the damage');
    job.add({ type: 'cooling.judged', body: { isAnswered: true, note: '' } });
    expect(isStageDone('cool', job.state(), profile)).toBe(false);
    job.add({ type: 'look.set', body: { months: 6, uses: [] } });
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

it.each([
  [{ spins: false, noise: 'none', hasPlay: false, startVolt: null }, 'seized', false],
  [{ spins: true, noise: 'grinding', hasPlay: false, startVolt: null }, 'worn', false],
  [{ spins: true, noise: 'rough', hasPlay: false, startVolt: null }, 'worn', true],
  [{ spins: true, noise: 'none', hasPlay: true, startVolt: null }, 'worn', true],
  [{ spins: true, noise: 'none', hasPlay: false, startVolt: 7 }, 'worn', true],
  [{ spins: true, noise: 'none', hasPlay: false, startVolt: 3 }, 'free', true],
] as const)('judges a fan, %#', (fan, verdict, isFit) => {
  expect(judgeFan(fan)).toMatchObject({ verdict, isFit });
});

describe('what it did', () => {
  it('is not told before every part was looked at, then hotter as found than clean, and clean again once cleaned', () => {
    expect(findCoolEffect(at(lookedAt([0, 0, 0.8])), profile)).toBeNull();
    const job = lookedAt([0, 0, 0.8, 0, 0]);
    const effect = findCoolEffect(at(job), profile);
    expect(effect?.hotterKelvin).toBeGreaterThan(3);
    expect(effect?.ageingFactor).toBeGreaterThan(1.2);
    expect(effect?.found.airflowCubicMetrePerHour).toBeLessThan(0.6 * (effect?.clean.airflowCubicMetrePerHour ?? 0));
    job.add({ type: 'air.found', body: { part: 2, when: 'after', blockedShare: 0, note: '' } });
    const after = findCoolEffect(at(job), profile);
    expect(after?.now.moduleCelsius[13]).toBeCloseTo(after?.clean.moduleCelsius[13] ?? 0, 9);
  });

  it('tells nothing of air where coolant does it, and asks all else the same', () => {
    const pack = shippedProfile('spoonbill-16');
    const job = new Recorder(pack).open();
    for (const part of pack.airPath.keys()) job.add({ type: 'air.found', body: { part, when: 'asFound', blockedShare: 0.1, note: '' } });
    const cooling = findCooling(job.state(), pack);
    expect(findCoolEffect(cooling, pack)).toBeNull();
    expect(cooling).toMatchObject({ foundShare: expect.any(Number), next: 'say whether the cooling answers the damage' });
  });

  it('agrees with the damage where the hottest are the weakest, and not where they are not', () => {
    const celsius = findCoolEffect(at(lookedAt([0, 0, 0.8, 0, 0])), profile)?.found.moduleCelsius ?? [];
    expect(compareDamage(celsius, celsius)).toMatchObject({ agrees: true, hottest: [13, 14, 15, 16], weakest: [13, 14, 15, 16] });
    expect(compareDamage(celsius, celsius.map((c) => -c))).toMatchObject({ agrees: false }); // prettier-ignore
    expect(compareDamage(celsius, celsius.map((c, i) => (i < 7 ? c : null)))).toBeNull(); // prettier-ignore
  });

  it('says the day of the next look: 182.6 days on for half a year', () => {
    const job = lookedAt([]);
    expect(findLookAt(job.state())).toBeNull();
    job.add({ type: 'look.set', body: { months: 6, uses: [] } });
    expect(new Date(findLookAt(job.state()) ?? 0).toISOString().slice(0, 10)).toBe('2026-11-02');
  });

  it('proposes the next look by what was found and how long after the last cleaning', () => {
    const cooling = at(lookedAt([0, 0, 0, 0, 0]));
    expect(proposeLook(cooling, null, [])?.monthsToNext).toBe(3);
    expect(proposeLook(cooling, 6, [])?.monthsToNext).toBe(12);
    expect(proposeLook(cooling, 6, ['pets'])?.monthsToNext).toBeLessThan(12);
  });
});

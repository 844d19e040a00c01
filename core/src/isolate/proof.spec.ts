import fc from 'fast-check';
import { VOLTS } from '../../test/isolating.ts';
import { findGloveNeed } from './gloves.ts';
import { judgeProof, PROOF_ENTRIES, sayTime, type ProofEntry, type ProofQuestion, type ProofReading } from './proof.ts';

const WAIT_END = Date.parse('2026-05-04T09:10:00Z');

function readings(
  over: Partial<Record<ProofEntry, Partial<ProofReading>>> = {},
  order: readonly ProofEntry[] = PROOF_ENTRIES,
): ProofReading[] {
  return order.map((entry, i) => {
    const readAt = WAIT_END + 10_000 * (i + 1);
    return { entry, volt: VOLTS[entry], readAt, keptAt: readAt + 300, number: 20 + i, ...over[entry] };
  });
}
function ask(given: readonly ProofReading[], over: Partial<ProofQuestion> = {}): ReturnType<typeof judgeProof> {
  return judgeProof({
    readings: given,
    known: { lowVolt: 9, highVolt: 16 },
    limitVolt: 30,
    resolutionVolt: 0.1,
    waitEndsAt: WAIT_END,
    whyNotResting: null,
    history: given.filter((r) => r.entry === 'plusMinus').map(({ readAt, volt }) => ({ readAt, volt })),
    ...over,
  });
}

describe('live-dead-live', () => {
  it('is dead with all six, in order, after the wait', () => {
    expect(ask(readings())).toMatchObject({ verdict: 'dead', missing: [], highestVolt: 0.3 });
  });
  it('stays open until the last of them, and names the next', () => {
    expect(ask([])).toMatchObject({ verdict: 'open', todo: 'Next: known source before.' });
    expect(ask(readings().slice(0, 3))).toMatchObject({
      verdict: 'open',
      todo: 'Next: plus to chassis.',
      missing: ['plusChassis', 'minusChassis', 'knownAfter'],
    });
  });
  it('means nothing when the meter fails its known source, before or after', () => {
    expect(ask(readings({ knownAfter: { volt: 0 } }))).toMatchObject({ verdict: 'meterNotProven' });
    expect(ask(readings({ knownBefore: { volt: 240 } })).sentence).toContain('between 9 and 16 V');
  });
  it.each<[string, Partial<Record<ProofEntry, Partial<ProofReading>>>, Partial<ProofQuestion>]>([
    ['a reading at the posts before the known source', { plusMinus: { number: 5 } }, {}],
    ['a reading at the posts after the second known source', { minusChassis: { number: 99 } }, {}],
    ['a touch of plug, 12 V or key in between', {}, { whyNotResting: 'Plug, 12 V or key was touched.' }],
    ['no wait begun', {}, { waitEndsAt: null }],
    ['a wait not over by the device', { knownBefore: { readAt: WAIT_END - 1 } }, {}],
    ['a wait not over by the server, whatever the device says', { knownBefore: { keptAt: WAIT_END - 1 } }, {}],
    ['more than five minutes by the server, whatever the device says', { knownAfter: { keptAt: WAIT_END + 10_300 + 493_000 } }, {}],
    ['more than five minutes', { knownAfter: { readAt: WAIT_END + 10_000 + 300_001 } }, {}],
  ])('is void with %s', (_what, over, question) => {
    expect(ask(readings(over), question).verdict).toBe('void');
  });
  it('counts the later reading of an entry, and asks for the known source after it', () => {
    const again = [
      ...readings(),
      { entry: 'plusMinus' as const, volt: 0.2, readAt: WAIT_END + 90_000, keptAt: WAIT_END + 90_000, number: 40 },
    ];
    expect(ask(again).verdict).toBe('void');
    expect(
      ask([...again, { entry: 'knownAfter', volt: 12.3, readAt: WAIT_END + 99_000, keptAt: WAIT_END + 99_000, number: 41 }]).verdict,
    ).toBe('dead');
  });
  it('never calls a negative voltage dead', () => {
    expect(ask(readings({ minusPlus: { volt: -210 } })).verdict).toBe('live');
  });

  it('needs every piece: taking any one away, or raising any one, is never dead', () => {
    const entry = fc.constantFrom(...PROOF_ENTRIES);
    fc.assert(
      fc.property(
        entry,
        fc.double({ min: 30.01, max: 400, noNaN: true }),
        fc.shuffledSubarray([...PROOF_ENTRIES], { minLength: 6 }),
        (one, volt, order) => {
          expect(ask(readings().filter((r) => r.entry !== one)).verdict).not.toBe('dead');
          expect(ask(readings({ [one]: { volt } })).verdict).not.toBe('dead');
          const isInOrder = order[0] === 'knownBefore' && order[5] === 'knownAfter';
          expect(ask(readings({}, order)).verdict === 'dead').toBe(isInOrder);
        },
      ),
    );
  });
});

describe('above the limit', () => {
  const curve = (volts: readonly number[]) => volts.map((volt, i) => ({ readAt: WAIT_END + 60_000 * i, volt }));
  const live = readings({ plusMinus: { volt: 71.8 } });

  it('tells a draining capacitor, its time constant and when to read again', () => {
    const history = curve([120, 102.2, 87, 74.1]);
    const found = ask(live, { history });
    expect(found).toMatchObject({ verdict: 'draining' });
    // 60 s / ln(120/102.2) = 374 s by the first two points; 74.1 V falls to 30 V in tau x ln 2.47
    expect(found.decay?.tauSecond).toBeGreaterThan(370);
    expect(found.decay?.tauSecond).toBeLessThan(378);
    expect(found.readAgainAt).toBeGreaterThan(WAIT_END + 180_000 + 330_000);
    expect(found.sentence).toMatch(/^Draining, not dead. 4 readings fit one curve \(tau 6 min 1\d s, R² 1\.000\)/);
  });
  it('tells a voltage that something feeds', () => {
    expect(ask(live, { history: curve([214, 214.1, 214]) })).toMatchObject({ verdict: 'steady', todo: expect.stringContaining('stuck') });
  });
  it('does not guess from one reading', () => {
    expect(ask(live)).toMatchObject({ verdict: 'live', readAgainAt: expect.any(Number) });
  });
});

describe('gloves', () => {
  it('follow the voltage within reach, now or after the next step', () => {
    expect(findGloveNeed(0, null, 60).areNeeded).toBe(false);
    expect(findGloveNeed(0, 268.8, 60)).toMatchObject({ areNeeded: true, leastClass: '0', reason: expect.stringContaining('next step') });
    expect(findGloveNeed(1600, null, 60).leastClass).toBe('1');
  });
});

it.each([
  [42.4, '42 s'],
  [342, '5 min 42 s'],
  [3900, '1 h 05 min'],
  [119.6, '2 min 00 s'],
])('says %s s as %s', (seconds, text) => {
  expect(sayTime(seconds)).toBe(text);
});

import fc from 'fast-check';
import { linearRegression, linearRegressionLine, rSquared } from 'simple-statistics';
import { fitDecay } from './decay.ts';
import { dischargeVolt, findDischarge } from './discharge.ts';
import { findFaultPlace, findInsulation } from './insulation.ts';

function must<T>(result: { kind: 'answer'; value: T } | { kind: 'refused'; message: string }): T {
  if (result.kind === 'refused') throw new Error(result.message);
  return result.value;
}

describe('discharge', () => {
  // worked by hand: RC = 1000e-6 x 300 000 = 300 s; ln(216/60) = 1.280934; C V²/2 = 0.0005 x 46 656 = 23.328 J
  it('gives time constant, time and energy', () => {
    const found = must(findDischarge({ capacitanceMicrofarad: 1000, resistanceOhm: 300_000, startVolt: 216, limitVolt: 60 }));
    expect(found.tauSecond).toBeCloseTo(300, 9);
    expect(found.secondsToLimit).toBeCloseTo(384.28, 2);
    expect(found.startJoule).toBeCloseTo(23.328, 9);
    expect(found.limitJoule).toBeCloseTo(1.8, 9);
  });
  it('is down to 36.8 % after one time constant and below 1 % after five (textbook figures)', () => {
    expect(dischargeVolt(100, 10, 10)).toBeCloseTo(36.788, 3);
    expect(dischargeVolt(100, 10, 50)).toBeLessThan(1);
  });
  it('needs no time where it starts below the limit', () => {
    expect(must(findDischarge({ capacitanceMicrofarad: 1, resistanceOhm: 1, startVolt: 12, limitVolt: 60 })).secondsToLimit).toBe(0);
  });
  it.each(['capacitanceMicrofarad', 'resistanceOhm', 'startVolt', 'limitVolt'])('refuses %s of zero', (field) => {
    const good = { capacitanceMicrofarad: 1, resistanceOhm: 1, startVolt: 100, limitVolt: 60 };
    expect(findDischarge({ ...good, [field]: 0 })).toMatchObject({ kind: 'refused', code: 'impossible', path: [field] });
    expect(findDischarge({ ...good, [field]: Number.NaN })).toMatchObject({ kind: 'refused' });
  });
});

describe('a fit of timed readings', () => {
  const curve = (start: number, tau: number, seconds: readonly number[]) =>
    seconds.map((second) => ({ second, volt: dischargeVolt(start, tau, second) }));

  it('finds the curve that made them, and the time left', () => {
    const found = must(fitDecay(curve(210, 342, [120, 210, 300, 379]), 30));
    expect(found).toMatchObject({ verdict: 'draining' });
    expect(found.tauSecond).toBeCloseTo(342, 6);
    expect(found.startVolt).toBeCloseTo(210, 6);
    expect(found.rSquared).toBeCloseTo(1, 9);
    // from the last reading: 342 x ln(210/30) - 379
    expect(found.secondsToLimit).toBeCloseTo(342 * Math.log(7) - 379, 6);
  });

  it('agrees with a reference library on readings that scatter', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 31, max: 400, noNaN: true }), { minLength: 3, maxLength: 12 }), (volts) => {
        const readings = volts.map((volt, i) => ({ second: 10 * (i + 1), volt }));
        const points = readings.map((r) => [r.second, Math.log(r.volt)]);
        const { m, b } = linearRegression(points);
        const found = must(fitDecay(readings, 30));
        expect(found.startVolt).toBeCloseTo(Math.exp(b), 4);
        if (m < 0) expect(found.tauSecond).toBeCloseTo(-1 / m, 3);
        else expect(found.tauSecond).toBeNull();
        const spread = Math.max(...volts) - Math.min(...volts);
        if (spread > 1) expect(found.rSquared).toBeCloseTo(rSquared(points, linearRegressionLine({ m, b })), 6);
      }),
    );
  });

  it('calls a voltage that stays steady, whatever its height', () => {
    expect(
      must(
        fitDecay(
          [0, 60, 120].map((second) => ({ second, volt: 214.6 })),
          30,
        ),
      ),
    ).toMatchObject({
      verdict: 'steady',
      secondsToLimit: null,
      tauSecond: null,
    });
    expect(
      must(
        fitDecay(
          [214.6, 214.5, 214.5].map((volt, i) => ({ second: 60 * i, volt })),
          30,
        ),
      ).verdict,
    ).toBe('steady');
    expect(
      must(
        fitDecay(
          [100, 180, 120, 175, 90].map((volt, i) => ({ second: i, volt })),
          30,
        ),
      ).verdict,
    ).toBe('steady');
  });

  it('calls the last reading dead at or below the limit, with the leads either way, and never by a negative sign', () => {
    expect(must(fitDecay([{ second: 0, volt: 30 }], 30))).toMatchObject({ verdict: 'dead', secondsToLimit: 0 });
    expect(must(fitDecay([{ second: 0, volt: -0.2 }], 30)).verdict).toBe('dead');
    expect(must(fitDecay([{ second: 0, volt: -210 }], 30)).verdict).toBe('unknown');
    expect(must(fitDecay(curve(200, 10, [1, 10, 60]), 30)).verdict).toBe('dead');
  });

  it('does not guess from two readings', () => {
    expect(must(fitDecay(curve(200, 300, [0, 60]), 30))).toMatchObject({ verdict: 'unknown', tauSecond: null, secondsToLimit: null });
  });

  it('refuses nothing, a limit of zero, and times that do not rise', () => {
    expect(fitDecay([], 30)).toMatchObject({ code: 'empty' });
    expect(fitDecay([{ second: 0, volt: 1 }], 0)).toMatchObject({ path: ['limitVolt'] });
    expect(fitDecay([{ second: 5, volt: 9 }, { second: 5, volt: 8 }], 1)).toMatchObject({ path: ['readings', 1, 'second'] }); // prettier-ignore
  });
});

describe('insulation by two voltages', () => {
  // UN R100's formula worked by hand: R0 = 100 kohm, Vb = 201.6, V1 = 120, V1' = 80: 1e5 x (2.52 - 1.68) = 84 000 ohm
  it('follows the formula and divides by the working voltage', () => {
    const found = must(findInsulation({ packVolt: 201.6, higherVolt: 120, withResistorVolt: 80, resistorOhm: 100_000 }));
    expect(found.ohm).toBeCloseTo(84_000, 6);
    expect(found.ohmPerVolt).toBeCloseTo(416.667, 3);
    expect(found.passes).toBe(true);
    expect(
      must(findInsulation({ packVolt: 201.6, higherVolt: 120, withResistorVolt: 80, resistorOhm: 100_000, ohmPerVoltRequired: 500 }))
        .passes,
    ).toBe(false);
  });

  // the circuit itself: leaks R+ and R- against the chassis, an ideal meter; Ri of the formula is the
  // lower of the two, that of the pole nearer to the chassis
  it('gives back the lower of two leaks, solved from the circuit', () => {
    const leak = fc.double({ min: 1e3, max: 1e7, noNaN: true });
    fc.assert(
      fc.property(leak, leak, fc.double({ min: 50, max: 500, noNaN: true }), (a, b, pack) => {
        const high = Math.max(a, b);
        const low = Math.min(a, b);
        const resistorOhm = 50_000;
        const shunted = (high * resistorOhm) / (high + resistorOhm);
        const found = must(
          findInsulation({
            packVolt: pack,
            higherVolt: (pack * high) / (high + low),
            withResistorVolt: (pack * shunted) / (shunted + low),
            resistorOhm,
          }),
        );
        expect(found.ohm / low).toBeCloseTo(1, 6);
      }),
    );
  });

  it('refuses what cannot be, with the field', () => {
    const good = { packVolt: 200, higherVolt: 120, withResistorVolt: 80, resistorOhm: 1e5 };
    expect(findInsulation({ ...good, withResistorVolt: 130 })).toMatchObject({ code: 'mismatch', path: ['withResistorVolt'] });
    expect(findInsulation({ ...good, higherVolt: 220 })).toMatchObject({ code: 'mismatch', path: ['higherVolt'] });
    expect(findInsulation({ ...good, withResistorVolt: 1e-9 })).toMatchObject({ code: 'impossible', path: ['withResistorVolt'] });
    expect(findInsulation({ ...good, withResistorVolt: 0 })).toMatchObject({ code: 'impossible', path: ['withResistorVolt'] });
  });
});

describe('the place of a single fault', () => {
  it('lies where the divider says', () => {
    // a leak at the joint of modules 8 and 9 of 28 at 7.5 V: 60 V below it, 150 V above
    expect(
      must(findFaultPlace({ moduleCount: 28, negativeToChassisVolt: 60, positiveToChassisVolt: 150 })).modulesFromNegative,
    ).toBeCloseTo(8, 9);
    expect(must(findFaultPlace({ moduleCount: 28, negativeToChassisVolt: 0, positiveToChassisVolt: 210 })).modulesFromNegative).toBe(0);
  });
  it('refuses a sign, no voltage and half a module', () => {
    // by hand: a quarter of 4 + 8 + 8 = 20 V is 5 V: module 1 whole, an eighth of module 2
    const walked = { moduleCount: 3, negativeToChassisVolt: 50, positiveToChassisVolt: 150, moduleVolts: [4, 8, 8] };
    expect(must(findFaultPlace(walked)).modulesFromNegative).toBeCloseTo(1.125, 9);
    expect(must(findFaultPlace({ ...walked, positiveToChassisVolt: 0 })).modulesFromNegative).toBe(3);
    expect(findFaultPlace({ ...walked, moduleVolts: [4, 8] })).toMatchObject({ code: 'mismatch', path: ['moduleVolts'] });
    expect(findFaultPlace({ ...walked, moduleVolts: [4, 0, 8] })).toMatchObject({ code: 'impossible', path: ['moduleVolts', 1] });
    expect(findFaultPlace({ moduleCount: 28, negativeToChassisVolt: -1, positiveToChassisVolt: 1 })).toMatchObject({
      path: ['negativeToChassisVolt'],
    });
    expect(findFaultPlace({ moduleCount: 28, negativeToChassisVolt: 0, positiveToChassisVolt: 0 })).toMatchObject({ code: 'empty' });
    expect(findFaultPlace({ moduleCount: 2.5, negativeToChassisVolt: 1, positiveToChassisVolt: 0 })).toMatchObject({
      path: ['moduleCount'],
    });
  });
});

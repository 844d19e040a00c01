import { createGenerator } from '../random/generator.ts';
import { findAirflow } from './airflow.ts';
import { judgeByCurve, judgeBySound, type FanPoint } from './fan.ts';
import { findFlowByHeat } from './heat.ts';
import { findInterval, type IntervalInput } from './interval.ts';
import { findReturnedAir } from './returned-air.ts';
import { findLife } from './life.ts';
import { AIR_WATT_PER_KELVIN, findCoolStack, type CoolStackInput } from './stack.ts';

function value<T>(result: { kind: 'answer'; value: T } | { kind: 'refused'; message: string }): T {
  if (result.kind === 'refused') throw new Error(result.message);
  return result.value;
}
const STACK: CoolStackInput = { modules: 28, wattsPerModule: 22.5, airflowCubicMetrePerHour: 100, blockedShare: 0, inletCelsius: 25 };
const stack = (over: Partial<CoolStackInput> = {}) => value(findCoolStack({ ...STACK, ...over }));

describe('airflow', () => {
  // at twice the clean airflow the crossing is x = s (sqrt(1 + 8/s) - 1) / 2 with s = (1 - b)², by hand
  it.each([
    [0, 1],
    [0.2, 0.856],
    [0.5, 0.593],
    [0.8, 0.264],
    [0.9, 0.137],
  ])('with %d of the path shut is %d of the clean one', (blockedShare, share) => {
    expect(value(findAirflow({ airflowCubicMetrePerHour: 100, blockedShare })) / 100).toBeCloseTo(share, 3);
  });
  it('is where the two curves cross, found by halving', () => {
    const random = createGenerator(2);
    for (let i = 0; i < 200; i++) {
      const clean = 10 + 200 * random.next();
      const free = clean * (1.01 + 3 * random.next());
      const blockedShare = 0.999 * random.next();
      const k = (1 - clean / free) / clean ** 2;
      let [low, high] = [0, free];
      for (let n = 0; n < 200; n++) {
        const q = (low + high) / 2;
        if (1 - q / free > (k * q * q) / (1 - blockedShare) ** 2) low = q;
        else high = q;
      }
      const found = value(findAirflow({ airflowCubicMetrePerHour: clean, blockedShare, freeFlowCubicMetrePerHour: free }));
      expect(found / low).toBeCloseTo(1, 9);
    }
  });
});

describe('findCoolStack', () => {
  it('warms 100 m³/h by 18.8 K with 630 W, less what the case takes', () => {
    expect(630 / (100 * AIR_WATT_PER_KELVIN)).toBeCloseTo(18.8, 1);
    expect(stack({ edgeShare: 0 }).outletCelsius - 25).toBeCloseTo(18.79, 2);
    const { outletCelsius, caseWatt } = stack();
    expect((outletCelsius - 25) * 100 * AIR_WATT_PER_KELVIN + caseWatt).toBeCloseTo(630, 9);
    expect(caseWatt).toBeLessThan(0.03 * 630);
  });

  it('is what a plain relaxation along every gap comes to', () => {
    const random = createGenerator(7);
    for (let trial = 0; trial < 4; trial++) {
      const modules = 2 + Math.floor(random.next() * 5);
      const input = { ...STACK, modules, wattsPerModule: 5 + 30 * random.next(), blockedShare: 0.9 * random.next(), edgeShare: 0.1 };
      const found = stack(input);
      const [film, neighbour, cells] = [1, 0.2, 60];
      const m = (AIR_WATT_PER_KELVIN * found.airflowCubicMetrePerHour) / (modules + 1);
      const wall = Array.from({ length: modules }, () => 30);
      for (let round = 0; round < 800; round++) {
        const given = wall.map(() => 0);
        for (let gap = 0; gap <= modules; gap++) {
          const sides = [gap - 1, gap].filter((k) => k >= 0 && k < modules);
          let air = input.inletCelsius;
          for (let c = 0; c < cells; c++) {
            const flows = sides.map((k) => (film / cells) * ((wall[k] ?? 0) - air));
            sides.forEach((k, i) => (given[k] = (given[k] ?? 0) + (flows[i] ?? 0)));
            air += flows.reduce((a, b) => a + b, 0) / m;
          }
        }
        for (let k = 0; k < modules; k++) {
          const heat = input.wattsPerModule * (k === 0 || k === modules - 1 ? 0.9 : 1);
          const beside = [k - 1, k + 1].filter((n) => n >= 0 && n < modules);
          const across = beside.reduce((sum, n) => sum + neighbour * ((wall[k] ?? 0) - (wall[n] ?? 0)), 0);
          wall[k] = (wall[k] ?? 0) + 0.3 * (heat - (given[k] ?? 0) - across);
        }
      }
      for (const [k, celsius] of found.moduleCelsius.entries()) expect(Math.abs(celsius - (wall[k] ?? 0))).toBeLessThan(0.25);
    }
  });

  it('has every module above the inlet, the middle hotter than the ends, and both ends alike', () => {
    const { moduleCelsius } = stack({ blockedShare: 0.5 });
    expect(Math.min(...moduleCelsius)).toBeGreaterThan(25);
    expect(moduleCelsius[13]).toBeGreaterThan((moduleCelsius[0] ?? 0) + 1);
    expect(moduleCelsius[0]).toBeCloseTo(moduleCelsius[27] ?? 0, 9);
    for (let i = 1; i < 14; i++) expect(moduleCelsius[i]).toBeGreaterThanOrEqual((moduleCelsius[i - 1] ?? 0) - 1e-9);
  });

  it('gives each place its share of the heat', () => {
    const weights = Array.from({ length: 28 }, (_, i) => 1 + 0.5 * Math.sin((Math.PI * i) / 27));
    const { moduleCelsius, outletCelsius, caseWatt } = stack({ weights });
    expect(moduleCelsius[13]).toBeGreaterThan((stack().moduleCelsius[13] ?? 0) + 1);
    expect((outletCelsius - 25) * 100 * AIR_WATT_PER_KELVIN + caseWatt).toBeCloseTo(630, 6);
  });

  it('never cools a module by shutting more of the path', () => {
    const random = createGenerator(11);
    for (let i = 0; i < 200; i++) {
      const input = {
        modules: 1 + Math.floor(random.next() * 96),
        wattsPerModule: 40 * random.next(),
        airflowCubicMetrePerHour: 5 + 300 * random.next(),
      };
      const [less, more] = [random.next(), random.next()].map((x) => 0.999 * x).sort((a, b) => a - b);
      const [open, shut] = [stack({ ...input, blockedShare: less ?? 0 }), stack({ ...input, blockedShare: more ?? 0 })];
      for (const [k, celsius] of shut.moduleCelsius.entries()) expect(celsius).toBeGreaterThanOrEqual((open.moduleCelsius[k] ?? 0) - 1e-6);
    }
  });

  it('follows the air through what lies before and behind the modules', () => {
    const airPath = [
      { kind: 'intake' },
      { kind: 'converter', name: 'DC-DC converter', watt: 33.533 },
      { kind: 'cells' },
      { kind: 'outlet' },
    ];
    const { pathCelsius, moduleCelsius } = stack({ airPath });
    expect(pathCelsius.map((p) => [p.name, p.celsius.toFixed(1)])).toEqual([
      ['intake', '25.0'],
      ['DC-DC converter', '26.0'],
      ['cells', '44.8'],
      ['outlet', '44.8'],
    ]);
    expect(moduleCelsius[0]).toBeCloseTo((stack().moduleCelsius[0] ?? 0) + 1, 3);
  });

  it.each<[string, Partial<CoolStackInput>, string]>([
    ['no module', { modules: 0 }, 'modules'],
    ['half a module', { modules: 2.5 }, 'modules'],
    ['cold made by modules', { wattsPerModule: -1 }, 'wattsPerModule'],
    ['a path that is shut', { blockedShare: 1 }, 'blockedShare'],
    ['less than nothing shut', { blockedShare: -0.1 }, 'blockedShare'],
    ['no air', { airflowCubicMetrePerHour: 0 }, 'airflowCubicMetrePerHour'],
    ['a fan that moves less freely', { freeFlowCubicMetrePerHour: 100 }, 'freeFlowCubicMetrePerHour'],
    ['below absolute zero', { inletCelsius: -300 }, 'inletCelsius'],
    ['an edge of more than all', { edgeShare: 1.1 }, 'edgeShare'],
    ['weights of another stack', { weights: [1, 2] }, 'weights'],
    ['a path without modules', { airPath: [{ kind: 'fan' }] }, 'airPath'],
  ])('refuses %s', (_what, over, field) => {
    expect(findCoolStack({ ...STACK, ...over })).toMatchObject({ kind: 'refused', path: [field] });
  });
});

it('lifts the inlet by 4.29 K where 0.3 of an air that warms by 10 K comes back', () => {
  const found = value(findReturnedAir({ inletCelsius: 25, riseCelsius: 10, returnedShare: 0.3 }));
  expect(found.inletCelsius - 25).toBeCloseTo(4.29, 2);
  // the balance itself: what comes in is cabin air and air that left
  expect(found.inletCelsius).toBeCloseTo(0.7 * 25 + 0.3 * found.outletCelsius, 12);
  expect(findReturnedAir({ inletCelsius: 25, riseCelsius: 10, returnedShare: 1 })).toMatchObject({ path: ['returnedShare'] });
  expect(findReturnedAir({ inletCelsius: 25, riseCelsius: -1, returnedShare: 0 })).toMatchObject({ path: ['riseCelsius'] });
});

it('ages 1.92 times as fast at 35 as at 25 °C with 50 kJ/mol (by hand: exp(6013.6 x 1.0884e-4))', () => {
  const found = value(findLife({ celsius: 35, referenceCelsius: 25, referenceMonth: 72 }));
  expect(found.factor).toBeCloseTo(1.92, 2);
  expect(found.month).toBeCloseTo(72 / found.factor, 12);
  expect(value(findLife({ celsius: 25, referenceCelsius: 25, referenceMonth: 72 }))).toEqual({ month: 72, factor: 1 });
  expect(value(findLife({ celsius: 15, referenceCelsius: 25, referenceMonth: 72 })).month).toBeGreaterThan(72);
  expect(findLife({ celsius: -280, referenceCelsius: 25, referenceMonth: 72 })).toMatchObject({ path: ['celsius'] });
});

describe('findInterval', () => {
  const at = (findings: [number, number][], uses: IntervalInput['uses'] = [], stripMonths?: number) =>
    value(
      findInterval({
        findings: findings.map(([monthsSinceClean, blockedShare]) => ({ monthsSinceClean, blockedShare })),
        uses,
        stripMonths,
      }),
    );
  // common practice, no source: 3 months first, then 6, then 12, then longer with proof
  it('looks first after 3 months, and twice as long each time that it was clean', () => {
    expect(at([]).monthsToNext).toBe(3);
    expect(at([[3, 0]]).monthsToNext).toBe(6);
    expect(at([[3, 0], [6, 0]]).monthsToNext).toBe(12); // prettier-ignore
    expect(at([[12, 0]]).monthsToNext).toBe(24);
    expect(at([[24, 0]]).monthsToNext).toBe(24);
  });
  it('looks again when a fifth is expected to be shut', () => {
    expect(at([[6, 0.1]]).monthsToNext).toBe(12);
    expect(at([[6, 0.4]])).toEqual({ monthsToNext: 3, reason: 'It shuts by 6.7 % a month: a fifth of it after 3.0 months.' });
    // least squares through the origin: (6 x 0.1 + 12 x 0.4) / (36 + 144) = 0.03 a month
    expect(at([[6, 0.1], [12, 0.4]]).monthsToNext).toBe(6.6); // prettier-ignore
    expect(at([[1, 1]]).monthsToNext).toBe(1);
    expect(at([[0, 0]]).monthsToNext).toBe(1);
  });
  it('is shortened by each use, once', () => {
    const plain = at([[6, 0]]).monthsToNext;
    const one = at([[6, 0]], ['pets']);
    expect(one.monthsToNext).toBeLessThan(plain);
    expect(at([[6, 0]], ['pets', 'pets']).monthsToNext).toBe(one.monthsToNext);
    expect(at([[6, 0]], ['pets', 'dust']).monthsToNext).toBeLessThan(one.monthsToNext);
    expect(at([[24, 0]], ['pets']).monthsToNext).toBeLessThan(24);
    expect(one.reason).toContain('pets make it shorter');
  });
  it('tells the next strip beside it, where the profile has one', () => {
    expect(at([], [], 30)).toMatchObject({ monthsToNext: 3, monthsToStrip: 30 });
    expect(at([], ['dust'], 30).monthsToStrip).toBe(25.5);
    expect(at([])).not.toHaveProperty('monthsToStrip');
  });
  it('refuses what cannot be', () => {
    expect(findInterval({ findings: [{ monthsSinceClean: -1, blockedShare: 0 }], uses: [] })).toMatchObject({ path: ['findings', 0, 'monthsSinceClean'] }); // prettier-ignore
    expect(findInterval({ findings: [{ monthsSinceClean: 1, blockedShare: 1.2 }], uses: [] })).toMatchObject({ path: ['findings', 0, 'blockedShare'] }); // prettier-ignore
  });
});

describe('findFlowByHeat', () => {
  it('is 100 m³/h for 630 W that warm the air by 18.8 K', () => {
    const found = value(findFlowByHeat({ ampere: 30, milliohm: 700, riseKelvin: 18.8 }));
    expect(found.watt).toBeCloseTo(630, 9);
    expect(found.cubicMetrePerHour).toBeCloseTo(100, 0);
  });
  it('tells the band that the thermometers leave, and no upper end where they cannot tell the rise from none', () => {
    const found = value(findFlowByHeat({ ampere: 30, milliohm: 700, riseKelvin: 5 }));
    expect(found.leastCubicMetrePerHour / found.cubicMetrePerHour).toBeCloseTo(5 / 6, 9);
    expect((found.mostCubicMetrePerHour ?? 0) / found.cubicMetrePerHour).toBeCloseTo(5 / 4, 9);
    expect(value(findFlowByHeat({ ampere: 30, milliohm: 700, riseKelvin: 1 })).mostCubicMetrePerHour).toBeNull();
  });
  it('is what a stack with that airflow warms its air by', () => {
    const { outletCelsius, airflowCubicMetrePerHour } = stack({ edgeShare: 0, blockedShare: 0.4 });
    const found = value(findFlowByHeat({ ampere: 30, milliohm: 700, riseKelvin: outletCelsius - 25 }));
    expect(found.cubicMetrePerHour).toBeCloseTo(airflowCubicMetrePerHour, 6);
  });
  it.each(['ampere', 'milliohm', 'riseKelvin', 'accuracyKelvin'])('refuses a %s below zero', (field) => {
    expect(findFlowByHeat({ ampere: 1, milliohm: 1, riseKelvin: 1, [field]: -1 })).toMatchObject({ kind: 'refused', path: [field] });
  });
});

// common practice, no source
describe('a fan on its bench', () => {
  it.each([
    [{ spins: false, noise: 'none', hasPlay: false, startVolt: null }, 'seized', false],
    [{ spins: true, noise: 'grinding', hasPlay: false, startVolt: null }, 'worn', false],
    [{ spins: true, noise: 'rough', hasPlay: false, startVolt: null }, 'worn', true],
    [{ spins: true, noise: 'none', hasPlay: true, startVolt: null }, 'worn', true],
    [{ spins: true, noise: 'none', hasPlay: false, startVolt: 7 }, 'worn', true],
    [{ spins: true, noise: 'none', hasPlay: false, startVolt: 3 }, 'free', true],
  ] as const)('by hand and ear, %#', (fan, verdict, isFit) => {
    expect(judgeBySound(fan)).toMatchObject({ verdict, isFit });
  });

  const points = (...rows: [number, number, number][]): FanPoint[] =>
    rows.map(([volt, ampere, cubicMetrePerHour]) => ({ volt, ampere, cubicMetrePerHour }));
  it.each([
    ['a healthy one', points([12, 1.4, 280], [4, 0.4, 90], [2, 0.2, 0]), 'free', true, 4],
    ['one that a later voltage starts', points([5, 0.5, 0], [8, 0.8, 190], [12, 1.4, 280]), 'worn', true, 8],
    ['a shut wheel', points([12, 1.2, 100], [6, 0.5, 50]), 'blocked', false, 6],
    ['a braked bearing', points([12, 2.6, 120]), 'worn', false, 12],
    ['one that stands', points([6, 1, 0], [12, 3.5, 0]), 'seized', false, null],
    ['one without current', points([12, 0, 0]), 'seized', false, null],
    // a fifth of the flow at half the voltage is two fifths of what it would move
    ['one that was turned up half', points([6, 0.6, 28]), 'blocked', false, 6],
    ['one that was turned up half and is well', points([6, 0.6, 140]), 'free', true, 6],
  ])('by its curve: %s', (_what, rows, verdict, isFit, startVolt) => {
    expect(judgeByCurve(rows, 280)).toMatchObject({ verdict, isFit, startVolt });
  });
  it('says nothing without a point', () => {
    expect(judgeByCurve([], 280)).toBeNull();
  });
});

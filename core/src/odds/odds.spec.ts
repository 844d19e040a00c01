import { createGenerator } from '../random/generator.ts';
import { weighSchools } from './money.ts';
import { orderChecks, type Check } from './triage.ts';

function value<T>(result: { kind: 'answer'; value: T } | { kind: 'refused'; message: string }): T {
  if (result.kind === 'refused') throw new Error(result.message);
  return result.value;
}

describe('the order of checks', () => {
  const checks: Check[] = [
    { id: 'fan', probability: 0.5, cost: 20 },
    { id: 'bar', probability: 0.2, cost: 5 },
    { id: 'wire', probability: 0.3, cost: 60 },
  ];
  it('is by probability for its cost; one cause: by hand 5 + 0.8 × 20 + 0.3 × 60 = 39', () => {
    expect(value(orderChecks(checks))).toEqual({ order: ['bar', 'fan', 'wire'], expectedCost: expect.closeTo(39, 12) as number });
  });
  it('of several causes costs all, and 5 + 0.8 × 20 + 0.8 × 0.5 × 60 = 45 to the first', () => {
    const found = value(orderChecks(checks, 'several'));
    expect(found.expectedCost).toBe(85);
    expect(found.expectedCostToFirst).toBeCloseTo(45, 12);
  });
  it('costs no more than any other order', () => {
    const random = createGenerator(4);
    const orders = (list: Check[]): Check[][] =>
      list.length < 2 ? [list] : list.flatMap((c, i) => orders([...list.slice(0, i), ...list.slice(i + 1)]).map((rest) => [c, ...rest]));
    const costOf = (list: Check[], isOne: boolean): number => {
      let [left, cost] = [1, 0];
      for (const c of list) {
        cost += c.cost * left;
        left = isOne ? left - c.probability : left * (1 - c.probability);
      }
      return cost;
    };
    for (let trial = 0; trial < 100; trial++) {
      const list = Array.from({ length: 5 }, (_, i) => ({ id: `c${i}`, probability: 0.2 * random.next(), cost: 10 * random.next() }));
      for (const causes of ['one', 'several'] as const) {
        const found = value(orderChecks(list, causes));
        const cost = causes === 'one' ? found.expectedCost : (found.expectedCostToFirst ?? 0);
        expect(cost).toBeLessThanOrEqual(Math.min(...orders(list).map((o) => costOf(o, causes === 'one'))) + 1e-9);
      }
    }
  });
  it('settles ties by id, what is free first and what cannot be last', () => {
    const of = (...list: [string, number, number][]) =>
      value(orderChecks(list.map(([id, probability, cost]) => ({ id, probability, cost })))).order;
    expect(of(['b', 0.3, 3], ['a', 0.1, 1])).toEqual(['a', 'b']);
    expect(of(['no', 0, 0], ['dear', 0.1, 100], ['free', 0.1, 0])).toEqual(['free', 'dear', 'no']);
    expect(of()).toEqual([]);
  });
  it('refuses probabilities of one cause beyond 1, and what cannot be', () => {
    const two = [{ id: 'a', probability: 0.7, cost: 1 }, { id: 'b', probability: 0.6, cost: 1 }]; // prettier-ignore
    expect(orderChecks(two)).toMatchObject({ kind: 'refused', path: ['checks'] });
    expect(orderChecks(two, 'several')).toMatchObject({ kind: 'answer' });
    expect(orderChecks([two[0] as Check, two[0] as Check])).toMatchObject({ path: ['checks', 1, 'id'] });
    expect(orderChecks([{ id: 'a', probability: 1.1, cost: 1 }])).toMatchObject({ path: ['checks', 0, 'probability'] });
    expect(orderChecks([{ id: 'a', probability: 0.1, cost: -1 }])).toMatchObject({ path: ['checks', 0, 'cost'] });
  });
});

describe('what a school costs', () => {
  const module = { ageMonth: 96, shape: 3, scaleMonth: 150 };
  it('is its price and its chance of coming back times what that costs', () => {
    // by hand: (108/150)³ - (96/150)³ = 0.373248 - 0.262144 = 0.111104; 1 - exp(-0.111104) = 0.10515
    const [found] = value(weighSchools([{ name: 'spot', priceNow: 400, modules: [module] }], 12, 600));
    expect(found?.comebackProbability).toBeCloseTo(0.10515, 5);
    expect(found?.expectedCost).toBeCloseTo(400 + 600 * 0.10515, 2);
  });
  it('counts every module, and not more than once for sure', () => {
    const one = value(weighSchools([{ name: 'a', priceNow: 0, modules: [module] }], 12, 1))[0]?.comebackProbability ?? 0;
    const many = value(weighSchools([{ name: 'a', priceNow: 0, modules: Array.from({ length: 28 }, () => module) }], 12, 1))[0];
    expect(many?.comebackProbability).toBeCloseTo(1 - (1 - one) ** 28, 12);
    expect(value(weighSchools([{ name: 'new', priceNow: 9, modules: [] }], 12, 600))[0]).toMatchObject({ comebackProbability: 0, expectedCost: 9 }); // prettier-ignore
  });
  it('of a shape of 1 forgets its age, and knows its own warranty', () => {
    const at = (ageMonth: number, own?: number) =>
      value(weighSchools([{ name: 'a', priceNow: 0, modules: [{ ageMonth, shape: 1, scaleMonth: 100 }], warrantyMonth: own }], 12, 1))[0]?.comebackProbability; // prettier-ignore
    expect(at(0)).toBeCloseTo(at(300) ?? 0, 12);
    expect(at(0, 36)).toBeCloseTo(1 - Math.exp(-0.36), 12);
    expect(at(0, 0)).toBe(0);
  });
  it('refuses what cannot be', () => {
    expect(weighSchools([], -1, 1)).toMatchObject({ path: ['warrantyMonth'] });
    expect(weighSchools([], 1, -1)).toMatchObject({ path: ['comebackCost'] });
    const bad = (over: object) => weighSchools([{ name: 'a', priceNow: 0, modules: [{ ...module, ...over }] }], 1, 1);
    expect(bad({ shape: 0 })).toMatchObject({ path: ['schools', 0, 'modules', 0, 'shape'] });
    expect(bad({ scaleMonth: 0 })).toMatchObject({ path: ['schools', 0, 'modules', 0, 'scaleMonth'] });
    expect(bad({ ageMonth: -1 })).toMatchObject({ path: ['schools', 0, 'modules', 0, 'ageMonth'] });
    expect(weighSchools([{ name: 'a', priceNow: 0, modules: [], warrantyMonth: -1 }], 1, 1)).toMatchObject({ path: ['schools', 0, 'warrantyMonth'] }); // prettier-ignore
  });
});

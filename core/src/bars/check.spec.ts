/**
 * Maps of bars: against Kirchhoff's laws, solved a second time by a plain slow relaxation that shares nothing with the product, and by
 * properties. Volts of archetype A are common practice, no source.
 */
import fc from 'fast-check';
import { checkBars, type Bar, type BarsAnswer, type BarsInput } from './check.ts';

const VOLT = 7.8;
const string = (count: number, over: Partial<BarsInput['modules'][number]>[] = []): BarsInput['modules'] =>
  Array.from({ length: count }, (_, i) => ({ position: i + 1, volt: VOLT, milliohm: 30, turned: false, ...over[i] }));
const mapOf = (count: number): Bar[] => Array.from({ length: count - 1 }, (_, i): Bar => [`${i + 1}+`, `${i + 2}-`]);
const ask = (over: Partial<BarsInput> & Pick<BarsInput, 'modules'>): BarsAnswer => {
  const count = over.modules.length;
  const answer = checkBars({ bars: mapOf(count), outputs: { positive: `${count}+`, negative: '1-' }, ...over });
  if (answer.kind === 'refused') throw new Error(answer.message);
  return answer.value;
};

describe('archetype A at 7.8 V', () => {
  const modules = string(28);
  const side = (odd: boolean): Bar[] => mapOf(28).filter((_, i) => (i % 2 === 0) === odd);
  it('stands at 218.4 V with every bar and the plug', () => {
    expect(ask({ modules })).toEqual({ outputVolt: expect.closeTo(218.4, 9), faults: [], channels: [] });
  });
  it('stands at 15.6 V at most with one side barred, and nothing joins its ends', () => {
    const { outputVolt, faults } = ask({ modules, bars: side(true) });
    expect(outputVolt).toBeNull();
    expect(faults).toHaveLength(13);
    expect(faults[0]).toEqual({ kind: 'open', posts: [], modules: [3, 4], ampere: null });
    const pair = ask({ modules, bars: side(true), outputs: { positive: '2+', negative: '1-' } });
    expect(pair.outputVolt).toBeCloseTo(15.6, 9);
  });
  it('stands at 109.2 V each half with the plug out', () => {
    const bars = mapOf(28).filter((_, i) => i !== 13);
    expect(ask({ modules, bars }).outputVolt).toBeNull();
    expect(ask({ modules, bars, outputs: { positive: '14+', negative: '1-' } }).outputVolt).toBeCloseTo(109.2, 9);
    expect(ask({ modules, bars, outputs: { positive: '28+', negative: '15-' } }).outputVolt).toBeCloseTo(109.2, 9);
  });
});

describe('a fault', () => {
  it('names a module turned end for end, and what is missing at the output', () => {
    const { outputVolt, faults } = ask({ modules: string(4, [{}, { turned: true }]) });
    expect(outputVolt).toBeCloseTo(2 * VOLT, 9);
    expect(faults).toEqual([{ kind: 'turned', posts: [], modules: [2], ampere: null }]);
  });
  it('names a bar laid across one module, with its current by Ohm', () => {
    const { faults } = ask({ modules: string(3), bars: [...mapOf(3), ['2-', '2+']], map: mapOf(3) });
    expect(faults).toEqual([{ kind: 'short', posts: ['2-', '2+'], modules: [2], ampere: expect.closeTo(260, 9) }]);
  });
  it('names a bar laid over two, whose ring both share', () => {
    const { faults } = ask({ modules: string(4), bars: [...mapOf(4), ['2-', '3+']], map: mapOf(4) });
    expect(faults).toEqual([{ kind: 'short', posts: ['2-', '3+'], modules: [2, 3], ampere: expect.closeTo(260, 9) }]);
  });
  it('tells two that lie alike side by side from a short: no current flows', () => {
    const bars: Bar[] = [
      ['1+', '2+'],
      ['1-', '2-'],
    ];
    const [fault] = ask({ modules: string(2), bars }).faults;
    expect(fault).toMatchObject({ kind: 'parallel', modules: [1, 2] });
    expect(fault?.ampere).toBeLessThan(1e-3);
    const [uneven] = ask({ modules: string(2, [{ volt: 7.9 }]), bars }).faults;
    expect(uneven).toMatchObject({ kind: 'short', modules: [1, 2], ampere: expect.closeTo(0.1 / 0.06, 9) });
  });
  it('names an output that stands the wrong way round', () => {
    const { outputVolt, faults } = ask({ modules: string(2), outputs: { positive: '1-', negative: '2+' } });
    expect(outputVolt).toBeCloseTo(-15.6, 9);
    expect(faults).toEqual([{ kind: 'reversedOutput', posts: ['1-', '2+'], modules: [], ampere: null }]);
  });
  it('keeps two rings apart that share one node', () => {
    const bars: Bar[] = [...mapOf(3), ['1-', '1+'], ['2-', '2+']];
    expect(ask({ modules: string(3), bars }).faults.map((f) => [f.kind, f.modules])).toEqual([
      ['short', [1]],
      ['short', [2]],
    ]);
  });
});

it('says what each sense channel will read', () => {
  const channels = [
    { id: 'a', upper: '2+', lower: '1-' },
    { id: 'b', upper: '4+', lower: '3-' },
    { id: 'c', upper: '3+', lower: '2-' },
  ];
  const bars = mapOf(4).filter((_, i) => i !== 1);
  const { channels: read } = ask({ modules: string(4, [{}, {}, { turned: true }]), bars, channels });
  expect(read).toEqual([
    { id: 'a', volt: expect.closeTo(15.6, 9) },
    { id: 'b', volt: 0 },
    { id: 'c', volt: null },
  ]);
});

it.each<[string, Partial<BarsInput>, (string | number)[]]>([
  ['a post that is not there', { bars: [['1+', '9-']] }, ['bars', 0, 1]],
  ['a name that is no post', { outputs: { positive: 'constructor', negative: '1-' } }, ['outputs', 'positive']],
  ['the other end that is not there', { outputs: { positive: '2+', negative: '3-' } }, ['outputs', 'negative']],
  [
    'a post of the map that is not there',
    {
      map: [
        ['1+', '2-'],
        ['2+', '3-'],
      ],
    },
    ['map', 1, 1],
  ],
  ['an upper post of a channel', { channels: [{ id: 'a', upper: '3+', lower: '1-' }] }, ['channels', 0, 'upper']],
  ['a lower post of a channel', { channels: [{ id: 'a', upper: '1+', lower: '3-' }] }, ['channels', 0, 'lower']],
  ['position 0', { modules: string(2, [{ position: 0 }]) }, ['modules', 0, 'position']],
  ['half a position', { modules: string(2, [{}, { position: 1.5 }]) }, ['modules', 1, 'position']],
  ['a position without end', { modules: string(2, [{}, { position: 2001 }]) }, ['modules', 1, 'position']],
  ['a position twice', { modules: [...string(2), ...string(1)] }, ['modules', 2, 'position']],
  ['no resistance', { modules: string(2, [{ milliohm: 0 }]) }, ['modules', 0, 'milliohm']],
  ['nothing', { modules: [] }, ['modules']],
])('refuses %s with its place', (_, over, path) => {
  expect(checkBars({ modules: string(2), bars: [], outputs: { positive: '2+', negative: '1-' }, ...over })).toMatchObject({
    kind: 'refused',
    path,
  });
});

it('takes what lies anywhere, in any order, and lists its faults by kind and place', () => {
  const modules = [2000, 7, 3].map((position) => ({ position, volt: VOLT, milliohm: 30, turned: position === 3 }));
  const bars: Bar[] = [['3-', '7-'], ['7-', '7+']]; // prettier-ignore
  const found = checkBars({ modules, bars, outputs: { positive: '7+', negative: '3-' } });
  const faults = found.kind === 'answer' ? found.value.faults.map((f) => [f.kind, f.modules]) : [];
  expect(faults).toEqual([
    ['short', [7]],
    ['open', [2000]],
    ['turned', [3]],
  ]);
});

/** Node voltages by letting every node relax to the mean of what its modules ask for, over and over: slow, plain, and apart. */
function relax({ modules, bars }: Pick<BarsInput, 'modules' | 'bars'>): { ampere: Map<number, number>; volt: (post: string) => number } {
  const name = new Map<string, string>();
  for (const { position } of modules) for (const s of ['-', '+']) name.set(`${position}${s}`, `${position}${s}`);
  for (let again = true; again;) {
    again = false;
    for (const [a, b] of bars) {
      const [x, y] = [name.get(a) as string, name.get(b) as string].sort() as [string, string];
      if (x === y) continue;
      for (const [post, node] of name) if (node === y) name.set(post, x);
      again = true;
    }
  }
  const at = new Map([...new Set(name.values())].map((n) => [n, 0]));
  const of = (post: string): number => at.get(name.get(post) as string) as number;
  const emf = (m: (typeof modules)[number]): number => (m.turned ? -m.volt : m.volt);
  for (let round = 0; round < 60_000; round++) {
    let moved = 0;
    for (const node of at.keys()) {
      let [sum, weight] = [0, 0];
      for (const m of modules) {
        const [minus, plus] = [name.get(`${m.position}-`), name.get(`${m.position}+`)];
        if (minus === plus) continue;
        const g = 1 / m.milliohm;
        if (plus === node) [sum, weight] = [sum + g * (of(`${m.position}-`) + emf(m)), weight + g];
        if (minus === node) [sum, weight] = [sum + g * (of(`${m.position}+`) - emf(m)), weight + g];
      }
      if (weight === 0) continue;
      moved = Math.max(moved, Math.abs(sum / weight - (at.get(node) as number)));
      at.set(node, sum / weight);
    }
    if (moved < 1e-13) break;
  }
  const ampere = modules.map((m): [number, number] => [m.position, (1000 * Math.abs(emf(m) - (of(`${m.position}+`) - of(`${m.position}-`)))) / m.milliohm]); // prettier-ignore
  return { ampere: new Map(ampere), volt: of };
}

const wrongBars = (count: number): fc.Arbitrary<Bar[]> => {
  const post = fc.tuple(fc.integer({ min: 1, max: count }), fc.constantFrom('+', '-')).map(([p, s]) => `${p}${s}`);
  return fc.array(fc.tuple(post, post), { maxLength: 3 });
};

it('agrees with the slow solution in every current and every output, on any map', () => {
  fc.assert(
    fc.property(
      fc.array(fc.record({ volt: fc.integer({ min: 6000, max: 9000 }), milliohm: fc.integer({ min: 10, max: 60 }), turned: fc.boolean() }), { minLength: 2, maxLength: 7 }), // prettier-ignore
      fc.array(fc.boolean(), { minLength: 6, maxLength: 6 }),
      wrongBars(7),
      (drawn, laid, wrong) => {
        const modules = drawn.map((m, i) => ({ position: i + 1, ...m, volt: m.volt / 1000 }));
        const there = ([a, b]: Bar): boolean => [a, b].every((p) => Number.parseInt(p, 10) <= modules.length);
        const bars = [...mapOf(modules.length).filter((_, i) => laid[i]), ...wrong.filter(there)];
        const answer = ask({ modules, bars });
        const truth = relax({ modules, bars });
        if (answer.outputVolt !== null) expect(answer.outputVolt).toBeCloseTo(truth.volt(`${modules.length}+`) - truth.volt('1-'), 5);
        const named = new Set<number>();
        for (const { kind, modules: of, ampere } of answer.faults) {
          if (kind !== 'short') continue;
          for (const p of of) named.add(p);
          expect(ampere).toBeCloseTo(Math.max(...of.map((p) => truth.ampere.get(p) as number)), 3);
        }
        for (const [position, ampere] of truth.ampere) if (ampere > 2e-3) expect(named).toContain(position);
        for (const position of named) expect(truth.ampere.get(position)).toBeGreaterThan(5e-4);
      },
    ),
    { numRuns: 150, seed: 4 },
  );
});

it('names any single wrong bar on a pack that is barred otherwise', () => {
  fc.assert(
    fc.property(fc.integer({ min: 3, max: 40 }), fc.nat(), fc.nat(), (count, x, y) => {
      const posts = Array.from({ length: 2 * count }, (_, i) => `${(i >> 1) + 1}${i % 2 ? '+' : '-'}`);
      const [a, b] = [posts[x % posts.length] as string, posts[y % posts.length] as string];
      const isRight = a === b || mapOf(count).some(([p, q]) => (p === a && q === b) || (p === b && q === a));
      const { faults } = ask({ modules: string(count), bars: [...mapOf(count), [a, b]], map: mapOf(count) });
      if (isRight) expect(faults).toEqual([]);
      else expect(faults).toEqual([expect.objectContaining({ kind: 'short', posts: expect.arrayContaining([a, b]) })]);
    }),
    { numRuns: 300 },
  );
});

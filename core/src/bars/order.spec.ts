import { createGenerator } from '../random/generator.ts';
import { orderBars, type BarsOrderInput } from './order.ts';

/** The line that people would see, written anew: the largest sum between two open links. */
function highest(volts: readonly number[], on: ReadonlySet<number>): number {
  let best = 0;
  for (let from = 0; from < volts.length; from++)
    for (let to = from, sum = 0; to < volts.length && (to === from || on.has(to)); to++) best = Math.max(best, (sum += volts[to] ?? 0));
  return best;
}

function* permute<T>(list: readonly T[]): Generator<T[]> {
  if (list.length === 0) yield [];
  for (const [i, one] of list.entries()) for (const rest of permute([...list.slice(0, i), ...list.slice(i + 1)])) yield [one, ...rest];
}

function weigh({ volts, limitVolt = 60, closed = [] }: BarsOrderInput, order: readonly { links: readonly number[] }[]) {
  const on = new Set(closed);
  const after = order.map(({ links }) => {
    for (const k of links) on.add(k);
    return highest(volts, on);
  });
  return { below: after.filter((v) => v < limitVolt - 1e-6).length, sum: after.reduce((a, b) => a + b, 0) };
}

const solve = (input: BarsOrderInput) => {
  const found = orderBars(input);
  if (found.kind === 'refused') throw new Error(found.message);
  return found.value;
};

it('finds no order worse than any other, weighed by trying all orders of small packs', () => {
  const random = createGenerator(13);
  for (let trial = 0; trial < 150; trial++) {
    const count = 3 + Math.floor(random.next() * 5);
    const volts = Array.from({ length: count }, () => Math.round(random.next() * 400) / 10);
    const links = Array.from({ length: count - 1 }, (_, i) => i + 1);
    const closed = links.filter(() => random.next() < 0.2);
    const acts: { id: string; links: number[] }[] = [];
    for (const k of links.filter((x) => !closed.includes(x)))
      if (acts.length > 0 && random.next() < 0.3) acts[Math.floor(random.next() * acts.length)]?.links.push(k);
      else acts.push({ id: String(k), links: [k] });
    const input = { volts, acts, closed, limitVolt: 60 };
    const found = solve(input);
    const own = weigh(input, found.order.map((id) => acts.find((a) => a.id === id) ?? { links: [] })); // prettier-ignore
    let best = { below: -1, sum: Infinity };
    for (const order of permute(acts)) {
      const w = weigh(input, order);
      if (w.below > best.below || (w.below === best.below && w.sum < best.sum)) best = w;
    }
    expect(own.below).toBe(best.below);
    expect(own.sum).toBeCloseTo(best.sum, 6);
    expect(found.proven).toBe(true);
  }
});

it('joins the halves last: eight modules of 7.8 V by single bars', () => {
  const acts = Array.from({ length: 7 }, (_, i) => ({ id: String(i + 1), links: [i + 1] }));
  const found = solve({ volts: Array.from({ length: 8 }, () => 7.8), acts });
  expect(found.order.at(-1)).toBe('4');
  expect(found.volts.at(-1)).toBeCloseTo(62.4, 9);
  expect(found.actsBelow).toBe(6);
});

it('takes frames whole: one side joins pairs, the other the halves (common practice, no source: 15.6 V, then 109.2 V a half)', () => {
  const odd = Array.from({ length: 14 }, (_, i) => 2 * i + 1);
  const even = Array.from({ length: 13 }, (_, i) => 2 * i + 2).filter((k) => k !== 14);
  const found = solve({ volts: Array.from({ length: 28 }, () => 7.8), acts: [{ id: 'cable', links: even }, { id: 'vent', links: odd }] }); // prettier-ignore
  expect(found.volts.map((v) => v.toFixed(1))).toEqual(['15.6', '109.2']);
});

it('says where it did not weigh every order', () => {
  const acts = Array.from({ length: 27 }, (_, i) => ({ id: String(i + 1), links: [i + 1] }));
  const found = solve({ volts: Array.from({ length: 28 }, () => 7.8), acts });
  expect(found.proven).toBe(false);
  expect([...found.order].sort((a, b) => Number(a) - Number(b))).toEqual(acts.map((a) => a.id));
  expect(found.volts.every((v, i) => i === 0 || v >= (found.volts[i - 1] ?? 0))).toBe(true);
  // pairs first: of 28 modules 14 joints leave none higher than two of them
  expect(found.volts.slice(0, 15).map((v) => v.toFixed(1))).toEqual([...Array.from({ length: 14 }, () => '15.6'), '31.2']);
});

it('weighs every order of up to fourteen acts', () => {
  const of = (count: number) => solve({ volts: Array.from({ length: count + 1 }, () => 5), acts: Array.from({ length: count }, (_, i) => ({ id: `${i}`, links: [i + 1] })) }); // prettier-ignore
  expect([14, 15].map((count) => of(count).proven)).toEqual([true, false]);
});

it('takes 200 modules and acts', () => {
  const volts = Array.from({ length: 200 }, () => 1);
  const acts = Array.from({ length: 200 }, (_, i) => ({ id: `${i}`, links: i === 0 ? [] : [i] }));
  expect(solve({ volts, acts }).order).toHaveLength(200);
});

it.each<[string, BarsOrderInput, object]>([
  ['one module', { volts: [8], acts: [] }, { code: 'empty' }],
  ['a link that is not there', { volts: [8, 8], acts: [{ id: 'a', links: [2] }] }, { code: 'impossible', path: ['acts', 0, 'links', 0] }],
  ['link 0', { volts: [8, 8], acts: [{ id: 'a', links: [0] }] }, { code: 'impossible', path: ['acts', 0, 'links', 0] }],
  ['half a link', { volts: [8, 8, 8], acts: [{ id: 'a', links: [1, 1.5] }] }, { code: 'impossible', path: ['acts', 0, 'links', 1] }],
  ['a link closed twice', { volts: [8, 8], acts: [{ id: 'a', links: [1] }], closed: [1] }, { code: 'mismatch', path: ['acts', 0, 'links', 0] }], // prettier-ignore
  ['acts without end', { volts: [8, 8], acts: Array.from({ length: 201 }, () => ({ id: 'a', links: [] })) }, { code: 'tooLarge', path: ['acts'] }], // prettier-ignore
  ['the first voltage below zero', { volts: [-8, 8], acts: [] }, { code: 'impossible', path: ['volts', 0], message: expect.stringContaining('Module 1 ') as string }], // prettier-ignore
  ['a voltage below zero', { volts: [8, -8], acts: [] }, { code: 'impossible', path: ['volts', 1] }],
  ['a string without end', { volts: Array.from({ length: 201 }, () => 1), acts: [] }, { code: 'tooLarge' }],
])('refuses %s', (_what, input, refusal) => {
  expect(orderBars(input)).toMatchObject({ kind: 'refused', ...refusal });
});

it('counts an act after which exactly the limit stands as one that reached it', () => {
  const found = orderBars({
    volts: [30, 30, 10],
    acts: [
      { id: '1', links: [1] },
      { id: '2', links: [2] },
    ],
    limitVolt: 60,
  });
  // 10 + 30 V first, then all of it
  expect(found).toMatchObject({ kind: 'answer', value: { volts: [40, 70], actsBelow: 1 } });
  const two = orderBars({ volts: [30, 30], acts: [{ id: '1', links: [1] }], limitVolt: 60 });
  expect(two).toMatchObject({ value: { volts: [60], actsBelow: 0 } });
});

import fc from 'fast-check';
import { findCuts, type Cuts, type CutsInput } from './cuts.ts';
import { listIslands } from './exposure.ts';

function cutsOf(input: CutsInput): Cuts {
  const found = findCuts(input);
  if (found.kind === 'refused') throw new Error(found.message);
  return found.value;
}

/** Every set of acts, fewest first, then lowest highest island, then lexicographic. */
function tryAll({ moduleVolts, limitVolt, fixedLinks = [], openLinks = [], groups = [] }: CutsInput): Cuts {
  const grouped = new Set(groups.flat());
  const acts: number[][] = groups.filter((g) => !g.some((k) => fixedLinks.includes(k) && !openLinks.includes(k))).map((g) => [...g]);
  for (let k = 1; k < moduleVolts.length; k++) if (!grouped.has(k) && !fixedLinks.includes(k) && !openLinks.includes(k)) acts.push([k]);
  const highest = (links: readonly number[]): number =>
    Math.max(...listIslands(moduleVolts, new Set([...openLinks, ...links])).map((i) => i.volt));
  let best: { links: number[]; acts: number; volt: number } | null = null;
  for (let set = 0; set < 1 << acts.length; set++) {
    const chosen = acts.filter((_, i) => set & (1 << i));
    const links = [...new Set(chosen.flat())].filter((k) => !openLinks.includes(k)).sort((a, b) => a - b);
    const useful = chosen.filter((g) => g.some((k) => !openLinks.includes(k))).length;
    if (useful !== chosen.length) continue;
    const volt = highest(links);
    if (volt > limitVolt + 1e-9) continue;
    const order = best
      ? chosen.length - best.acts || (Math.abs(volt - best.volt) < 1e-9 ? compare(links, best.links) : volt - best.volt)
      : -1;
    if (order < 0) best = { links, acts: chosen.length, volt };
  }
  return best ? { ...best, possible: true } : { links: null, acts: null, volt: highest(acts.flat()), possible: false };
}

function compare(a: readonly number[], b: readonly number[]): number {
  for (let i = 0; i < Math.min(a.length, b.length); i++) if (a[i] !== b[i]) return (a[i] as number) - (b[i] as number);
  return a.length - b.length;
}

describe('findCuts', () => {
  it('splits a string of 28 modules of 7.8 V to below 60 V by three links, evenly', () => {
    const found = cutsOf({ moduleVolts: Array<number>(28).fill(7.8), limitVolt: 60 });
    expect(found).toEqual({ links: [7, 14, 21], acts: 3, volt: expect.closeTo(54.6, 9), possible: true });
  });

  it('counts nothing where the limit is met already', () => {
    expect(cutsOf({ moduleVolts: [7, 7], limitVolt: 60 })).toMatchObject({ links: [], acts: 0, volt: 14 });
  });

  it('says the best that can be reached where it is impossible', () => {
    expect(cutsOf({ moduleVolts: [7, 7, 7], limitVolt: 10, fixedLinks: [2] })).toEqual({
      links: null,
      acts: null,
      volt: 14,
      possible: false,
    });
  });

  it('opens a group as one act', () => {
    const groups = [
      [1, 3, 5],
      [2, 4],
    ];
    expect(cutsOf({ moduleVolts: [7, 7, 7, 7, 7, 7], limitVolt: 15, groups })).toMatchObject({ links: [1, 3, 5], acts: 1, volt: 14 });
  });

  it('refuses groups that share a link', () => {
    expect(findCuts({ moduleVolts: [7, 7, 7], limitVolt: 8, groups: [[1], [1, 2]] })).toMatchObject({ kind: 'refused', code: 'mismatch' });
  });

  it('is the optimum of all sets of acts', () => {
    const inputs = fc.integer({ min: 2, max: 8 }).chain((count) => {
      const links = Array.from({ length: count - 1 }, (_, i) => i + 1);
      return fc.record({
        moduleVolts: fc.array(fc.integer({ min: 5, max: 9 }), { minLength: count, maxLength: count }),
        limitVolt: fc.integer({ min: 5, max: 40 }),
        fixedLinks: fc.subarray(links, { maxLength: Math.min(2, links.length) }),
        openLinks: fc.subarray(links, { maxLength: Math.min(2, links.length) }),
        groups: fc.subarray(links).map((g) => [g.filter((k) => k % 2 === 1), g.filter((k) => k % 2 === 0)].filter((x) => x.length > 0)),
      });
    });
    fc.assert(
      fc.property(inputs, (input) => {
        const fast = cutsOf(input);
        const slow = tryAll(input);
        expect({ ...fast, volt: 0 }).toEqual({ ...slow, volt: 0 });
        expect(fast.volt).toBeCloseTo(slow.volt, 9);
      }),
      { numRuns: 300 },
    );
  });
});

import fc from 'fast-check';
import { findExposure, type ExposureInput } from './exposure.ts';
import { postAt, postIndex } from './post.ts';

function exposureOf(input: ExposureInput) {
  const found = findExposure(input);
  if (found.kind === 'refused') throw new Error(found.message);
  return found.value;
}

describe('findExposure', () => {
  it('sums a closed string', () => {
    const found = exposureOf({ moduleVolts: [7, 8, 9], openLinks: [] });
    expect(found).toMatchObject({ volt: 24, between: ['3+', '1-'] });
  });

  it('takes the highest island of a parted string', () => {
    const found = exposureOf({ moduleVolts: [7, 8, 9], openLinks: [1], moduleMilliohms: [20, 25, 30] });
    expect(found).toMatchObject({
      volt: 17,
      between: ['3+', '2-'],
      islands: [
        { from: 1, to: 1, volt: 7 },
        { from: 2, to: 3, volt: 17 },
      ],
    });
    expect(found.islands[1]?.shortCircuitAmpere).toBeCloseTo(17_000 / 55, 9);
  });

  it('sees only what can be reached', () => {
    expect(exposureOf({ moduleVolts: [7, 8, 9], openLinks: [], reachable: ['1+', '3-'] })).toMatchObject({
      volt: 8,
      between: ['3-', '1+'],
    });
    expect(exposureOf({ moduleVolts: [7, 8, 9], openLinks: [1], reachable: ['1-', '3+'] })).toMatchObject({ volt: 0, between: null });
    expect(exposureOf({ moduleVolts: [7], openLinks: [], reachable: ['1+'] })).toMatchObject({ volt: 0, between: null });
  });

  it('joins islands by a tie: a charger of 20 V across the ends of a string open in the middle', () => {
    // 2+ is 20 V above 1-; 1+ at 7, 2- at 20 - 8 = 12
    const found = exposureOf({ moduleVolts: [7, 8], openLinks: [1], outsideVolt: 20 });
    expect(found).toMatchObject({ volt: 20, between: ['2+', '1-'] });
  });

  it('lets the larger value win where a source lies across a closed string', () => {
    expect(exposureOf({ moduleVolts: [7, 8], openLinks: [], outsideVolt: 20 }).volt).toBe(20);
    expect(exposureOf({ moduleVolts: [7, 8], openLinks: [], outsideVolt: 10 }).volt).toBe(15);
  });

  it('names the lowest positions on a tie', () => {
    expect(exposureOf({ moduleVolts: [8, 8], openLinks: [1] }).between).toEqual(['1+', '1-']);
  });

  it('counts a reversed module by the greatest difference of any two posts', () => {
    expect(exposureOf({ moduleVolts: [7, -3, 8], openLinks: [] })).toMatchObject({ volt: 12 });
  });

  it('gives the worst short over any run of modules, not the whole string', () => {
    const found = exposureOf({ moduleVolts: [8, 8, 8], openLinks: [], moduleMilliohms: [40, 20, 40] });
    expect(found.worstShort).toEqual({ from: 2, to: 2, ampere: 400 });
    expect(exposureOf({ moduleVolts: [8], openLinks: [], moduleMilliohms: [null] }).worstShort).toBeNull();
  });

  it.each([
    [{ moduleVolts: [], openLinks: [] }, 'empty', ['moduleVolts']],
    [{ moduleVolts: [7, 7], openLinks: [2] }, 'unknownName', ['openLinks', 0]],
    [{ moduleVolts: [7, 7], openLinks: [], reachable: ['3+'] }, 'unknownName', ['reachable', 0]],
    [{ moduleVolts: [7, 7], openLinks: [], moduleMilliohms: [20] }, 'mismatch', ['moduleMilliohms']],
    [{ moduleVolts: [7], openLinks: [], ties: [{ a: '1+', b: '9-', volt: 1 }] }, 'unknownName', ['ties', 0, 'b']],
  ] as const)('refuses %j', (input, code, path) => {
    expect(findExposure(input as unknown as ExposureInput)).toMatchObject({ kind: 'refused', code, path });
  });

  it('agrees with a slow search over the graph of posts', () => {
    const strings = fc.integer({ min: 1, max: 9 }).chain((count) =>
      fc.record({
        moduleVolts: fc.array(fc.integer({ min: -5, max: 10 }), { minLength: count, maxLength: count }),
        openLinks: fc.subarray(Array.from({ length: count - 1 }, (_, i) => i + 1)),
        reachable: fc.subarray(Array.from({ length: 2 * count }, (_, i) => postAt(i))),
      }),
    );
    fc.assert(
      fc.property(strings, (input) => expect(exposureOf(input).volt).toBeCloseTo(searchSlowly(input), 9)),
      { numRuns: 400 },
    );
  });
});

/** Walks from every reachable post over modules and closed links, and takes the greatest difference met. */
function searchSlowly({ moduleVolts, openLinks, reachable }: { moduleVolts: number[]; openLinks: number[]; reachable: string[] }): number {
  const count = moduleVolts.length;
  const edges: { to: number; volt: number }[][] = Array.from({ length: 2 * count }, () => []);
  const join = (a: number, b: number, volt: number): void => {
    edges[a]?.push({ to: b, volt });
    edges[b]?.push({ to: a, volt: -volt });
  };
  moduleVolts.forEach((v, i) => join(postIndex(i + 1, '-'), postIndex(i + 1, '+'), v));
  for (let k = 1; k < count; k++) if (!openLinks.includes(k)) join(postIndex(k, '+'), postIndex(k + 1, '-'), 0);
  const wanted = new Set(reachable);
  let widest = 0;
  for (let start = 0; start < 2 * count; start++) {
    if (!wanted.has(postAt(start))) continue;
    const at = new Map([[start, 0]]);
    const queue = [start];
    for (let post = queue.pop(); post !== undefined; post = queue.pop())
      for (const { to, volt } of edges[post] ?? [])
        if (!at.has(to)) {
          at.set(to, (at.get(post) ?? 0) + volt);
          queue.push(to);
        }
    for (const [post, volt] of at) if (wanted.has(postAt(post))) widest = Math.max(widest, Math.abs(volt));
  }
  return widest;
}

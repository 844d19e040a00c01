/**
 * Sources: modified z and its 3.5, Iglewicz and Hoaglin 1993, as in the NIST/SEMATECH e-Handbook, 1.3.5.17 (from memory). Floors, 2.5 for
 * watching, the dead cell and that one voltage alone condemns nothing: common practice, no source.
 */
import {
  DEFAULT_LIMITS,
  figureFloor,
  figureFormat,
  isAgainst,
  judgeModules,
  sentencesAgainst,
  type Figure,
  type ModuleFigures,
  type VerdictLimits,
} from './verdict.ts';

function crowd(figure: Figure, values: readonly number[]): ModuleFigures[] {
  return values.map((value, i) => ({ place: i + 1, figures: { [figure]: value } }));
}
function verdicts(figure: Figure, values: readonly number[], limits: VerdictLimits = DEFAULT_LIMITS): string[] {
  return judgeModules(crowd(figure, values), 'nimh', limits).map((v) => v.verdict);
}

const DROPS = [20, 21, 22, 20, 21, 23, 19, 21, 22];

it('says of a module with a dead cell that it is rejected, and not on the same card that one voltage rejects nothing', () => {
  const [dead] = judgeModules(
    crowd('openCircuitVolt', [6.4, ...Array.from({ length: 11 }, (_, i) => 7.8 + (i % 3) / 100)]),
    'nimh',
    DEFAULT_LIMITS,
  );
  expect(dead?.verdict).toBe('reject');
  const said = (dead?.reasons ?? []).map((r) => r.sentence).join(' ');
  expect(said).toMatch(/one cell is dead/);
  expect(said).toMatch(/Modified z/);
  expect(said).not.toMatch(/rejects nothing/);
  const [weak] = judgeModules(
    crowd('openCircuitVolt', [7.5, ...Array.from({ length: 11 }, (_, i) => 7.8 + (i % 3) / 100)]),
    'nimh',
    DEFAULT_LIMITS,
  );
  expect(sentencesAgainst(weak ?? { reasons: [] }).join(' ')).toMatch(/rejects nothing/);
});

describe('judgeModules', () => {
  it('rejects a drop beyond the crowd, with the sentence and the numbers behind it', () => {
    const judged = judgeModules(crowd('restDropMillivolt', [...DROPS, 312]), 'nimh', DEFAULT_LIMITS);
    const last = judged.at(-1);
    expect(last?.verdict).toBe('reject');
    expect(last?.reasons[0]).toMatchObject({ figure: 'restDropMillivolt', rule: 'crowd', value: 312, median: 21, limit: 3.5 });
    expect(last?.reasons[0]?.sentence).toMatch(/^At rest it lost 312 mV; the others 21 mV\. Modified z \d+\.\d, limit 3\.5\.$/);
  });

  it('counts by the modified z of the handbook: 0.6745 (x - median) / MAD', () => {
    // median 14, MAD 2: 0.6745 x 26 / 2
    const judged = judgeModules(crowd('restDropMillivolt', [10, 11, 12, 13, 14, 15, 16, 17, 40]), 'nimh', DEFAULT_LIMITS);
    expect(judged.at(-1)?.reasons[0]?.modifiedZ).toBeCloseTo(8.7685, 3);
    expect(judged[7]?.reasons[0]?.modifiedZ).toBeCloseTo(1.01175, 3);
  });

  it('is one-sided: a smaller drop is no fault but a reading to check', () => {
    const judged = judgeModules(crowd('restDropMillivolt', [...DROPS, -200]), 'nimh', DEFAULT_LIMITS);
    expect(judged.at(-1)?.verdict).toBe('keep');
    expect(judged.at(-1)?.notes[0]?.sentence).toContain('check the reading');
  });

  it('lets differences up to the floor pass, whatever their z', () => {
    expect(verdicts('restDropMillivolt', [...DROPS, 36]).at(-1)).toBe('keep'); // 15 mV above 21, the floor itself
    expect(verdicts('restDropMillivolt', [...DROPS, 37]).at(-1)).toBe('reject');
  });

  it('makes suspect by open-circuit voltage alone, rejects by it only where the shop says so or a cell is dead', () => {
    const volts = [7.85, 7.851, 7.849, 7.85, 7.852, 7.848, 7.85, 7.851, 7.6];
    const [last] = judgeModules(crowd('openCircuitVolt', volts), 'nimh', DEFAULT_LIMITS).slice(-1);
    expect(last).toMatchObject({ verdict: 'watch', reasons: [{ rule: 'crowd', limit: 2.5 }] });
    expect(last?.reasons[0]?.sentence).toMatch(/One voltage alone rejects nothing/);
    expect(verdicts('openCircuitVolt', volts, { ...DEFAULT_LIMITS, openCircuitRejectZ: 6 }).at(-1)).toBe('reject');
    expect(verdicts('openCircuitVolt', [...volts.slice(0, 8), 6.6]).at(-1)).toBe('reject');
    const confirmed = volts.map((v, i) => ({ place: i + 1, figures: { openCircuitVolt: v, restDropMillivolt: v < 7.7 ? 300 : 20 + i } }));
    expect(judgeModules(confirmed, 'nimh', DEFAULT_LIMITS).at(-1)).toMatchObject({ verdict: 'reject', reasons: [{ verdict: 'reject' }, { verdict: 'watch' }] }); // prettier-ignore
    expect(sentencesAgainst(judgeModules(confirmed, 'nimh', DEFAULT_LIMITS).at(-1) ?? { reasons: [] })).toHaveLength(2);
  });

  it('does not judge a crowd of fewer than eight', () => {
    expect(verdicts('capacityAh', [5, 5, 5, 5, 5, 5, 1])).toEqual(Array(7).fill('unknown'));
  });

  it('finds a dead cell in any crowd of three: more than 0.8 of 1.2 V below', () => {
    expect(verdicts('openCircuitVolt', [7.85, 7.86, 6.63])).toEqual(['unknown', 'unknown', 'reject']);
    expect(verdicts('openCircuitVolt', [7.85, 7.86, 6.91])).toEqual(['unknown', 'unknown', 'unknown']);
  });

  it('applies hard limits at any crowd size, worst reason first', () => {
    const limits = { ...DEFAULT_LIMITS, minCapacityAh: 4 };
    const judged = judgeModules(crowd('capacityAh', [3.9]), 'nimh', limits);
    expect(judged[0]).toMatchObject({ verdict: 'reject', reasons: [{ rule: 'hardLimit', limit: 4 }] });
  });

  it('keeps every reason of a module that fails twice', () => {
    const modules = DROPS.map((drop, i) => ({ place: i + 1, figures: { restDropMillivolt: drop, loadDropMillivolt: 500 + drop } }));
    modules.push({ place: 10, figures: { restDropMillivolt: 300, loadDropMillivolt: 900 } });
    const last = judgeModules(modules, 'nimh', DEFAULT_LIMITS).at(-1);
    expect(last?.reasons.filter((r) => r.verdict === 'reject').map((r) => r.figure)).toEqual(['restDropMillivolt', 'loadDropMillivolt']);
  });
});

describe('limits of a shop', () => {
  const limits = { ...DEFAULT_LIMITS, minCapacityAh: 4, maxRestDropMillivolt: 50, maxResistanceMilliohm: 40, minOpenCircuitVolt: 7 };
  it.each([
    ['capacityAh', 4, 3.99, 'below'],
    ['restDropMillivolt', 50, 50.1, 'above'],
    ['resistanceMilliohm', 40, 40.1, 'above'],
    ['openCircuitVolt', 7, 6.99, 'below'],
  ] as const)('%s may lie on its limit of %d, and is rejected %d', (figure, on, beyond, side) => {
    expect(judgeModules(crowd(figure, [on]), 'nimh', limits)[0]).toMatchObject({ verdict: 'unknown', reasons: [] });
    expect(judgeModules(crowd(figure, [beyond]), 'nimh', limits)[0]?.reasons).toEqual([
      expect.objectContaining({
        rule: 'hardLimit',
        limit: on,
        value: beyond,
        sentence: expect.stringContaining(`, ${side} the shop's limit of`),
      }),
    ]);
  });
  it('floors of resistance and capacity are shares of the middle, the others steps of their unit', () => {
    expect(figureFloor('resistanceMilliohm', DEFAULT_LIMITS, 25)).toBeCloseTo(DEFAULT_LIMITS.floorResistanceShare * 25, 12);
    expect(figureFloor('capacityAh', DEFAULT_LIMITS, 6)).toBeCloseTo(DEFAULT_LIMITS.floorCapacityShare * 6, 12);
    expect(figureFloor('openCircuitVolt', DEFAULT_LIMITS, 8)).toBe(DEFAULT_LIMITS.floorOpenCircuitMillivolt / 1000);
    expect(figureFormat('capacityAh')).toEqual({ unit: 'Ah', digits: 2 });
  });
  it('rejects and watches from their z on', () => {
    const at = (z: number) => verdicts('restDropMillivolt', [0, 0, 0, 100, 100, 200, 200, 200, 100 + (z * 100) / 0.6745]).at(-1);
    expect([2.4, 2.51, 3.4, 3.51].map(at)).toEqual(['keep', 'watch', 'watch', 'reject']);
  });
});

describe('a crowd', () => {
  it('is eight readings, of whatever modules have them', () => {
    expect(verdicts('restDropMillivolt', [20, 21, 20, 21, 20, 21, 20, 300]).at(-1)).toBe('reject');
    const gapped = [...crowd('restDropMillivolt', [20, 21, 20, 21, 20, 21, 300]), { place: 8, figures: {} }];
    expect(judgeModules(gapped, 'nimh', DEFAULT_LIMITS).map((v) => v.verdict)).toEqual(Array(8).fill('unknown'));
  });
  it('notes what is too good and no fault, and only that', () => {
    const judged = judgeModules(crowd('capacityAh', [5, 5.05, 5.1, 5, 5.05, 5.1, 5, 5.05, 6.5]), 'nimh', DEFAULT_LIMITS);
    expect(judged.map((v) => v.notes.length)).toEqual([0, 0, 0, 0, 0, 0, 0, 0, 1]);
    expect(judged.at(-1)?.reasons.map((r) => r.rule)).toEqual(['crowd']);
    expect(judged[0]?.reasons[0]?.sentence).toBe('It gave 5.00 Ah; the others 5.05 Ah.');
  });
  it('puts the worst reason first and says only what speaks against', () => {
    const modules = DROPS.map((drop, i) => ({ place: i + 1, figures: { restDropMillivolt: drop, loadDropMillivolt: 500 + drop } }));
    modules.push({ place: 10, figures: { restDropMillivolt: 21, loadDropMillivolt: 900 } });
    const last = judgeModules(modules, 'nimh', DEFAULT_LIMITS).at(-1);
    expect(last?.reasons.map((r) => [r.figure, r.verdict])).toEqual([
      ['loadDropMillivolt', 'reject'],
      ['restDropMillivolt', 'keep'],
    ]);
    expect(sentencesAgainst(last ?? { reasons: [] })).toHaveLength(1);
    expect(['reject', 'watch', 'keep', 'unknown'].map((v) => isAgainst(v as 'keep'))).toEqual([true, true, false, false]);
  });
  it('hands each module the doubts that name it', () => {
    const doubt = { kind: 'repeatedValue', places: [2, 3], sentence: 'Was one value kept more than once?' } as const;
    const judged = judgeModules(crowd('restDropMillivolt', [20, 21, 22]), 'nimh', DEFAULT_LIMITS, [doubt]);
    expect(judged.map((v) => v.doubts.length)).toEqual([0, 1, 1]);
  });
  it('takes a finer step of the instrument for its word, and a coarser one too', () => {
    const drops = [20, 20, 20, 20, 20, 20, 20, 20, 37];
    const z = (resolution: number) =>
      judgeModules(crowd('restDropMillivolt', drops), 'nimh', DEFAULT_LIMITS, [], { restDropMillivolt: resolution }).at(-1);
    expect(z(1)?.verdict).toBe('reject');
    expect(z(10)?.verdict).toBe('keep');
  });
});

describe('a dead cell', () => {
  const volts = [7.85, 7.85, 7.85];
  const last = (volt: number) => judgeModules(crowd('openCircuitVolt', [...volts, volt]), 'nimh', DEFAULT_LIMITS).at(-1)?.reasons[0];
  it('is one from 0.8 of a cell below, and two from one and a half', () => {
    expect(last(7.85 - 0.97)).toMatchObject({
      rule: 'deadCell',
      sentence: expect.stringContaining('0.97 V below the others (7.850 V): one cell is dead.'),
    });
    expect(last(7.85 - 2.3)?.sentence).toContain('2 cells are dead.');
    expect(last(7.85 - 0.95)).toBeUndefined();
    expect(last(7.85 + 2.3)).toBeUndefined();
    expect(last(7.85 - 0.97)).toMatchObject({ limit: expect.closeTo(0.96, 9), unit: 'V', median: expect.closeTo(7.85, 9) });
  });
  it('needs three modules to be told by', () => {
    expect(verdicts('openCircuitVolt', [7.85, 5])).toEqual(['unknown', 'unknown']);
  });
});

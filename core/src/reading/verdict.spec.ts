/**
 * Sources: modified z and its 3.5, Iglewicz and Hoaglin 1993, as in the NIST/SEMATECH e-Handbook, 1.3.5.17 (from memory). Floors, 2.5 for
 * watching, the dead cell and that one voltage alone condemns nothing: common practice, no source.
 */
import { DEFAULT_LIMITS, judgeModules, sentencesAgainst, type Figure, type ModuleFigures, type VerdictLimits } from './verdict.ts';

function crowd(figure: Figure, values: readonly number[]): ModuleFigures[] {
  return values.map((value, i) => ({ place: i + 1, figures: { [figure]: value } }));
}
function verdicts(figure: Figure, values: readonly number[], limits: VerdictLimits = DEFAULT_LIMITS): string[] {
  return judgeModules(crowd(figure, values), 'nimh', limits).map((v) => v.verdict);
}

const DROPS = [20, 21, 22, 20, 21, 23, 19, 21, 22];

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

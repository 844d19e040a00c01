/** Doubts and their thresholds: common practice, no source; the rows are made up by hand so that one thing is wrong with each. */
import { doubtAgainst, doubtSweep } from './doubt.ts';

const row = (values: readonly number[]): Map<number, number> => new Map(values.map((v, i) => [i + 1, v]));
const BEFORE = [7.845, 7.861, 7.832, 7.878, 7.891, 7.852, 7.867, 7.839, 7.902, 7.857];
const after = (values: readonly number[]): number[] => values.map((v, i) => Number((v - 0.02 - 0.001 * (i % 2)).toFixed(3)));

describe('doubtSweep', () => {
  it('asks about a value that repeats, and doubts the meter when it goes on', () => {
    expect(doubtSweep(row([7.8, 7.81, 7.81, 7.81, 7.79]))).toMatchObject([{ kind: 'repeatedValue', places: [2, 3, 4] }]);
    expect(doubtSweep(row([7.8, 7.81, 7.81, 7.81, 7.81, 7.81]))).toMatchObject([{ kind: 'stuckMeter', places: [2, 3, 4, 5, 6] }]);
  });
  it('says nothing of a gap between equal values', () => {
    expect(
      doubtSweep(
        new Map([
          [1, 7.8],
          [2, 7.8],
          [4, 7.8],
        ]),
      ),
    ).toEqual([]);
  });
});

describe('doubtAgainst', () => {
  it('is silent on a clean pair of sweeps', () => {
    expect(doubtAgainst(row(BEFORE), row(after(BEFORE)), 0.001)).toEqual([]);
  });
  it('finds two neighbours written into each other', () => {
    const rested = after(BEFORE);
    [rested[3], rested[4]] = [rested[4] as number, rested[3] as number];
    expect(doubtAgainst(row(BEFORE), row(rested), 0.001)).toMatchObject([{ kind: 'swappedNeighbours', places: [4, 5] }]);
  });
  it('finds a row that slipped by one', () => {
    const rested = after(BEFORE);
    const slipped = [...rested.slice(0, 2), ...rested.slice(3), 7.84];
    const doubts = doubtAgainst(row(BEFORE), row(slipped), 0.001);
    expect(doubts[0]).toMatchObject({ kind: 'rowShifted' });
  });
});

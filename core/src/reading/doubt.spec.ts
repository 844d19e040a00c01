/** Doubts and their thresholds: common practice, no source; the rows are made up by hand so that one thing is wrong with each. */
import { doubtAgainst, doubtLoad, doubtSweep, doubtUnlikely } from './doubt.ts';

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

describe('doubtSweep, of any order', () => {
  it('goes by place, not by when a value was read, and asks for as many as it is told to', () => {
    const mixed = new Map([3, 1, 2, 11, 10].map((place) => [place, place < 5 ? 7.81 : 7.7] as const));
    expect(doubtSweep(mixed)).toEqual([
      { kind: 'repeatedValue', places: [1, 2, 3], sentence: expect.stringContaining('Modules 1 to 3 all read 7.81.') },
    ]);
    expect(doubtSweep(mixed, 2).map((d) => d.places)).toEqual([
      [1, 2, 3],
      [10, 11],
    ]);
    expect(doubtSweep(row([7.8, 7.81]), 1)).toHaveLength(2);
    expect(doubtSweep(new Map())).toEqual([]);
    expect(doubtSweep(new Map(), 0)).toEqual([]);
  });
  it('calls four of one value repeated, and five a meter that stands still', () => {
    expect(doubtSweep(row([7.8, 7.8, 7.8, 7.8]))).toMatchObject([{ kind: 'repeatedValue' }]);
    expect(doubtSweep(row([7.8, 7.8, 7.8, 7.8, 7.8]))).toMatchObject([{ kind: 'stuckMeter', places: [1, 2, 3, 4, 5] }]);
  });
});

describe('doubtLoad', () => {
  it('doubts a voltage that rises when the load comes on, by more than the meter tells apart', () => {
    const before = row([7.8, 7.8, 7.8]);
    expect(doubtLoad(before, row([7.5, 7.801, 7.802]), 0.001)).toEqual([
      { kind: 'risesUnderLoad', places: [3], sentence: expect.stringMatching(/^Module 3 reads 7\.802 V under load and 7\.8 V without/) },
    ]);
    expect(doubtLoad(before, row([7.8, 7.8, 7.8]), 0)).toEqual([]);
    expect(doubtLoad(new Map(), row([9]), 0.001)).toEqual([]);
  });
});

describe('doubtUnlikely', () => {
  const type = { nominalVolt: 7.2, maximumModuleVolt: 9.6, nominalCapacityAh: 6.5, typicalMilliohm: 25 };
  it('names every value that such a module seldom has, with its place', () => {
    const found = doubtUnlikely({ openCircuitVolt: row([7.8, 0.9]), capacityAh: row([6.1, 6.2, 65]) }, type);
    expect(found.map((d) => [d.kind, d.places])).toEqual([
      ['unlikelyValue', [2]],
      ['unlikelyValue', [3]],
    ]);
    expect(found[1]?.sentence).toMatch(/^Module 3: 65 Ah/);
    expect(doubtUnlikely({ openCircuitVolt: row([7.8]) }, type)).toEqual([]);
  });
});

describe('doubtAgainst', () => {
  it('says nothing of fewer than six modules, and of places that stand in one row only', () => {
    const rested = after(BEFORE);
    [rested[1], rested[2]] = [rested[2] as number, rested[1] as number];
    const [five, six] = [5, 6].map((n) => doubtAgainst(row(BEFORE.slice(0, n)), row(rested.slice(0, n)), 0.001));
    expect([five, six?.map((d) => d.places)]).toEqual([[], [[2, 3]]]);
    const gapped = new Map([...row(BEFORE)].filter(([place]) => place !== 3));
    expect(doubtAgainst(gapped, row(rested), 0.001)).toEqual([]);
  });
  it('goes by place, in whatever order the readings came', () => {
    const rested = after(BEFORE);
    [rested[3], rested[4]] = [rested[4] as number, rested[3] as number];
    const mixed = new Map([...row(rested)].reverse());
    expect(doubtAgainst(new Map([...row(BEFORE)].sort(([a], [b]) => String(a).localeCompare(String(b)))), mixed, 0.001)).toMatchObject([
      { places: [4, 5] },
    ]);
    const slipped = [...after(BEFORE).slice(1), 7.84];
    expect(doubtAgainst(row(BEFORE), new Map([...row(slipped)].reverse()), 0.001)[0]).toMatchObject({
      kind: 'rowShifted',
      slip: 1,
      places: [1, 2, 3, 4, 5, 6, 7, 8, 9],
    });
  });
  it('takes two neighbours that lost too much for two bad modules, not for two that were exchanged', () => {
    const rested = after(BEFORE);
    rested[3] = (rested[3] as number) - 0.3;
    rested[4] = (rested[4] as number) - 0.3;
    expect(doubtAgainst(row(BEFORE), row(rested), 0.001)).toEqual([]);
    // one lost much, its neighbour nothing: crosswise they fit no better
    const one = after(BEFORE);
    one[3] = (one[3] as number) - 0.3;
    expect(doubtAgainst(row(BEFORE), row(one), 0.001)).toEqual([]);
  });
  it('says which way a row slipped, and from where', () => {
    const rested = after(BEFORE);
    const doubled = [...rested.slice(0, 3), rested[2] as number, ...rested.slice(3, 9)];
    const [found] = doubtAgainst(row(BEFORE), row(doubled), 0.001);
    expect(found).toMatchObject({ kind: 'rowShifted', slip: -1, places: [4, 5, 6, 7, 8, 9, 10] });
    expect(found?.sentence).toContain('From module 4 on the readings fit the former module');
    const left = [...rested.slice(0, 2), ...rested.slice(3), 7.84];
    expect(doubtAgainst(row(BEFORE), row(left), 0.001)[0]?.sentence).toContain('From module 3 on the readings fit the next module');
  });
  it('says nothing of a slip where the modules are so alike that the meter does not tell them apart', () => {
    const alike = [7.8, 7.802, 7.8, 7.801, 7.8, 7.802, 7.801, 7.8, 7.802, 7.8];
    expect(doubtAgainst(row(alike), row([...alike.slice(1), 7.8]), 0.001)).toEqual([]);
  });
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

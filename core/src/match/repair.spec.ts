/** Spot repair: common practice, no source. Its answers are held against every way to place the replacements, tried one by one. */
import { repairStack, type PlacedModule, type Repair, type RepairInput } from './repair.ts';
import { planSchool, type SchoolInput } from './schools.ts';

const placed = (place: number, capacityAh: number, resistanceMilliohm = 25): PlacedModule => ({
  id: `p${place}`,
  place,
  capacityAh,
  resistanceMilliohm,
  ocvVolt: 7.8,
});
const survivors = [placed(1, 5.5), placed(2, 5.6), placed(3, 5.7), placed(5, 5.5), placed(6, 5.6)];
const rejects = [placed(4, 3)];
const shelf = [
  { id: 's1', capacityAh: 6.4, resistanceMilliohm: 25, ocvVolt: 7.8 },
  { id: 's2', capacityAh: 5.6, resistanceMilliohm: 25, ocvVolt: 7.8 },
  { id: 's3', capacityAh: 5.6, resistanceMilliohm: null },
];
const base: RepairInput = { survivors, rejects, shelf, blockSizes: [2, 2, 2] };

function repairOf(input: RepairInput): Repair {
  const found = repairStack(input);
  if (found.kind === 'refused') throw new Error(found.message);
  return found.value;
}

describe('repairStack', () => {
  it('takes the shelf module closest to the survivors and leaves them where they are', () => {
    const found = repairOf(base);
    expect(found.replacements).toEqual([{ place: 4, id: 's2' }]);
    expect(found.moved).toEqual([]);
    expect(found.excluded).toEqual([{ id: 's3', reasons: ['missing'] }]);
    expect(found.blocks).toEqual([
      ['p1', 'p2'],
      ['p3', 's2'],
      ['p5', 'p6'],
    ]);
    expect(found.rangeAh).toBeCloseTo(0.1, 9);
  });

  it('re-orders everything when asked, to a range that is not larger', () => {
    const found = repairOf({ ...base, reorder: true });
    expect(found.rangeAh).toBeLessThanOrEqual(0.1 + 1e-9);
    expect([...found.blocks.flat()].sort()).toEqual(['p1', 'p2', 'p3', 'p5', 'p6', 's2']);
    for (const { id, from, to } of found.moved) {
      expect(`p${from}`).toBe(id);
      expect(found.blocks.flat()[to - 1]).toBe(id);
    }
  });

  it('places several replacements as well as trying every way', () => {
    const two = { ...base, survivors: survivors.slice(0, 3).concat(placed(6, 5.9)), rejects: [placed(4, 3), placed(5, 3)] };
    const found = repairOf({ ...two, shelf: shelf.slice(0, 2) });
    const ranges = [
      [5.6, 6.4],
      [6.4, 5.6],
    ].map(([a, b]) => {
      const means = [(5.5 + 5.6) / 2, (5.7 + (a as number)) / 2, ((b as number) + 5.9) / 2];
      return Math.max(...means) - Math.min(...means);
    });
    expect(found.rangeAh).toBeCloseTo(Math.min(...ranges), 9);
  });

  it('calls a placing proven only where every way was weighed', () => {
    const many = (count: number) => ({
      survivors: Array.from({ length: count }, (_, i) => placed(2 * i + 1, 5 + i / 50)),
      rejects: Array.from({ length: count }, (_, i) => placed(2 * i + 2, 3)),
      shelf: Array.from({ length: count }, (_, i) => ({ id: `s${i}`, capacityAh: 5 + i / 30, resistanceMilliohm: 25 })),
      blockSizes: Array<number>(count).fill(2),
    });
    expect(repairOf(many(4))).toMatchObject({ proven: true, shortfall: 0 });
    const wide = repairOf(many(8));
    expect(wide).toMatchObject({ proven: false, lowerBoundAh: 0, shortfall: 0 });
    expect(wide.rangeAh).toBeGreaterThan(0);
  });

  it('says how many the shelf is short of', () => {
    expect(repairOf({ ...base, shelf: [] })).toMatchObject({ shortfall: 1, blocks: [] });
  });

  it.each([
    [{ ...base, survivors: [] }, 'empty'],
    [{ ...base, rejects: [placed(1, 3)] }, 'mismatch'],
    [{ ...base, rejects: [placed(9, 3)] }, 'mismatch'],
    [{ ...base, blockSizes: [2, 2] }, 'mismatch'],
    [{ ...base, shelf: [{ id: 'p1', capacityAh: 5, resistanceMilliohm: 25 }] }, 'mismatch'],
  ])('refuses places and ids that clash, %#', (input, code) => {
    expect(repairStack(input)).toMatchObject({ kind: 'refused', code });
  });
});

describe('planSchool', () => {
  const input: SchoolInput = {
    survivors: survivors.map((s) => ({ ...s, capacityAh: null })),
    rejects,
    shelf: [...shelf, ...[1, 2, 3, 4, 5].map((i) => ({ id: `t${i}`, capacityAh: 5.5 + i / 100, resistanceMilliohm: 25 }))],
    blockSizes: [2, 2, 2],
    heatWeights: [1, 1.2, 1.5, 1.5, 1.2, 1],
    nominal: { capacityAh: 6.5, resistanceMilliohm: 27 },
  };

  it('says which capacities it had to assume, and at what: the middle of those that were measured', () => {
    const measured = input.survivors.map((s) => (s.place === 2 ? { ...s, capacityAh: 5.4 } : s));
    expect(planSchool('spotRepair', { ...input, survivors: measured })).toMatchObject({
      kind: 'answer',
      value: { assumedPlaces: [1, 3, 5, 6], assumedCapacityAh: 5.4, shortfall: 0 },
    });
  });

  it.each(['spotRepair', 'spotRepairReordered'] as const)('proves nothing over a capacity that is only assumed: %s', (school) => {
    const planned = (capacityOf: (place: number) => number | null) => {
      const known = input.survivors.map((s) => ({ ...s, capacityAh: capacityOf(s.place) }));
      const plan = planSchool(school, { ...input, survivors: known });
      if (plan.kind === 'refused') throw new Error(plan.message);
      return plan.value;
    };
    expect(planned(() => 5.4)).toMatchObject({ proven: true, assumedPlaces: [] });
    expect(planned((place) => (place === 2 ? null : 5.4))).toMatchObject({ proven: false, lowerBoundAh: 0, assumedPlaces: [2] });
  });

  it.each(['spotRepair', 'spotRepairReordered'] as const)('matches nothing by capacities that nobody measured: %s', (school) => {
    expect(planSchool(school, input)).toMatchObject({ kind: 'refused', code: 'empty', path: ['survivors'] });
  });

  it('takes nothing from the shelf that the limits of the shop, or the pack it would sit in, would reject', () => {
    const drops = Array.from({ length: 12 }, (_, i) => ({
      ...{ id: `m${i + 1}`, place: i + 1, capacityAh: 5 + i / 100, resistanceMilliohm: 25, restDropMillivolt: 48 + (i % 5) },
    }));
    const lossy = { id: 'lossy', capacityAh: 5.05, resistanceMilliohm: 25, restDropMillivolt: 900 };
    const good = { id: 'good', capacityAh: 4.6, resistanceMilliohm: 29, restDropMillivolt: 52 };
    const pack: SchoolInput = {
      ...{ survivors: drops.slice(1), rejects: drops.slice(0, 1), shelf: [lossy, good], blockSizes: [2, 2, 2, 2, 2, 2] },
      ...{ heatWeights: Array<number>(12).fill(1), nominal: input.nominal },
    };
    const plan = planSchool('spotRepair', pack);
    expect(plan).toMatchObject({ value: { fromShelf: ['good'], excluded: [{ id: 'lossy', reasons: ['restDropCrowd'] }] } });
    expect(planSchool('spotRepair', { ...pack, limits: { maxRestDropMillivolt: 50 } })).toMatchObject({ value: { shortfall: 1 } });
    const few = { ...pack, survivors: drops.slice(1).map((s) => ({ ...s, restDropMillivolt: null })) };
    expect(planSchool('spotRepair', few)).toMatchObject({ value: { fromShelf: ['lossy'] } });
    expect(planSchool('spotRepair', { ...few, limits: { maxRestDropMillivolt: 60 } })).toMatchObject({ value: { fromShelf: ['good'] } });
  });

  it('builds a whole matched set from the shelf alone', () => {
    const plan = planSchool('matchedSet', input);
    if (plan.kind === 'refused') throw new Error(plan.message);
    expect(plan.value.moduleIds).toHaveLength(6);
    expect([...plan.value.fromShelf].sort()).toEqual([...plan.value.moduleIds].sort());
    expect(plan.value.moduleIds).not.toContain('s1');
    expect(plan.value.proven).toBe(true);
  });

  it('refuses a repair around nothing', () => {
    expect(planSchool('spotRepairReordered', { ...input, survivors: [] })).toMatchObject({ kind: 'refused', code: 'empty' });
  });
});

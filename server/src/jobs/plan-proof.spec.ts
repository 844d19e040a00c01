import type { ActBody } from '@estuarine/core';
import type pg from 'pg';
import { moduleIds, profile, stateOf } from '../../test/job-state.ts';
import type { Calculators } from '../reckon/calculators.ts';
import { createProver } from './plan-proof.ts';

/** Capacities of the modules of the job, by place; one on the shelf has 5.9 Ah. */
const OWN = moduleIds.map((_, i) => 5 + i / 100);

interface Given {
  /** Of the calculation. */
  readonly answer?: object;
  readonly capacities?: readonly (number | null)[];
}

function setUp({ answer = { kind: 'answer', value: { lowerBoundAh: 0.12 } }, capacities = OWN }: Given = {}) {
  const how = { restSince: null, restHour: null, loadAmpere: null, loadSecond: null, recovered: 'all', resolution: 0.001 } as const;
  const state = stateOf(
    { type: 'sweep.started', body: { kind: 'capacity', ...how } },
    ...capacities.flatMap((value, i) =>
      value === null
        ? []
        : [{ type: 'reading.taken', body: { sweepId: 'c2', place: i + 1, moduleId: `m${i + 1}`, quantity: 'capacityAh', value } } as const],
    ),
  );
  const asked: [string, object][] = [];
  const run = (name: string, input: object): Promise<unknown> => {
    asked.push([name, input]);
    return answer instanceof Error ? Promise.reject(answer) : Promise.resolve(answer);
  };
  const rows = [{ module_id: 's1', capacity_ah: 5.9 }];
  const prove = createProver({
    pool: { query: () => Promise.resolve({ rows }) } as unknown as pg.Pool,
    shopId: 'shop',
    findJob: (jobId) => Promise.resolve(jobId === 'j' ? ({ state, profile } as never) : null),
    calculators: { run } as unknown as Calculators,
  });
  return { prove, asked };
}

function plan(over: Partial<ActBody<'plan.chosen'>> = {}): ActBody<'plan.chosen'> {
  const told = { rangeAh: null, lowerBoundAh: null, proven: false, blockMeanAh: [], assumedPlaces: [] };
  return { school: 'spotRepair', moduleIds: ['s1', ...moduleIds.slice(1)], fromShelf: ['s1'], ...told, ...over };
}

it('bounds a repair in place by the gaps and the shelf, for just these capacities', async () => {
  const { prove, asked } = setUp();
  const bound = await prove('j', plan());
  const [[name, input] = ['', {}]] = asked;
  expect(name).toBe('match.repair');
  expect(input).toMatchObject({ rejects: [{ id: 'gap-1', place: 1 }], shelf: [{ id: 's1', capacityAh: 5.9 }], blockSizes: profile.blocks });
  const { survivors } = input as { survivors: { id: string; place: number; capacityAh: number }[] };
  expect(survivors).toHaveLength(27);
  expect(survivors[0]).toMatchObject({ id: 'm2', place: 2, capacityAh: 5.01 });
  const known = [5.9, ...OWN.slice(1)];
  expect(bound(known)).toBe(0.12);
  // measured anew meanwhile: nothing is proven
  expect(bound(known.with(3, 4.9))).toBeNull();
  expect(bound(known.slice(1))).toBeNull();
});

it.each<[string, Partial<ActBody<'plan.chosen'>>, number[]]>([
  ['another school', { school: 'spotRepairReordered' }, [5.9, ...OWN.slice(1)]],
  ['one that was moved', { moduleIds: ['s1', 'm3', 'm2', ...moduleIds.slice(3)] }, [5.9, 5.02, 5.01, ...OWN.slice(3)]],
])('bounds %s by everything arranged anew', async (_what, over, known) => {
  const { prove, asked } = setUp();
  expect((await prove('j', plan(over)))(known)).toBe(0.12);
  expect(asked.map(([name]) => name)).toEqual(['match.arrange']);
  expect((asked[0]?.[1] as { modules: unknown[] }).modules).toHaveLength(28);
});

it('proves nothing of an exchange, of no job, of what was not measured, of too few, or where the calculation gave none', async () => {
  const known = [5.9, ...OWN.slice(1)];
  const none = async (jobId: string, of: ActBody<'plan.chosen'>, over: Given = {}): Promise<number> => {
    const { prove, asked } = setUp(over);
    expect((await prove(jobId, of))(known)).toBeNull();
    return asked.length;
  };
  expect(await none('j', plan({ school: 'exchangePack' }))).toBe(0);
  expect(await none('k', plan())).toBe(0);
  expect(await none('j', plan(), { capacities: OWN.map((c, i) => (i === 5 ? null : c)) })).toBe(0);
  expect(await none('j', plan({ moduleIds: ['s1', ...moduleIds.slice(2)] }))).toBe(0);
  expect(await none('j', plan(), { answer: { kind: 'refused', code: 'tooLarge' } })).toBe(1);
  expect(await none('j', plan(), { answer: new Error('late') })).toBe(1);
});

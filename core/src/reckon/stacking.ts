/** Entries about the string and its modules: exposure, cuts and matching. */
import * as z from 'zod';
import { BAR_FAULTS, checkBars } from '../bars/check.ts';
import { arrangeModules, MAXIMUM_ARRANGED } from '../match/arrange.ts';
import { repairStack } from '../match/repair.ts';
import { findPacks } from '../match/packs.ts';
import { DEFAULT_LAMBDA, selectModules } from '../match/select.ts';
import { findCuts } from '../pack/cuts.ts';
import { findExposure, MAXIMUM_MODULES } from '../pack/exposure.ts';
import { answer } from '../result.ts';
import { atLeastZero, entry, id, number, positive, type Entry } from './entry.ts';

const volts = z.array(number).max(MAXIMUM_MODULES);
const links = z.array(z.int());
const post = z.string().max(12);
const optionalFigure = number.nullable().optional();
const MAXIMUM_POOL = 20_000;

const poolModule = z.strictObject({
  id,
  capacityAh: atLeastZero.nullable().optional(),
  resistanceMilliohm: atLeastZero.nullable().optional(),
  restDropMillivolt: optionalFigure,
  ocvVolt: optionalFigure,
});
const placedModule = poolModule.extend({ place: z.int() });
const blockSizes = z.array(z.int()).min(1).max(200);
const heatWeights = z.array(positive).max(MAXIMUM_ARRANGED);
const timeLimitMillisecond = z.number().min(0).max(60_000).optional();

const island = z.strictObject({ from: z.number(), to: z.number(), volt: z.number(), shortCircuitAmpere: z.number().nullable() });
const idBlocks = z.array(z.array(z.string()));

const bar = z.tuple([post, post]);
const MAXIMUM_BARRED = 400;

export const STACKING: readonly Entry[] = [
  entry({
    name: 'bars.check',
    title: 'Map of the bars',
    group: 'Bars and joints',
    purpose: 'What a map of bus bars does with the modules as they lie: joins them, leaves them open, shorts them.',
    formula: "Kirchhoff's laws: places joined by bars are one node, each module is a voltage with its resistance",
    source: "Kirchhoff's laws",
    example: {
      modules: [1, 2, 3].map((position) => ({ position, volt: 7.8, milliohm: 30, turned: false })),
      bars: [
        ['1+', '2-'],
        ['2+', '3-'],
      ],
      outputs: { positive: '3+', negative: '1-' },
    },
    input: z.strictObject({
      modules: z
        .array(z.strictObject({ position: z.int(), volt: number, milliohm: number, turned: z.boolean().default(false) }))
        .max(MAXIMUM_BARRED),
      bars: z.array(bar).max(4 * MAXIMUM_BARRED),
      outputs: z.strictObject({ positive: post, negative: post }),
      channels: z
        .array(z.strictObject({ id, upper: post, lower: post }))
        .max(MAXIMUM_BARRED)
        .optional(),
      map: z
        .array(bar)
        .max(4 * MAXIMUM_BARRED)
        .optional(),
    }),
    output: z.strictObject({
      outputVolt: z.number().nullable(),
      faults: z.array(
        z.strictObject({
          kind: z.enum(BAR_FAULTS),
          posts: z.array(z.string()),
          modules: z.array(z.number()),
          ampere: z.number().nullable(),
        }),
      ),
      channels: z.array(z.strictObject({ id: z.string(), volt: z.number().nullable() })),
    }),
    compute: (input) => {
      const checked = checkBars(input);
      return checked.kind === 'refused'
        ? checked
        : answer({ ...checked.value, faults: checked.value.faults.map((f) => ({ ...f, posts: [...f.posts], modules: [...f.modules] })), channels: [...checked.value.channels] }); // prettier-ignore
    },
  }),
  entry({
    name: 'pack.exposure',
    title: 'Volts within reach',
    group: 'The string',
    purpose: 'The highest voltage between two posts that can be reached, and the current a dropped tool would meet.',
    formula: "Kirchhoff's voltage law over modules, closed links and ties; short-circuit current = 1000 × ΣU / ΣR",
    source: "Kirchhoff's laws; short-circuit estimate is common practice",
    example: { moduleVolts: [7, 8], openLinks: [1], moduleMilliohms: [20, 20] },
    input: z.strictObject({
      moduleVolts: volts,
      openLinks: links.default([]),
      reachable: z
        .array(post)
        .max(2 * MAXIMUM_MODULES)
        .optional(),
      moduleMilliohms: z.array(atLeastZero.nullable()).max(MAXIMUM_MODULES).optional(),
      outsideVolt: number.optional(),
      ties: z
        .array(z.strictObject({ a: post, b: post, volt: number }))
        .max(2000)
        .optional(),
    }),
    output: z.strictObject({
      volt: z.number(),
      between: z.tuple([z.string(), z.string()]).nullable().readonly(),
      islands: z.array(island).readonly(),
      worstShort: z.strictObject({ from: z.number(), to: z.number(), ampere: z.number() }).nullable(),
    }),
    compute: (input) => findExposure(input),
  }),
  entry({
    name: 'pack.cuts',
    title: 'Fewest cuts',
    group: 'The string',
    purpose: 'The fewest links to open so that no island stands above a limit.',
    formula: 'greedy sweep over single links, enumeration over groups; then least highest island, then lexicographic',
    source: 'Interval partition by greedy choice (T. H. Cormen and others, Introduction to Algorithms, ch. 16; from memory)',
    example: { moduleVolts: [7, 8, 9], limitVolt: 16 },
    input: z.strictObject({
      moduleVolts: volts,
      limitVolt: number,
      fixedLinks: links.optional(),
      openLinks: links.optional(),
      groups: z.array(links).max(200).optional(),
    }),
    output: z.strictObject({
      links: z.array(z.number()).nullable().readonly(),
      acts: z.number().nullable(),
      volt: z.number(),
      possible: z.boolean(),
    }),
    isHeavy: true,
    compute: (input) => findCuts(input),
  }),
  entry({
    name: 'match.packs',
    title: 'Packs from a shelf',
    group: 'Matching',
    purpose: 'As many packs of alike modules as a shelf gives at once.',
    formula: 'greatest less least capacity and resistance of a pack within the tolerances, in whole steps of 1 mAh and 0.1 mΩ',
    source: 'Common practice, no source; the bound by either figure alone, settled by a search through all packs where there is time',
    example: {
      pool: ['a', 'b', 'c', 'd'].map((name, i) => ({ id: name, capacityAh: 5 + 0.1 * i, resistanceMilliohm: 20 })),
      count: 2,
      toleranceAh: 0.1,
      toleranceMilliohm: 1,
    },
    input: z.strictObject({
      pool: z.array(poolModule).max(MAXIMUM_POOL),
      count: z.int(),
      toleranceAh: number,
      toleranceMilliohm: number,
      timeLimitMillisecond,
    }),
    output: z.strictObject({
      packs: z.array(z.array(z.string()).readonly()).readonly(),
      upperBound: z.number(),
      unused: z.array(z.string()).readonly(),
      proven: z.boolean(),
    }),
    isHeavy: true,
    compute: (input, context) => findPacks(input, context),
  }),
  entry({
    name: 'match.select',
    title: 'Modules from a pool',
    group: 'Matching',
    purpose: 'Choose modules from a pool: the strongest, or the most alike.',
    formula: 'strongest: largest capacities, ties by least resistance; balanced: least of capacity spread + λ × resistance spread',
    source: 'Common practice, no source; the search is exact',
    example: { pool: [{ id: 'a', capacityAh: 5, resistanceMilliohm: 20 }], count: 1, objective: 'balanced' },
    input: z.strictObject({
      pool: z.array(poolModule).max(MAXIMUM_POOL),
      count: z.int(),
      limits: z
        .strictObject({ minCapacityAh: optionalFigure, maxResistanceMilliohm: optionalFigure, maxRestDropMillivolt: optionalFigure })
        .optional(),
      objective: z.enum(['strongest', 'balanced']),
      lambda: z.number().default(DEFAULT_LAMBDA),
    }),
    output: z.strictObject({
      ids: z.array(z.string()).readonly(),
      minCapacityAh: z.number().nullable(),
      spreadAh: z.number().nullable(),
      spreadMilliohm: z.number().nullable(),
      objectiveValue: z.number().nullable(),
      excluded: z.array(z.strictObject({ id: z.string(), reasons: z.array(z.string()).readonly() })).readonly(),
      proven: z.boolean(),
      shortfall: z.number(),
    }),
    isHeavy: true,
    compute: (input) => selectModules(input),
  }),
  entry({
    name: 'match.arrange',
    title: 'Modules into blocks',
    group: 'Matching',
    purpose: 'Order modules into the blocks of a pack: least range of block means, then least heat.',
    formula: 'min (max block mean − min block mean), then min Σ heat weight × resistance',
    source: 'Exhaustive search with pruning; bound by the rearrangement inequality (Hardy, Littlewood, Pólya 1934)',
    example: { modules: [{ id: 'a', capacityAh: 5, resistanceMilliohm: 20 }], blockSizes: [1] },
    input: z.strictObject({
      modules: z.array(z.strictObject({ id, capacityAh: atLeastZero, resistanceMilliohm: atLeastZero })),
      blockSizes,
      heatWeights: heatWeights.optional(),
      pairing: z.enum(['even', 'alike']).default('even'),
      timeLimitMillisecond,
    }),
    output: z.strictObject({
      blocks: idBlocks.readonly(),
      blockMeanAh: z.array(z.number()).readonly(),
      rangeAh: z.number(),
      lowerBoundAh: z.number(),
      proven: z.boolean(),
      heatCost: z.number(),
      heatLowerBound: z.number(),
      alikeCostAh: z.number().optional(),
      alikeLowerBoundAh: z.number().optional(),
    }),
    isHeavy: true,
    compute: (input, context) => {
      const found = arrangeModules(input, context);
      return found.kind === 'refused' ? found : { ...found, value: { ...found.value, blocks: found.value.blocks.map((b) => [...b]) } };
    },
  }),
  entry({
    name: 'match.repair',
    title: 'Replacing rejects',
    group: 'Matching',
    purpose: 'Replace rejected modules by the closest from the shelf and place them, or re-order the whole stack.',
    formula: 'least Σ |x − median of survivors| / robust scale over capacity, resistance, voltage; then least range of block means',
    source: 'Common practice, no source; statistics as stats.outliers',
    example: {
      survivors: [{ id: 'a', place: 1, capacityAh: 5, resistanceMilliohm: 20 }],
      rejects: [{ id: 'b', place: 2, capacityAh: 2 }],
      shelf: [{ id: 'c', capacityAh: 5, resistanceMilliohm: 21 }],
      blockSizes: [2],
    },
    input: z.strictObject({
      survivors: z.array(placedModule).max(MAXIMUM_ARRANGED),
      rejects: z.array(placedModule).max(MAXIMUM_ARRANGED),
      shelf: z.array(poolModule).max(MAXIMUM_POOL),
      blockSizes,
      heatWeights: heatWeights.optional(),
      reorder: z.boolean().default(false),
      timeLimitMillisecond,
    }),
    output: z.strictObject({
      replacements: z.array(z.strictObject({ place: z.number(), id: z.string() })).readonly(),
      blocks: idBlocks.readonly(),
      blockMeanAh: z.array(z.number()).readonly(),
      rangeAh: z.number(),
      moved: z.array(z.strictObject({ id: z.string(), from: z.number(), to: z.number() })).readonly(),
      shortfall: z.number(),
      excluded: z.array(z.strictObject({ id: z.string(), reasons: z.array(z.string()).readonly() })).readonly(),
      lowerBoundAh: z.number(),
      proven: z.boolean(),
    }),
    isHeavy: true,
    compute: (input, context) => {
      const found = repairStack(input, context);
      return found.kind === 'refused' ? found : { ...found, value: { ...found.value, blocks: found.value.blocks.map((b) => [...b]) } };
    },
  }),
];

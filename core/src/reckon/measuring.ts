/** Entries that turn readings into figures. */
import * as z from 'zod';
import { CHEMISTRIES, findCellVolt, PUBLISHED_PARAMETERS } from '../cell/battery-model.ts';
import { convertTorque, TORQUE_UNITS } from '../quantity/torque.ts';
import { integrateCapacity } from '../reading/capacity.ts';
import { findResistance } from '../reading/resistance.ts';
import { normaliseScanBlocks } from '../reading/scan-blocks.ts';
import { answer, refuse, type Result } from '../result.ts';
import { findOutliers } from '../stats/robust.ts';
import { findClampLoad } from '../torque/clamp-load.ts';
import { setForExtension } from '../torque/extension.ts';
import { judgeTools } from '../torque/tools.ts';
import { atLeastZero, entry, id, number, positive, type Entry } from './entry.ts';

function named<K extends string>(key: K, result: Result<number>): Result<Record<K, number>> {
  return result.kind === 'refused' ? result : answer({ [key]: result.value } as Record<K, number>);
}

export const parameters = z.strictObject({ E0: number, R: atLeastZero, K: number, A: number, B: number, Q: positive });
const loadPoint = z.strictObject({ ampere: number, volt: number });

export const MEASURING: readonly Entry[] = [
  entry({
    name: 'torque.convert',
    title: 'Torque units',
    group: 'Torque',
    purpose: 'One torque in newton metre, pound-force inch and pound-force foot.',
    formula: '1 lbf = 4.4482216152605 N, 1 in = 0.0254 m, 1 ft = 12 in',
    source: 'NIST SP 811, appendix B.8 (exact by definition)',
    example: { value: 50, unit: 'lbfin' },
    input: z.strictObject({ value: number, unit: z.enum(TORQUE_UNITS) }),
    output: z.strictObject({ newtonMetre: z.number(), poundForceInch: z.number(), poundForceFoot: z.number() }),
    compute: ({ value, unit }) => answer(convertTorque(value, unit)),
  }),
  entry({
    name: 'torque.extension',
    title: 'Wrench with extension',
    group: 'Torque',
    purpose: 'What to set on a torque wrench that carries an extension.',
    formula: 'set = wanted × L / (L + E cos angle)',
    source: "Common practice, printed in tool makers' leaflets",
    example: { wantedNewtonMetre: 6, wrenchLengthMillimetre: 200, extensionMillimetre: 50 },
    input: z.strictObject({
      wantedNewtonMetre: positive,
      wrenchLengthMillimetre: positive,
      extensionMillimetre: atLeastZero,
      angleDegree: z.number().min(-360).max(360).default(0),
    }),
    output: z.strictObject({ setNewtonMetre: z.number() }),
    compute: (input) => named('setNewtonMetre', setForExtension(input)),
  }),
  entry({
    name: 'torque.clampLoad',
    title: 'Clamp load of a bolt',
    group: 'Torque',
    purpose: 'What a torque clamps, and the share of the load that the bolt is proven to bear.',
    formula: 'F = T / (K d); proof load = stress area × proof stress',
    source: 'Short form of the bolt equation, handbooks of machine elements; areas and stresses: ISO 898-1',
    example: { torqueNewtonMetre: 5.65, diameterMillimetre: 5, nutFactor: 0.2, stressAreaMillimetre2: 14.2, proofStressMegapascal: 580 },
    input: z.strictObject({
      torqueNewtonMetre: positive,
      diameterMillimetre: positive,
      nutFactor: positive.default(0.2),
      stressAreaMillimetre2: positive.optional(),
      proofStressMegapascal: positive.optional(),
    }),
    output: z.strictObject({ clampLoadNewton: z.number(), proofLoadNewton: z.number().nullable(), proofShare: z.number().nullable() }),
    compute: (input) => answer(findClampLoad(input)),
  }),
  entry({
    name: 'torque.tools',
    title: 'Tools for a torque',
    group: 'Torque',
    purpose: 'Which torque tools suit a figure, and why the others do not.',
    formula: 'max(least, 20 % of most) ≤ figure ≤ most; permissible deviation 6 % up to 10 N·m, 4 % above, within the tolerance',
    source: 'ISO 6789-1, from memory',
    example: {
      specNewtonMetre: 5.65,
      tolerancePercent: 10,
      tools: [
        { id: 'small', minNewtonMetre: 1, maxNewtonMetre: 10 },
        { id: 'large', minNewtonMetre: 5, maxNewtonMetre: 50 },
      ],
    },
    input: z.strictObject({
      specNewtonMetre: positive,
      tolerancePercent: z.number().min(0).max(100),
      tools: z
        .array(
          z
            .strictObject({ id, minNewtonMetre: positive, maxNewtonMetre: positive })
            .refine((t) => t.minNewtonMetre <= t.maxNewtonMetre, { message: 'The least is above the most.', path: ['minNewtonMetre'] }),
        )
        .max(1000),
    }),
    output: z.strictObject({
      tools: z.array(z.strictObject({ id: z.string(), suitable: z.boolean(), reason: z.string(), deviationPercent: z.number() })),
    }),
    compute: ({ specNewtonMetre, tolerancePercent, tools }) => answer({ tools: judgeTools(specNewtonMetre, tolerancePercent, tools) }),
  }),
  entry({
    name: 'stats.outliers',
    title: 'Readings that stand apart',
    group: 'Readings',
    purpose: 'Which readings of a crowd stand apart.',
    formula: 'z = (x − median) / max(MAD / 0.6745, resolution); MAD of zero: 1.253314 × mean absolute deviation',
    source: 'B. Iglewicz, D. C. Hoaglin, How to Detect and Handle Outliers, ASQC 1993',
    example: { values: [1, 2, 3, 50].map((value, i) => ({ id: String(i), value })) },
    input: z.strictObject({
      values: z.array(z.strictObject({ id, value: number })).max(20_000),
      cutoff: positive.default(3.5),
      resolution: positive.optional(),
    }),
    output: z.strictObject({
      median: z.number(),
      mad: z.number(),
      scale: z.number(),
      items: z.array(z.strictObject({ id: z.string(), value: z.number(), modifiedZ: z.number(), outlier: z.boolean() })),
    }),
    compute: ({ values, cutoff, resolution }) => {
      const found = findOutliers(values, cutoff, resolution);
      return found.kind === 'refused' ? found : answer({ ...found.value, items: [...found.value.items] });
    },
  }),
  entry({
    name: 'reading.resistance',
    title: 'Resistance from two loads',
    group: 'Readings',
    purpose: 'Direct-current resistance from two loads.',
    formula: 'R = (U1 − U2) / (I2 − I1)',
    source: 'IEC 61951-2, measurement of internal d.c. resistance (from memory)',
    example: { first: { ampere: 0, volt: 8 }, second: { ampere: 10, volt: 7.75 } },
    input: z.strictObject({ first: loadPoint, second: loadPoint }),
    output: z.strictObject({ milliohm: z.number() }),
    compute: ({ first, second }) => named('milliohm', findResistance(first, second)),
  }),
  entry({
    name: 'reading.capacity',
    title: 'Capacity of a discharge',
    group: 'Readings',
    purpose: 'Capacity and energy of a discharge down to a cut-off voltage.',
    formula: 'Ah = ∫ I dt / 3600, Wh = ∫ U I dt / 3600, trapezoid; last step interpolated at the cut-off',
    source: 'IEC 61951-2, discharge to a cut-off (from memory)',
    example: {
      samples: [
        [0, 1, 8],
        [3600, 1, 7],
      ],
      cutoffVolt: 6,
    },
    input: z.strictObject({ samples: z.array(z.tuple([number, number, number])).max(200_000), cutoffVolt: number }),
    output: z.strictObject({ ampereHour: z.number(), wattHour: z.number(), seconds: z.number(), reachedCutoff: z.boolean() }),
    isHeavy: true,
    compute: ({ samples, cutoffVolt }) => integrateCapacity(samples, cutoffVolt),
  }),
  entry({
    name: 'reading.scanBlocks',
    title: 'Blocks of a scan',
    group: 'Readings',
    purpose: 'Block voltages of a scan tool, made comparable by the number of modules in each.',
    formula:
      'voltPerModule = volt / modules, then modified z; deficit = volt − modules × median; a cell is missing from 0.8 of its voltage on',
    source: 'Common practice; statistics as stats.outliers',
    example: {
      blocks: [
        { id: 'a', volt: 15, modules: 2 },
        { id: 'b', volt: 15.1, modules: 2 },
      ],
    },
    input: z.strictObject({
      blocks: z.array(z.strictObject({ id, volt: number, modules: z.int().min(1).max(1000) })).max(2000),
      resolution: positive.optional(),
      cellVolt: positive.optional(),
    }),
    output: z.strictObject({
      items: z.array(
        z.strictObject({
          ...{ id: z.string(), voltPerModule: z.number(), modifiedZ: z.number(), outlier: z.boolean() },
          ...{ deficitVolt: z.number(), deadCellSuspect: z.boolean() },
        }),
      ),
      naiveOutliers: z.array(z.string()),
    }),
    compute: ({ blocks, ...scale }) => {
      const found = normaliseScanBlocks(blocks, scale);
      return found.kind === 'refused' ? found : answer({ items: [...found.value.items], naiveOutliers: [...found.value.naiveOutliers] });
    },
  }),
  entry({
    name: 'cell.voltage',
    title: 'Cell under load',
    group: 'Cells',
    purpose: 'Terminal voltage of one cell under a steady current.',
    formula: 'U = E0 − K Q / (Q − it) + A exp(−B it) − R i',
    source: 'O. Tremblay, L.-A. Dessaint, A.-I. Dekkiche, IEEE VPPC 2007; parameters of its table from memory',
    example: { chemistry: 'nimh', ampere: 0, ampereHourDrawn: 1 },
    input: z
      .strictObject({
        chemistry: z.enum(CHEMISTRIES).optional(),
        parameters: parameters.optional(),
        ampere: number,
        ampereHourDrawn: number,
      })
      .refine((i) => (i.chemistry === undefined) !== (i.parameters === undefined), {
        message: 'Give either a chemistry or parameters.',
        path: ['chemistry'],
      }),
    output: z.strictObject({ volt: z.number() }),
    compute: ({ chemistry, parameters: given, ampere, ampereHourDrawn }) => {
      const used = given ?? (chemistry ? PUBLISHED_PARAMETERS[chemistry] : null);
      return used
        ? named('volt', findCellVolt(used, ampere, ampereHourDrawn))
        : refuse('empty', 'No parameters were given.', ['parameters']);
    },
  }),
];

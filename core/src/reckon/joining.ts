/** Entries about joints: the order of bars, what drops over them, whether a run reads its sum, and the loop and paste under modules. */
import * as z from 'zod';
import { judgeHalf } from '../bars/halves.ts';
import { orderBars } from '../bars/order.ts';
import { surveyJoints } from '../bars/survey.ts';
import { fitLeak } from '../coolant/leak.ts';
import { findPaste } from '../coolant/paste.ts';
import { answer } from '../result.ts';
import { atLeastZero, entry, id, number, positive, type Entry } from './entry.ts';

const MOST = 200;

export const JOINING: readonly Entry[] = [
  entry({
    name: 'bars.order',
    title: 'Order of the bars',
    group: 'Bars and joints',
    purpose: 'The order in which bars or frames go on so that least stands in the string for longest.',
    formula: 'most acts below the limit, then the least sum of the highest island over the acts; all orders up to 14 acts',
    source: 'Dynamic programming over subsets (M. Held and R. M. Karp 1962; from memory)',
    example: {
      volts: [7.8, 7.8, 7.8, 7.8],
      acts: [
        { id: 'middle', links: [2] },
        { id: 'ends', links: [1, 3] },
      ],
    },
    input: z.strictObject({
      volts: z.array(number).max(MOST),
      acts: z.array(z.strictObject({ id, links: z.array(z.int()).max(MOST) })).max(MOST),
      closed: z.array(z.int()).max(MOST).optional(),
      limitVolt: positive.optional(),
    }),
    output: z.strictObject({ order: z.array(z.string()), volts: z.array(z.number()), actsBelow: z.number(), proven: z.boolean() }),
    compute: (input) => {
      const found = orderBars(input);
      return found.kind === 'refused' ? found : answer({ ...found.value, order: [...found.value.order], volts: [...found.value.volts] });
    },
  }),
  entry({
    name: 'bars.survey',
    title: 'Joints by millivolts',
    group: 'Bars and joints',
    purpose: 'Joints by what drops over them at a known current: milliohms, heat, and which stand out.',
    formula: 'R = U / I, P = I² R; outliers by the modified z-score, upwards only',
    source: "Ohm's and Joule's laws; Iglewicz and Hoaglin 1993 (from memory)",
    example: { ampere: 10, joints: [{ id: '1', millivolt: 1 }, { id: '2', millivolt: 1.1 }, { id: '3', millivolt: 4 }], resolutionMillivolt: 0.1 }, // prettier-ignore
    input: z.strictObject({
      ampere: number,
      joints: z.array(z.strictObject({ id, millivolt: number })).max(MOST),
      resolutionMillivolt: number,
      heatAmpere: positive.optional(),
    }),
    output: z.strictObject({
      medianMilliohm: z.number(),
      leastMilliohm: z.number(),
      joints: z.array(
        z.strictObject({ id: z.string(), milliohm: z.number(), watt: z.number(), modifiedZ: z.number(), isOutlier: z.boolean() }),
      ),
    }),
    compute: (input) => {
      const found = surveyJoints(input);
      return found.kind === 'refused' ? found : answer({ ...found.value, joints: [...found.value.joints] });
    },
  }),
  entry({
    name: 'bars.half',
    title: 'Sum of a half',
    group: 'Bars and joints',
    purpose: 'Whether a run of modules reads what its modules sum to, and what explains it if not.',
    formula: 'sum of the modules ± two meters and some settling; whole modules missing point at one turned or spanned',
    source: "Kirchhoff's voltage law; common practice, no source",
    example: { volts: [7.8, 7.8, 7.8, 7.8], from: 1, measuredVolt: 15.6 },
    input: z.strictObject({
      volts: z.array(number).min(1).max(MOST),
      from: z.int().min(1),
      measuredVolt: number,
      accuracyPercent: positive.optional(),
    }),
    output: z.strictObject({
      sumVolt: z.number(),
      differenceVolt: z.number(),
      allowedVolt: z.number(),
      agrees: z.boolean(),
      sentence: z.string().nullable(),
    }),
    compute: (input) => answer({ ...judgeHalf(input) }),
  }),
  entry({
    name: 'coolant.leak',
    title: 'Coolant loop holds',
    group: 'Cooling',
    purpose: 'Whether an empty loop of coolant holds its pressure.',
    formula: 'least squares line; what it loses over the time asked for, with the 95 % band of the slope',
    source: "Least squares and Student's t (any handbook of statistics)",
    example: {
      readings: [0, 2, 4, 6, 8, 10].map((minute) => ({ minute, kilopascal: 150 - 0.05 * minute })),
      mostLostKilopascal: 2,
      testMinute: 10,
    },
    input: z.strictObject({
      readings: z.array(z.strictObject({ minute: number, kilopascal: number })).max(MOST),
      mostLostKilopascal: positive,
      testMinute: positive,
    }),
    output: z.strictObject({
      kilopascalPerMinute: z.number(),
      lostKilopascal: z.number(),
      bandKilopascal: z.number(),
      verdict: z.enum(['tight', 'leaking', 'settling', 'unclear']),
    }),
    compute: (input) => fitLeak(input),
  }),
  entry({
    name: 'coolant.paste',
    title: 'Paste under a module',
    group: 'Cooling',
    purpose: 'How much paste lies under a module on a cold plate.',
    formula: 'm = A d ρ',
    source: 'Mass of a layer; limits are common practice, no source',
    example: { areaSquareCentimetre: 100, thicknessMillimetre: 0.5, gramPerCubicCentimetre: 2.4 },
    input: z.strictObject({ areaSquareCentimetre: positive, thicknessMillimetre: positive, gramPerCubicCentimetre: positive }),
    output: z.strictObject({ gram: atLeastZero, leastGram: atLeastZero, mostGram: atLeastZero }),
    compute: (input) => answer(findPaste(input)),
  }),
];

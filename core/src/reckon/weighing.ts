/** Entries that weigh chances: lives by Weibull, the order of checks, what a school costs over its warranty, charge between two levels. */
import * as z from 'zod';
import { CHEMISTRIES, PUBLISHED_PARAMETERS } from '../cell/battery-model.ts';
import { findLevelCharge } from '../cell/level.ts';
import { weighSchools } from '../odds/money.ts';
import { CAUSES, orderChecks } from '../odds/triage.ts';
import { answer, refuse } from '../result.ts';
import { fitWeibull } from '../stats/weibull.ts';
import { entry, id, number, type Entry } from './entry.ts';
import { parameters } from './measuring.ts';

export const WEIGHING: readonly Entry[] = [
  entry({
    name: 'cell.level',
    title: 'Charge to a level',
    group: 'Cells',
    purpose: 'Charge that takes a resting cell from one open-circuit voltage to another; positive for charging.',
    formula: 'U = E0 − K Q / (Q − it) + A exp(−B it), solved for it at both voltages; charge = it(from) − it(to)',
    source: 'O. Tremblay, L.-A. Dessaint, A.-I. Dekkiche, IEEE VPPC 2007; parameters of its table from memory',
    example: { chemistry: 'nimh', fromVolt: 1.25, toVolt: 1.3 },
    input: z
      .strictObject({
        chemistry: z.enum(CHEMISTRIES).optional(),
        parameters: parameters.optional(),
        fromVolt: number,
        toVolt: number,
      })
      .refine((i) => (i.chemistry === undefined) !== (i.parameters === undefined), {
        message: 'Give either a chemistry or parameters.',
        path: ['chemistry'],
      }),
    output: z.strictObject({ ampereHour: z.number() }),
    compute: ({ chemistry, parameters: given, fromVolt, toVolt }) => {
      const used = given ?? (chemistry ? PUBLISHED_PARAMETERS[chemistry] : null);
      if (!used) return refuse('empty', 'No parameters were given.', ['parameters']);
      const found = findLevelCharge({ parameters: used, fromVolt, toVolt });
      return found.kind === 'answer' ? answer({ ampereHour: found.value }) : found;
    },
  }),
  entry({
    name: 'stats.weibull',
    title: 'Lives that ended',
    group: 'Money and odds',
    purpose: 'Shape and scale of lives of which some ended and the others still run.',
    formula: 'Σ tᵏ ln t / Σ tᵏ − 1/k = mean of ln t of those that failed; scale = (Σ tᵏ / failures)^(1/k)',
    source: 'W. Weibull 1951; maximum likelihood with right-censored units (handbooks of reliability)',
    example: {
      units: [
        { month: 20, failed: true },
        { month: 34, failed: true },
        { month: 40, failed: false },
      ],
    },
    input: z.strictObject({ units: z.array(z.strictObject({ month: number, failed: z.boolean() })).max(100_000) }),
    output: z.strictObject({ shape: z.number(), scaleMonth: z.number(), logLikelihood: z.number() }),
    compute: ({ units }) => fitWeibull(units),
  }),
  entry({
    name: 'triage.order',
    title: 'Order of checks',
    group: 'Money and odds',
    purpose: 'In which order to check for causes: likely and cheap first, and what that costs on the average.',
    formula: 'by p/cost; one cause: Σ cost (1 − Σ earlier p); several: Σ cost, to the first Σ cost Π earlier (1 − p)',
    source: 'Search of least expected cost by ratio (J. B. Kadane 1968, from memory)',
    example: {
      checks: [
        { id: 'fan', probability: 0.5, cost: 20 },
        { id: 'harness', probability: 0.2, cost: 5 },
      ],
    },
    input: z.strictObject({
      checks: z.array(z.strictObject({ id, probability: number, cost: number })).max(10_000),
      causes: z.enum(CAUSES).default('one'),
    }),
    output: z.strictObject({
      order: z.array(z.string()).readonly(),
      expectedCost: z.number(),
      expectedCostToFirst: z.number().optional(),
    }),
    compute: ({ checks, causes }) => orderChecks(checks, causes),
  }),
  entry({
    name: 'money.schools',
    title: 'Cost of the schools',
    group: 'Money and odds',
    purpose: 'What each school costs over its warranty: its price, and the chance that a module that stays brings the job back.',
    formula: '1 − Π exp((age/scale)^shape − ((age + warranty)/scale)^shape); price + comeback × its cost',
    source: 'Conditional survival of a Weibull life (handbooks of reliability)',
    example: {
      schools: [{ name: 'spot repair', priceNow: 400, modules: [{ ageMonth: 96, shape: 3, scaleMonth: 150 }] }],
      warrantyMonth: 12,
      comebackCost: 600,
    },
    input: z.strictObject({
      schools: z
        .array(
          z.strictObject({
            name: z.string().max(120),
            priceNow: number,
            modules: z.array(z.strictObject({ ageMonth: number, shape: number, scaleMonth: number })).max(2000),
            warrantyMonth: number.optional(),
          }),
        )
        .max(200),
      warrantyMonth: number,
      comebackCost: number,
    }),
    output: z.strictObject({
      schools: z.array(
        z.strictObject({ name: z.string(), priceNow: z.number(), comebackProbability: z.number(), expectedCost: z.number() }),
      ),
    }),
    compute: ({ schools, warrantyMonth, comebackCost }) => {
      const found = weighSchools(schools, warrantyMonth, comebackCost);
      return found.kind === 'answer' ? answer({ schools: found.value }) : found;
    },
  }),
];

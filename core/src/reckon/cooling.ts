/** Entries about air: what gets through, what it does to the modules, what comes back warm, what that costs in life, when to look again. */
import * as z from 'zod';
import { findFlowByHeat } from '../cool/heat.ts';
import { findInterval, USES } from '../cool/interval.ts';
import { findReturnedAir } from '../cool/returned-air.ts';
import { findLife } from '../cool/life.ts';
import { findCoolStack } from '../cool/stack.ts';
import { FLOW_KINDS } from '../pack/profile.ts';
import { answer } from '../result.ts';
import { entry, number, type Entry } from './entry.ts';

export const COOLING: readonly Entry[] = [
  entry({
    name: 'cool.stack',
    title: 'Air through the stack',
    group: 'Cooling',
    purpose: 'Airflow through a path that is partly shut, and the temperature of every module along the stack.',
    formula: 'dp0 (1 − Q/Q0) = k Q² / (1 − b)²; each gap takes m (1 − e^(−n h/m)) of the mean of its walls above the inlet',
    source: 'Fan and system curve; effectiveness of a channel (handbooks of heat transfer); air 1.2 kg/m³, 1006 J/(kg K)',
    example: { modules: 28, wattsPerModule: 22.5, airflowCubicMetrePerHour: 100, blockedShare: 0.5, inletCelsius: 25 },
    input: z.strictObject({
      modules: z.number(),
      wattsPerModule: number,
      airflowCubicMetrePerHour: number,
      blockedShare: number,
      inletCelsius: number,
      freeFlowCubicMetrePerHour: number.optional(),
      edgeShare: number.optional(),
      weights: z.array(number).max(400).optional(),
      airPath: z
        .array(z.strictObject({ kind: z.enum(FLOW_KINDS), name: z.string().max(120).optional(), watt: number.min(0).optional() }))
        .max(60)
        .optional(),
    }),
    output: z.strictObject({
      moduleCelsius: z.array(z.number()),
      outletCelsius: z.number(),
      airflowCubicMetrePerHour: z.number(),
      caseWatt: z.number(),
      pathCelsius: z.array(z.strictObject({ kind: z.string(), name: z.string(), celsius: z.number() })),
    }),
    compute: (input) => {
      const found = findCoolStack(input);
      if (found.kind === 'refused') return found;
      return answer({ ...found.value, moduleCelsius: [...found.value.moduleCelsius], pathCelsius: [...found.value.pathCelsius] });
    },
  }),
  entry({
    name: 'cool.leak',
    title: 'Warm air coming back',
    group: 'Cooling',
    purpose: 'How far warm air that comes back to the intake lifts it.',
    formula: 'r ΔT / (1 − r)',
    source: 'Balance of mixed air',
    example: { inletCelsius: 25, riseCelsius: 10, returnedShare: 0.3 },
    input: z.strictObject({ inletCelsius: number, riseCelsius: number, returnedShare: number }),
    output: z.strictObject({ inletCelsius: z.number(), outletCelsius: z.number() }),
    compute: (input) => findReturnedAir(input),
  }),
  entry({
    name: 'cool.heat',
    title: 'Airflow by heat',
    group: 'Cooling',
    purpose: 'Airflow proven by heat: what a current makes of heat in a pack, against how far the air warms on its way.',
    formula: 'Q = I² R / (ρ c ΔT), with the band that the thermometers leave',
    source: 'Joule; energy balance of the air, 1.2 kg/m³, 1006 J/(kg K)',
    example: { ampere: 30, milliohm: 700, riseKelvin: 18.8 },
    input: z.strictObject({ ampere: number, milliohm: number, riseKelvin: number, accuracyKelvin: number.optional() }),
    output: z.strictObject({
      watt: z.number(),
      cubicMetrePerHour: z.number(),
      leastCubicMetrePerHour: z.number(),
      mostCubicMetrePerHour: z.number().nullable(),
    }),
    compute: (input) => findFlowByHeat(input),
  }),
  entry({
    name: 'cool.life',
    title: 'Life against temperature',
    group: 'Cooling',
    purpose: 'Life at one temperature against that at another.',
    formula: 'factor = exp(Ea/R (1/T0 − 1/T)); life = reference / factor',
    source: 'S. Arrhenius 1889; gas constant from CODATA; 50 kJ/mol is common practice, no source',
    example: { celsius: 35, referenceCelsius: 25, referenceMonth: 72 },
    input: z.strictObject({
      celsius: number,
      referenceCelsius: number,
      activationKilojoulePerMole: number.optional(),
      referenceMonth: number,
    }),
    output: z.strictObject({ month: z.number(), factor: z.number() }),
    compute: (input) => findLife(input),
  }),
  entry({
    name: 'cool.interval',
    title: 'Next look at the air path',
    group: 'Cooling',
    purpose: 'When to look at the air path again, and when to open the pack for its cells.',
    formula:
      'blocked = rate × months by least squares; next at 20 %, within 1 to 24 months and twice the last interval, × 0.85 for each use',
    source: 'Least squares; intervals are common practice, no source',
    example: { findings: [{ monthsSinceClean: 6, blockedShare: 0.1 }], uses: ['pets'] },
    input: z.strictObject({
      findings: z.array(z.strictObject({ monthsSinceClean: number, blockedShare: number })).max(1000),
      uses: z.array(z.enum(USES)).max(20).default([]),
      stripMonths: number.positive().optional(),
    }),
    output: z.strictObject({ monthsToNext: z.number(), reason: z.string(), monthsToStrip: z.number().optional() }),
    compute: (input) => findInterval(input),
  }),
];

/** Entries of the stage that makes the vehicle dead. */
import * as z from 'zod';
import { DEFAULT_RESOLUTION_VOLT, fitDecay } from '../isolate/decay.ts';
import { findDischarge } from '../isolate/discharge.ts';
import { findFaultPlace, findInsulation, REQUIRED_OHM_PER_VOLT } from '../isolate/insulation.ts';
import { atLeastZero, entry, number, positive, type Entry } from './entry.ts';

export const ISOLATING: readonly Entry[] = [
  entry({
    name: 'isolate.discharge',
    title: 'Capacitor wait',
    group: 'Isolating',
    purpose: 'How long a capacitor takes to drain to a limit, and the energy it holds.',
    formula: 'tau = R C;  t = tau ln(V₀ / V);  E = C V² / 2',
    source: 'Textbook of electrical engineering; the wait itself is the vehicle maker’s',
    example: { capacitanceMicrofarad: 1000, resistanceOhm: 3e5, startVolt: 216, limitVolt: 60 },
    input: z.strictObject({
      capacitanceMicrofarad: positive,
      resistanceOhm: positive,
      startVolt: positive,
      limitVolt: positive,
    }),
    output: z.strictObject({ tauSecond: z.number(), secondsToLimit: z.number(), startJoule: z.number(), limitJoule: z.number() }),
    compute: (input) => findDischarge(input),
  }),
  entry({
    name: 'isolate.fitDecay',
    title: 'Draining or fed',
    group: 'Isolating',
    purpose: 'Whether timed readings at the posts are a capacitor that drains, and when it will be below the limit.',
    formula: 'least squares of ln V over t;  t = tau ln(V / limit) from the last reading on',
    source: 'Exponential discharge; least squares. Never by itself a proof of dead',
    example: { readings: [210, 160, 120].map((volt, i) => ({ second: 60 * i, volt })), limitVolt: 30 },
    input: z.strictObject({
      readings: z.array(z.strictObject({ second: number, volt: number })).max(20_000),
      limitVolt: positive,
      resolutionVolt: positive.default(DEFAULT_RESOLUTION_VOLT),
    }),
    output: z.strictObject({
      tauSecond: z.number().nullable(),
      startVolt: z.number().nullable(),
      rSquared: z.number().nullable(),
      secondsToLimit: z.number().nullable(),
      verdict: z.enum(['dead', 'draining', 'steady', 'unknown']),
    }),
    compute: ({ readings, limitVolt, resolutionVolt }) => fitDecay(readings, limitVolt, resolutionVolt),
  }),
  entry({
    name: 'isolate.insulation',
    title: 'Insulation resistance',
    group: 'Isolating',
    purpose: 'Insulation resistance of the pack against the chassis by the method of two voltages.',
    formula: 'Ri = R₀ (Vb / V₁′ − Vb / V₁);  at least 100 Ω/V of working voltage (DC), 500 Ω/V (AC bus joined)',
    source: 'UN Regulation No. 100, annex on isolation resistance; ISO 6469-1 (from memory)',
    example: { packVolt: 200, higherVolt: 120, withResistorVolt: 80, resistorOhm: 1e5 },
    input: z.strictObject({
      packVolt: positive,
      higherVolt: positive,
      withResistorVolt: positive,
      resistorOhm: positive,
      workingVolt: positive.optional(),
      ohmPerVoltRequired: positive.default(REQUIRED_OHM_PER_VOLT.dc),
    }),
    output: z.strictObject({ ohm: z.number(), ohmPerVolt: z.number(), passes: z.boolean() }),
    compute: (input) => findInsulation(input),
  }),
  entry({
    name: 'isolate.faultPlace',
    title: 'Place of an insulation fault',
    group: 'Isolating',
    purpose: 'Where in the string a single insulation fault lies.',
    formula:
      'modules up from the negative end = N V₋ / (V₋ + V₊); with the modules’ voltages, that share of the string walked module by module',
    source: 'Voltage divider of one leak on an unloaded string',
    example: { moduleCount: 28, negativeToChassisVolt: 60, positiveToChassisVolt: 150 },
    input: z.strictObject({
      moduleCount: z.int().min(1).max(2000),
      negativeToChassisVolt: atLeastZero,
      positiveToChassisVolt: atLeastZero,
      moduleVolts: z.array(positive).max(2000).optional(),
    }),
    output: z.strictObject({ modulesFromNegative: z.number() }),
    compute: (input) => findFaultPlace(input),
  }),
];

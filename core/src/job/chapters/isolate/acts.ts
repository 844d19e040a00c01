/** Acts of making the vehicle dead and of proving it. */
import * as z from 'zod';
import { GEAR_USES } from '../../../gear/due.ts';
import { PROOF_ENTRIES } from '../../../isolate/proof.ts';
import { pointSchema } from '../../../pack/point.ts';
import { fact, permit } from '../chapter.ts';
import type { ActOf, Table } from '../table.ts';
import { idSchema, reason, shortText, text } from '../words.ts';

const voltRead = z.number().min(-5000).max(5000);

/** How a proof of dead is taken. What the meter's known source must read and the limit are filled in by the server from its register. */
export const proofStartedSchema = z.strictObject({
  meterId: idSchema,
  source: z.enum(['battery', 'provingUnit']),
  /** The proving unit; null for the 12 V battery. */
  sourceId: idSchema.nullable(),
  point: pointSchema,
  known: z.strictObject({ lowVolt: z.number().positive().max(2000), highVolt: z.number().positive().max(2000) }),
  limitVolt: z.number().positive().max(60),
  resolutionVolt: z.number().positive().max(10),
});

export const insulationSchema = z.strictObject({
  packVolt: z.number().positive().max(5000),
  minusChassisVolt: z.number().min(0).max(5000),
  plusChassisVolt: z.number().min(0).max(5000),
  /** The larger of the two again with the known resistor beside it. */
  withResistorVolt: z.number().positive().max(5000),
  resistorOhm: z.number().positive().max(1e9),
});

/** Read by an insulation tester, each pole to the chassis. */
export const insulationTestSchema = z.strictObject({
  testerId: idSchema,
  minusOhm: z.number().min(0).max(1e13),
  plusOhm: z.number().min(0).max(1e13),
});

export const gearPickedSchema = z.strictObject({ use: z.enum(GEAR_USES), gearId: idSchema, isAirTested: z.boolean().default(false) });
const breakMinute = z.int().min(1).max(1440);

/** Every act of this chapter. */
export const ISOLATE = {
  'step.done': {
    body: z.strictObject({ stepId: idSchema, note: text.default('') }),
    trait: fact('does a step of isolation', { stage: 'isolate' }),
    effects: 'none',
    kept: null,
  },
  'step.reopened': {
    body: z.strictObject({ stepId: idSchema }),
    trait: fact('opens a step of isolation again'),
    effects: 'none',
    kept: null,
  },
  'gear.picked': {
    body: gearPickedSchema,
    trait: permit('picks gear', 'apprentice', { isShownWaiting: true }),
    effects: 'none',
    kept: null,
  },
  'wait.lengthened': {
    body: z.strictObject({ minute: z.int().min(1).max(1440), reason: shortText }),
    trait: fact('lengthens the wait'),
    effects: 'none',
    kept: null,
  },
  'proof.started': {
    body: proofStartedSchema,
    trait: permit('begins a proof of dead', 'apprentice', {
      isShownWaiting: true,
      serverFills: ['known', 'limitVolt', 'resolutionVolt'],
      stage: 'isolate',
      version: 2,
    }),
    effects: 'none',
    kept: null,
  },
  'proof.read': {
    body: z.strictObject({ proofId: idSchema, entry: z.enum(PROOF_ENTRIES), volt: voltRead, isFromMeter: z.boolean().default(false) }),
    trait: fact('reads the meter for a proof of dead', { isTakenBack: true, stage: 'isolate' }),
    effects: 'some',
    kept: null,
  },
  /** An apprentice asks a qualified person to sign. */
  'cosign.asked': { body: z.strictObject({ proofId: idSchema }), trait: fact('asks for a co-sign'), effects: 'none', kept: null },
  /** Until when it stands at most, and the break that ends it, are filled in by the server from the shop's policy. */
  'proof.signed': {
    body: z.strictObject({ proofId: idSchema, until: z.iso.datetime().nullable(), breakMinute }),
    trait: permit('signs a proof of dead; an apprentice asks for a co-sign', 'technician', {
      serverFills: ['until', 'breakMinute'],
    }),
    effects: 'none',
    kept: null,
  },
  'shift.ended': { body: z.strictObject({}), trait: fact('ends the shift', { isPassedOn: false }), effects: 'none', kept: null },
  'step.overridden': {
    body: z.strictObject({ stepId: idSchema, reason }),
    trait: permit('overrides a step', 'lead'),
    effects: 'none',
    kept: null,
  },
  'insulation.read': { body: insulationSchema, trait: fact('measures the insulation'), effects: 'some', kept: null },
  'insulation.tested': {
    body: insulationTestSchema,
    trait: permit('tests the insulation by a tester', 'apprentice', { isShownWaiting: true }),
    effects: 'none',
    kept: null,
  },
} as const satisfies Table;
export type IsolateAct = ActOf<typeof ISOLATE>;

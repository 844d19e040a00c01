/** Acts of making the vehicle dead and of proving it. */
import * as z from 'zod';
import { GEAR_USES } from '../../../gear/due.ts';
import { PROOF_ENTRIES } from '../../../isolate/proof.ts';
import { pointSchema } from '../../../pack/point.ts';
import { fact, permit, type Trait } from '../chapter.ts';
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

export const ISOLATE_ACTS = [
  z.strictObject({ type: z.literal('step.done'), body: z.strictObject({ stepId: idSchema, note: text.default('') }) }),
  z.strictObject({ type: z.literal('step.reopened'), body: z.strictObject({ stepId: idSchema }) }),
  z.strictObject({ type: z.literal('gear.picked'), body: gearPickedSchema }),
  z.strictObject({ type: z.literal('wait.lengthened'), body: z.strictObject({ minute: z.int().min(1).max(1440), reason: shortText }) }),
  z.strictObject({ type: z.literal('proof.started'), body: proofStartedSchema }),
  z.strictObject({
    type: z.literal('proof.read'),
    body: z.strictObject({ proofId: idSchema, entry: z.enum(PROOF_ENTRIES), volt: voltRead, isFromMeter: z.boolean().default(false) }),
  }),
  /** An apprentice asks a qualified person to sign. */
  z.strictObject({ type: z.literal('cosign.asked'), body: z.strictObject({ proofId: idSchema }) }),
  /** Until when it stands at most, and the break that ends it, are filled in by the server from the shop's policy. */
  z.strictObject({
    type: z.literal('proof.signed'),
    body: z.strictObject({ proofId: idSchema, until: z.iso.datetime().nullable(), breakMinute }),
  }),
  z.strictObject({ type: z.literal('shift.ended'), body: z.strictObject({}) }),
  z.strictObject({ type: z.literal('step.overridden'), body: z.strictObject({ stepId: idSchema, reason }) }),
  z.strictObject({ type: z.literal('insulation.read'), body: insulationSchema }),
  z.strictObject({ type: z.literal('insulation.tested'), body: insulationTestSchema }),
] as const;
export type IsolateAct = z.infer<(typeof ISOLATE_ACTS)[number]>;

export const ISOLATE_TRAITS = {
  'step.done': fact('does a step of isolation', { stage: 'isolate' }),
  'step.reopened': fact('opens a step of isolation again'),
  'gear.picked': permit('picks gear', 'apprentice', { isShownWaiting: true }),
  'wait.lengthened': fact('lengthens the wait'),
  'proof.started': permit('begins a proof of dead', 'apprentice', {
    isShownWaiting: true,
    serverFills: ['known', 'limitVolt', 'resolutionVolt'],
    stage: 'isolate',
    version: 2,
  }),
  'proof.read': fact('reads the meter for a proof of dead', { isTakenBack: true, stage: 'isolate' }),
  'cosign.asked': fact('asks for a co-sign'),
  'proof.signed': permit('signs a proof of dead; an apprentice asks for a co-sign', 'technician', {
    serverFills: ['until', 'breakMinute'],
  }),
  'shift.ended': fact('ends the shift', { isPassedOn: false }),
  'step.overridden': permit('overrides a step', 'lead'),
  'insulation.read': fact('measures the insulation'),
  'insulation.tested': permit('tests the insulation by a tester', 'apprentice', { isShownWaiting: true }),
} satisfies Record<IsolateAct['type'], Trait>;

/** Acts of putting the pack together that no fact and no count tells: torque, and what is looked at on the way. */
import * as z from 'zod';
import { fact, permit, type Trait } from '../chapter.ts';
import { idSchema, text } from '../words.ts';

/** How a tool tells that it is there: it clicks and gives no figure, or it shows one. */
export const TOOL_READS = ['click', 'figure'] as const;

/** What is looked at before the stack is closed (common practice, no source). */
export const REBUILD_CHECKS = ['nubsSeated', 'endsFlush', 'gapsOpen', 'flapStraight'] as const;
export type RebuildCheck = (typeof REBUILD_CHECKS)[number];
export const REBUILD_CHECK_NAMES: Record<RebuildCheck, string> = {
  nubsSeated: 'interlocking nubs seated',
  endsFlush: 'ends flush',
  gapsOpen: 'air gaps open',
  flapStraight: 'case flap straight',
};

const partId = idSchema;
const newtonMetre = z.number().positive().max(10_000);

export const settingSchema = z.strictObject({
  partId,
  toolId: idSchema,
  reads: z.enum(TOOL_READS),
  setNewtonMetre: newtonMetre,
  /** What is written on the tool; filled in where it is kept. */
  toolLabel: z.string().max(120).default(''),
});

export const torquedSchema = z.strictObject({
  /** The act that set the tool. */
  settingId: idSchema,
  partId,
  /** Which of the pieces, from 1, in the order of the drawing. */
  seat: z.int().min(1).max(500),
  pass: z.union([z.literal(1), z.literal(2)]),
  /** What the tool showed; null where it clicked. */
  newtonMetre: newtonMetre.nullable(),
});

export const REBUILD_ACTS = [
  z.strictObject({ type: z.literal('torque.set'), body: settingSchema }),
  z.strictObject({ type: z.literal('fastener.torqued'), body: torquedSchema }),
  z.strictObject({
    type: z.literal('rebuild.checked'),
    body: z.strictObject({ check: z.enum(REBUILD_CHECKS), isGood: z.boolean(), note: text.default('') }),
  }),
] as const;
export type RebuildAct = z.infer<(typeof REBUILD_ACTS)[number]>;

export const REBUILD_TRAITS = {
  'torque.set': permit('sets a torque tool', 'apprentice', { stage: 'rebuild', serverFills: ['toolLabel'] }),
  'fastener.torqued': fact('tightens a fastener', { isTakenBack: true, stage: 'rebuild' }),
  'rebuild.checked': fact('looks at the stack', { stage: 'rebuild' }),
} satisfies Record<RebuildAct['type'], Trait>;

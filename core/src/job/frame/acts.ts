/** Every act of a job, and what is true of each. An act asks to be kept, an event was kept; both have one shape. */
import * as z from 'zod';
import { factSchema } from '../../pack/fact.ts';
import { fact, permit, type EventHeader, type Trait } from '../chapters/chapter.ts';
import { COOL_ACTS, COOL_TRAITS } from '../chapters/cool/acts.ts';
import { FINDING_ACTS, FINDING_TRAITS } from '../chapters/finding/acts.ts';
import { HAND_OVER_ACTS, HAND_OVER_TRAITS } from '../chapters/hand-over/acts.ts';
import { INTAKE_ACTS, INTAKE_TRAITS } from '../chapters/intake/acts.ts';
import { ISOLATE_ACTS, ISOLATE_TRAITS } from '../chapters/isolate/acts.ts';
import { OPEN_ACTS, OPEN_TRAITS } from '../chapters/open/acts.ts';
import { PLAN_ACTS, PLAN_TRAITS } from '../chapters/plan/acts.ts';
import { REBUILD_ACTS, REBUILD_TRAITS } from '../chapters/rebuild/acts.ts';
import { REFIT_ACTS, REFIT_TRAITS } from '../chapters/refit/acts.ts';
import { STRIP_ACTS, STRIP_TRAITS } from '../chapters/strip/acts.ts';
import { SWEEP_ACTS, SWEEP_TRAITS } from '../chapters/sweep/acts.ts';
import { deviceSchema } from '../chapters/stamp.ts';
import { idSchema, stage, version } from '../chapters/words.ts';

/** An act of a person as somebody else passed it on: whatever the type, in the version that it was kept in. */
export const saidSchema = z.strictObject({
  commandId: idSchema,
  deviceAt: z.iso.datetime(),
  device: deviceSchema,
  type: z.string().min(1).max(60),
  version,
  body: z.record(z.string(), z.unknown()),
});
export type Said = Readonly<z.infer<typeof saidSchema>>;

/** Acts that belong to no chapter: what they do is heard by all. */
const FRAME_ACTS = [
  z.strictObject({
    type: z.literal('fact.stated'),
    body: z.strictObject({
      stage,
      fact: factSchema,
      /** Where some of its parts were counted already: whether all of them are meant. Left out: as counted. */
      counts: z.enum(['all', 'asCounted']).optional(),
    }),
  }),
  z.strictObject({ type: z.literal('act.withdrawn'), body: z.strictObject({ commandId: idSchema, reason: z.literal('mistyped') }) }),
  z.strictObject({ type: z.literal('policy.adopted'), body: z.strictObject({ policyVersion: version }) }),
  z.strictObject({ type: z.literal('word.passed'), body: z.strictObject({ of: idSchema, said: saidSchema }) }),
  z.strictObject({
    type: z.literal('word.confirmed'),
    body: z.strictObject({
      commandIds: z
        .array(idSchema)
        .min(1)
        .max(100)
        .refine((ids) => new Set(ids).size === ids.length, 'Each word once.'),
      /** False: it was not said, or not so. */
      areSo: z.boolean(),
    }),
  }),
] as const;
export type FrameAct = z.infer<(typeof FRAME_ACTS)[number]>;

const FRAME_TRAITS = {
  'fact.stated': fact('states how something stands', { stage: 'body', version: 3 }),
  'act.withdrawn': fact('takes an own act back', { writes: ['quarantine'], isPassedOn: false }),
  'policy.adopted': permit('changes the limits of a job', 'technician'),
  // made by the server of what a session sends in another's name without proof
  'word.passed': fact('passes on what another said', { isPassedOn: false }),
  // what is so after all is written as its own act would be
  'word.confirmed': fact('answers for words passed on', { writes: ['quarantine'], isPassedOn: false, isShownWaiting: false }),
} satisfies Record<FrameAct['type'], Trait>;

export const actSchema = z.discriminatedUnion('type', [
  ...INTAKE_ACTS,
  ...FRAME_ACTS,
  ...ISOLATE_ACTS,
  ...STRIP_ACTS,
  ...FINDING_ACTS,
  ...OPEN_ACTS,
  ...SWEEP_ACTS,
  ...PLAN_ACTS,
  ...REBUILD_ACTS,
  ...COOL_ACTS,
  ...REFIT_ACTS,
  ...HAND_OVER_ACTS,
]);
/** What a person did, as asked to be kept. */
export type Act = z.infer<typeof actSchema>;
export type ActType = Act['type'];
export type ActBody<T extends ActType> = Extract<Act, { type: T }>['body'];

export type JobEvent = EventHeader & Act;

/** What is true of every act, as data: roles, undo, what may be shown early, what the server fills in. */
export const ACT_TRAITS: Readonly<Record<ActType, Trait>> = {
  ...INTAKE_TRAITS,
  ...FRAME_TRAITS,
  ...ISOLATE_TRAITS,
  ...STRIP_TRAITS,
  ...FINDING_TRAITS,
  ...OPEN_TRAITS,
  ...SWEEP_TRAITS,
  ...PLAN_TRAITS,
  ...REBUILD_TRAITS,
  ...COOL_TRAITS,
  ...REFIT_TRAITS,
  ...HAND_OVER_TRAITS,
};
export const ACT_TYPES = Object.keys(ACT_TRAITS) as ActType[];

export function isActType(type: string): type is ActType {
  return Object.hasOwn(ACT_TRAITS, type);
}

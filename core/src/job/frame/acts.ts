/** Every act of a job, and what is true of each. An act asks to be kept, an event was kept; both have one shape. */
import * as z from 'zod';
import { factSchema } from '../../pack/fact.ts';
import { fact, permit, type EventHeader, type Trait } from '../chapters/chapter.ts';
import { COOL } from '../chapters/cool/acts.ts';
import { FINDING } from '../chapters/finding/acts.ts';
import { HAND_OVER } from '../chapters/hand-over/acts.ts';
import { INTAKE } from '../chapters/intake/acts.ts';
import { ISOLATE } from '../chapters/isolate/acts.ts';
import { OPEN } from '../chapters/open/acts.ts';
import { PLAN } from '../chapters/plan/acts.ts';
import { REBUILD } from '../chapters/rebuild/acts.ts';
import { REFIT } from '../chapters/refit/acts.ts';
import { STRIP } from '../chapters/strip/acts.ts';
import { SWEEP } from '../chapters/sweep/acts.ts';
import { deviceSchema } from '../chapters/stamp.ts';
import { schemasOf, traitsOf, type ActOf, type SchemaOf, type Table } from '../chapters/table.ts';
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
export const FRAME = {
  'fact.stated': {
    body: z.strictObject({
      stage,
      fact: factSchema,
      /** Where some of its parts were counted already: whether all of them are meant. Left out: as counted. */
      counts: z.enum(['all', 'asCounted']).optional(),
    }),
    trait: fact('states how something stands', { stage: 'body', version: 3 }),
    effects: 'some',
    kept: null,
  },
  'act.withdrawn': {
    body: z.strictObject({ commandId: idSchema, reason: z.literal('mistyped') }),
    trait: fact('takes an own act back', { writes: ['quarantine'], isPassedOn: false }),
    effects: 'none',
    kept: null,
  },
  'policy.adopted': {
    body: z.strictObject({ policyVersion: version }),
    trait: permit('changes the limits of a job', 'technician'),
    effects: 'none',
    kept: null,
  },
  // made by the server of what a session sends in another's name without proof
  'word.passed': {
    body: z.strictObject({ of: idSchema, said: saidSchema }),
    trait: fact('passes on what another said', { isPassedOn: false }),
    effects: 'none',
    kept: null,
  },
  // what is so after all is written as its own act would be
  'word.confirmed': {
    body: z.strictObject({
      commandIds: z
        .array(idSchema)
        .min(1)
        .max(100)
        .refine((ids) => new Set(ids).size === ids.length, 'Each word once.'),
      /** False: it was not said, or not so. */
      areSo: z.boolean(),
    }),
    trait: fact('answers for words passed on', { writes: ['quarantine'], isPassedOn: false, isShownWaiting: false }),
    effects: 'none',
    kept: null,
  },
} as const satisfies Table;
export type FrameAct = ActOf<typeof FRAME>;

/** Every act of a job. */
const ACTS = {
  ...INTAKE,
  ...FRAME,
  ...ISOLATE,
  ...STRIP,
  ...FINDING,
  ...OPEN,
  ...SWEEP,
  ...PLAN,
  ...REBUILD,
  ...COOL,
  ...REFIT,
  ...HAND_OVER,
};
type Acts = typeof ACTS;

export type ActType = keyof Acts;
/** What a person did, as asked to be kept. */
export type Act = ActOf<Acts>;
export type ActBody<T extends ActType> = ActOf<Acts, T>['body'];

export type JobEvent = EventHeader & Act;

export const actSchema = z.discriminatedUnion('type', schemasOf(ACTS) as [SchemaOf<Acts>, ...SchemaOf<Acts>[]]);

/** What is true of every act, as data: roles, undo, what may be shown early, what the server fills in. */
export const ACT_TRAITS: Readonly<Record<ActType, Trait>> = traitsOf(ACTS);
export const ACT_TYPES = Object.keys(ACT_TRAITS) as ActType[];

export function isActType(type: string): type is ActType {
  return Object.hasOwn(ACT_TRAITS, type);
}

/** Acts that say what was seen: findings and photographs, at any stage. */
import * as z from 'zod';
import { fact, permit } from '../chapter.ts';
import type { ActOf, Table } from '../table.ts';
import { idSchema as id, place, reason, stage, text } from '../words.ts';

export const FINDING_KINDS = [
  'corrosion',
  'heatMark',
  'leak',
  'bulge',
  'burntPin',
  'tiesCut',
  'sealTorn',
  'missing',
  'wrongPart',
  'other',
] as const;
export type FindingKind = (typeof FINDING_KINDS)[number];

export const SEVERITIES = ['slight', 'moderate', 'severe'] as const;
export type Severity = (typeof SEVERITIES)[number];

/** What follows from a finding. */
export const FOLLOW_UPS = ['nothing', 'watch', 'clean', 'renew', 'order'] as const;
export type FollowUp = (typeof FOLLOW_UPS)[number];

const share = z.number().min(0).max(1);

/** Where a finding sits: on the plan of the vehicle, on the drawing of the pack, or on a photograph, in shares of its width and height. */
export const pinSchema = z.discriminatedUnion('on', [
  z.strictObject({ on: z.literal('zone'), zone: id }),
  z.strictObject({ on: z.literal('layer'), layer: id }),
  z.strictObject({ on: z.literal('module'), place }),
  z.strictObject({ on: z.literal('link'), link: z.int().min(1).max(199) }),
  z.strictObject({ on: z.literal('photo'), photoId: id, x: share, y: share }),
]);
export type Pin = z.infer<typeof pinSchema>;

/** Longest side of a photograph as kept, in pixels, and its greatest size. */
export const PHOTO = { longestSide: 2048, byte: 2 * 1024 * 1024, smallSide: 320 } as const;

export const photoSchema = z.strictObject({
  stage,
  photoId: id,
  /** SHA-256 of the picture's bytes, in hex. */
  sha256: z.string().regex(/^[0-9a-f]{64}$/),
  byte: z.int().min(1).max(PHOTO.byte),
  width: z.int().min(1).max(PHOTO.longestSide),
  height: z.int().min(1).max(PHOTO.longestSide),
  caption: z.string().trim().max(200),
  /** The zone or layer it shows; null: the job as a whole. */
  place: id.nullable(),
  /** Taken after the work, as the pair of one taken before. */
  pairOf: id.nullable(),
});

export const findingSchema = z.strictObject({
  ...{ stage, kind: z.enum(FINDING_KINDS), severity: z.enum(SEVERITIES), follow: z.enum(FOLLOW_UPS), pin: pinSchema, note: text },
  /** Seen before anything was touched: an earlier hand's trace. */
  isOnArrival: z.boolean(),
});

/** Every act of this chapter. */
export const FINDING = {
  'finding.noted': {
    body: findingSchema,
    trait: fact('notes a finding', { isTakenBack: true, stage: 'body' }),
    effects: 'none',
    kept: null,
  },
  'finding.settled': {
    body: z.strictObject({ findingId: id, note: z.string().trim().min(1).max(2000) }),
    trait: fact('settles a finding'),
    effects: 'none',
    kept: null,
  },
  'photo.taken': {
    body: photoSchema,
    trait: fact('takes a photograph', { writes: ['photograph'], isPassedOn: false }),
    effects: 'none',
    kept: null,
  },
  /** The picture is erased, the event that named it stays. */
  'photo.erased': {
    body: z.strictObject({ photoId: id, reason }),
    trait: permit('erases a photograph', 'apprentice', { writes: ['photograph'] }),
    effects: 'none',
    kept: null,
  },
} as const satisfies Table;
export type FindingAct = ActOf<typeof FINDING>;

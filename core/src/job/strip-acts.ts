/** Acts of stripping and opening: what came off, what was found, photographs, transfers, the lift, how the pack lies. */
import * as z from 'zod';
import { CONDITIONS, spotSchema } from '../ledger/spot.ts';
import { orientationSchema } from '../pack/orientation.ts';
import { FATES, PART_KINDS, partSchema } from '../pack/parts.ts';
import { STAGES } from '../pack/stage.ts';

const id = z.string().regex(/^[A-Za-z0-9][A-Za-z0-9._-]{0,63}$/, 'letters, digits, point, dash and underscore, up to 64');
const stage = z.enum(STAGES);
const text = z.string().trim().max(2000);
const reason = z.string().trim().min(8).max(400);
const count = z.int().min(1).max(999);

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
  z.strictObject({ on: z.literal('module'), place: z.int().min(1).max(200) }),
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

export const liftPlanSchema = z.strictObject({
  by: z.enum(['twoPeople', 'hoist']),
  /** Who holds the other side, or which hoist. */
  with: z.string().trim().min(1).max(120),
  /** The way out was looked at for cables that catch. */
  isPathClear: z.boolean(),
  note: text,
});

export const STRIP_ACTS = [
  /** A part that the profile does not know, found in the work. Its id is the command's. */
  z.strictObject({
    type: z.literal('part.added'),
    body: z.strictObject({
      stage,
      kind: z.enum(PART_KINDS),
      ...{ name: partSchema.shape.name, place: partSchema.shape.place, where: partSchema.shape.where, size: partSchema.shape.size },
      count: count.nullable(),
      isHidden: z.boolean(),
      /** Put in by an earlier hand; not of this vehicle. */
      isForeign: z.boolean(),
      /** Proposed to the profile for the next job. */
      isProposed: z.boolean(),
    }),
  }),
  z.strictObject({
    type: z.literal('part.moved'),
    body: z.strictObject({ stage, partId: id, count, from: spotSchema, to: spotSchema, condition: z.enum(CONDITIONS) }),
  }),
  /** Left off knowingly: who signs answers for it. */
  z.strictObject({
    type: z.literal('part.leftOff'),
    body: z.strictObject({ partId: id, count, reason, followUp: z.string().trim().min(1).max(400) }),
  }),
  z.strictObject({
    type: z.literal('finding.noted'),
    body: z.strictObject({
      ...{ stage, kind: z.enum(FINDING_KINDS), severity: z.enum(SEVERITIES), follow: z.enum(FOLLOW_UPS), pin: pinSchema, note: text },
      /** Seen before anything was touched: an earlier hand's trace. */
      isOnArrival: z.boolean(),
    }),
  }),
  z.strictObject({ type: z.literal('finding.settled'), body: z.strictObject({ findingId: id, note: z.string().trim().min(1).max(2000) }) }),
  z.strictObject({ type: z.literal('photo.taken'), body: photoSchema }),
  /** The picture is erased, the event that named it stays. */
  z.strictObject({ type: z.literal('photo.erased'), body: z.strictObject({ photoId: id, reason }) }),
  z.strictObject({
    type: z.literal('transfer.stated'),
    body: z.strictObject({ transferId: id, fate: z.enum(FATES), isDone: z.boolean() }),
  }),
  z.strictObject({ type: z.literal('lift.planned'), body: liftPlanSchema }),
  z.strictObject({ type: z.literal('orientation.recorded'), body: orientationSchema }),
  /** Modules may be moved from here on. */
  z.strictObject({ type: z.literal('modules.released'), body: z.strictObject({}) }),
] as const;

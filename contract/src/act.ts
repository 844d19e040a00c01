/** Acts on their way to the server and events on their way back. */
import { customerSchema, deviceSchema, idSchema, shopActSchema, vehicleSchema } from '@estuarine/core';
import * as z from 'zod';
import { problemSchema } from './problem.ts';
import { signatureSchema } from './signed.ts';

const header = {
  /** Made by the device, UUID v7. The same id twice is one act. */
  commandId: idSchema,
  /** Device time corrected by the offset that the device measured. */
  deviceAt: z.iso.datetime(),
  /** The person; must be the one of the session. */
  by: idSchema,
};

/** What is written of vehicle and customer: travels beside the act, lies in rows that can be erased, never in the log. */
export const papersSchema = z.strictObject({ vehicle: vehicleSchema, customer: customerSchema.nullable() });
export type Papers = z.infer<typeof papersSchema>;

/**
 * An act as a device stored it, of whichever version it knew: the server hashes it as it came, brings it up and checks it then. An act
 * stored before versions were written is of version 1.
 */
export const sentActSchema = z.strictObject({
  ...header,
  /** Which device it is, how many acts it sent before and whether it is sure of its time; releases before this one say nothing. */
  device: deviceSchema.optional(),
  version: z.int().min(1).max(1000).default(1),
  act: z.strictObject({ type: z.string().min(1).max(60), body: z.record(z.string(), z.unknown()) }),
  papers: papersSchema.optional(),
  /** By the key of the author's session; left out by a device that held none. Asked only where another's session sends it. */
  signature: signatureSchema.optional(),
});
export type SentAct = z.infer<typeof sentActSchema>;

/** How many acts go in one batch. */
export const BATCH_LIMIT = 100;

/** Acts of one job, in order. Each is read by itself: one that does not fit is an outcome, and the others are kept. */
export const batchSchema = z.strictObject({ acts: z.array(z.unknown()).min(1).max(BATCH_LIMIT) });

/** Place in the order of the shop. */
const position = z.int();

export const sentShopActSchema = z.strictObject({
  ...header,
  act: shopActSchema,
  /** Up to which position of the shop the sender had seen what it changes; left out by one who saw nothing of it. */
  seen: position.min(0).optional(),
});
export type SentShopAct = z.infer<typeof sentShopActSchema>;

export const keptActSchema = z.object({
  stream: z.string(),
  /** Numbers of the first and the last event it became. */
  first: z.int(),
  last: z.int(),
  at: z.string(),
});
/** The server's answer to an act that was kept, or had been kept before. */
export type KeptAct = Readonly<z.infer<typeof keptActSchema>>;

/** What became of each act of a batch, in its order. */
export const batchAnswerSchema = z.object({
  outcomes: z.array(
    z.discriminatedUnion('kind', [
      keptActSchema.extend({ kind: z.literal('kept') }),
      z.object({ kind: z.literal('refused'), problem: problemSchema }),
    ]),
  ),
});
export type BatchAnswer = z.infer<typeof batchAnswerSchema>;

/** Name of the stream that is the shop's own; every other is a job's id. */
export const SHOP_STREAM = 'shop';

/** An event in the version that the server writes; whoever reads it brings it up, or says that it is too old. */
export const wireEventSchema = z.object({
  number: z.int(),
  commandId: z.string(),
  by: z.string(),
  at: z.string(),
  deviceAt: z.string(),
  device: deviceSchema.optional(),
  /** Who sent it for its author; left out where the author did. */
  forwardedBy: z.string().optional(),
  type: z.string(),
  version: z.int(),
  body: z.unknown(),
});
export type WireEvent = Readonly<z.infer<typeof wireEventSchema>>;

/** What the stream sends for each event kept. Shop events come without their body, which can be large: refetch what they touch. */
export const streamedEventSchema = z.union([
  z.object({ position, stream: z.string(), event: wireEventSchema }),
  z.object({ position, stream: z.literal(SHOP_STREAM), number: z.int(), type: z.string() }),
]);
export type StreamedEvent = Readonly<z.infer<typeof streamedEventSchema>>;

/** A device that had a job open when it fell silent: what was done on it since, nobody else knows. */
export const cutOffSchema = z.object({
  deviceId: z.string(),
  jobId: z.string(),
  /** The person on it. */
  by: z.string(),
  /** When it was last heard, ISO 8601. */
  since: z.string(),
});
export type CutOff = Readonly<z.infer<typeof cutOffSchema>>;

/** A device has a job open, or left it: then it holds nothing of it that the server does not know. */
export const enteringSchema = z.strictObject({ jobId: idSchema, isOpen: z.boolean() });

/** What each word of a stream says: the server's time, the version of its fold, how far the log goes, and which devices are cut off. */
export const beatSchema = z.object({
  now: z.string(),
  fold: z.int(),
  /** Position of the last event of the shop, read from the database a moment ago; null where that did not answer. */
  position: position.nullable().default(null),
  cutOff: z.array(cutOffSchema).default([]),
});
export type Beat = Readonly<z.infer<typeof beatSchema>>;

/** First word of a stream. */
export const helloSchema = beatSchema.extend({
  /** The stream could not go on where the browser was: what is shown is fetched afresh. */
  isBehind: z.boolean(),
  /** Which log it is; another than before means that the shop was restored. */
  epoch: z.string().default(''),
  /** Position from which on all is told. */
  sent: position.default(0),
});
export type Hello = Readonly<z.infer<typeof helloSchema>>;

export const eventsAnswerSchema = z.object({ events: z.array(wireEventSchema), next: z.int().nullable() });
export type EventsAnswer = z.infer<typeof eventsAnswerSchema>;

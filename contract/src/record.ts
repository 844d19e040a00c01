/** The sealed record of a job: a zip whose first member lists all the others by name, size and hash, and whose second signs that list. */
import { idSchema } from '@estuarine/core';
import * as z from 'zod';

export const RECORD_FORMAT = 'estuarine-sealed-record';
export const MANIFEST_NAME = 'manifest.json';
/** Ed25519 over the bytes of the manifest, in hex. */
export const SIGNATURE_NAME = 'manifest.ed25519';
/** One event a line: its place, the text that was hashed, and the hash. */
export const EVENTS_NAME = 'events.jsonl';

const sha256 = z.string().regex(/^[0-9a-f]{64}$/, 'a SHA-256 in hex');

export const manifestSchema = z.strictObject({
  format: z.literal(RECORD_FORMAT),
  version: z.literal(1),
  job: z.strictObject({ id: idSchema, number: z.int().min(0) }),
  sealedAt: z.iso.datetime(),
  sealedBy: z.string().max(64),
  key: z.strictObject({
    /** SHA-256 of the raw public key. */
    fingerprint: sha256,
    /** Raw, in hex. */
    publicKey: sha256,
  }),
  /** The hash chain of the job: each hash is SHA-256 of the one before and the text of the event. */
  chain: z.strictObject({ stream: idSchema, head: z.int().min(1), hash: sha256 }),
  /** In the order of the file, after manifest and signature. */
  members: z.array(z.strictObject({ name: z.string().min(1).max(200), byte: z.int().min(0), sha256 })).max(2000),
});
export type Manifest = Readonly<z.infer<typeof manifestSchema>>;

export const eventLineSchema = z.strictObject({ number: z.int().min(1), text: z.string(), hash: sha256 });

/** A key of the shop as it is published. */
export const publishedKeySchema = z.object({
  fingerprint: sha256,
  publicKey: sha256,
  madeAt: z.string(),
  /** Replaced by another; what it signed stands. */
  retiredAt: z.string().nullable(),
  /** Not to be trusted from then on. */
  revokedAt: z.string().nullable(),
  reason: z.string().nullable(),
});
export type PublishedKey = Readonly<z.infer<typeof publishedKeySchema>>;

export const keysAnswerSchema = z.object({ keys: z.array(publishedKeySchema), canSign: z.boolean() });
export type KeysAnswer = Readonly<z.infer<typeof keysAnswerSchema>>;

export const keyBackupSchema = z.object({ pem: z.string() });
export const keyRestoredSchema = z.object({ fingerprint: sha256 });

export const reportStandingSchema = z.object({
  reportId: z.string(),
  standing: z.enum(['running', 'ready', 'failed', 'cancelled']),
  /** Of the work, 0 to 1. */
  share: z.number(),
  byte: z.number().nullable(),
});
export type ReportStanding = Readonly<z.infer<typeof reportStandingSchema>>;

export const recordRowSchema = z.object({
  jobId: z.string(),
  head: z.int(),
  sealedAt: z.string(),
  sealedBy: z.string(),
  fingerprint: z.string(),
  manifestSha256: z.string(),
  /** Null once what it named was erased. */
  byte: z.number().nullable(),
});
export type RecordRow = Readonly<z.infer<typeof recordRowSchema>>;
export const recordsAnswerSchema = z.object({ records: z.array(recordRowSchema) });
export type RecordsAnswer = Readonly<z.infer<typeof recordsAnswerSchema>>;

/** Fingerprint of a key as it is read aloud: sixteen groups of four. */
export function sayFingerprint(fingerprint: string): string {
  return (fingerprint.match(/.{1,4}/g) ?? []).join(' ');
}

/**
 * Whose an act is, shown without its author: a device signs what it keeps by a key that the server certified to a person's session, and
 * that does not outlast it. It shows that this device held that session when the act was stored, not that the person's hand pressed.
 */
import { idSchema } from '@estuarine/core';
import canonicalizeModule from 'canonicalize';
import * as z from 'zod';

/** By its types the package is a module with a default, where it is the function itself. */
const imported: unknown = canonicalizeModule;
const canonicalize = imported as (value: unknown) => string | undefined;

/** The text of a value by RFC 8785 (JSON Canonicalization Scheme). */
export function canonicalText(value: unknown): string {
  const text = canonicalize(value);
  if (text === undefined) throw new TypeError('a value without JSON text has no canonical text');
  return text;
}

const base64 = z.string().regex(/^[A-Za-z0-9_-]{20,400}$/, 'base64url');
const deviceId = z.string().min(1).max(64);

export const certificateSchema = z.strictObject({
  person: idSchema,
  device: deviceId,
  /** Public key of the device, ECDSA on P-256: SPKI, base64url. */
  key: base64,
  /** From when and until when it signs, ISO 8601. */
  from: z.iso.datetime(),
  until: z.iso.datetime(),
  /** HMAC-SHA256 of all that by the shop's secret, base64url. */
  mac: base64,
});
export type Certificate = Readonly<z.infer<typeof certificateSchema>>;

export const keyRequestSchema = z.strictObject({ device: deviceId, key: base64 });

export const signatureSchema = z.strictObject({
  certificate: certificateSchema,
  /** ECDSA with SHA-256 over {@link signedText}, r and s one after the other (IEEE P1363), base64url. */
  value: base64,
});
export type Signature = Readonly<z.infer<typeof signatureSchema>>;

/** What of an act on a job is signed: all of it but the signature, and which job. */
export function signedText(jobId: string, sent: Readonly<Record<string, unknown>>): string {
  const { signature: _, ...act } = sent;
  return canonicalText({ jobId, ...act });
}

/**
 * The archive of a whole shop: every event with its hash, every answer that was given, and what lies beside the log. What is computed from
 * the log (modules, summaries, policies and the like) is not in it but for reading: coming in it is made anew, so that an archive of an
 * older release comes into a newer one.
 */
import { idSchema } from '@estuarine/core';
import * as z from 'zod';

export const SHOP_FORMAT = 'estuarine-shop';
export const INDEX = 'archive.json';

const hex = z.string().regex(/^([0-9a-f]{2})*$/);
const instant = z.iso.datetime({ offset: true });
const memberSchema = z.strictObject({ name: z.string().min(1).max(400), byte: z.int().min(0), sha256: z.string().regex(/^[0-9a-f]{64}$/) });

export type ShopMember = z.infer<typeof memberSchema>;

export const shopIndexSchema = z.strictObject({
  format: z.literal(SHOP_FORMAT),
  version: z.literal(1),
  madeAt: instant,
  fold: z.int(),
  isDemo: z.boolean(),
  members: z.array(memberSchema).max(200_000),
});

export type ShopIndex = z.infer<typeof shopIndexSchema>;

/** Every kind of line that the archive holds, by the table that it is of. */
export const LINES = {
  stream: z.strictObject({ stream: idSchema, head: z.int().min(0), hash: hex }),
  log_event: z.strictObject({
    position: z.int().min(1),
    stream: idSchema,
    number: z.int().min(1),
    type: z.string().max(80),
    command_id: z.string().max(80),
    text: z.string(),
    hash: hex,
  }),
  log_command: z.strictObject({ command_id: z.string().max(80), body_hash: hex, outcome: z.string() }),
  person: z.strictObject({
    person_id: z.string().max(64),
    name: z.string(),
    name_salt: hex.nullable().default(null),
    role: z.string().max(20),
    has_left: z.boolean(),
  }),
  credential: z.strictObject({ person_id: z.string().max(64), passphrase_hash: z.string(), pin_hash: z.string().nullable() }),
  vehicle: z.strictObject({ vehicle_id: z.string().max(64), salt: hex.nullable(), body: z.string().nullable() }),
  customer: z.strictObject({ customer_id: z.string().max(64), salt: hex.nullable(), body: z.string().nullable() }),
  photo: z.strictObject({
    job_id: z.string().max(64),
    photo_id: z.string().max(64),
    sha256: hex,
    picture: hex.nullable(),
    print: hex.nullable(),
    small: hex.nullable(),
    put_by: z.string().max(64),
    put_at: instant,
  }),
  seal_key: z.strictObject({
    fingerprint: hex,
    public_key: hex,
    private_sealed: hex.nullable(),
    made_at: instant,
    retired_at: instant.nullable(),
    revoked_at: instant.nullable(),
    reason: z.string().nullable(),
  }),
  sealed_archive: z.strictObject({
    job_id: z.string().max(64),
    head: z.int().min(1),
    sealed_at: instant,
    sealed_by: z.string().max(64),
    fingerprint: hex,
    manifest_sha256: hex,
    /** Empty where it names none; releases before this one do not say. */
    vehicle_id: z.string().max(64).nullable().default(null),
  }),
  /** The bytes of the records in parts: one may be larger than any line. */
  sealed_bytes: z.strictObject({ job_id: z.string().max(64), head: z.int().min(1), part: z.int().min(0), bytes: hex }),
} as const;
export type Table = keyof typeof LINES;
export const TABLES = Object.keys(LINES) as Table[];
/** Which key orders a table, for reading it page by page. */
export const ORDER: Record<Table, string> = {
  stream: 'stream',
  log_event: 'position',
  log_command: 'command_id',
  person: 'person_id',
  credential: 'person_id',
  vehicle: 'vehicle_id',
  customer: 'customer_id',
  photo: 'job_id, photo_id',
  seal_key: 'fingerprint',
  sealed_archive: 'job_id, head',
  sealed_bytes: 'job_id, head, part',
};
const BYTES: ReadonlySet<string> = new Set(['hash', 'body_hash', 'salt', 'name_salt', 'sha256', 'picture', 'print', 'small', 'public_key', 'private_sealed', 'bytes']); // prettier-ignore

export function columnsOf(table: Table): string[] {
  return Object.keys(LINES[table].shape);
}

/** Columns whose bytes are written in hex. */
export function isBytes(name: string): boolean {
  return BYTES.has(name);
}

/** Columns that are times. */
export function isTime(name: string): boolean {
  return name.endsWith('_at');
}

/** Schemas of all that the archive holds, by the name of the file. */
export function schemas(): Record<string, unknown> {
  const entries = TABLES.map((table) => [`tables/${table}.jsonl`, z.toJSONSchema(LINES[table], { io: 'input' })] as const);
  return { [INDEX]: z.toJSONSchema(shopIndexSchema, { io: 'input' }), ...Object.fromEntries(entries) };
}

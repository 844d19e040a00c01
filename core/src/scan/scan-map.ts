/**
 * Where the units of a car keep what a scan asks for: by identifiers of two bytes (ISO 14229-1 service 0x22) or by local ones of one
 * byte as older units have them (ISO 14230-3 service 0x21), both from memory. The identifiers are the profile's.
 */
import * as z from 'zod';
import { answer, refuse, type Refusal, type Result } from '../result.ts';
import { CODE_PATTERN } from './general.ts';

export const SCANNED = ['blockVolt', 'packVolt', 'celsius', 'ampere', 'chargePercent'] as const;
export type Scanned = (typeof SCANNED)[number];

/** One figure in the bytes behind an identifier: raw × scale + shift, most significant byte first. */
export const scanFieldSchema = z.strictObject({
  what: z.enum(SCANNED),
  /** Which block or sensor, from 1. */
  number: z.int().min(1).max(200),
  identifier: z.int().min(0).max(0xffff),
  /** Of the bytes behind the identifier, from 0. */
  offset: z.int().min(0).max(1000),
  byte: z.union([z.literal(1), z.literal(2)]),
  isSigned: z.boolean(),
  scale: z.number().positive().max(1000),
  shift: z.number().min(-1e4).max(1e4),
});
export type ScanField = z.infer<typeof scanFieldSchema>;

const unitId = z.int().min(0).max(0x7ff);

/** A code of this car's own units, with what it means and what to look at first. */
export const ownCodeSchema = z.strictObject({
  code: z.string().regex(CODE_PATTERN, 'a code such as P3011'),
  text: z.string().trim().min(1).max(200),
  /** The block that it is about; null where it is about none. */
  block: z.int().min(1).max(200).nullable(),
  /** The code of another unit that it comes with; null where it comes alone. */
  comesWith: z.string().regex(CODE_PATTERN).nullable(),
  first: z.string().trim().max(300),
});
export type OwnCode = z.infer<typeof ownCodeSchema>;

export const scanMapSchema = z.strictObject({
  service: z.enum(['identifier', 'local']),
  /** CAN identifiers of the battery unit. */
  requestId: unitId,
  answerId: unitId,
  fields: z.array(scanFieldSchema).min(1).max(600),
  codes: z.array(ownCodeSchema).max(200),
});
export type ScanMap = z.infer<typeof scanMapSchema>;

export const SCAN_SERVICES = { identifier: 0x22, local: 0x21 } as const;

/** Checks that a map fits the blocks and sensors of its pack; null where it does. */
export function checkScanMap(map: ScanMap, blockCount: number): Refusal | null {
  const seen = new Set<string>();
  for (const [i, { what, number, identifier }] of map.fields.entries()) {
    const path = ['scan', 'fields', i];
    if (map.service === 'local' && identifier > 0xff)
      return refuse('mismatch', `A local identifier has one byte; ${identifier} has two.`, [...path, 'identifier']);
    if (what === 'blockVolt' && number > blockCount)
      return refuse('mismatch', `Block ${number} is not there: the pack has ${blockCount}.`, [...path, 'number']);
    if (seen.has(`${what} ${number}`)) return refuse('mismatch', `${what} ${number} stands twice.`, [...path, 'number']);
    seen.add(`${what} ${number}`);
  }
  for (const [i, { block, code }] of map.codes.entries()) {
    if (block !== null && block > blockCount) return refuse('mismatch', `${code} is about block ${block}, which is not there.`, ['scan', 'codes', i, 'block']); // prettier-ignore
    if (map.codes.findIndex((c) => c.code === code) !== i) return refuse('mismatch', `${code} stands twice.`, ['scan', 'codes', i, 'code']);
  }
  return null;
}

/** The requests that a scan makes, one for each identifier, in the order of the map. */
export function listRequests(map: ScanMap): { readonly identifier: number; readonly bytes: readonly number[] }[] {
  const service = SCAN_SERVICES[map.service];
  return [...new Set(map.fields.map((f) => f.identifier))].map((identifier) => ({
    identifier,
    bytes: map.service === 'local' ? [service, identifier] : [service, identifier >> 8, identifier & 0xff],
  }));
}

export interface ScannedFigures {
  /** Volt, block 1 first; null where the unit did not say. */
  readonly blockVolts: readonly (number | null)[];
  /** Of the whole pack, as the unit adds it up itself. */
  readonly packVolt: number | null;
  readonly celsius: readonly (number | null)[];
  readonly ampere: number | null;
  readonly chargePercent: number | null;
}

/**
 * Figures from the answers of a scan.
 * @param data behind the identifier that it repeats, by identifier
 * Refusal `unreadable` where an answer is too short for a field of the map.
 */
export function readFigures(map: ScanMap, data: ReadonlyMap<number, readonly number[]>): Result<ScannedFigures> {
  const found = new Map<string, number>();
  for (const field of map.fields) {
    const bytes = data.get(field.identifier);
    if (!bytes) continue;
    if (bytes.length < field.offset + field.byte)
      return refuse('unreadable', `The answer to identifier ${hexOf(field.identifier)} has ${bytes.length} bytes, too few for ${field.what} ${field.number}.`); // prettier-ignore
    found.set(`${field.what} ${field.number}`, readField(field, bytes));
  }
  const list = (what: Scanned): (number | null)[] => {
    const numbers = map.fields.filter((f) => f.what === what).map((f) => f.number);
    return Array.from({ length: Math.max(0, ...numbers) }, (_, i) => found.get(`${what} ${i + 1}`) ?? null);
  };
  const one = (what: Scanned): number | null => found.get(`${what} 1`) ?? null;
  return answer({
    blockVolts: list('blockVolt'),
    packVolt: one('packVolt'),
    celsius: list('celsius'),
    ampere: one('ampere'),
    chargePercent: one('chargePercent'),
  });
}

function hexOf(identifier: number): string {
  return `0x${identifier.toString(16).toUpperCase()}`;
}

function readField({ offset, byte, isSigned, scale, shift }: ScanField, bytes: readonly number[]): number {
  const raw = byte === 1 ? (bytes[offset] ?? 0) : ((bytes[offset] ?? 0) << 8) | (bytes[offset + 1] ?? 0);
  const top = 2 ** (8 * byte);
  const value = isSigned && raw >= top / 2 ? raw - top : raw;
  return Number((value * scale + shift).toPrecision(12));
}

/** The bytes that a unit keeps behind an identifier so that {@link readFigures} gives the figures; what does not fit is held at its end. */
export function writeFigures(map: ScanMap, identifier: number, figure: (what: Scanned, number: number) => number): number[] {
  const bytes: number[] = [];
  for (const field of map.fields.filter((f) => f.identifier === identifier)) {
    const { offset, byte, isSigned, scale, shift } = field;
    const top = 2 ** (8 * byte);
    const [least, most] = isSigned ? [-top / 2, top / 2 - 1] : [0, top - 1];
    const raw = Math.min(most, Math.max(least, Math.round((figure(field.what, field.number) - shift) / scale)));
    const plain = raw < 0 ? raw + top : raw;
    while (bytes.length < offset + byte) bytes.push(0);
    if (byte === 1) bytes[offset] = plain;
    else [bytes[offset], bytes[offset + 1]] = [plain >> 8, plain & 0xff];
  }
  return bytes;
}

/** The smallest step of the block voltages that the unit sends. */
export function blockStepVolt({ fields }: ScanMap): number {
  return Math.max(...fields.filter((f) => f.what === 'blockVolt').map((f) => f.scale), 0);
}

/**
 * The general services that every car answers: codes stored, pending and permanent, readiness, clearing (SAE J1979; the coding of codes
 * by SAE J2012; all from memory).
 */
import { answer, refuse, type Result } from '../result.ts';

export const CODE_STATUSES = ['stored', 'pending', 'permanent'] as const;
/** Confirmed; seen once on this or the last drive; left by clearing until the car itself finds the fault gone. */
export type CodeStatus = (typeof CODE_STATUSES)[number];

/** Services that ask for codes, by status. */
export const CODE_SERVICES: Readonly<Record<CodeStatus, number>> = { stored: 0x03, pending: 0x07, permanent: 0x0a };
export const CLEAR_SERVICE = 0x04;
/** Service and parameter that ask for readiness. */
export const READINESS_REQUEST = [0x01, 0x01] as const;

/** An answer carries the service plus this. */
const POSITIVE = 0x40;
const NEGATIVE = 0x7f;
/** The unit needs more time and will answer by itself. */
const PENDING = 0x78;

/** Why a unit refuses (ISO 14229-1, annex A, from memory). */
const REASONS: Readonly<Record<number, string>> = {
  0x10: 'general reject',
  0x11: 'service not supported',
  0x12: 'no such function of the service',
  0x13: 'wrong length or format',
  0x21: 'busy, ask again',
  0x22: 'conditions not correct',
  0x31: 'no such identifier',
  0x33: 'access denied',
  0x78: 'answer follows',
  0x7f: 'not in this session',
};

/** The data behind the service of an answer; `pending`: another answer follows. */
export type Answered =
  | { readonly kind: 'data'; readonly bytes: readonly number[] }
  | { readonly kind: 'pending' }
  | { readonly kind: 'negative'; readonly code: number; readonly message: string }
  /** An answer to something else. */
  | { readonly kind: 'other' };

/** What a unit said to a request of `service`. */
export function readAnswer(service: number, bytes: readonly number[]): Answered {
  const [head, asked, code = 0] = bytes;
  if (head === NEGATIVE) {
    if (asked !== service) return { kind: 'other' };
    if (code === PENDING) return { kind: 'pending' };
    return { kind: 'negative', code, message: `The unit refuses: ${REASONS[code] ?? `reason 0x${hex(code, 2)}`}.` };
  }
  return head === service + POSITIVE ? { kind: 'data', bytes: bytes.slice(1) } : { kind: 'other' };
}

function hex(value: number, width: number): string {
  return value.toString(16).toUpperCase().padStart(width, '0');
}

export const CODE_PATTERN = /^[PCBU][0-3][0-9A-F]{3}$/;

/** Two bytes as a code is written: a letter, a digit and three hexadecimal ones. */
export function writeCode(high: number, low: number): string {
  return `${'PCBU'[high >> 6]}${(high >> 4) & 0x3}${hex(high & 0xf, 1)}${hex(low, 2)}`;
}

/** The two bytes of a code as it is written. */
export function codeBytes(code: string): Result<readonly [number, number]> {
  if (!CODE_PATTERN.test(code)) return refuse('unreadable', `"${code}" is no code: a letter of P, C, B, U and four digits, such as P0562.`);
  const high = ('PCBU'.indexOf(code.slice(0, 1)) << 6) | (Number(code.slice(1, 2)) << 4) | parseInt(code.slice(2, 3), 16);
  return answer([high, parseInt(code.slice(3), 16)]);
}

/** The codes of an answer: their number, then two bytes each. Refusal `unreadable` where the number is not that of the bytes. */
export function readCodes(data: readonly number[]): Result<readonly string[]> {
  const [count = 0, ...rest] = data;
  if (data.length === 0 || rest.length < 2 * count)
    return refuse('unreadable', `An answer of ${count} codes came with ${Math.floor(rest.length / 2)} of them.`);
  return answer(Array.from({ length: count }, (_, i) => writeCode(rest[2 * i] ?? 0, rest[2 * i + 1] ?? 0)));
}

export interface Readiness {
  readonly isLampOn: boolean;
  /** Confirmed codes that the unit counts. */
  readonly codeCount: number;
  /** Tests that the unit has and has not finished since the codes were cleared. */
  readonly incomplete: readonly string[];
}

const CONTINUOUS = ['misfire', 'fuel system', 'components'];
/** Of engines with spark ignition; bit 4 is reserved. */
const ONCE_A_DRIVE = [
  'catalyst',
  'heated catalyst',
  'evaporative system',
  'secondary air',
  '',
  'oxygen sensor',
  'oxygen sensor heater',
  'EGR',
];

/** Parameter 1 of service 1: its number, then four bytes. */
export function readReadiness(data: readonly number[]): Result<Readiness> {
  const [parameter, a = 0, b = 0, c = 0, d = 0] = data;
  if (parameter !== 1 || data.length < 5) return refuse('unreadable', 'Readiness came without its four bytes.');
  const isOpen = (supported: number, incomplete: number, bit: number): boolean => ((supported & incomplete) >> bit) % 2 === 1;
  return answer({
    isLampOn: a >= 0x80,
    codeCount: a & 0x7f,
    incomplete: [
      ...CONTINUOUS.filter((_, bit) => isOpen(b, b >> 4, bit)),
      ...ONCE_A_DRIVE.filter((name, bit) => name !== '' && isOpen(c, d, bit)),
    ],
  });
}

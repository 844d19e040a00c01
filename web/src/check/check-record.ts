/**
 * Whether a sealed record is as the shop sealed it. Shares no code with the server that made it: whoever checks trusts this page and the
 * fingerprint, not the file. Signature by Ed25519 (RFC 8032), hashes by SHA-256 (FIPS 180-4).
 */
import { hashes, verify } from '@noble/ed25519';
import { sha256, sha512 } from '@noble/hashes/sha2.js';
import { NotReadable, readZip, type ZipMember } from './read-zip.ts';

hashes.sha512 = sha512;

/**
 * Room that a record takes at most when unpacked: the sealing packs nothing, and whoever packs it anew makes photographs no smaller and
 * tables hardly to a tenth. What claims more is a trap, and is not unpacked.
 */
const MOST_BYTES = 1.5e9;
const roomFor = (file: Uint8Array): number => Math.min(MOST_BYTES, 48e6 + 4 * file.length);
/** As many faults are told; who sees them needs no more. */
const MOST_FAULTS = 100;
const MANIFEST = 'manifest.json';
const SIGNATURE = 'manifest.ed25519';
const EVENTS = 'events.jsonl';

/** A key that the shop stands for. */
export interface KnownKey {
  readonly fingerprint: string;
  readonly publicKey: string;
  readonly revokedAt: string | null;
  readonly reason: string | null;
}

export interface Manifest {
  readonly job: { readonly id: string; readonly number: number };
  readonly sealedAt: string;
  readonly sealedBy: string;
  readonly key: { readonly fingerprint: string; readonly publicKey: string };
  readonly chain: { readonly stream: string; readonly head: number; readonly hash: string };
  readonly members: readonly { readonly name: string; readonly byte: number; readonly sha256: string }[];
}

/**
 * `good`: as it was sealed, by a key that the shop stands for. `doubtful`: so too, but the key was revoked since. `revoked`: sealed with a
 * key that was revoked before. `otherKey`: whole in itself, but nobody vouches for its key. `changed`: not as it was sealed.
 */
export type Verdict = 'good' | 'doubtful' | 'revoked' | 'otherKey' | 'changed' | 'noRecord';

export interface Checked {
  readonly verdict: Verdict;
  /** In a sentence. */
  readonly says: string;
  /** What was changed, one sentence each. */
  readonly faults: readonly string[];
  readonly manifest: Manifest | null;
}

export function checkRecord(file: Uint8Array, keys: readonly KnownKey[]): Checked {
  let zip: ReturnType<typeof readZip>;
  try {
    zip = readZip(file, roomFor(file));
  } catch (error) {
    if (!(error instanceof NotReadable)) throw error;
    return { verdict: 'noRecord', says: error.message, faults: [], manifest: null };
  }
  const byName = firstOfEach(zip.members);
  const of = (name: string): ZipMember | undefined => byName.get(name);
  const signed = of(MANIFEST);
  const manifest = signed ? readManifest(signed.bytes) : null;
  if (!signed || !manifest) {
    const says = signed ? `${MANIFEST} is no list of a sealed record.` : `There is no ${MANIFEST} in it: this is no sealed record.`;
    return { verdict: 'noRecord', says, faults: [], manifest: null };
  }
  const faults = [
    ...checkSignature(signed.bytes, of(SIGNATURE)?.bytes, manifest),
    ...checkMembers(zip.members, manifest),
    ...checkChain(of(EVENTS)?.bytes, manifest),
    ...zip.wrapping,
  ];
  if (faults.length > 0) {
    const isWrappingAlone = faults.length === zip.wrapping.length;
    const says = isWrappingAlone
      ? 'Every file inside is as it was sealed, but the zip around them was written anew or changed.'
      : 'This is not as it was sealed.';
    return { verdict: 'changed', says, faults: faults.length > MOST_FAULTS ? shorten(faults) : faults, manifest };
  }
  return { ...judgeKey(manifest, keys), faults, manifest };
}

function judgeKey({ key, sealedAt }: Manifest, keys: readonly KnownKey[]): Pick<Checked, 'verdict' | 'says'> {
  const known = keys.find((k) => k.fingerprint === key.fingerprint && k.publicKey === key.publicKey);
  if (!known)
    return {
      verdict: 'otherKey',
      says: 'Nothing in it was changed since somebody sealed it, but not with a key that this page knows. Whoever forges a record seals it with a key of their own.',
    };
  if (known.revokedAt === null) return { verdict: 'good', says: 'This is as the shop sealed it: nothing was changed, taken out or added.' };
  const why = known.reason === null ? '' : ` (${known.reason})`;
  if (Date.parse(sealedAt) >= Date.parse(known.revokedAt))
    return { verdict: 'revoked', says: `It was sealed with a key that the shop had revoked before${why}. Do not trust it.` };
  return {
    verdict: 'doubtful',
    says: `Nothing in it was changed, and by its own word it was sealed before the shop revoked its key${why}. Who has the key can write any time: trust it if you held this file before ${known.revokedAt.slice(0, 10)}.`,
  };
}

function checkSignature(text: Uint8Array, signature: Uint8Array | undefined, { key }: Manifest): string[] {
  if (!signature) return [`${SIGNATURE} is missing: nothing says who sealed it.`];
  const publicKey = fromHex(key.publicKey);
  if (toHex(sha256(publicKey)) !== key.fingerprint) return ['The fingerprint is not that of the key beside it.'];
  // the signature itself is under no hash: nothing stands beside it
  const written = new TextDecoder().decode(signature);
  if (signature.length !== 128 || !/^[0-9a-f]{128}$/.test(written)) return [`${SIGNATURE} is not written as the sealing writes it.`];
  const bytes = fromHex(written);
  return isSigned(bytes, text, publicKey)
    ? []
    : [`The signature does not fit ${MANIFEST}: the list was changed, or another key signed it.`];
}

function isSigned(signature: Uint8Array, text: Uint8Array, publicKey: Uint8Array): boolean {
  try {
    return signature.length === 64 && verify(signature, text, publicKey, { zip215: false });
  } catch {
    return false;
  }
}

function checkMembers(members: readonly ZipMember[], { members: listed }: Manifest): string[] {
  const faults: string[] = [];
  const names = members.map((m) => m.name);
  const byName = firstOfEach(members);
  if (byName.size < names.length) {
    const seen = new Set<string>();
    const twice = new Set(names.filter((name) => seen.size === seen.add(name).size));
    for (const name of twice) faults.push(`${name} is there more than once.`);
  }
  const found = new Map([...byName].map(([name, { bytes }]) => [name, toHex(sha256(bytes))]));
  const wanted = new Set([MANIFEST, SIGNATURE, ...listed.map((l) => l.name)]);
  if (wanted.size < listed.length + 2) faults.push(`${MANIFEST} lists a file twice.`);
  const strange = members.filter((m) => !wanted.has(m.name));
  const strangeBy = new Map<string, string[]>();
  for (const { name } of strange) strangeBy.set(found.get(name) ?? '', [...(strangeBy.get(found.get(name) ?? '') ?? []), name].slice(-MOST_FAULTS)); // prettier-ignore
  const renamed = new Set<string>();
  for (const { name, byte, sha256: hash } of listed) {
    const there = byName.get(name);
    if (there) {
      if (found.get(name) !== hash || there.bytes.length !== byte) faults.push(`${name} was changed.`);
      continue;
    }
    const other = strangeBy.get(hash)?.pop();
    if (other !== undefined) renamed.add(other);
    faults.push(other === undefined ? `${name} is missing.` : `${name} was renamed to ${other}.`);
  }
  for (const { name } of strange) if (!renamed.has(name)) faults.push(`${name} was added.`);
  const order = [MANIFEST, SIGNATURE, ...listed.map((l) => l.name)].filter((name) => byName.has(name));
  if (faults.length === 0 && names.some((name, i) => name !== order[i]))
    faults.push('The files stand in another order than they were sealed in.');
  return faults;
}

/** By name; of two of one name the first. */
function firstOfEach(members: readonly ZipMember[]): ReadonlyMap<string, ZipMember> {
  return new Map([...members].reverse().map((m) => [m.name, m]));
}

function shorten(faults: readonly string[]): string[] {
  return [...faults.slice(0, MOST_FAULTS), `And ${faults.length - MOST_FAULTS} more.`];
}

interface EventLine {
  readonly number: number;
  readonly text: string;
  readonly hash: string;
}

function checkChain(bytes: Uint8Array | undefined, { chain }: Manifest): string[] {
  // that it is missing was said with the members
  if (!bytes) return [];
  let before: Uint8Array = new Uint8Array(0);
  let number = 0;
  for (const line of new TextDecoder().decode(bytes).split('\n')) {
    if (line === '') continue;
    const event = readLine(line);
    if (event?.number !== number + 1) return [`Entry ${number + 1} of the job is missing or cannot be read.`];
    number = event.number;
    const text = new TextEncoder().encode(event.text);
    const both = new Uint8Array(before.length + text.length);
    both.set(before);
    both.set(text, before.length);
    before = sha256(both);
    if (toHex(before) !== event.hash) return [`Entry ${number} of the job was changed, or one before it.`];
    if (!belongs(event, chain.stream)) return [`Entry ${number} belongs to another job or place.`];
  }
  return number === chain.head && toHex(before) === chain.hash ? [] : [`The entries end at ${number}; sealed were ${chain.head}.`];
}

function belongs({ text, number }: EventLine, stream: string): boolean {
  const said = parse(text);
  return isObject(said) && said.stream === stream && said.number === number;
}

function readLine(line: string): EventLine | null {
  const said = parse(line);
  return isObject(said) && typeof said.number === 'number' && typeof said.text === 'string' && typeof said.hash === 'string'
    ? { number: said.number, text: said.text, hash: said.hash }
    : null;
}

const HEX = /^[0-9a-f]{64}$/;

/** Null for what is no list of a sealed record. */
function readManifest(bytes: Uint8Array): Manifest | null {
  const said = parse(new TextDecoder().decode(bytes));
  if (!isObject(said) || said.format !== 'estuarine-sealed-record' || said.version !== 1) return null;
  const { job, key, chain, members, sealedAt, sealedBy } = said;
  if (!isObject(job) || typeof job.id !== 'string' || typeof job.number !== 'number') return null;
  if (!isObject(key) || !isHash(key.fingerprint) || !isHash(key.publicKey)) return null;
  if (!isObject(chain) || typeof chain.stream !== 'string' || typeof chain.head !== 'number' || !isHash(chain.hash)) return null;
  if (typeof sealedAt !== 'string' || !Number.isFinite(Date.parse(sealedAt)) || typeof sealedBy !== 'string') return null;
  if (!Array.isArray(members) || !members.every(isMember)) return null;
  return {
    ...{ job: { id: job.id, number: job.number }, sealedAt, sealedBy, members },
    key: { fingerprint: key.fingerprint, publicKey: key.publicKey },
    chain: { stream: chain.stream, head: chain.head, hash: chain.hash },
  };
}

function isMember(said: unknown): said is Manifest['members'][number] {
  return isObject(said) && typeof said.name === 'string' && typeof said.byte === 'number' && isHash(said.sha256);
}

function isHash(said: unknown): said is string {
  return typeof said === 'string' && HEX.test(said);
}

function isObject(said: unknown): said is Record<string, unknown> {
  return typeof said === 'object' && said !== null && !Array.isArray(said);
}

function parse(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}

function toHex(bytes: Uint8Array): string {
  return Array.from(bytes, (b) => b.toString(16).padStart(2, '0')).join('');
}

function fromHex(text: string): Uint8Array {
  const clean = text.trim();
  if (!/^([0-9a-f]{2})*$/.test(clean)) return new Uint8Array(0);
  return Uint8Array.from(clean.match(/../g) ?? [], (pair) => parseInt(pair, 16));
}

/** @jest-environment node */
import { createHash, generateKeyPairSync, sign, type KeyObject } from 'node:crypto';
import { deflateRawSync } from 'node:zlib';
import fc from 'fast-check';
import { checkRecord, type KnownKey } from './check-record.ts';

const sha = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

interface Piece {
  readonly name: string;
  readonly bytes: Buffer;
}

function keyPair(): { privateKey: KeyObject; known: KnownKey } {
  const { privateKey, publicKey } = generateKeyPairSync('ed25519');
  const raw = publicKey.export({ type: 'spki', format: 'der' }).subarray(12);
  return { privateKey, known: { fingerprint: sha(raw), publicKey: raw.toString('hex'), revokedAt: null, reason: null } };
}

const SHOP = keyPair();
const FORGER = keyPair();

function eventsOf(count: number): string {
  let before = Buffer.alloc(0);
  return Array.from({ length: count }, (_, i) => {
    const text = JSON.stringify({ stream: 'j1', number: i + 1, type: 'x', body: { volt: 7.8 + i } });
    before = createHash('sha256').update(before).update(text).digest();
    return `${JSON.stringify({ number: i + 1, text, hash: before.toString('hex') })}\n`;
  }).join('');
}

function seal(members: readonly Piece[], key = SHOP, sealedAt = '2026-11-29T10:00:00.000Z', head = 3): Piece[] {
  const events = members.find((m) => m.name === 'events.jsonl')?.bytes.toString() ?? '';
  const last = JSON.parse(events.trim().split('\n').at(-1) ?? '{}') as { hash?: string };
  const manifest = {
    ...{ format: 'estuarine-sealed-record', version: 1, job: { id: 'j1', number: 7 }, sealedAt, sealedBy: 'om' },
    key: { fingerprint: key.known.fingerprint, publicKey: key.known.publicKey },
    chain: { stream: 'j1', head, hash: last.hash ?? sha(Buffer.alloc(0)) },
    members: members.map(({ name, bytes }) => ({ name, byte: bytes.length, sha256: sha(bytes) })),
  };
  const text = Buffer.from(JSON.stringify(manifest));
  const signature = Buffer.from(sign(null, text, key.privateKey).toString('hex'));
  return [{ name: 'manifest.json', bytes: text }, { name: 'manifest.ed25519', bytes: signature }, ...members];
}

/** A zip written by hand, as the format says: stored, or deflated with other times, as any other program would. */
function zip(pieces: readonly Piece[], isOther = false, claimed: number | null = null): Buffer {
  const locals: Buffer[] = [];
  const list: Buffer[] = [];
  let offset = 0;
  for (const { name, bytes } of pieces) {
    const packed = isOther ? deflateRawSync(bytes) : bytes;
    const crc = crc32(bytes);
    const head = Buffer.alloc(30);
    head.writeUInt32LE(0x04034b50, 0);
    [20, 0x0800, isOther ? 8 : 0, isOther ? 0x6000 : 0, isOther ? 0x5b7d : 33].forEach((v, i) => head.writeUInt16LE(v, 4 + 2 * i));
    [crc, packed.length, claimed ?? bytes.length].forEach((v, i) => head.writeUInt32LE(v, 14 + 4 * i));
    head.writeUInt16LE(Buffer.byteLength(name), 26);
    locals.push(head, Buffer.from(name), packed);
    const entry = Buffer.alloc(46);
    entry.writeUInt32LE(0x02014b50, 0);
    entry.writeUInt16LE(0x033f, 4);
    head.copy(entry, 6, 4, 28);
    entry.writeUInt32LE((0o100664 << 16) >>> 0, 38);
    entry.writeUInt32LE(offset, 42);
    list.push(entry, Buffer.from(name));
    offset += 30 + Buffer.byteLength(name) + packed.length;
  }
  const central = Buffer.concat(list);
  const end = Buffer.alloc(22);
  end.writeUInt32LE(0x06054b50, 0);
  end.writeUInt16LE(pieces.length, 8);
  end.writeUInt16LE(pieces.length, 10);
  end.writeUInt32LE(central.length, 12);
  end.writeUInt32LE(offset, 16);
  return Buffer.concat([...locals, central, end]);
}

function crc32(bytes: Uint8Array): number {
  let c = 0xffffffff;
  for (const b of bytes) {
    c ^= b;
    for (let k = 0; k < 8; k++) c = c & 1 ? (c >>> 1) ^ 0xedb88320 : c >>> 1;
  }
  return (c ^ 0xffffffff) >>> 0;
}

const MEMBERS: readonly Piece[] = [
  { name: 'report.pdf', bytes: Buffer.from('%PDF-1.7 a report') },
  { name: 'job.json', bytes: Buffer.from('{"state":{}}') },
  { name: 'events.jsonl', bytes: Buffer.from(eventsOf(3)) },
  { name: 'photographs/p1.jpg', bytes: Buffer.from([0xff, 0xd8, 1, 2, 3]) },
];
const KEYS = [SHOP.known];
const GOOD = zip(seal(MEMBERS));

describe('checkRecord', () => {
  it('calls a record good that is as the shop sealed it', () => {
    const checked = checkRecord(GOOD, KEYS);
    expect(checked).toMatchObject({ verdict: 'good', faults: [] });
    expect(checked.manifest).toMatchObject({ job: { number: 7 }, chain: { head: 3 } });
  });

  it('finds a changed byte anywhere in the file', () => {
    fc.assert(
      fc.property(fc.nat(GOOD.length - 1), fc.integer({ min: 1, max: 255 }), (at, by) => {
        const changed = Buffer.from(GOOD);
        changed[at]! ^= by;
        expect(checkRecord(changed, KEYS).verdict).not.toBe('good');
      }),
      { numRuns: 700, seed: 16 },
    );
  }, 60_000);

  it('finds bytes put in front, between and behind, and a file cut short anywhere', () => {
    for (const odd of [
      Buffer.concat([Buffer.from('x'), GOOD]),
      Buffer.concat([GOOD, Buffer.from('x')]),
      Buffer.concat([GOOD.subarray(0, 40), Buffer.from('x'), GOOD.subarray(40)]),
    ])
      expect(checkRecord(odd, KEYS).verdict).not.toBe('good');
    for (let cut = 1; cut < GOOD.length; cut += 37) expect(checkRecord(GOOD.subarray(0, cut), KEYS).verdict).toBe('noRecord');
  });

  it('finds bytes hidden in the wrapping, where no file is', () => {
    // a field more in the list of the zip, or in the head of a member; and what the list says shifted to fit
    const extra = Buffer.from('XX\u0004\u0000mine');
    const list = GOOD.length - 22 - GOOD.readUInt32LE(GOOD.length - 10);
    const name = GOOD.readUInt16LE(list + 28);
    const inList = Buffer.concat([GOOD.subarray(0, list + 46 + name), extra, GOOD.subarray(list + 46 + name)]);
    inList.writeUInt16LE(extra.length, list + 30);
    inList.writeUInt32LE(inList.length - 22 - list, inList.length - 10);
    expect(checkRecord(inList, KEYS)).toMatchObject({
      verdict: 'changed',
      faults: [expect.stringMatching(/list entry of manifest\.json/)],
    });
  });

  const sealed = seal(MEMBERS);
  const at = (name: string): number => sealed.findIndex((m) => m.name === name);
  const swap = (name: string, change: Partial<Piece>): Piece[] => sealed.map((m) => (m.name === name ? { ...m, ...change } : m));
  it.each<[string, Piece[], RegExp]>([
    ['changed', swap('job.json', { bytes: Buffer.from('{"state":{ }}') }), /^job\.json was changed\.$/],
    ['missing', sealed.filter((m) => m.name !== 'report.pdf'), /^report\.pdf is missing\.$/],
    ['renamed', swap('photographs/p1.jpg', { name: 'photographs/p2.jpg' }), /^photographs\/p1\.jpg was renamed to photographs\/p2\.jpg\.$/],
    ['added', [...sealed, { name: 'more.txt', bytes: Buffer.from('x') }], /^more\.txt was added\.$/],
    ['twice', [...sealed, MEMBERS[0]!], /^report\.pdf is there more than once\.$/],
    ['reordered', [...sealed.slice(0, 2), ...sealed.slice(2).reverse()], /another order/],
    [
      'a manifest of its own',
      swap('manifest.json', { bytes: Buffer.from(sealed[0]!.bytes.toString().replace('"number":7', '"number":8')) }),
      /signature does not fit/,
    ],
    ['no signature', sealed.filter((m) => m.name !== 'manifest.ed25519'), /nothing says who sealed it/],
    ['the signature of another', swap('manifest.ed25519', { bytes: seal(MEMBERS, FORGER)[1]!.bytes }), /signature does not fit/],
  ])('says what was done to one that is %s', (_what, pieces, said) => {
    const checked = checkRecord(zip(pieces), KEYS);
    expect(checked.verdict).toBe('changed');
    expect(checked.faults).toEqual([expect.stringMatching(said)]);
    expect(at('manifest.json')).toBe(0);
  });

  it('knows a forged one by its key, however whole it is in itself', () => {
    const lie = MEMBERS.map((m) => (m.name === 'job.json' ? { ...m, bytes: Buffer.from('{"state":"a lie"}') } : m));
    expect(checkRecord(zip(seal(lie, FORGER)), KEYS).verdict).toBe('otherKey');
    // the fingerprint of the shop beside another key fits neither
    const mixed = { ...FORGER, known: { ...FORGER.known, fingerprint: SHOP.known.fingerprint } };
    expect(checkRecord(zip(seal(lie, mixed)), KEYS)).toMatchObject({ verdict: 'changed', faults: [expect.stringMatching(/fingerprint/)] });
  });

  it('tells a key that was revoked before the sealing from one revoked after it', () => {
    const revoked = (revokedAt: string): KnownKey[] => [{ ...SHOP.known, revokedAt, reason: 'the machine was stolen' }];
    expect(checkRecord(GOOD, revoked('2026-11-28T00:00:00.000Z'))).toMatchObject({
      verdict: 'revoked',
      says: expect.stringMatching(/stolen/) as string,
    });
    expect(checkRecord(GOOD, revoked('2026-11-29T10:00:00.000Z')).verdict).toBe('revoked');
    expect(checkRecord(GOOD, revoked('2026-11-30T00:00:00.000Z'))).toMatchObject({
      verdict: 'doubtful',
      says: expect.stringMatching(/before 2026-11-30/) as string,
    });
  });

  it('follows the chain: an entry changed, left out or of another job is found though its file fits the list', () => {
    const lines = eventsOf(3).trim().split('\n');
    const withEvents = (text: string): Buffer =>
      zip(seal(MEMBERS.map((m) => (m.name === 'events.jsonl' ? { ...m, bytes: Buffer.from(text) } : m))));
    const faultsOf = (text: string): readonly string[] => checkRecord(withEvents(text), KEYS).faults;
    expect(faultsOf(lines.join('\n').replace('8.8', '8.9'))).toEqual([expect.stringMatching(/Entry 2 .* changed/)]);
    expect(faultsOf([lines[0], lines[2]].join('\n'))).toEqual([expect.stringMatching(/Entry 2 .* missing/)]);
    expect(faultsOf([lines[0], lines[1]].join('\n'))).toEqual([expect.stringMatching(/end at 2; sealed were 3/)]);
    const alien = JSON.stringify({ stream: 'j2', number: 1 });
    const line = JSON.stringify({ number: 1, text: alien, hash: sha(Buffer.from(alien)) });
    expect(faultsOf(line)[0]).toMatch(/another job/);
  });

  it('tells a zip that another program wrote anew from one whose files were changed', () => {
    const anew = checkRecord(zip(sealed, true), KEYS);
    expect(anew.verdict).toBe('changed');
    expect(anew.says).toMatch(/Every file inside is as it was sealed/);
  });

  it('is not caught in a bomb: what claims to unpack to more than any record is not unpacked', () => {
    expect(checkRecord(zip(sealed, true, 0xfffffff0), KEYS)).toMatchObject({
      verdict: 'noRecord',
      says: expect.stringMatching(/trap/) as string,
    });
    // and one that says less than it holds is given no more room than it said
    expect(checkRecord(zip(sealed, true, 10), KEYS).verdict).not.toBe('good');
  });

  it.each([' ', '\n', '\u00a0', '00'])('finds %j behind the signature, which no hash covers', (odd) => {
    const sealed = seal(MEMBERS).map((m) =>
      m.name === 'manifest.ed25519' ? { ...m, bytes: Buffer.concat([m.bytes, Buffer.from(odd)]) } : m,
    );
    const checked = checkRecord(zip(sealed), KEYS);
    expect(checked).toMatchObject({ verdict: 'changed', faults: ['manifest.ed25519 is not written as the sealing writes it.'] });
  });

  it('finds a list that names a file twice', () => {
    expect(checkRecord(zip(seal([...MEMBERS, MEMBERS[0] as Piece]).slice(0, -1)), KEYS)).toMatchObject({
      verdict: 'changed',
      faults: ['manifest.json lists a file twice.'],
    });
  });

  describe('is not held up', () => {
    const timed = (file: Buffer): [ReturnType<typeof checkRecord>, number] => {
      const began = performance.now();
      return [checkRecord(file, KEYS), performance.now() - began];
    };
    /** A cap for a busy machine; each held the page for more than a minute. */
    const MOST = 5000;
    const many = (count: number): Piece[] => Array.from({ length: count }, (_, i) => ({ name: `f${i}`, bytes: Buffer.from(`${i % 7}`) }));

    it('by a megabyte that unpacks to a thousand', () => {
      const [checked, millisecond] = timed(zip([{ name: 'manifest.json', bytes: Buffer.alloc(50e6) }], true));
      expect(checked).toMatchObject({ verdict: 'noRecord', says: expect.stringContaining('this is a trap') as string });
      expect(millisecond).toBeLessThan(MOST);
    }, 60_000);

    it('by sixty thousand files', () => {
      const [checked, millisecond] = timed(zip(many(60_000)));
      expect(checked).toMatchObject({ verdict: 'noRecord', says: 'It lists 60000 files: no record has so many.' });
      expect(millisecond).toBeLessThan(MOST);
    }, 60_000);

    it('by thousands that are strange, listed otherwise or missing, of which some are told', () => {
      const [own, other] = [many(4900), many(4900).map((m) => ({ ...m, name: `g${m.name}` }))];
      const sealed = [...seal([...MEMBERS, ...own]).slice(0, 6), ...other];
      const [checked, millisecond] = timed(zip(sealed));
      expect(checked.verdict).toBe('changed');
      expect(checked.faults).toHaveLength(101);
      expect(checked.faults.at(-1)).toMatch(/^And \d+ more\.$/);
      expect(millisecond).toBeLessThan(MOST);
    }, 60_000);
  });

  it('calls anything else no record', () => {
    for (const odd of [Buffer.alloc(0), Buffer.from('hello'), zip([]), zip([{ name: 'manifest.json', bytes: Buffer.from('[]') }])])
      expect(checkRecord(odd, KEYS).verdict).toBe('noRecord');
  });
});

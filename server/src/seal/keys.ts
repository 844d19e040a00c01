/**
 * The keys that seal records: Ed25519 (RFC 8032), made at first need. The private part lies in the database encrypted with AES-256-GCM under a
 * key drawn from the secret of the shop by HKDF (RFC 5869): where the secret is another, it signs no more until its backup is put back.
 */
import {
  createCipheriv,
  createDecipheriv,
  createHash,
  createPrivateKey,
  createPublicKey,
  generateKeyPairSync,
  hkdfSync,
  randomBytes,
  sign,
  type KeyObject,
} from 'node:crypto';
import type { PublishedKey } from '@estuarine/contract';
import type pg from 'pg';
import { inTransaction, type Queryable } from '../database/database.ts';
import { HttpProblem } from '../problem.ts';
import { listKeys, restoreKey, retireKey, revokeKey, saveKey, type KeyRow } from './store.ts';

const NONCE = 12;
const TAG = 16;
/** Before the raw key in an Ed25519 public key of SubjectPublicKeyInfo (RFC 8410). */
const SPKI_PREFIX_BYTES = 12;

export interface SealKeysOptions {
  readonly pool: pg.Pool;
  readonly shopId: string;
  readonly secret: string;
  readonly clock: () => Date;
}

export interface SigningKey {
  readonly fingerprint: string;
  /** Raw, in hex. */
  readonly publicKey: string;
  readonly sign: (bytes: Buffer) => Buffer;
}

export class SealKeys {
  readonly #options: SealKeysOptions;
  readonly #lock: Buffer;

  constructor(options: SealKeysOptions) {
    this.#options = options;
    this.#lock = Buffer.from(hkdfSync('sha256', options.secret, options.shopId, 'estuarine seal key', 32));
  }

  async publish(): Promise<PublishedKey[]> {
    const { pool, shopId } = this.#options;
    return (await listKeys(pool, shopId)).map((k) => ({
      ...{ fingerprint: k.fingerprint, publicKey: k.publicKey.toString('hex'), madeAt: k.madeAt.toISOString() },
      ...{ retiredAt: k.retiredAt?.toISOString() ?? null, revokedAt: k.revokedAt?.toISOString() ?? null, reason: k.reason },
    }));
  }

  /** The key that signs now, made where there is none. Refused where its private part cannot be read here. */
  async current(): Promise<SigningKey> {
    const { pool, shopId } = this.#options;
    const standing = await this.#standing(pool);
    if (standing) return this.#open(standing);
    await this.#make(pool);
    const made = await this.#standing(pool);
    if (!made) throw new Error(`no key of shop ${shopId} after one was made`);
    return this.#open(made);
  }

  /** Makes the first key where the shop has none. */
  async ensure(): Promise<void> {
    if ((await this.#standing(this.#options.pool)) === null) await this.#make(this.#options.pool);
  }

  /** Whether a record can be sealed here; a shop without a key makes one when it seals. */
  async canSign(): Promise<boolean> {
    const standing = await this.#standing(this.#options.pool);
    return standing === null || this.#unlock(standing) !== null;
  }

  /** Fingerprint of the key that signs now; null where there is none yet. */
  async fingerprint(): Promise<string | null> {
    return (await this.#standing(this.#options.pool))?.fingerprint ?? null;
  }

  /** Another key signs from now on in place of the one named; what that one signed stands. */
  async replace(fingerprint: string): Promise<void> {
    const { pool, shopId, clock } = this.#options;
    await inTransaction(pool, async (db) => {
      if (!(await retireKey(db, shopId, fingerprint, clock())))
        throw new HttpProblem(409, 'gone', 'That key does not sign any more. Nothing was changed.');
      await this.#make(db);
    });
  }

  async revoke(fingerprint: string, reason: string): Promise<void> {
    const { pool, shopId, clock } = this.#options;
    if (!(await revokeKey(pool, shopId, fingerprint, clock(), reason)))
      throw new HttpProblem(404, 'unknownKey', 'There is no such key here, or it was revoked already.');
    // a shop whose key is gone has another at once
    await this.ensure();
  }

  /** The key that signs now as an encrypted PKCS #8 text, to be kept away from this machine. */
  async exportPrivate(passphrase: string): Promise<string> {
    await this.current();
    const standing = await this.#standing(this.#options.pool);
    const key = standing && this.#unlock(standing);
    if (!key) throw unreadable();
    return key.export({ type: 'pkcs8', format: 'pem', cipher: 'aes-256-cbc', passphrase }).toString();
  }

  /** Puts a key back from its backup. One that signs already and can be read stays as it is. */
  async importPrivate(pem: string, passphrase: string): Promise<string> {
    const { pool, shopId } = this.#options;
    let key: KeyObject;
    try {
      key = createPrivateKey({ key: pem, passphrase });
    } catch {
      throw new HttpProblem(422, 'unreadable', 'The key cannot be read: another passphrase, or no backup of a key. Nothing was changed.');
    }
    if (key.asymmetricKeyType !== 'ed25519')
      throw new HttpProblem(
        422,
        'mismatch',
        `This is a ${key.asymmetricKeyType ?? 'secret'} key, not one of Ed25519. Nothing was changed.`,
      );
    const { fingerprint } = namesOf(key);
    if (!(await restoreKey(pool, shopId, fingerprint, this.#seal(key))))
      throw new HttpProblem(404, 'unknownKey', 'This shop never had that key. Restore the shop first, then its key.');
    return fingerprint;
  }

  async #standing(db: Queryable): Promise<KeyRow | null> {
    const keys = await listKeys(db, this.#options.shopId);
    return keys.find((k) => k.retiredAt === null && k.revokedAt === null) ?? null;
  }

  async #make(db: Queryable): Promise<void> {
    const { shopId, clock } = this.#options;
    const { privateKey } = generateKeyPairSync('ed25519');
    const { fingerprint, publicKey } = namesOf(privateKey);
    // of two that make the first key at once one is kept: one key signs at a time
    await saveKey(db, shopId, { fingerprint, publicKey, privateSealed: this.#seal(privateKey), madeAt: clock() });
  }

  #open(row: KeyRow): SigningKey {
    const key = this.#unlock(row);
    if (!key) throw unreadable();
    return { fingerprint: row.fingerprint, publicKey: row.publicKey.toString('hex'), sign: (bytes) => sign(null, bytes, key) };
  }

  #seal(key: KeyObject): Buffer {
    const nonce = randomBytes(NONCE);
    const cipher = createCipheriv('aes-256-gcm', this.#lock, nonce);
    const body = Buffer.concat([cipher.update(key.export({ type: 'pkcs8', format: 'der' })), cipher.final()]);
    return Buffer.concat([nonce, cipher.getAuthTag(), body]);
  }

  #unlock({ privateSealed }: KeyRow): KeyObject | null {
    if (!privateSealed) return null;
    try {
      const decipher = createDecipheriv('aes-256-gcm', this.#lock, privateSealed.subarray(0, NONCE));
      decipher.setAuthTag(privateSealed.subarray(NONCE, NONCE + TAG));
      const der = Buffer.concat([decipher.update(privateSealed.subarray(NONCE + TAG)), decipher.final()]);
      return createPrivateKey({ key: der, type: 'pkcs8', format: 'der' });
    } catch {
      return null;
    }
  }
}

function namesOf(key: KeyObject): { fingerprint: string; publicKey: Buffer } {
  const publicKey = createPublicKey(key).export({ type: 'spki', format: 'der' }).subarray(SPKI_PREFIX_BYTES);
  return { fingerprint: createHash('sha256').update(publicKey).digest('hex'), publicKey };
}

function unreadable(): HttpProblem {
  return new HttpProblem(
    409,
    'keyLocked',
    'The key of the shop cannot be read on this machine: its secret is another. Put the backup of the key back, or begin a new key.',
  );
}

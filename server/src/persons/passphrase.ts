/** Passphrases and PINs as they are kept: scrypt with a salt of their own, compared in constant time. */
import { randomBytes, scrypt, timingSafeEqual, type ScryptOptions } from 'node:crypto';

/** About 50 ms on a bench PC and 16 MB of memory for each try. */
const COST: ScryptOptions = { N: 2 ** 14, r: 8, p: 1, maxmem: 64 * 1024 * 1024 };
const KEY_BYTES = 32;

function derive(secret: string, salt: Buffer): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    scrypt(secret.normalize('NFKC'), salt, KEY_BYTES, COST, (error, key) => (error ? reject(error) : resolve(key)));
  });
}

export async function hashSecret(secret: string): Promise<string> {
  const salt = randomBytes(16);
  return `scrypt$${salt.toString('base64url')}$${(await derive(secret, salt)).toString('base64url')}`;
}

/** Whether a secret is the one that was hashed. Takes as long for a missing hash, so that nobody learns who exists. */
export async function isSecret(secret: string, hash: string | null): Promise<boolean> {
  const [kind, salt = '', key = ''] = (hash ?? NOBODY).split('$');
  const wanted = Buffer.from(key, 'base64url');
  const given = await derive(secret, Buffer.from(salt, 'base64url'));
  return kind === 'scrypt' && wanted.length === given.length && timingSafeEqual(wanted, given) && hash !== null;
}

const NOBODY = `scrypt$${randomBytes(16).toString('base64url')}$${randomBytes(KEY_BYTES).toString('base64url')}`;

/**
 * Certificates for the keys by which devices sign acts, and whether a signature shows whose an act is. A certificate is the server's own
 * word, given to a session and kept nowhere: where the secret of the shop is another, those before it prove nothing any more.
 */
import { createHmac, createPublicKey, hkdfSync, timingSafeEqual, verify, type KeyObject } from 'node:crypto';
import { canonicalText, signedText, type Certificate, type SentAct } from '@estuarine/contract';
import { HttpProblem } from '../problem.ts';
import { SESSION_MILLISECOND } from './sessions.ts';

/** What the clocks of device and server may differ by. */
const CLOCK_MILLISECOND = 2000;
/** No device waits longer for its server. */
const LONGEST_WAIT_MILLISECOND = 60 * 24 * 3_600_000;

export class ActKeys {
  readonly #mark: Buffer;

  constructor(secret: string, shopId: string) {
    this.#mark = Buffer.from(hkdfSync('sha256', secret, shopId, 'estuarine act keys', 32));
  }

  /** Certifies a device's key to the person of a session, for as long as a session lasts. Throws 422 for what is no key of that kind. */
  certify(person: string, { device, key }: Pick<Certificate, 'device' | 'key'>, now: Date): Certificate {
    if (readKey(key) === null) throw new HttpProblem(422, 'schema', 'This is no public key on P-256.', ['key']);
    const until = new Date(now.getTime() + SESSION_MILLISECOND).toISOString();
    const what = { person, device, key, from: now.toISOString(), until };
    return { ...what, mac: this.#macOf(what).toString('base64url') };
  }

  /**
   * Whether an act comes from a device that held its author's session when it was said.
   * @param raw the act as it came: what was read of it may be written otherwise
   */
  proves(jobId: string, sent: SentAct, raw: Readonly<Record<string, unknown>>, now: Date): boolean {
    const { signature, by, device, deviceAt } = sent;
    if (!signature) return false;
    const { mac, ...what } = signature.certificate;
    if (what.person !== by || what.device !== device?.id) return false;
    const given = Buffer.from(mac, 'base64url');
    const own = this.#macOf(what);
    if (given.length !== own.length || !timingSafeEqual(given, own)) return false;
    const [said, from, until] = [deviceAt, what.from, what.until].map(Date.parse) as [number, number, number];
    // a clock that is not sure of its time cannot be held to it
    if (device.isClockSure && (said < from - CLOCK_MILLISECOND || said > until + CLOCK_MILLISECOND)) return false;
    if (now.getTime() > until + LONGEST_WAIT_MILLISECOND) return false;
    const key = readKey(what.key);
    const value = Buffer.from(signature.value, 'base64url');
    return key !== null && verify('sha256', Buffer.from(signedText(jobId, raw)), { key, dsaEncoding: 'ieee-p1363' }, value);
  }

  #macOf(what: Omit<Certificate, 'mac'>): Buffer {
    return createHmac('sha256', this.#mark).update(canonicalText(what)).digest();
  }
}

function readKey(key: string): KeyObject | null {
  try {
    const read = createPublicKey({ key: Buffer.from(key, 'base64url'), format: 'der', type: 'spki' });
    return read.asymmetricKeyDetails?.namedCurve === 'prime256v1' ? read : null;
  } catch {
    return null;
  }
}

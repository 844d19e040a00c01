/**
 * Guessing is slowed, and nobody is locked out: the address and the person that are tried wait longer with each wrong try, while a
 * device that the person signed in on before is always heard. A PIN is good for a few tries on a device, then the passphrase is asked for.
 */
import { randomUUID } from 'node:crypto';
import { setTimeout as sleep } from 'node:timers/promises';
import { Signer } from '@fastify/cookie';
import type { FastifyReply, FastifyRequest } from 'fastify';
import type pg from 'pg';
import { HttpProblem } from '../problem.ts';

/** Who signed in on a device before; nothing is opened by it. */
export const DEVICE_COOKIE = 'estuarine_device';
const YEAR_SECOND = 365 * 24 * 3600;
/** People that a device remembers; the one who signed in longest ago goes first. */
const PERSONS_KEPT = 30;

interface Pace {
  readonly key: string;
  /** Tries that need not wait. */
  readonly free: number;
  readonly leastSecond: number;
  readonly mostSecond: number;
}

/** Wrong tries on a device that the person used: each is answered later than the last, one after the other. */
const KNOWN_FREE = 5;
const KNOWN_MOST_MILLISECOND = 2000;
/** A PIN is refused until the passphrase is given: longer than any device lives. */
const FOR_GOOD_SECOND = 3e9;

/** What is tried: whose secret, of which kind, and how the secret is judged. */
export interface Try {
  readonly personId: string;
  readonly kind: 'passphrase' | 'pin';
  readonly judge: () => Promise<boolean>;
}

export interface TriesOptions {
  readonly pool: pg.Pool;
  readonly shopId: string;
  readonly clock: () => Date;
  readonly secret: string;
  readonly isSecure: boolean;
  /** Tries from one address that need not wait; null: no limit. */
  readonly freeTries: number | null;
}

export class Tries {
  readonly #options: TriesOptions;
  readonly #signer: Signer;
  /** Tries on a device that is known, one after the other: what went wrong so far, and the last that is under way. */
  readonly #known = new Map<string, { wrong: number; last: Promise<unknown> }>();

  constructor(options: TriesOptions) {
    this.#options = options;
    this.#signer = new Signer(options.secret);
  }

  /** Judges a secret in its turn. Throws a problem where it is wrong, and where it is too early to try. */
  async prove(request: FastifyRequest, asked: Try): Promise<void> {
    const device = this.#deviceOf(request);
    if (asked.kind === 'pin') await this.#provePin(device.id ?? request.who?.sessionId ?? '', asked);
    else if (device.persons.includes(asked.personId)) await this.#proveKnown(`${device.id} ${asked.personId}`, asked);
    else if (request.who?.personId === asked.personId) await this.#proveKnown(`${request.who.sessionId} ${asked.personId}`, asked);
    else await this.#proveStranger(request.ip, asked);
  }

  /** Remembers that a person signed in on this device, and takes PINs on it again. */
  async remember(request: FastifyRequest, reply: FastifyReply, personId: string): Promise<void> {
    const { id, persons } = this.#deviceOf(request);
    const deviceId = id ?? randomUUID();
    const all = [...persons.filter((p) => p !== personId), personId].slice(-PERSONS_KEPT);
    void reply.setCookie(DEVICE_COOKIE, this.#signer.sign([deviceId, ...all].join(':')), {
      ...{ httpOnly: true, sameSite: 'strict', secure: this.#options.isSecure, path: '/api/session', maxAge: YEAR_SECOND },
    });
    await this.#forget(pinOnDevice(personId, deviceId).key, pinOnDevice(personId, request.who?.sessionId ?? '').key);
  }

  async #proveStranger(address: string, { personId, judge }: Try): Promise<void> {
    const paces = [
      { key: `address ${address}`, free: this.#options.freeTries ?? 1e6, leastSecond: 2, mostSecond: 60 },
      { key: `person ${personId}`, free: 10, leastSecond: 1, mostSecond: 30 },
    ];
    for (const pace of paces) {
      const wait = await this.#take(pace);
      if (wait > 0) throw tooEarly(wait);
    }
    if (!(await judge())) throw wrong('passphrase');
    for (const { key } of paces) await this.#giveBack(key);
  }

  async #proveKnown(key: string, { judge }: Try): Promise<void> {
    const entry = this.#known.get(key) ?? { wrong: 0, last: Promise.resolve() };
    if (this.#known.size > 1000) this.#known.clear();
    this.#known.set(key, entry);
    const turn = entry.last.then(async () => {
      if (await judge()) {
        this.#known.delete(key);
        return true;
      }
      const late = ++entry.wrong - KNOWN_FREE;
      if (late > 0) await sleep(Math.min(KNOWN_MOST_MILLISECOND, 250 * 2 ** late));
      return false;
    });
    entry.last = turn.catch(() => undefined);
    if (!(await turn)) throw wrong('passphrase');
  }

  async #provePin(deviceId: string, { personId, judge }: Try): Promise<void> {
    const here = pinOnDevice(personId, deviceId);
    if ((await this.#take(here)) > 0)
      throw new HttpProblem(429, 'pinSpent', 'Too many wrong PINs on this device. Give the passphrase: then the PIN counts again.', [
        'pin',
      ]);
    const anywhere = { key: `pin ${personId}`, free: 20, leastSecond: 2, mostSecond: 300 };
    const wait = await this.#take(anywhere);
    if (wait > 0) {
      await this.#giveBack(here.key);
      throw tooEarly(wait);
    }
    if (!(await judge())) throw wrong('pin');
    await this.#forget(here.key);
    await this.#giveBack(anywhere.key);
  }

  /** Seconds still to wait; 0 where the turn is taken, and counted as wrong until it is given back. */
  async #take({ key, free, leastSecond, mostSecond }: Pace): Promise<number> {
    const { pool, shopId, clock } = this.#options;
    const { rows } = await pool.query<{ wait: number }>('select take_try($1, $2, $3, $4, $5, $6) as wait', [
      ...[shopId, key, clock(), free, leastSecond, mostSecond],
    ]);
    return rows[0]?.wait ?? 0;
  }

  async #giveBack(key: string): Promise<void> {
    const { pool, shopId, clock } = this.#options;
    await pool.query('update sign_in_try set wrong = greatest(0, wrong - 1), free_at = $3 where shop_id = $1 and key = $2', [
      ...[shopId, key, clock()],
    ]);
  }

  /** Also what nobody tried for a day. */
  async #forget(...keys: string[]): Promise<void> {
    const { pool, shopId, clock } = this.#options;
    await pool.query(`delete from sign_in_try where shop_id = $1 and (key = any($2) or free_at < $3::timestamptz - interval '1 day')`, [
      ...[shopId, keys, clock()],
    ]);
  }

  /** What a device says of itself, where the seal is ours. */
  #deviceOf(request: FastifyRequest): { readonly id: string | null; readonly persons: readonly string[] } {
    const raw = request.cookies[DEVICE_COOKIE];
    const opened = raw === undefined ? null : this.#signer.unsign(raw);
    if (!opened?.valid) return { id: null, persons: [] };
    const [id = null, ...persons] = opened.value.split(':');
    return { id, persons };
  }
}

function pinOnDevice(personId: string, deviceId: string): Pace {
  return { key: `pin ${personId} ${deviceId}`, free: 5, leastSecond: FOR_GOOD_SECOND, mostSecond: FOR_GOOD_SECOND };
}

function wrong(kind: Try['kind']): HttpProblem {
  return new HttpProblem(401, 'wrongSecret', `That ${kind === 'pin' ? 'PIN' : 'name or passphrase'} is not right.`);
}

function tooEarly(second: number): HttpProblem {
  const wait = Math.ceil(second);
  return new HttpProblem(429, 'tooEarly', `Too many wrong tries. Try again in ${wait} s, or on a device that you used before.`, [], wait);
}

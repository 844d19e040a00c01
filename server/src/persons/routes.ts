/** Signing in and out, the locked screen, and the people of the shop. */
import { createHash, randomInt } from 'node:crypto';
import {
  keyRequestSchema,
  type Certificate,
  type DemoAccount,
  type PeopleAnswer,
  type SentShopAct,
  type Session as SessionAnswer,
} from '@estuarine/contract';
import { DEFAULT_POLICY, idSchema, localTime, personIdSchema, ROLES } from '@estuarine/core';
import type { FastifyRequest } from 'fastify';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import type pg from 'pg';
import { v7 as uuid } from 'uuid';
import * as z from 'zod';
import { findTail, type Outcome } from '../log/store.ts';
import { findLatestPolicy } from '../policy/store.ts';
import { HttpProblem, problemOfRefusal } from '../problem.ts';
import { hashSecret, isSecret } from './passphrase.ts';
import type { ActKeys } from './act-keys.ts';
import type { Principals } from './principals.ts';
import type { SessionTable } from './sessions.ts';
import * as store from './store.ts';
import type { Tries, Try } from './tries.ts';

export interface PersonRoutes {
  readonly pool: pg.Pool;
  readonly shopId: string;
  readonly clock: () => Date;
  readonly principals: Principals;
  readonly sessions: SessionTable;
  readonly actKeys: ActKeys;
  readonly tries: Tries;
  /** Accounts to show at the door of a demonstration; null where it is none. */
  readonly demoAccounts: readonly DemoAccount[] | null;
  /** Keeps an act of the lead in the shop's stream. */
  readonly keepAct: (sent: SentShopAct) => Promise<Outcome>;
  /** Requests a minute from one address that take a secret besides signing in; null: no limit. */
  readonly triesPerMinute: number | null;
}

const passphrase = z.string().min(10, 'at least 10 characters: a few words do').max(200);
const pin = z.string().regex(/^\d{6}$/, 'six digits');
const name = z.string().trim().min(1).max(80);

export const personRoutes: FastifyPluginCallbackZod<PersonRoutes> = (app, options, done) => {
  const { pool, shopId, clock, principals, sessions, actKeys, tries, triesPerMinute, demoAccounts, keepAct } = options;
  const rateLimit = triesPerMinute === null ? false : { max: triesPerMinute, timeWindow: '1 minute' };
  const tags = ['persons'];

  app.get('/api/session', { config: { open: 'all' }, schema: { tags } }, async (request): Promise<SessionAnswer> => {
    const person = await principals.current(request);
    const isLocked = request.who?.lockedAt != null;
    return {
      ...{ person, isLocked, isDemo: demoAccounts !== null },
      persons: person ? await principals.list() : [],
      accounts: person ? [] : (demoAccounts ?? []),
      needsFirstLead: demoAccounts === null && !(await store.hasAnyCredential(pool, shopId)),
    };
  });

  const signIn = z.strictObject({ personId: idSchema, passphrase: z.string().min(1).max(200) });
  app.post('/api/session', { config: { open: 'all' }, schema: { tags, body: signIn } }, async (request, reply) => {
    const { personId, passphrase: words } = request.body;
    await proveSecret(request, personId, words, 'passphrase');
    await tries.remember(request, reply, personId);
    await begin(request, personId);
    return { person: await principals.find(request.body.personId) };
  });

  app.delete('/api/session', { config: { open: 'all' }, schema: { tags } }, async (request) => {
    await request.session.destroy();
    return { person: null };
  });

  app.post('/api/session/lock', { config: { isForLocked: true }, schema: { tags } }, (request) => {
    request.session.lockedAt ??= clock().toISOString();
    return { isLocked: true };
  });

  // what this session's device keeps while the server is away is shown to be its person's by this key
  app.post('/api/session/key', { schema: { tags, body: keyRequestSchema } }, (request): Certificate =>
    actKeys.certify(request.who?.personId ?? '', request.body, clock()),
  );

  /** Unlocks a screen, or hands it to another person of the shop, by passphrase or PIN. Only on a device where somebody signed in. */
  const unlock = z.strictObject({ personId: idSchema, passphrase: z.string().min(1).max(200).optional(), pin: pin.optional() });
  app.post('/api/session/unlock', { config: { isForLocked: true }, schema: { tags, body: unlock } }, async (request, reply) => {
    const { personId, passphrase: words, pin: digits } = request.body;
    if ((words === undefined) === (digits === undefined)) throw new HttpProblem(422, 'mismatch', 'Give a passphrase or a PIN.', ['pin']);
    await proveSecret(request, personId, words ?? digits ?? '', words === undefined ? 'pin' : 'passphrase');
    if (words !== undefined) await tries.remember(request, reply, personId);
    await begin(request, personId);
    return { person: await principals.find(personId) };
  });

  const firstLead = z.strictObject({ code: z.string().min(1).max(40), personId: personIdSchema, name, passphrase });
  app.post('/api/first-lead', { config: { open: 'all', rateLimit }, schema: { tags, body: firstLead } }, async (request) => {
    const { code, personId, ...person } = request.body;
    if (!(await store.takeFirstCode(pool, shopId, hashCode(code))))
      throw new HttpProblem(403, 'wrongCode', 'That is not the code printed where the server was started, or it was used already.');
    try {
      await addPerson(personId, { ...person, role: 'lead' }, personId);
    } catch (error) {
      // nobody was made: the code is good for another try
      await store.saveFirstCode(pool, shopId, hashCode(code));
      throw error;
    }
    await begin(request, personId);
    return { person: await principals.find(personId) };
  });

  app.get('/api/people', { schema: { tags } }, async (): Promise<PeopleAnswer> => {
    // read first, and nothing from memory: what is kept meanwhile counts as not seen
    const position = await findTail(pool, shopId);
    principals.forget();
    return { persons: await principals.list(), competences: await principals.competences(), today: await findToday(), position };
  });

  async function findToday(): Promise<string> {
    const { isolation } = (await findLatestPolicy(pool, shopId))?.policy ?? DEFAULT_POLICY;
    return localTime(clock().getTime(), isolation.timeZone).date;
  }

  const newPerson = z.strictObject({ personId: personIdSchema, name, role: z.enum(ROLES), passphrase });
  app.post('/api/people', { config: { role: 'lead' }, schema: { tags, body: newPerson } }, async (request) => {
    const { personId, ...person } = request.body;
    await addPerson(personId, person, request.who?.personId ?? '');
    return { person: await principals.find(personId) };
  });

  const params = z.object({ personId: idSchema });
  const change = z.strictObject({ passphrase, current: z.string().max(200).optional() });
  app.post('/api/people/:personId/passphrase', { config: { rateLimit }, schema: { tags, params, body: change } }, async (request) => {
    const { personId } = request.params;
    const me = await principals.current(request);
    const isMine = me?.id === personId;
    if (isMine) await proveSecret(request, personId, request.body.current ?? '', 'passphrase');
    else if (me?.role !== 'lead') throw new HttpProblem(403, 'role', 'Only the lead gives another person a new passphrase.');
    if (!(await principals.find(personId))) throw new HttpProblem(404, 'unknownPerson', 'There is no such person in this shop.');
    await store.savePassphrase(pool, shopId, personId, await hashSecret(request.body.passphrase));
    await endSessions(personId);
    if (isMine) await begin(request, personId);
    return { ok: true };
  });

  app.post(
    '/api/people/me/pin',
    { config: { rateLimit }, schema: { tags, body: z.strictObject({ pin: pin.nullable(), current: z.string().max(200) }) } },
    async (request) => {
      const personId = request.who?.personId ?? '';
      await proveSecret(request, personId, request.body.current, 'passphrase');
      await store.savePin(pool, shopId, personId, request.body.pin === null ? null : await hashSecret(request.body.pin));
      return { ok: true };
    },
  );

  app.delete('/api/people/:personId/name', { config: { role: 'lead' }, schema: { tags, params } }, async (request) => {
    if (await principals.find(request.params.personId))
      throw new HttpProblem(409, 'notPermitted', 'A name is erased once the person has left the shop.');
    await store.eraseName(pool, shopId, request.params.personId);
    principals.forget();
    return { ok: true };
  });

  async function begin(request: FastifyRequest, personId: string): Promise<void> {
    // a new id for every signing in: one planted before is worth nothing
    await request.session.regenerate();
    request.session.personId = personId;
    request.session.lockedAt = null;
  }

  async function endSessions(personId: string): Promise<void> {
    await store.deleteSessionsOf(pool, shopId, personId);
    sessions.forgetAll();
  }

  async function proveSecret(request: FastifyRequest, personId: string, secret: string, kind: Try['kind']): Promise<void> {
    await tries.prove(request, {
      ...{ personId, kind },
      judge: async () => {
        const found = await store.findCredential(pool, shopId, personId);
        return isSecret(secret, (kind === 'pin' ? found?.pinHash : found?.passphraseHash) ?? null);
      },
    });
  }

  async function addPerson(
    personId: string,
    person: { name: string; role: (typeof ROLES)[number]; passphrase: string },
    by: string,
  ): Promise<void> {
    const hash = await hashSecret(person.passphrase);
    const nameHash = await store.insertName(pool, shopId, personId, person.name);
    if (nameHash === null) throw new HttpProblem(409, 'taken', `"${personId}" is taken in this shop.`, ['personId']);
    const outcome = await keepAct({
      ...{ commandId: uuid(), by, deviceAt: clock().toISOString() },
      act: { type: 'person.added', body: { personId, role: person.role, nameHash } },
    });
    if (outcome.kind === 'refused') {
      await store.deleteName(pool, shopId, personId);
      throw problemOfRefusal(outcome);
    }
    await store.savePassphrase(pool, shopId, personId, hash);
    principals.forget();
  }

  done();
};

function hashCode(code: string): Buffer {
  return createHash('sha256').update(code.replace(/[\s-]/g, '')).digest();
}

/** Makes a new one-time code for the first lead where the shop has nobody yet; null where it has. */
export async function makeFirstCode(pool: pg.Pool, shopId: string): Promise<string | null> {
  if (await store.hasAnyCredential(pool, shopId)) return null;
  const digits = Array.from({ length: 12 }, () => randomInt(10)).join('');
  await store.saveFirstCode(pool, shopId, hashCode(digits));
  return digits.replace(/(\d{4})(?=\d)/g, '$1-');
}

/** Who is at the device. Demo persons are picked in the header; the pick is a signed cookie that scripts cannot read. */
import type { Person, Session } from '@estuarine/contract';
import { idSchema } from '@estuarine/core';
import type { FastifyRequest } from 'fastify';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import type pg from 'pg';
import * as z from 'zod';
import { HttpProblem } from '../problem.ts';
import { findShop, listPersons } from '../shop/store.ts';

const COOKIE = 'estuarine_person';

export class Principals {
  readonly #pool: pg.Pool;
  readonly #shopId: string;
  #persons: readonly Person[] | null = null;

  constructor(pool: pg.Pool, shopId: string) {
    this.#pool = pool;
    this.#shopId = shopId;
  }

  async list(): Promise<readonly Person[]> {
    // persons are written at the start only, until sign-in exists
    if (!this.#persons || this.#persons.length === 0) this.#persons = await listPersons(this.#pool, this.#shopId);
    return this.#persons;
  }

  async current(request: FastifyRequest): Promise<Person | null> {
    const raw = request.cookies[COOKIE];
    const opened = raw === undefined ? null : request.unsignCookie(raw);
    if (!opened?.valid) return null;
    return (await this.list()).find((p) => p.id === opened.value) ?? null;
  }

  /** The person of the session, who must be the author named in the act. */
  async require(request: FastifyRequest, author: string): Promise<Person> {
    const person = await this.current(request);
    if (!person) throw new HttpProblem(403, 'noPerson', 'Nobody is picked on this device. Pick who you are; your acts wait meanwhile.');
    if (person.id !== author)
      throw new HttpProblem(403, 'otherAuthor', `This act is by ${author}, the session is ${person.id}'s. It waits for ${author}.`, ['by']);
    return person;
  }
}

export interface PersonRoutes {
  readonly principals: Principals;
  readonly pool: pg.Pool;
  readonly shopId: string;
}

export const personRoutes: FastifyPluginCallbackZod<PersonRoutes> = (app, { principals, pool, shopId }, done) => {
  app.get('/api/session', { schema: { tags: ['persons'] } }, async (request): Promise<Session> => {
    const shop = await findShop(pool, shopId);
    return { person: await principals.current(request), persons: await principals.list(), isDemo: shop?.isDemo ?? false };
  });

  app.post('/api/session', { schema: { tags: ['persons'], body: z.strictObject({ personId: idSchema }) } }, async (request, reply) => {
    const person = (await principals.list()).find((p) => p.id === request.body.personId);
    if (!person) throw new HttpProblem(422, 'unknownName', 'There is no such person in this shop.', ['personId']);
    void reply.setCookie(COOKIE, person.id, { path: '/', httpOnly: true, sameSite: 'strict', signed: true, maxAge: 60 * 60 * 24 * 30 });
    return { person };
  });
  done();
};

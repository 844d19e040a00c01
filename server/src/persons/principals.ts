/** Who is asking: every route is closed to nobody unless it says so, and some are for the lead. */
import type { Person } from '@estuarine/contract';
import { localTime, whyNotSign, type Competence, type Role } from '@estuarine/core';
import type { FastifyInstance, FastifyRequest } from 'fastify';
import type pg from 'pg';
import { HttpProblem } from '../problem.ts';
import type { SessionTable, Who } from './sessions.ts';
import { listCompetences, listPersons } from './store.ts';

declare module 'fastify' {
  interface FastifyContextConfig {
    /** Whether the route answers to nobody in particular: `all`, or `here` for requests from this machine alone. */
    open?: 'all' | 'here';
    /** Least role that the route asks for. */
    role?: Role;
    /** Whether a locked screen may ask it. */
    isForLocked?: boolean;
  }
}

/** A person with what decides what they may do. */
export interface Actor {
  readonly id: string;
  readonly role: Role;
  readonly competences: readonly Competence[];
}

/** Who answers for an act, and how. */
export interface Answerer {
  readonly actor: Actor;
  /** Who sent it for its author; null where the author did. */
  readonly forwardedBy: string | null;
  /** In whose name it came, where nothing proves it; null where it is the actor's own. */
  readonly passedFor: string | null;
}

interface Known {
  /** Everybody who has not left, by id. */
  readonly persons: ReadonlyMap<string, Person>;
  /** Those who have left too. */
  readonly everybody: ReadonlyMap<string, Person>;
  readonly competences: readonly Competence[];
}

/** What the clocks of device and server may differ by. */
const CLOCK_MILLISECOND = 2000;

const RANK: Record<Role, number> = { apprentice: 0, technician: 1, lead: 2 };

export class Principals {
  readonly #pool: pg.Pool;
  readonly #shopId: string;
  #known: Promise<Known> | null = null;
  /** The same, once it was read. */
  #settled: Known | null = null;

  constructor(pool: pg.Pool, shopId: string) {
    this.#pool = pool;
    this.#shopId = shopId;
  }

  /** Something about people changed: they are read again when next asked for. */
  forget(): void {
    this.#known = null;
    this.#settled = null;
  }

  async list(): Promise<readonly Person[]> {
    return [...(await this.#read()).persons.values()];
  }

  async competences(): Promise<readonly Competence[]> {
    return (await this.#read()).competences;
  }

  async find(personId: string): Promise<Person | null> {
    return (await this.#read()).persons.get(personId) ?? null;
  }

  /** The person of the session, locked or not; null for nobody. */
  async current(request: FastifyRequest): Promise<Person | null> {
    return request.who ? this.find(request.who.personId) : null;
  }

  /** The person of the session as an author of acts, who must be the one named in the act. */
  async require(request: FastifyRequest, author: string): Promise<Actor> {
    const person = await this.current(request);
    if (!person) throw signInFirst();
    if (person.id !== author)
      throw new HttpProblem(403, 'otherAuthor', `This act is by ${author}, the session is ${person.id}'s. It waits for ${author}.`, ['by']);
    return { id: person.id, role: person.role, competences: (await this.competences()).filter((c) => c.personId === person.id) };
  }

  /**
   * Who answers for an act: its author, who is the person of the session; for a fact that is proven to be theirs anybody of the shop, now
   * or before, whom the session's person forwards; for one that is not, the session's person, who passes it on as heard. What cannot be
   * passed on waits for its author. A locked screen sends only facts that were stated before it was locked.
   */
  async answerFor(
    request: FastifyRequest,
    { by, deviceAt }: { readonly by: string; readonly deviceAt: string },
    { isFact, isPassedOn, isProven }: { readonly isFact: boolean; readonly isPassedOn: boolean; readonly isProven: () => boolean },
  ): Promise<Answerer> {
    const lockedAt = request.who?.lockedAt ?? null;
    if (lockedAt !== null && !(isFact && Date.parse(deviceAt) <= lockedAt + CLOCK_MILLISECOND)) throw unlockFirst();
    const person = await this.current(request);
    if (!isFact || person?.id === by) return { actor: await this.require(request, by), forwardedBy: null, passedFor: null };
    if (!person) throw signInFirst();
    const author = (await this.#read()).everybody.get(by);
    if (!author) throw new HttpProblem(422, 'unknownName', `The shop has nobody called "${by}".`, ['by']);
    if (isProven()) return { actor: { id: by, role: author.role, competences: [] }, forwardedBy: person.id, passedFor: null };
    if (!isPassedOn) return { actor: await this.require(request, by), forwardedBy: null, passedFor: null };
    return { actor: { id: person.id, role: person.role, competences: [] }, forwardedBy: null, passedFor: by };
  }

  /** Closes every route that does not say that it is open. What is known already is not waited for. */
  guard(app: FastifyInstance, sessions: SessionTable): void {
    app.decorateRequest('who', null);
    app.addHook('onRequest', (request, _reply, done) => {
      const who = sessions.read(request);
      if (!(who instanceof Promise) && (this.#settled || isOpen(request))) {
        request.who = who;
        done(whyClosed(request, this.#settled) ?? undefined);
      } else void this.#ask(request, who).then((why) => done(why ?? undefined), done);
    });
  }

  async #ask(request: FastifyRequest, asked: Who | null | Promise<Who | null>): Promise<HttpProblem | null> {
    request.who = await asked;
    return whyClosed(request, isOpen(request) ? null : await this.#read());
  }

  #read(): Promise<Known> {
    this.#known ??= Promise.all([listPersons(this.#pool, this.#shopId), listCompetences(this.#pool, this.#shopId)]).then(
      ([rows, competences]) => ({
        persons: byId(rows.filter((r) => !r.hasLeft)),
        everybody: byId(rows),
        competences,
      }),
    );
    const asked = this.#known;
    asked.then(
      (known) => {
        if (this.#known === asked) this.#settled = known;
      },
      // a failed read is not kept
      () => {
        if (this.#known === asked) this.#known = null;
      },
    );
    return asked;
  }
}

/** Whether the route answers to nobody in particular. */
function isOpen(request: FastifyRequest): boolean {
  const { config, url: route = '' } = request.routeOptions;
  // by the route that was found: an address can be written in many ways, such as /%61pi/
  return config.open === 'all' || !route.startsWith('/api/') || (config.open === 'here' && isHere(request));
}

function whyClosed(request: FastifyRequest, known: Known | null): HttpProblem | null {
  if (isOpen(request)) return null;
  const { role, isForLocked } = request.routeOptions.config;
  const person = request.who && known?.persons.get(request.who.personId);
  if (!person) return signInFirst();
  if (request.who?.lockedAt != null && !isForLocked) return unlockFirst();
  if (role && RANK[person.role] < RANK[role])
    return new HttpProblem(403, 'role', `This is for a ${role}; ${person.name} is signed in as ${person.role}. Nothing was kept.`);
  return null;
}

function signInFirst(): HttpProblem {
  return new HttpProblem(401, 'signIn', 'Nobody is signed in on this device. Sign in; your acts wait meanwhile.');
}

function unlockFirst(): HttpProblem {
  return new HttpProblem(401, 'locked', 'The screen is locked. Unlock it first; nothing was kept.');
}

function byId(rows: readonly Person[]): ReadonlyMap<string, Person> {
  return new Map(rows.map(({ id, name, role }) => [id, { id, name, role }]));
}

function isHere(request: FastifyRequest): boolean {
  return /^(127\.|::1$|::ffff:127\.)/.test(request.socket.remoteAddress ?? '');
}

/** Why an actor may not sign hazards now, as a sentence; null where they may. */
export function whyNoSignature(actor: Actor, now: Date, timeZone: string): string | null {
  return whyNotSign(actor.role, actor.competences, localTime(now.getTime(), timeZone).date);
}

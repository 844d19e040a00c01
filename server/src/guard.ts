/** Who may talk to the server, and in what: known host names only, no page of another origin, JSON and nothing else. */
import type { FastifyInstance } from 'fastify';
import { HttpProblem } from './problem.ts';

/** @param hosts allowed `Host` values, in lower case, with port where it is not the default */
export function guardRequests(app: FastifyInstance, hosts: () => ReadonlySet<string>): void {
  app.addHook('onRequest', (request, reply, done) => {
    // whoever asked is gone already: nobody hears an answer, and no address is left to count by
    if (request.socket.destroyed) {
      reply.hijack();
      return;
    }
    void reply.header('x-content-type-options', 'nosniff');
    const host = (request.headers.host ?? '').toLowerCase();
    if (!hosts().has(host)) {
      done(new HttpProblem(403, 'unknownHost', 'This server does not answer to that host name.'));
      return;
    }
    const { origin } = request.headers;
    if (origin !== undefined && !isOwn(origin, hosts())) {
      done(new HttpProblem(403, 'otherOrigin', 'Requests from pages of another origin are not taken.'));
      return;
    }
    done();
  });
}

function isOwn(origin: string, hosts: ReadonlySet<string>): boolean {
  return URL.canParse(origin) && hosts.has(new URL(origin).host.toLowerCase());
}

/** An escaped zero character in a JSON text; no column of the database holds one. */
const ZERO = /(?<!\\)(?:\\\\)*\\u0000/;
/** An escaped half of a character that takes two, such as an emoji. */
const HALF = /\\u[dD][89a-fA-F]/;

/** JSON is the one type that is taken; keys that reach for a prototype and the zero character are refused. */
export function readJson(app: FastifyInstance): void {
  app.removeAllContentTypeParsers();
  const parse = app.getDefaultJsonParser('error', 'error');
  app.addContentTypeParser('application/json', { parseAs: 'string' }, (request, body, done) => {
    if (ZERO.test(String(body)))
      done(new HttpProblem(422, 'schema', 'A text holds the zero character, which nothing here keeps. Nothing was kept.'));
    else
      void parse(request, String(body), (error, value?: unknown) => {
        const place = error || !HALF.test(String(body)) ? null : findHalf(value);
        if (!place) done(error, value);
        else done(new HttpProblem(422, 'schema', 'A text holds half a character. Write it anew. Nothing was kept.', place));
      });
  });
}

/** Where a text or a key holds half a character, which has no UTF-8; null for nowhere. */
function findHalf(value: unknown): (string | number)[] | null {
  if (typeof value === 'string') return value.isWellFormed() ? null : [];
  if (typeof value !== 'object' || value === null) return null;
  for (const [key, inner] of Object.entries(value)) {
    const place = key.isWellFormed() ? findHalf(inner) : [];
    if (place) return [Array.isArray(value) ? Number(key) : key, ...place];
  }
  return null;
}

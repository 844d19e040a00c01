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

/** Escapes in a JSON text that may stand for a zero character, or for half of a character that takes two, such as an emoji. */
const SUSPECT = /\\u(0000|[dD][89a-fA-F])/;

/** JSON is the one type that is taken; keys that reach for a prototype are refused, and texts that no column of the database holds. */
export function readJson(app: FastifyInstance): void {
  app.removeAllContentTypeParsers();
  const parse = app.getDefaultJsonParser('error', 'error');
  app.addContentTypeParser('application/json', { parseAs: 'string' }, (request, body, done) => {
    void parse(request, String(body), (error, value?: unknown) => {
      const odd = error || !SUSPECT.test(String(body)) ? null : findOdd(value);
      done(odd ? oddText(odd) : error, value);
    });
  });
  app.addHook('preValidation', (request, _reply, done) => {
    const odd = /%00|\ufffd|%[eE][dD]/.test(request.url) ? (findOdd(request.params) ?? findOdd(request.query)) : null;
    done(odd ? oddText(odd) : undefined);
  });
}

interface Odd {
  readonly what: string;
  readonly path: readonly (string | number)[];
}

function oddText({ what, path }: Odd): HttpProblem {
  return new HttpProblem(422, 'schema', `A text holds ${what}. Write it anew. Nothing was kept.`, path);
}

/** Where a text or a key holds what is no text, and what; null for nowhere. */
function findOdd(value: unknown): Odd | null {
  if (typeof value === 'string') {
    const what = value.includes('\0') ? 'the zero character' : value.isWellFormed() ? null : 'half a character';
    return what === null ? null : { what, path: [] };
  }
  if (typeof value !== 'object' || value === null) return null;
  for (const [key, inner] of Object.entries(value)) {
    const odd = findOdd(key) ?? findOdd(inner);
    if (odd) return { what: odd.what, path: [Array.isArray(value) ? Number(key) : key, ...odd.path] };
  }
  return null;
}

/** Who may talk to the server: known host names only, and no page of another origin. */
import type { FastifyInstance } from 'fastify';
import { HttpProblem } from './problem.ts';

/** @param hosts allowed `Host` values, in lower case, with port where it is not the default */
export function guardRequests(app: FastifyInstance, hosts: () => ReadonlySet<string>): void {
  app.addHook('onRequest', (request, reply, done) => {
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

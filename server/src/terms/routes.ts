/** Suppliers' conditions over HTTP. */
import type { TermsAnswer, TermsListAnswer } from '@estuarine/contract';
import { idSchema, termsSchema, versionSchema } from '@estuarine/core';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import type pg from 'pg';
import * as z from 'zod';
import { HttpProblem } from '../problem.ts';
import { findTerms, listTerms } from './store.ts';

export interface TermsRoutes {
  readonly pool: pg.Pool;
  readonly shopId: string;
}

export const termsRoutes: FastifyPluginCallbackZod<TermsRoutes> = (app, { pool, shopId }, done) => {
  app.get('/api/terms', { schema: { tags: ['shop'] } }, async (): Promise<TermsListAnswer> => ({ terms: await listTerms(pool, shopId) }));

  const params = z.object({ termsId: idSchema, version: z.coerce.number().pipe(versionSchema) });
  app.get('/api/terms/:termsId/:version', { schema: { tags: ['shop'], params } }, async (request, reply): Promise<TermsAnswer> => {
    const { termsId, version } = request.params;
    const terms = await findTerms(pool, shopId, termsId, version);
    if (!terms) throw new HttpProblem(404, 'unknownTerms', `There are no conditions ${termsId} of version ${version}.`);
    void reply.header('cache-control', 'private, max-age=31536000, immutable');
    return { terms };
  });

  app.get('/api/terms.schema.json', { config: { open: 'all' }, schema: { tags: ['shop'] } }, async (_request, reply) =>
    reply.type('application/schema+json').send(JSON.stringify(z.toJSONSchema(termsSchema, { io: 'input' }), null, 2)),
  );
  done();
};

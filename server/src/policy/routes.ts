/** The limits of the shop over HTTP. */
import type { PolicyAnswer } from '@estuarine/contract';
import { DEFAULT_POLICY, versionSchema } from '@estuarine/core';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import type pg from 'pg';
import * as z from 'zod';
import { HttpProblem } from '../problem.ts';
import type { References } from '../profiles/references.ts';
import { findLatestPolicy } from './store.ts';

export interface PolicyRoutes {
  readonly pool: pg.Pool;
  readonly shopId: string;
  readonly references: References;
}

export const policyRoutes: FastifyPluginCallbackZod<PolicyRoutes> = (app, { pool, shopId, references }, done) => {
  app.get('/api/policy', { schema: { tags: ['shop'] } }, async (): Promise<PolicyAnswer> => {
    const latest = await findLatestPolicy(pool, shopId);
    return latest ?? { version: 0, policy: DEFAULT_POLICY };
  });

  const params = z.object({ version: z.coerce.number().pipe(versionSchema) });
  app.get('/api/policies/:version', { schema: { tags: ['shop'], params } }, async (request, reply): Promise<PolicyAnswer> => {
    const { version } = request.params;
    const policy = await references.policy(pool, version);
    if (!policy) throw new HttpProblem(404, 'unknownPolicy', `There is no policy of version ${version}.`);
    void reply.header('cache-control', 'private, max-age=31536000, immutable');
    return { version, policy };
  });
  done();
};

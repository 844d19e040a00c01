/** Pack profiles over HTTP. */
import { idSchema, profileSchema, versionSchema } from '@estuarine/core';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import type pg from 'pg';
import * as z from 'zod';
import { HttpProblem } from '../problem.ts';
import type { References } from './references.ts';
import { listProfiles, listVersions } from './store.ts';

export interface ProfileRoutes {
  readonly pool: pg.Pool;
  readonly shopId: string;
  readonly references: References;
}

export const profileRoutes: FastifyPluginCallbackZod<ProfileRoutes> = (app, { pool, shopId, references }, done) => {
  app.get('/api/profiles', { schema: { tags: ['shop'] } }, async () => ({ profiles: await listProfiles(pool, shopId) }));

  app.get(
    '/api/profiles/:profileId/versions',
    { schema: { tags: ['shop'], params: z.object({ profileId: idSchema }) } },
    async (request) => ({
      versions: await listVersions(pool, shopId, request.params.profileId),
    }),
  );

  const params = z.object({ profileId: idSchema, version: z.coerce.number().pipe(versionSchema) });
  app.get('/api/profiles/:profileId/:version', { schema: { tags: ['shop'], params } }, async (request, reply) => {
    const { profileId, version } = request.params;
    const profile = await references.profile(pool, profileId, version);
    if (!profile) throw new HttpProblem(404, 'unknownProfile', `There is no profile ${profileId} of version ${version}.`);
    // the content never changes, but a newer release may send it in a newer form
    void reply.header('cache-control', 'private, max-age=300');
    return { profile };
  });

  app.get('/api/profile.schema.json', { config: { open: 'all' }, schema: { tags: ['shop'] } }, async (_request, reply) =>
    reply.type('application/schema+json').send(JSON.stringify(z.toJSONSchema(profileSchema, { io: 'input' }), null, 2)),
  );
  done();
};

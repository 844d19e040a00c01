/** The shop over HTTP: profiles, policy, stock, and the acts that change them. */
import { sentShopActSchema, type PolicyAnswer, type StockAnswer } from '@estuarine/contract';
import { DEFAULT_POLICY, idSchema, profileSchema } from '@estuarine/core';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import * as z from 'zod';
import type { References } from '../jobs/references.ts';
import type { Principals } from '../persons/principals.ts';
import { HttpProblem, problemOfRefusal } from '../problem.ts';
import { keepShopAct, type ShopActs } from './acts.ts';
import { findLatestPolicy, listModules, listProfiles } from './store.ts';

export interface ShopRoutes {
  readonly shop: ShopActs;
  readonly references: References;
  readonly principals: Principals;
}

const IMPORT_BYTES = 8 * 1024 * 1024;

export const shopRoutes: FastifyPluginCallbackZod<ShopRoutes> = (app, { shop, references, principals }, done) => {
  const { pool, shopId } = shop;

  app.get('/api/profiles', { schema: { tags: ['shop'] } }, async () => ({ profiles: await listProfiles(pool, shopId) }));

  const versioned = z.object({ profileId: idSchema, version: z.coerce.number().int().min(1) });
  app.get('/api/profiles/:profileId/:version', { schema: { tags: ['shop'], params: versioned } }, async (request, reply) => {
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

  app.get('/api/policy', { schema: { tags: ['shop'] } }, async (): Promise<PolicyAnswer> => {
    const latest = await findLatestPolicy(pool, shopId);
    return latest ?? { version: 0, policy: DEFAULT_POLICY };
  });

  const policyVersion = z.object({ version: z.coerce.number().int().min(1) });
  app.get(
    '/api/policies/:version',
    { schema: { tags: ['shop'], params: policyVersion } },
    async (request, reply): Promise<PolicyAnswer> => {
      const { version } = request.params;
      const policy = await references.policy(pool, version);
      if (!policy) throw new HttpProblem(404, 'unknownPolicy', `There is no policy of version ${version}.`);
      void reply.header('cache-control', 'private, max-age=31536000, immutable');
      return { version, policy };
    },
  );

  app.get('/api/stock', { schema: { tags: ['shop'] } }, async (): Promise<StockAnswer> => {
    const [profiles, rows] = await Promise.all([listProfiles(pool, shopId), listModules(pool, shopId)]);
    const types = new Map(profiles.map((p) => [p.moduleType.id, p.moduleType]));
    return { types: [...types.values()], rows };
  });

  app.post('/api/shop/acts', { bodyLimit: IMPORT_BYTES, schema: { tags: ['shop'], body: sentShopActSchema } }, async (request) => {
    const person = await principals.require(request, request.body.by);
    const outcome = await keepShopAct(shop, request.body, person.role);
    if (outcome.kind === 'refused') throw problemOfRefusal(outcome);
    // heard again by the tail, in every process; here at once
    principals.forget();
    return outcome;
  });
  done();
};

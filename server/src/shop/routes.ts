/** Acts of the shop over HTTP. */
import { sentShopActSchema } from '@estuarine/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import type { Principals } from '../persons/principals.ts';
import { problemOfRefusal } from '../problem.ts';
import { keepShopAct, type ShopActs } from './acts.ts';

export interface ShopRoutes {
  readonly shop: ShopActs;
  readonly principals: Principals;
}

const IMPORT_BYTES = 8 * 1024 * 1024;

export const shopRoutes: FastifyPluginCallbackZod<ShopRoutes> = (app, { shop, principals }, done) => {
  app.post('/api/shop/acts', { bodyLimit: IMPORT_BYTES, schema: { tags: ['shop'], body: sentShopActSchema } }, async (request) => {
    const person = await principals.require(request, request.body.by);
    // who says nothing of it has seen nothing
    const outcome = await keepShopAct(shop, { ...request.body, seen: request.body.seen ?? 0 }, person.role);
    if (outcome.kind === 'refused') throw problemOfRefusal(outcome);
    // heard again by the tail, in every process; here at once
    principals.forget();
    return outcome;
  });
  done();
};

/** The stock over HTTP. */
import type { StockAnswer } from '@estuarine/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import type pg from 'pg';
import { findTail } from '../log/store.ts';
import { listProfiles } from '../profiles/store.ts';
import { listModules } from './store.ts';

export const stockRoutes: FastifyPluginCallbackZod<{ readonly pool: pg.Pool; readonly shopId: string }> = (app, { pool, shopId }, done) => {
  app.get('/api/stock', { schema: { tags: ['shop'] } }, async (): Promise<StockAnswer> => {
    // read first: what is kept meanwhile counts as not seen
    const position = await findTail(pool, shopId);
    const [profiles, rows] = await Promise.all([listProfiles(pool, shopId), listModules(pool, shopId)]);
    const types = new Map(profiles.map((p) => [p.moduleType.id, p.moduleType]));
    return { types: [...types.values()], rows, position };
  });
  done();
};

/** The application: everything wired, nothing started. */
import compress from '@fastify/compress';
import cookie from '@fastify/cookie';
import rateLimit from '@fastify/rate-limit';
import swagger from '@fastify/swagger';
import Fastify, { type FastifyInstance } from 'fastify';
import { jsonSchemaTransform, jsonSchemaTransformObject, validatorCompiler, type ZodTypeProvider } from 'fastify-type-provider-zod';
import type pg from 'pg';
import { guardRequests } from './guard.ts';
import { JobStates } from './jobs/job-states.ts';
import { References } from './jobs/references.ts';
import { jobRoutes } from './jobs/routes.ts';
import { Tail } from './log/tail.ts';
import { Principals, personRoutes } from './persons/principals.ts';
import { handleError } from './problem.ts';
import { reckonRoutes } from './reckon/routes.ts';
import { serveShell } from './shell/shell.ts';
import { shopRoutes } from './shop/routes.ts';
import { streamRoutes } from './stream/routes.ts';

export interface AppOptions {
  readonly pool: pg.Pool;
  readonly databaseUrl: string;
  readonly shopId: string;
  readonly secret: string;
  readonly clock: () => Date;
  /** Host names the server answers to, read at each request since the port may be chosen late. */
  readonly hosts: () => ReadonlySet<string>;
  readonly webRoot?: string | undefined;
  readonly logLevel?: 'silent' | 'warn' | 'info';
  /** Requests a minute from one address; null: no limit. */
  readonly requestsPerMinute?: number | null;
}

export const SHOP_ID = 'shop';

export async function buildApp(options: AppOptions): Promise<FastifyInstance> {
  const { pool, shopId, clock } = options;
  const app = Fastify({
    logger: options.logLevel && options.logLevel !== 'silent' ? { level: options.logLevel } : false,
    bodyLimit: 1024 * 1024,
    forceCloseConnections: true,
  }).withTypeProvider<ZodTypeProvider>();
  app.setValidatorCompiler(validatorCompiler);
  app.setErrorHandler(handleError);
  app.removeContentTypeParser('text/plain');
  guardRequests(app, options.hosts);

  if (options.requestsPerMinute !== null) await app.register(rateLimit, { max: options.requestsPerMinute ?? 3000, timeWindow: '1 minute' });
  await app.register(cookie, { secret: options.secret });
  await app.register(compress, {
    customTypes: (type) => /^(application\/(json|problem\+json|javascript)|text\/(?!event-stream)|image\/svg)/.test(type),
    threshold: 1024,
  });
  await app.register(swagger, {
    openapi: { openapi: '3.1.0', info: { title: 'Estuarine', version: '0.1.0' } },
    transform: jsonSchemaTransform,
    transformObject: jsonSchemaTransformObject,
  });

  const tail = new Tail(options.databaseUrl, pool, shopId);
  await tail.open();
  app.addHook('onClose', () => tail.close());
  const references = new References(shopId);
  const states = new JobStates(shopId, references);
  const principals = new Principals(pool, shopId);

  app.get('/api/health', { schema: { hide: true } }, async () => {
    await pool.query('select 1');
    return { ok: true, now: clock().toISOString() };
  });
  app.get('/api/openapi.json', { schema: { hide: true } }, () => app.swagger());
  await app.register(personRoutes, { principals, pool, shopId });
  await app.register(jobRoutes, { jobs: { pool, shopId, clock, states, references }, tail, principals });
  await app.register(shopRoutes, { shop: { pool, shopId, clock }, references, principals });
  await app.register(streamRoutes, { pool, shopId, tail, clock });
  await app.register(reckonRoutes);
  await serveShell(app, options.webRoot);
  return app;
}

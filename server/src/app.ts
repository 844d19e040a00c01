/** The application: everything wired, nothing started. */
import { SHOP_STREAM } from '@estuarine/contract';
import compress from '@fastify/compress';
import cookie from '@fastify/cookie';
import rateLimit from '@fastify/rate-limit';
import session from '@fastify/session';
import swagger from '@fastify/swagger';
import Fastify, { type FastifyInstance, type FastifyServerOptions, type RouteOptions } from 'fastify';
import { jsonSchemaTransform, jsonSchemaTransformObject, validatorCompiler, type ZodTypeProvider } from 'fastify-type-provider-zod';
import type pg from 'pg';
import { gearRoutes } from './gear/routes.ts';
import { figureRoutes } from './figures/routes.ts';
import { listLooks, listWaits } from './jobs/store.ts';
import { guardRequests, readJson } from './guard.ts';
import { Bench } from './instruments/bench.ts';
import { instrumentRoutes } from './instruments/routes.ts';
import { JobStates } from './jobs/job-states.ts';
import { createProver } from './jobs/plan-proof.ts';
import { carRoutes } from './jobs/car-routes.ts';
import { jobRoutes } from './jobs/routes.ts';
import { findTail } from './log/store.ts';
import { Tail } from './log/tail.ts';
import { ActKeys } from './persons/act-keys.ts';
import { Principals } from './persons/principals.ts';
import { personRoutes } from './persons/routes.ts';
import { SESSION_COOKIE, SESSION_MILLISECOND, SessionTable } from './persons/sessions.ts';
import { Tries } from './persons/tries.ts';
import { photoRoutes } from './photos/routes.ts';
import { policyRoutes } from './policy/routes.ts';
import { createPractice } from './practice/practice.ts';
import { errorHandler } from './problem.ts';
import { Printer } from './report/printer.ts';
import { Reports } from './report/reports.ts';
import { reportRoutes } from './report/routes.ts';
import { recordRoutes } from './record/routes.ts';
import { SealKeys } from './seal/keys.ts';
import { sealRoutes } from './seal/routes.ts';
import { termsRoutes } from './terms/routes.ts';
import { References } from './profiles/references.ts';
import { profileRoutes } from './profiles/routes.ts';
import { Calculators } from './reckon/calculators.ts';
import { reckonRoutes } from './reckon/routes.ts';
import { serveShell } from './shell/shell.ts';
import { keepShopAct } from './shop/acts.ts';
import { shopRoutes } from './shop/routes.ts';
import { findShop } from './shop/store.ts';
import { stockRoutes } from './stock/routes.ts';
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
  /** Folder of the database, where it lies on this machine. */
  readonly dataFolder?: string | undefined;
  readonly logLevel?: 'silent' | 'warn' | 'info';
  /** Requests a minute from one address; null: no limit, for benches and tests. Tries to sign in have their own. */
  readonly requestsPerMinute?: number | null;
  readonly triesPerMinute?: number | null;
  /** Told of every route as it is made; a test walks them all. */
  readonly onRoute?: (route: RouteOptions) => void;
  /** Served by TLS: the session's cookie never travels otherwise. */
  readonly tls?: { readonly key: string; readonly cert: string } | null;
}

/** How long a request may take to come in whole. */
const REQUEST_MILLISECOND = 120_000;

export async function buildApp(options: AppOptions): Promise<FastifyInstance> {
  const { pool, shopId, clock } = options;
  const handle = errorHandler(options.dataFolder ?? null);
  const app = Fastify({
    logger: options.logLevel && options.logLevel !== 'silent' ? { level: options.logLevel } : false,
    bodyLimit: 1024 * 1024,
    forceCloseConnections: true,
    // a request that does not come to its end holds a connection for no longer; a photograph over a poor network takes less
    requestTimeout: REQUEST_MILLISECOND,
    https: options.tls ?? null,
    frameworkErrors: (error, request, reply) => void handle(error, request, reply),
  } as FastifyServerOptions).withTypeProvider<ZodTypeProvider>();
  if (options.onRoute) app.addHook('onRoute', options.onRoute);
  app.setValidatorCompiler(validatorCompiler);
  app.setErrorHandler(handle);
  readJson(app);
  guardRequests(app, options.hosts);

  await app.register(rateLimit, {
    max: options.requestsPerMinute ?? 3000,
    timeWindow: '1 minute',
    global: options.requestsPerMinute !== null,
  });
  const sessions = new SessionTable(pool, shopId, options.secret);
  const principals = new Principals(pool, shopId);
  const actKeys = new ActKeys(options.secret, shopId);
  principals.guard(app, sessions);
  await app.register(compress, {
    customTypes: (type) => /^(application\/(json|problem\+json|javascript)|text\/(?!event-stream)|image\/svg)/.test(type),
    threshold: 1024,
    // nobody sends it anything packed
    globalDecompression: false,
  });
  await app.register(swagger, {
    openapi: { openapi: '3.1.0', info: { title: 'Estuarine', version: '0.1.0' } },
    transform: jsonSchemaTransform,
    transformObject: jsonSchemaTransformObject,
  });

  const tail = new Tail(options.databaseUrl, pool, shopId);
  await tail.open();
  app.addHook('onClose', () => tail.close());
  const announce = (stream: string, head: number): void => tail.announce(stream, head);
  const references = new References(shopId);
  const states = new JobStates(shopId, references);
  const isDemo = (await findShop(pool, shopId))?.isDemo === true;
  const practice = isDemo ? createPractice(pool, shopId, clock, states) : null;
  const calculators = new Calculators();
  app.addHook('onClose', () => calculators.close());
  // whatever changes people is written in the shop's stream, by this process or another
  tail.subscribe((events) => {
    if (events.some(({ event }) => event.stream === SHOP_STREAM)) principals.forget();
  });

  app.get('/api/health', { config: { open: 'all' }, schema: { hide: true } }, async () => {
    await pool.query('select 1');
    return { ok: true, now: clock().toISOString() };
  });
  app.get('/api/openapi.json', { config: { open: 'all' }, schema: { hide: true } }, () => app.swagger());
  const triesPerMinute = options.triesPerMinute === undefined ? 20 : options.triesPerMinute;
  const tries = new Tries({ pool, shopId, clock, secret: options.secret, isSecure: Boolean(options.tls), freeTries: triesPerMinute });
  await app.register(async (scope) => {
    await scope.register(cookie);
    await scope.register(session, {
      secret: options.secret,
      cookieName: SESSION_COOKIE,
      store: sessions,
      cookie: { httpOnly: true, sameSite: 'strict', secure: Boolean(options.tls), path: '/', maxAge: SESSION_MILLISECOND },
      rolling: false,
      saveUninitialized: false,
    });
    await scope.register(personRoutes, {
      ...{ pool, shopId, clock, principals, sessions, actKeys, tries, triesPerMinute, demoAccounts: practice?.accounts ?? null },
      keepAct: (sent) => keepShopAct({ pool, shopId, clock, announce }, sent, 'lead'),
    });
  });
  const findJob = (jobId: string): ReturnType<JobStates['look']> => states.look(pool, jobId);
  const prove = createProver({ pool, shopId, findJob, calculators });
  await app.register(jobRoutes, { jobs: { pool, shopId, clock, states, references, announce, prove }, tail, principals, actKeys });
  const findTold = async (jobId: string) => (await findJob(jobId))?.state.finding.photos ?? null;
  await app.register(photoRoutes, { pool, shopId, clock, findTold });
  await app.register(shopRoutes, { shop: { pool, shopId, clock, announce }, principals });
  await app.register(profileRoutes, { pool, shopId, references });
  await app.register(policyRoutes, { pool, shopId, references });
  await app.register(stockRoutes, { pool, shopId });
  await app.register(gearRoutes, {
    pool,
    shopId,
    clock,
    secret: options.secret,
    findLooks: () => listLooks(pool, shopId),
    findWaits: () => listWaits(pool, shopId),
  });
  await app.register(streamRoutes, { pool, shopId, tail, clock, isStillIn: (request) => sessions.isOpen(request.who?.sessionId ?? '') });
  const bench = new Bench({ pool, shopId });
  await practice?.start(bench);
  app.addHook('onClose', () => bench.close());
  await app.register(instrumentRoutes, { bench, findPosition: () => findTail(pool, shopId) });
  await app.register(carRoutes, { bench, findJob });
  const keys = new SealKeys({ pool, shopId, secret: options.secret, clock });
  // made at the first start, so that its fingerprint can be published before anything is sealed
  app.addHook('onReady', () => keys.ensure());
  const printer = new Printer();
  app.addHook('onClose', () => printer.close());
  const sources = { pool, shopId, states, references, isDemo, fingerprint: () => keys.fingerprint() };
  await app.register(reportRoutes, { reports: new Reports({ ...sources, printer, clock }) });
  await app.register(recordRoutes, { sources, printer, keys, clock, webRoot: options.webRoot });
  await app.register(sealRoutes, { keys });
  await app.register(figureRoutes, { pool, shopId, clock, states });
  await app.register(termsRoutes, { pool, shopId });
  await app.register(reckonRoutes, { calculators });
  await serveShell(app, options.webRoot);
  return app;
}

/** The description of the API, as whoever writes a program against it reads it. */
import type { FastifyInstance } from 'fastify';
import { createDatabase, startApp, type TestDatabase } from './support.ts';

interface Described {
  readonly paths: Record<string, Record<string, { readonly tags?: string[]; readonly parameters?: { readonly name: string; readonly in: string; readonly schema: object }[] }>>; // prettier-ignore
}

let db: TestDatabase;
let app: FastifyInstance;
let described: Described;
const routes: string[] = [];

beforeAll(async () => {
  db = await createDatabase();
  app = await startApp(db, {
    onRoute: ({ method, url, schema }) => {
      if (url.startsWith('/api/') && schema?.hide !== true) for (const one of [method].flat()) routes.push(`${one} ${url}`);
    },
  });
  await app.ready();
  described = (await app.inject({ method: 'GET', url: '/api/openapi.json' })).json();
});
afterAll(async () => {
  await app.close();
  await db.drop();
});

it('holds every route that is not hidden, each under the part of the shop that it belongs to', () => {
  const told = Object.entries(described.paths).flatMap(([path, methods]) =>
    Object.entries(methods).map(([method, { tags = [] }]) => ({ name: `${method.toUpperCase()} ${path}`, tags })),
  );
  const wanted = routes.filter((r) => !r.startsWith('HEAD ')).map((r) => r.replace(/:(\w+)/g, '{$1}'));
  expect(told.map((t) => t.name).sort()).toEqual([...new Set(wanted)].sort());
  expect(told.length).toBeGreaterThan(40);
  for (const { name, tags } of told) expect([name, tags]).toEqual([name, [expect.stringMatching(/^[a-z]+$/)]]);
});

it('says of every name in an address what it may be', () => {
  const bare: string[] = [];
  for (const [path, methods] of Object.entries(described.paths)) {
    const names = [...path.matchAll(/\{(\w+)\}/g)].map(([, name = '']) => name);
    for (const [method, { parameters = [] }] of Object.entries(methods)) {
      const inPath = parameters.filter((p) => p.in === 'path');
      expect([method, path, inPath.map((p) => p.name).sort()]).toEqual([method, path, [...names].sort()]);
      // a bare string takes anything
      bare.push(...inPath.filter(({ schema }) => JSON.stringify(schema) === '{"type":"string"}').map(({ name }) => `${path} ${name}`));
    }
  }
  expect(bare).toEqual([]);
});

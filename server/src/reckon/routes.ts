/** The registry of calculations over HTTP. */
import type { Result } from '@estuarine/core';
import { findEntry, REGISTRY } from '@estuarine/core/reckon';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { Piscina } from 'piscina';
import * as z from 'zod';
import { HttpProblem, problemOfRefusal } from '../problem.ts';

const CAP_MILLISECOND = 10_000;
const INPUT_BYTES = 12 * 1024 * 1024;

export const reckonRoutes: FastifyPluginCallbackZod = (app, _options, done) => {
  const isSource = import.meta.url.endsWith('.ts');
  let workers: Piscina | null = null;
  // made on first need: most shops never post a heavy one
  const pool = (): Piscina =>
    (workers ??= new Piscina({
      filename: new URL(isSource ? './worker.ts' : './worker.js', import.meta.url).href,
      maxThreads: 2,
      ...(isSource ? { execArgv: ['--conditions=@estuarine/source', '--import', 'tsx'] } : {}),
    }));
  app.addHook('onClose', async () => {
    await workers?.destroy();
  });

  app.get('/api/reckon', { config: { open: 'here' }, schema: { tags: ['reckon'] } }, () => ({
    entries: REGISTRY.map(({ name, purpose, formula, source, input, output }) => ({
      name,
      purpose,
      formula,
      source,
      input: z.toJSONSchema(input, { io: 'input', unrepresentable: 'any' }),
      output: z.toJSONSchema(output, { unrepresentable: 'any' }),
    })),
  }));

  const params = z.object({ name: z.string().max(60) });
  app.post(
    '/api/reckon/:name',
    { config: { open: 'here' }, bodyLimit: INPUT_BYTES, schema: { tags: ['reckon'], params } },
    async (request) => {
      const entry = findEntry(request.params.name);
      if (!entry)
        throw new HttpProblem(404, 'unknownName', `There is no calculation "${request.params.name}". GET /api/reckon lists them.`);
      const result = entry.isHeavy ? await runApart(pool(), entry.name, request.body) : entry.run(request.body);
      if (result.kind === 'refused') throw problemOfRefusal(result);
      return result.value;
    },
  );
  done();
};

async function runApart(workers: Piscina, name: string, input: unknown): Promise<Result<unknown>> {
  const stop = new AbortController();
  const timer = setTimeout(() => stop.abort(), CAP_MILLISECOND + 500);
  try {
    return (await workers.run({ name, input, limitMillisecond: CAP_MILLISECOND }, { signal: stop.signal })) as Result<unknown>;
  } catch (error) {
    if (stop.signal.aborted)
      throw new HttpProblem(503, 'tooLong', 'The calculation took longer than 10 s and was stopped. Give it less, or a time limit.');
    throw error;
  } finally {
    clearTimeout(timer);
  }
}

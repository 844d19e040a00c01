/** The registry of calculations over HTTP. */
import { findEntry, REGISTRY } from '@estuarine/core/reckon';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import * as z from 'zod';
import { HttpProblem, problemOfRefusal } from '../problem.ts';
import type { Calculators } from './calculators.ts';

const INPUT_BYTES = 12 * 1024 * 1024;

export const reckonRoutes: FastifyPluginCallbackZod<{ readonly calculators: Calculators }> = (app, { calculators }, done) => {
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
      const result = entry.isHeavy ? await calculators.run(entry.name, request.body) : entry.run(request.body);
      if (result.kind === 'refused') throw problemOfRefusal(result);
      return result.value;
    },
  );
  done();
};

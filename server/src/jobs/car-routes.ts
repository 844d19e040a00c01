/** The car of a job over HTTP: a scan, its figures while it is watched, its codes cleared. Reads; what was read is kept by an act. */
import { idSchema } from '@estuarine/core';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import * as z from 'zod';
import type { Bench, CarQuestion } from '../instruments/bench.ts';
import { HttpProblem } from '../problem.ts';
import type { FoldedJob } from './job-states.ts';

export interface CarRoutes {
  readonly bench: Bench;
  readonly findJob: (jobId: string) => Promise<FoldedJob | null>;
}

const params = z.object({ jobId: idSchema });
const body = z.strictObject({
  readerId: idSchema,
  /** How a simulated car is used meanwhile; a real one knows. */
  load: z.strictObject({ ampere: z.number().min(-500).max(500), second: z.number().min(0).max(86_400) }).default({ ampere: 0, second: 0 }),
});

export const carRoutes: FastifyPluginCallbackZod<CarRoutes> = (app, { bench, findJob }, done) => {
  async function ask({ jobId }: z.infer<typeof params>, asked: z.infer<typeof body>): Promise<CarQuestion> {
    const job = await findJob(jobId);
    if (!job) throw new HttpProblem(404, 'unknownJob', 'There is no such job here.');
    return { jobId, map: job.profile.scan, ...asked };
  }
  const schema = { tags: ['jobs'], params, body };
  app.post('/api/jobs/:jobId/car/scan', { schema }, async (request) => bench.scan(await ask(request.params, request.body)));
  app.post('/api/jobs/:jobId/car/watch', { schema }, async (request) => bench.watch(await ask(request.params, request.body)));
  app.post('/api/jobs/:jobId/car/clear', { schema }, async (request) => bench.clearCodes(await ask(request.params, request.body)));
  done();
};

/** Reports over HTTP: begun, watched, cancelled, read. */
import { idSchema } from '@estuarine/core';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import * as z from 'zod';
import type { Reports } from './reports.ts';

const params = z.object({ jobId: idSchema });
const one = params.extend({ reportId: z.string().regex(/^\d{1,10}\.\d{1,10}$/) });

export const reportRoutes: FastifyPluginCallbackZod<{ readonly reports: Reports }> = (app, { reports }, done) => {
  const tags = ['report'];

  app.post('/api/jobs/:jobId/reports', { schema: { tags, params, body: z.strictObject({}) } }, async ({ params: { jobId } }, reply) =>
    reply.code(202).send(await reports.begin(jobId)),
  );

  app.get('/api/jobs/:jobId/reports/:reportId', { schema: { tags, params: one } }, ({ params: { jobId, reportId } }) =>
    reports.look(jobId, reportId),
  );

  app.delete('/api/jobs/:jobId/reports/:reportId', { schema: { tags, params: one } }, ({ params: { jobId, reportId } }) =>
    reports.cancel(jobId, reportId),
  );

  app.get(
    '/api/jobs/:jobId/reports/:reportId/report.pdf',
    { schema: { tags, params: one } },
    async ({ params: { jobId, reportId } }, reply) => {
      const bytes = await reports.read(jobId, reportId);
      return reply
        .header('content-disposition', `inline; filename="job-report.pdf"`)
        .header('cache-control', 'private, no-store')
        .type('application/pdf')
        .send(bytes);
    },
  );
  done();
};

/** What the jobs of the shop add up to, over HTTP and as workbooks. */
import type { FiguresAnswer } from '@estuarine/contract';
import { countingReading, DEFAULT_POLICY, findFigures, idSchema, SWEEP_QUANTITIES, type Policy, type ShopFigures } from '@estuarine/core';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import type { FastifyReply } from 'fastify';
import type pg from 'pg';
import * as z from 'zod';
import type { JobStates } from '../jobs/job-states.ts';
import { listFigureJobs } from '../jobs/store.ts';
import { findLatestPolicy } from '../policy/store.ts';
import { HttpProblem } from '../problem.ts';
import { listProfiles } from '../profiles/store.ts';
import { listModules } from '../stock/store.ts';
import { sheetsOf } from './sheets.ts';
import { writeWorkbook, type Sheet } from './workbook.ts';

export interface FigureRoutes {
  readonly pool: pg.Pool;
  readonly shopId: string;
  readonly clock: () => Date;
  readonly states: JobStates;
}

export const figureRoutes: FastifyPluginCallbackZod<FigureRoutes> = (app, { pool, shopId, clock, states }, done) => {
  const tags = ['figures'];

  async function find(): Promise<{ figures: ShopFigures; policy: Policy }> {
    const [jobs, profiles, latest] = await Promise.all([
      listFigureJobs(pool, shopId),
      listProfiles(pool, shopId),
      findLatestPolicy(pool, shopId),
    ]);
    const policy = latest?.policy ?? DEFAULT_POLICY;
    return { figures: findFigures(jobs, profiles, clock().getTime(), policy.isolation.timeZone), policy };
  }

  app.get('/api/figures', { schema: { tags } }, async (): Promise<FiguresAnswer> => {
    const { figures, policy } = await find();
    return { figures, currency: policy.money.currency };
  });

  app.get('/api/figures.xlsx', { schema: { tags } }, async (_request, reply) => {
    const { figures, policy } = await find();
    return attach(reply, 'figures.xlsx', await writeWorkbook(sheetsOf(figures, policy), clock()));
  });

  app.get('/api/stock.xlsx', { schema: { tags } }, async (_request, reply) => {
    const rows = (await listModules(pool, shopId)).map((m) => [
      ...[m.moduleId, m.label, m.typeId, m.capacityAh, m.resistanceMilliohm, m.restDropMillivolt, m.ocvVolt, m.bin],
      ...[m.quarantine ?? '', m.reservedBy, m.inJob, m.place],
    ]);
    const names = ['module', 'label', 'type', 'capacity / Ah', 'resistance / mohm', 'rest drop / mV', 'open circuit / V', 'bin'];
    const columns = [...names, 'quarantine', 'reserved by job', 'in job', 'place'].map((name) => ({ name }));
    return attach(reply, 'stock.xlsx', await writeWorkbook([{ name: 'Stock', columns, rows }], clock()));
  });

  const params = z.object({ jobId: idSchema });
  app.get('/api/jobs/:jobId/sweeps.xlsx', { schema: { tags, params } }, async ({ params: { jobId } }, reply) => {
    const job = await states.look(pool, jobId);
    if (!job) throw new HttpProblem(404, 'unknownJob', 'There is no such job here.');
    const sheets = job.state.sweep.sweeps.map((sweep, i): Sheet => {
      const quantities = SWEEP_QUANTITIES[sweep.kind];
      const keys = [...new Set(quantities.flatMap((q) => [...(sweep.readings[q]?.keys() ?? [])]))];
      // each module at the place where it was read, wherever it went since
      const read = keys.flatMap((key) => {
        const counting = quantities.map((q) => countingReading(sweep, q, key));
        const place = counting.find((r) => r !== null)?.place;
        return place === undefined ? [] : [{ key, place, values: counting.map((r) => r?.value ?? null) }];
      });
      const rows = read
        .sort((a, b) => a.place - b.place)
        .map(({ key, place, values }) => [place, key.startsWith('?') ? '' : key, ...values]);
      return { name: `${i + 1} ${sweep.kind}`, columns: ['place', 'module', ...quantities].map((name) => ({ name })), rows };
    });
    const none: Sheet = { name: 'Sweeps', columns: [{ name: 'No sweep was made on this job', width: 40 }], rows: [] };
    return attach(reply, 'sweeps.xlsx', await writeWorkbook(sheets.length > 0 ? sheets : [none], clock()));
  });
  done();
};

function attach(reply: FastifyReply, name: string, bytes: Buffer): FastifyReply {
  return reply
    .header('content-disposition', `attachment; filename="${name}"`)
    .header('cache-control', 'private, no-store')
    .type('application/vnd.openxmlformats-officedocument.spreadsheetml.sheet')
    .send(bytes);
}

/** Sealed records over HTTP: made of a closed job, listed, fetched; and the page that checks one. */
import fs from 'node:fs/promises';
import path from 'node:path';
import { sayFingerprint, type RecordRow, type RecordsAnswer } from '@estuarine/contract';
import { composeReport, idSchema } from '@estuarine/core';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import * as z from 'zod';
import { readLines } from '../log/store.ts';
import { readPhoto } from '../photos/store.ts';
import { HttpProblem } from '../problem.ts';
import { drawCode, gatherPhotos, gatherReport, type Sources } from '../report/gather.ts';
import type { Printer } from '../report/printer.ts';
import type { SealKeys } from '../seal/keys.ts';
import { listRecords, readRecord, saveRecord } from '../seal/records.ts';
import { sealRecord } from './archive.ts';
import { exportShop } from './shop-out.ts';

export interface RecordRoutes {
  readonly sources: Sources;
  readonly printer: Printer;
  readonly keys: SealKeys;
  readonly clock: () => Date;
  /** Folder of the built browser application; undefined where there is none. */
  readonly webRoot: string | undefined;
}

const params = z.object({ jobId: idSchema });
const one = params.extend({ head: z.coerce.number().int().min(1).max(2_147_483_647) });
/** Of photographs in one record. */
const MOST_PHOTO_BYTES = 300e6;
/** Replaced by the keys in the page as it goes out. */
const KEYS_MARK = '"KEYS"';

export const recordRoutes: FastifyPluginCallbackZod<RecordRoutes> = (app, { sources, printer, keys, clock, webRoot }, done) => {
  const { pool, shopId } = sources;
  const tags = ['record'];
  /** One at a time a job: asked for twice at once it is sealed once. */
  const running = new Map<string, Promise<RecordRow>>();

  async function seal(jobId: string, by: string): Promise<RecordRow> {
    const now = clock();
    const input = await gatherReport(sources, jobId, now.getTime());
    if (!input) throw new HttpProblem(404, 'unknownJob', 'There is no such job here.');
    const { state } = input;
    if (!state.intake.closed) throw new HttpProblem(409, 'notClosed', 'A record is sealed once its job is closed. Close it first.');
    const known = (await listRecords(pool, shopId, jobId)).find((r) => r.head === state.head && r.byte !== null);
    if (known) return known;
    const photoBytes = state.finding.photos.reduce((sum, p) => sum + (p.erased === null ? p.byte : 0), 0);
    if (photoBytes > MOST_PHOTO_BYTES)
      throw new HttpProblem(409, 'tooLarge', `The photographs come to ${Math.round(photoBytes / 1e6)} MB, a record holds ${MOST_PHOTO_BYTES / 1e6} MB of them. Erase some first.`); // prettier-ignore
    const key = await keys.current();
    // the owner's name is not the supplier's business, nor the next owner's
    const anonymous = {
      ...input,
      customer: null,
      fingerprint: sayFingerprint(key.fingerprint),
      fingerprintCode: drawCode(key.fingerprint),
    };
    const report = composeReport(anonymous);
    const printed = await printer.print(report, await gatherPhotos(sources, jobId, report), { now: now.getTime() });
    const photos = new Map<string, Buffer>();
    for (const { photoId } of state.finding.photos) {
      const bytes = await readPhoto(pool, shopId, jobId, photoId, 'picture');
      if (bytes) photos.set(photoId, bytes);
    }
    const events = await readLines(pool, shopId, jobId, state.head);
    const at = now.toISOString();
    const sealed = await sealRecord({ jobId, input: anonymous, events, report: printed, photos, key, by, at });
    await saveRecord(pool, shopId, {
      jobId,
      head: state.head,
      sealedAt: at,
      sealedBy: by,
      fingerprint: key.fingerprint,
      // one that was erased before is not named
      vehicleId: (input.vehicle && state.intake.opened?.vehicle.id) ?? null,
      photoIds: [...photos.keys()],
      ...sealed,
    });
    const row = (await listRecords(pool, shopId, jobId)).find((r) => r.head === state.head);
    if (!row) throw new Error(`the record of ${jobId} was not kept`);
    return row;
  }

  app.post(
    '/api/jobs/:jobId/records',
    { config: { role: 'technician' }, schema: { tags, params, body: z.strictObject({}) } },
    async (request) => {
      const { jobId } = request.params;
      const begun = running.get(jobId) ?? seal(jobId, request.who?.personId ?? '');
      running.set(jobId, begun);
      try {
        return await begun;
      } finally {
        running.delete(jobId);
      }
    },
  );

  app.get('/api/jobs/:jobId/records', { schema: { tags, params } }, async ({ params: { jobId } }): Promise<RecordsAnswer> => ({
    records: await listRecords(pool, shopId, jobId),
  }));

  app.get('/api/jobs/:jobId/records/:head/record.zip', { schema: { tags, params: one } }, async ({ params: { jobId, head } }, reply) => {
    const bytes = await readRecord(pool, shopId, jobId, head);
    if (!bytes) throw new HttpProblem(404, 'unknownRecord', 'There is no such record, or what it named was erased.');
    return reply
      .header('content-disposition', `attachment; filename="job-record-${head}.zip"`)
      .header('cache-control', 'private, no-store')
      .type('application/zip')
      .send(bytes);
  });

  app.get('/api/shop/archive.zip', { compress: false, config: { role: 'lead' }, schema: { tags } }, (_request, reply) =>
    reply
      .header('content-disposition', 'attachment; filename="shop.zip"')
      .header('cache-control', 'private, no-store')
      .type('application/zip')
      .send(exportShop(pool, shopId, clock())),
  );

  // published apart from any record, with the keys that the shop stands for
  app.get('/api/seal/check.html', { config: { open: 'all' }, schema: { hide: true } }, async (_request, reply) => {
    const page = webRoot === undefined ? null : await fs.readFile(path.join(webRoot, '../check/check.html'), 'utf8').catch(() => null);
    if (page === null) throw new HttpProblem(404, 'notBuilt', 'The checking page is not built here: run "npm run build" first.');
    const text = JSON.stringify(await keys.publish()).replaceAll('<', '\\u003c');
    return reply
      .header('content-disposition', 'attachment; filename="check-a-record.html"')
      .header('cache-control', 'no-store')
      .type('text/html; charset=utf-8')
      .send(page.replace(KEYS_MARK, () => text));
  });
  done();
};

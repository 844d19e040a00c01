/** Photographs over HTTP: the bytes of a picture, put once and read often. What it shows and who took it stands in the job's log. */
import { createHash } from 'node:crypto';
import { idSchema, PHOTO } from '@estuarine/core';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import type pg from 'pg';
import * as z from 'zod';
import { HttpProblem } from '../problem.ts';
import { readPicture } from './picture.ts';
import { countPhotos, findPhoto, readPhoto, savePhoto } from './store.ts';

export interface PhotoRoutes {
  readonly pool: pg.Pool;
  readonly shopId: string;
  readonly clock: () => Date;
  /** What a job tells of its photographs; null where there is no such job. */
  readonly findTold: (jobId: string) => Promise<readonly { readonly photoId: string; readonly sha256: string }[] | null>;
}

/** Photographs that one job holds at most. */
const MOST = 500;
const params = z.object({ jobId: idSchema, photoId: idSchema });
const size = z.object({ size: z.enum(['picture', 'small']).default('picture') });

export const photoRoutes: FastifyPluginCallbackZod<PhotoRoutes> = (app, { pool, shopId, clock, findTold }, done) => {
  app.addContentTypeParser('image/jpeg', { parseAs: 'buffer', bodyLimit: PHOTO.byte }, (_request, body, parsed) => parsed(null, body));

  app.put('/api/jobs/:jobId/photos/:photoId', { bodyLimit: PHOTO.byte, schema: { tags: ['photos'], params } }, async (request, reply) => {
    const { jobId, photoId } = request.params;
    const { body } = request;
    if (!Buffer.isBuffer(body)) throw new HttpProblem(415, 'contentType', 'Only JPEG pictures are taken here. Nothing was kept.');
    const photos = await findTold(jobId);
    if (!photos) throw new HttpProblem(404, 'unknownJob', 'There is no such job here.');
    const sha256 = createHash('sha256').update(body).digest('hex');
    // the job may tell of it before its bytes come
    const told = photos.find((p) => p.photoId === photoId);
    if (told && told.sha256 !== sha256)
      throw new HttpProblem(409, 'taken', 'The job tells of another picture under this id. Nothing was kept.');
    const known = await findPhoto(pool, shopId, jobId, photoId);
    if (known) return reply.send(sameOrConflict(known, sha256));
    if ((await countPhotos(pool, shopId, jobId)) >= MOST)
      throw new HttpProblem(409, 'full', `A job holds ${MOST} photographs at most. Nothing was kept.`);
    const { picture, print, small, width, height } = await readPicture(body);
    const by = request.who?.personId ?? '';
    const isNew = await savePhoto(pool, shopId, { jobId, photoId, sha256, picture, print, small, by, at: clock() });
    const raced = isNew ? null : await findPhoto(pool, shopId, jobId, photoId);
    if (raced) sameOrConflict(raced, sha256);
    return reply.code(201).send({ photoId, sha256, width, height });
  });

  app.get('/api/jobs/:jobId/photos/:photoId', { schema: { tags: ['photos'], params, querystring: size } }, async (request, reply) => {
    const { jobId, photoId } = request.params;
    const etag = `"${photoId}-${request.query.size}"`;
    void reply.header('cache-control', 'private, no-cache').header('etag', etag);
    // its bytes never change; only being erased does
    if (request.headers['if-none-match'] === etag && (await findPhoto(pool, shopId, jobId, photoId))?.isErased === false)
      return reply.code(304).send();
    const bytes = await readPhoto(pool, shopId, jobId, photoId, request.query.size);
    if (!bytes)
      throw new HttpProblem(404, 'unknownPhoto', 'There is no such photograph here; it may still wait on a device, or was erased.');
    return reply.type('image/jpeg').send(bytes);
  });
  done();
};

/** The same picture twice is one; another under its id, or under that of an erased one, is not taken. */
function sameOrConflict(
  known: { readonly sha256: string; readonly isErased: boolean },
  sha256: string,
): { photoId?: string; sha256: string } {
  if (known.isErased) throw new HttpProblem(409, 'gone', 'This photograph was erased and is not taken again.');
  if (known.sha256 !== sha256) throw new HttpProblem(409, 'taken', 'Another photograph of this id is kept already. Nothing was kept.');
  return { sha256 };
}

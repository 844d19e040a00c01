import { createHash } from 'node:crypto';
import type { FastifyInstance } from 'fastify';
import sharp from 'sharp';
import { readPhoto } from '../src/photos/store.ts';
import { remake } from '../src/remake.ts';
import type { JobAnswer, MemoriesAnswer } from '@estuarine/contract';
import { findBesides, type Act } from '@estuarine/core';
import { createDatabase, nextId, openAct, send, SHOP, signIn, startApp, type TestDatabase } from './support.ts';

let db: TestDatabase;
let app: FastifyInstance;
let cookie = '';
let jobId = '';

beforeAll(async () => {
  db = await createDatabase();
  app = await startApp(db);
  cookie = await signIn(app);
  jobId = nextId();
  expect((await act(openAct('P'))).statusCode).toBe(200);
});
afterAll(async () => {
  await app.close();
  await db.drop();
});

const plain = (width = 640, height = 480) => sharp({ create: { width, height, channels: 3, background: '#8a5f00' } });
const act = (one: Act) => app.inject({ method: 'POST', url: `/api/jobs/${jobId}/acts`, payload: send(one), headers: { cookie } });
const hashOf = (bytes: Buffer): string => createHash('sha256').update(bytes).digest('hex');
const put = (photoId: string, payload: Buffer, type = 'image/jpeg') =>
  app.inject({ method: 'PUT', url: `/api/jobs/${jobId}/photos/${photoId}`, payload, headers: { cookie, 'content-type': type } });
const withComment = (jpeg: Buffer): Buffer => Buffer.concat([jpeg.subarray(0, 2), Buffer.from([0xff, 0xfe, 0, 8]), Buffer.from('51.5 N'), jpeg.subarray(2)]); // prettier-ignore
const get = (photoId: string, size = 'picture') =>
  app.inject({ method: 'GET', url: `/api/jobs/${jobId}/photos/${photoId}?size=${size}`, headers: { cookie } });
const taken = (photoId: string, picture: Buffer) => ({
  type: 'photo.taken' as const,
  body: {
    ...{ stage: 'strip' as const, photoId, sha256: hashOf(picture), byte: picture.length, width: 640, height: 480 },
    ...{ caption: 'left side', place: null, pairOf: null },
  },
});

/** How far any pixel of one is from that of the other, of 255. */
async function farthest(one: Buffer, other: Buffer): Promise<number> {
  const [a, b] = [await sharp(one).raw().toBuffer(), await sharp(other).raw().toBuffer()];
  return a.length === b.length ? a.reduce((most, value, i) => Math.max(most, Math.abs(value - (b[i] ?? 0))), 0) : Infinity;
}

describe('a photograph', () => {
  it('comes back as it was seen, and small for lists', async () => {
    const picture = await plain().jpeg().toBuffer();
    expect((await put('one', picture)).json()).toMatchObject({ sha256: hashOf(picture), width: 640, height: 480 });
    const back = (await get('one')).rawPayload;
    expect(await sharp(back).metadata()).toMatchObject({ format: 'jpeg', width: 640, height: 480 });
    expect(await farthest(back, picture)).toBeLessThan(4);
    const small = await get('one', 'small');
    expect(small.headers['content-type']).toBe('image/jpeg');
    expect(await sharp(small.rawPayload).metadata()).toMatchObject({ width: 320, height: 240 });
  });

  it('is kept as its pixels alone: what no eye sees in it is not in any copy', async () => {
    const secret = 'parked at 51.5 N, 0.1 W: nobody sees this in the picture at all';
    const plainJpeg = await plain().jpeg().toBuffer();
    // in a quantisation table that no frame uses, and in what is left of the scan before the end marker
    const unused = Buffer.concat([Buffer.from([0xff, 0xdb, 0, 67, 3]), Buffer.from(secret.padEnd(64))]);
    const hiding = Buffer.concat([
      plainJpeg.subarray(0, 2),
      unused,
      plainJpeg.subarray(2, -2),
      Buffer.from(secret),
      plainJpeg.subarray(-2),
    ]);
    expect((await put('hides', hiding)).json()).toMatchObject({ sha256: hashOf(hiding) });
    expect((await act(taken('hides', hiding))).statusCode).toBe(200);
    const kept = (await get('hides')).rawPayload;
    expect(await farthest(kept, plainJpeg)).toBeLessThan(4);
    expect(findBesides(kept)).toMatchObject({ kind: 'answer' });
    const { rows } = await db.pool.query<{ row: Buffer }>(
      `select picture || coalesce(print, '') || small as row from photo where photo_id = 'hides'`,
    );
    expect(rows.map(({ row }) => row.includes('51.5 N'))).toEqual([false]);
    // the same bytes sent again are the same photograph
    expect((await put('hides', hiding)).statusCode).toBe(200);
  });

  it('sent twice is one; another under its id is not taken', async () => {
    const picture = await plain(10, 10).jpeg().toBuffer();
    expect((await put('two', picture)).statusCode).toBe(201);
    expect((await put('two', picture)).statusCode).toBe(200);
    expect((await put('two', await plain(11, 10).jpeg().toBuffer())).json()).toMatchObject({
      status: 409,
      type: expect.stringContaining('taken'),
    });
  });

  it('is copied for print where it is larger than that, and no copy is larger than the picture', async () => {
    const sizes = async (photoId: string) =>
      Promise.all(
        (['print', 'small'] as const).map(async (size) => {
          const bytes = await readPhoto(db.pool, SHOP, jobId, photoId, size);
          return (await sharp(bytes ?? Buffer.alloc(0)).metadata()).width;
        }),
      );
    for (const width of [1500, 1200, 40]) await put(`of-${width}`, await plain(width, 30).jpeg().toBuffer());
    expect(await sizes('of-1500')).toEqual([1200, 320]);
    expect(await sizes('of-1200')).toEqual([1200, 320]);
    expect(await sizes('of-40')).toEqual([40, 40]);
    expect(await readPhoto(db.pool, SHOP, jobId, 'of-1200', 'print')).toEqual((await get('of-1200')).rawPayload);
  });

  it('may be 2048 pixels wide', async () => {
    expect((await put('wide', await plain(2048, 10).jpeg().toBuffer())).statusCode).toBe(201);
  });

  it('put twice at once is one, and two at once under one id are not both taken', async () => {
    const [one, other] = [await plain(12, 10).jpeg().toBuffer(), await plain(13, 10).jpeg().toBuffer()];
    const statuses = async (...answers: ReturnType<typeof put>[]) => (await Promise.all(answers)).map((a) => a.statusCode).sort();
    expect((await statuses(put('same', one), put('same', one))).every((s) => s < 300)).toBe(true);
    expect(await statuses(put('differ', one), put('differ', other))).toEqual([201, 409]);
  });

  it('is one of 500 of its job at most', async () => {
    const full = nextId();
    const headers = { cookie, 'content-type': 'image/jpeg' };
    await app.inject({ method: 'POST', url: `/api/jobs/${full}/acts`, payload: send(openAct('full')), headers: { cookie } });
    const putInto = async (photoId: string) =>
      app.inject({ method: 'PUT', url: `/api/jobs/${full}/photos/${photoId}`, payload: await plain(9, 9).jpeg().toBuffer(), headers });
    await db.pool.query(
      `insert into photo (shop_id, job_id, photo_id, sha256, picture, small, put_by, put_at)
       select $1, $2, 'n' || i, decode('00', 'hex'), decode('00', 'hex'), decode('00', 'hex'), 'om', now() from generate_series(1, 499) i`,
      [SHOP, full],
    );
    expect((await putInto('last')).statusCode).toBe(201);
    expect((await putInto('more')).json()).toMatchObject({ status: 409, type: expect.stringContaining('full') });
  });

  it.each<[string, () => Promise<Buffer> | Buffer, string, number, string]>([
    ['a text that says it is one', () => Buffer.from('hello, no picture'), 'image/jpeg', 415, 'contentType'],
    ['another format', () => plain().png().toBuffer(), 'image/jpeg', 415, 'contentType'],
    ['another content type', () => plain().png().toBuffer(), 'image/png', 415, 'contentType'],
    ['one cut short', async () => (await plain(1500, 900).jpeg().toBuffer()).subarray(0, 900), 'image/jpeg', 422, 'unreadable'],
    ['one too wide', () => plain(2049, 10).jpeg().toBuffer(), 'image/jpeg', 422, 'tooLarge'],
    ['one of more than 2 MB', () => Buffer.alloc(2 * 1024 * 1024 + 1, 0xff), 'image/jpeg', 413, 'tooLarge'],
    [
      'one that says where it was taken',
      () =>
        plain()
          .withExif({ IFD3: { GPSLatitude: '51/1 0/1 0/1' } })
          .jpeg()
          .toBuffer(),
      'image/jpeg',
      422,
      'cameraData',
    ],
    ['one with a comment', async () => withComment(await plain().jpeg().toBuffer()), 'image/jpeg', 422, 'cameraData'],
    ['one with another behind it', async () => Buffer.concat([await plain().jpeg().toBuffer(), await plain().jpeg().toBuffer()]), 'image/jpeg', 422, 'cameraData'], // prettier-ignore
    ['one with colours of its own', () => plain().withIccProfile('p3').jpeg().toBuffer(), 'image/jpeg', 422, 'cameraData'],
    ['one still to be turned', () => plain().withMetadata({ orientation: 6 }).jpeg().toBuffer(), 'image/jpeg', 422, 'cameraData'],
  ])('is refused when it is %s, and nothing is kept', async (what, make, type, status, code) => {
    const id = `bad-${hashOf(Buffer.from(what)).slice(0, 8)}`;
    const answer = await put(id, await make(), type);
    expect(answer.statusCode).toBe(status);
    expect(answer.json()).toMatchObject({ type: expect.stringContaining(code) });
    expect((await get(id)).statusCode).toBe(404);
  });

  it('is the one that the job tells of, whichever of the two comes first', async () => {
    const [one, other] = [await plain(30, 20).jpeg().toBuffer(), await plain(31, 20).jpeg().toBuffer()];
    await act(taken('told', one));
    expect((await put('told', other)).json()).toMatchObject({ status: 409, type: expect.stringContaining('taken') });
    expect((await put('told', one)).statusCode).toBe(201);
    await put('first', one);
    expect((await act(taken('first', other))).json()).toMatchObject({ status: 422, path: ['body', 'sha256'] });
    expect((await act(taken('first', one))).statusCode).toBe(200);
  });

  it('is not sent again to a browser that has it', async () => {
    const { headers } = await get('one', 'small');
    const again = await app.inject({
      ...{ method: 'GET', url: `/api/jobs/${jobId}/photos/one?size=small` },
      headers: { cookie, 'if-none-match': String(headers.etag) },
    });
    expect([again.statusCode, again.rawPayload.length]).toEqual([304, 0]);
  });

  it('that was erased is not said to be as the browser has it', async () => {
    const picture = await plain(50, 20).jpeg().toBuffer();
    await act(taken('swept', picture));
    await put('swept', picture);
    const { headers } = await get('swept');
    const ask = (etag: string) =>
      app.inject({ method: 'GET', url: `/api/jobs/${jobId}/photos/swept?size=picture`, headers: { cookie, 'if-none-match': etag } });
    expect((await ask('"another"')).statusCode).toBe(200);
    expect((await ask(String(headers.etag))).statusCode).toBe(304);
    await act({ type: 'photo.erased', body: { photoId: 'swept', reason: 'Not this vehicle.' } });
    expect((await ask(String(headers.etag))).statusCode).toBe(404);
  });

  it('that is erased before its bytes came is never kept', async () => {
    const picture = await plain(40, 20).jpeg().toBuffer();
    await act(taken('late', picture));
    await act({ type: 'photo.erased', body: { photoId: 'late', reason: 'Not this vehicle.' } });
    expect((await put('late', picture)).json()).toMatchObject({ status: 409, type: expect.stringContaining('gone') });
    expect((await get('late')).statusCode).toBe(404);
  });

  it('belongs to a job that is there and is shown to nobody who is not signed in', async () => {
    const picture = await plain().jpeg().toBuffer();
    const headers = { 'content-type': 'image/jpeg' };
    const stray = await app.inject({ method: 'PUT', url: '/api/jobs/nowhere/photos/x', payload: picture, headers: { ...headers, cookie } });
    expect(stray.statusCode).toBe(404);
    expect((await app.inject({ method: 'GET', url: `/api/jobs/${jobId}/photos/one` })).statusCode).toBe(401);
    expect((await app.inject({ method: 'PUT', url: `/api/jobs/${jobId}/photos/y`, payload: picture, headers })).statusCode).toBe(401);
  });

  it('once erased is gone, stays named in the log, is not taken again, and a remake does not bring it back', async () => {
    const picture = await plain(20, 20).jpeg().toBuffer();
    await put('gone', picture);
    expect((await act(taken('gone', picture))).statusCode).toBe(200);
    expect((await act({ type: 'photo.erased', body: { photoId: 'gone', reason: 'A face is on it.' } })).statusCode).toBe(200);
    expect((await get('gone')).statusCode).toBe(404);
    expect((await put('gone', picture)).json()).toMatchObject({ status: 409, type: expect.stringContaining('gone') });
    await remake(db.pool);
    expect((await get('gone')).statusCode).toBe(404);
    expect((await get('one')).statusCode).toBe(200);
    const job = await app.inject({ method: 'GET', url: `/api/jobs/${jobId}`, headers: { cookie } });
    const { state } = job.json<JobAnswer>();
    expect(state.finding.photos.filter((p: { photoId: string }) => p.photoId === 'gone')).toMatchObject([
      { photoId: 'gone', sha256: hashOf(picture), erased: { reason: 'A face is on it.' } },
    ]);
  });
});

it('remembers what broke and what was hidden for the next job on the profile', async () => {
  const added = await act({
    type: 'part.added',
    body: {
      ...{ stage: 'strip', kind: 'fastener', name: 'lock washer', place: 'boot', where: 'under the carpet', size: '8 mm', count: 1 },
      ...{ isHidden: true, isForeign: false, isProposed: true },
    },
  });
  expect(added.statusCode).toBe(200);
  const from = { kind: 'inPlace' as const };
  const broke = {
    stage: 'strip' as const,
    partId: 'trim-clip',
    count: 2,
    from,
    to: { kind: 'scrapped' as const },
    condition: 'broken' as const,
  };
  await act({ type: 'part.moved', body: broke });
  const answer = await app.inject({ method: 'GET', url: '/api/profiles/dunlin-28/memory', headers: { cookie } });
  const { memories } = answer.json<MemoriesAnswer>();
  expect(memories.filter((m) => m.broken.length > 0)).toMatchObject([
    { broken: [{ partId: 'trim-clip', count: 2, place: 'boot' }], found: [{ name: 'lock washer', isHidden: true, isProposed: true }] },
  ]);
});

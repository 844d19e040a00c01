import { once } from 'node:events';
import { connect, createServer, type AddressInfo, type Socket } from 'node:net';
import { jest } from '@jest/globals';
import type { FastifyInstance } from 'fastify';
import type { JobEvent } from '@estuarine/core';
import { findEpoch, findTail, tellOthers } from '../src/log/store.ts';
import { Tail } from '../src/log/tail.ts';
import { enterJob, leaveJob, listCutOff, noteSeen } from '../src/stream/presence.ts';
import { PulseReader } from '../src/stream/pulse.ts';
import { createDatabase, Desk, listen, nextId, openAct, SHOP, signIn, startApp, type TestDatabase } from './support.ts';

let db: TestDatabase;
let desk: Desk;
let apps: FastifyInstance[] = [];
let urls: string[] = [];
let cookie = '';

beforeAll(async () => {
  db = await createDatabase();
  desk = new Desk(db);
  apps = [await startApp(db), await startApp(db)];
  urls = await Promise.all(apps.map(listen));
  cookie = apps[0] ? await signIn(apps[0]) : '';
});
afterAll(async () => {
  await Promise.all(apps.map((a) => a.close()));
  await db.drop();
});

interface Heard {
  readonly id: string;
  readonly name: string;
  readonly data: {
    readonly stream?: string;
    readonly event?: JobEvent;
    readonly isBehind?: boolean;
    readonly position?: number | null;
    readonly sent?: number;
  };
}

/** Reads a stream of server-sent events until told to stop. */
class Listener {
  readonly heard: Heard[] = [];
  readonly #stop = new AbortController();
  readonly #ended: Promise<void>;

  constructor(url: string, lastId?: string) {
    this.#ended = this.#run(url, lastId);
  }

  async #run(url: string, lastId?: string): Promise<void> {
    try {
      const response = await fetch(`${url}/api/stream`, {
        signal: this.#stop.signal,
        headers: { cookie, ...(lastId ? { 'last-event-id': lastId } : {}) },
      });
      let text = '';
      for await (const chunk of response.body?.pipeThrough(new TextDecoderStream()) ?? []) {
        text += chunk;
        const parts = text.split('\n\n');
        text = parts.pop() ?? '';
        for (const part of parts) {
          const field = (name: string): string => new RegExp(`^${name}: (.*)$`, 'm').exec(part)?.[1] ?? '';
          this.heard.push({ id: field('id'), name: field('event'), data: JSON.parse(field('data')) as Heard['data'] });
        }
      }
    } catch (error) {
      if (!this.#stop.signal.aborted) throw error;
    }
  }

  /** Waits for what the condition asks; the time is only a cap for a test that fails. */
  async until(condition: (heard: readonly Heard[]) => boolean): Promise<void> {
    for (let i = 0; i < 500 && !condition(this.heard); i++) await new Promise((r) => setTimeout(r, 20));
    expect(condition(this.heard)).toBe(true);
  }

  numbers(stream: string): number[] {
    return this.heard.flatMap((h) => (h.name === 'kept' && h.data.stream === stream && h.data.event ? [h.data.event.number] : []));
  }

  async stop(): Promise<void> {
    this.#stop.abort();
    await this.#ended;
  }
}

const hasHello = (heard: readonly Heard[]): boolean => heard.some((h) => h.name === 'hello');

describe('devices that have a job open', () => {
  let now = Date.UTC(2026, 4, 4, 8);
  const presence = () => ({ pool: db.pool, shopId: SHOP, clock: () => new Date(now) });
  const cutOff = async () => (await listCutOff(db.pool, presence())).filter((c) => c.jobId.startsWith('cut-'));

  it('are cut off once nothing was heard of them for ten seconds, the longest silent first, and forgotten after twelve hours', async () => {
    const begun = now;
    await enterJob(presence(), 'phone', 'cut-1', 'om');
    now += 2000;
    await enterJob(presence(), 'tablet', 'cut-2', 'ts');
    now = begun + 10_000;
    expect(await cutOff()).toEqual([]);
    now = begun + 12_001;
    expect(await cutOff()).toEqual([
      { deviceId: 'phone', jobId: 'cut-1', by: 'om', since: new Date(begun).toISOString() },
      { deviceId: 'tablet', jobId: 'cut-2', by: 'ts', since: new Date(begun + 2000).toISOString() },
    ]);
    await noteSeen(presence(), 'phone');
    expect((await cutOff()).map((c) => c.deviceId)).toEqual(['tablet']);
    now = begun + 2000 + 12 * 3_600_000;
    expect((await cutOff()).map((c) => c.deviceId)).toEqual(['phone']);
    now += 20_000;
    expect(await cutOff()).toEqual([]);
  });

  it('are not of a job that is closed as finished, and are again once it is opened anew', async () => {
    await desk.openJob('cut-4');
    await enterJob(presence(), 'phone', 'cut-4', 'om');
    now += 11_000;
    const say = (closed: string | null) =>
      db.pool.query(`update job_summary set body = jsonb_set(body, '{closed}', $1::jsonb) where job_id = 'cut-4'`, [
        JSON.stringify(closed),
      ]);
    for (const [closed, count] of [
      [null, 1],
      ['brokenOff', 1],
      ['finished', 0],
      [null, 1],
    ] as const) {
      // prettier-ignore
      await say(closed);
      expect([closed, (await cutOff()).length]).toEqual([closed, count]);
    }
    await leaveJob(presence(), 'phone', 'cut-4');
  });

  it('are not once they left it, and are of whoever opened it last', async () => {
    await enterJob(presence(), 'desk', 'cut-3', 'om');
    await enterJob(presence(), 'desk', 'cut-3', 'ts');
    now += 11_000;
    expect(await cutOff()).toMatchObject([{ deviceId: 'desk', by: 'ts' }]);
    await leaveJob(presence(), 'desk', 'cut-3');
    expect(await cutOff()).toEqual([]);
  });
});

it('what is told of the log is told only while it is fresh, and one reading serves all who ask at once', async () => {
  await desk.openJob('pulse');
  let asked = 0;
  const pool = new Proxy(db.pool, {
    get: (target, key) => {
      if (key !== 'query') return Reflect.get(target, key) as unknown;
      return (query: { name: string }) => {
        if (query.name === 'find-tail') asked++;
        return target.query(query as never);
      };
    },
  });
  const reader = new PulseReader({ pool, shopId: SHOP, clock: () => new Date() });
  expect(reader.latest()).toEqual({ position: null, cutOff: [] });
  await Promise.all([reader.read(), reader.read()]);
  expect(asked).toBe(1);
  expect(reader.latest().position).toBe(await findTail(db.pool, SHOP));
  await reader.read();
  expect(asked).toBe(2);
  const later = performance.now() + 2600;
  const clock = jest.spyOn(performance, 'now').mockReturnValue(later);
  try {
    expect(reader.latest().position).toBeNull();
  } finally {
    clock.mockRestore();
  }
});

describe('the stream', () => {
  it('brings every event once, in order, to listeners of both server processes', async () => {
    const sweep = await desk.openJob('both');
    const listeners = urls.map((url) => new Listener(url));
    await Promise.all(listeners.map((l) => l.until(hasHello)));
    for (let place = 1; place <= 12; place++) await desk.read('both', sweep, place, 7.8);
    const wanted = Array.from({ length: 12 }, (_, i) => i + 3);
    for (const listener of listeners) {
      await listener.until(() => listener.numbers('both').includes(14));
      expect(listener.numbers('both').filter((n) => n > 2)).toEqual(wanted);
      await listener.stop();
    }
  });

  it('says with every word how far the log goes, also to the only one that listens', async () => {
    const sweep = await desk.openJob('far');
    const listener = new Listener(urls[0] ?? '');
    await listener.until(hasHello);
    const [hello] = listener.heard;
    // what was kept a moment ago may not have been read yet
    expect(hello?.data.position).toBeGreaterThanOrEqual(hello?.data.sent ?? Infinity);
    await desk.read('far', sweep, 1, 7.8);
    await listener.until((heard) => heard.filter((h) => h.name === 'beat').length >= 2);
    const beats = listener.heard.filter((h) => h.name === 'beat');
    expect(beats.map((b) => b.data.position)).toEqual(beats.map(() => (hello?.data.position ?? 0) + 1));
    await listener.stop();
  });

  it('says how far the log goes by the database itself, and nothing once that does not answer', async () => {
    const sweep = await desk.openJob('blind');
    // a process whose reader of the log is stuck, and then one that has lost its database
    let fails = /^read-after$/;
    const pool = new Proxy(db.pool, {
      get(target, key) {
        if (key !== 'query') return Reflect.get(target, key) as unknown;
        return (query: string | { name?: string; text?: string }, values?: unknown[]) => {
          const name = typeof query === 'string' ? query : (query.name ?? query.text ?? '');
          return fails.test(name) ? Promise.reject(new Error('away')) : target.query(query as string, values);
        };
      },
    });
    const blind = await startApp(db, { pool });
    try {
      const listener = new Listener(await listen(blind));
      await listener.until(hasHello);
      const { sent = 0 } = listener.heard[0]?.data ?? {};
      await desk.read('blind', sweep, 1, 7.8);
      await listener.until((heard) => heard.some((h) => h.name === 'beat'));
      expect(listener.heard.at(-1)?.data.position).toBe(sent + 1);
      expect(listener.heard.some((h) => h.name === 'kept')).toBe(false);
      fails = /^(read-after|find-tail)$/;
      const count = (heard: readonly Heard[]): number => heard.filter((h) => h.name === 'beat').length;
      const before = count(listener.heard);
      await listener.until((heard) => count(heard) >= before + 2);
      expect(listener.heard.at(-1)?.data.position).toBeNull();
      await listener.stop();
    } finally {
      await blind.close();
    }
  }, 40_000);

  it('goes on behind the last event that a browser holds, on either process', async () => {
    const sweep = await desk.openJob('resume');
    const first = new Listener(urls[0] ?? '');
    await first.until(hasHello);
    await desk.read('resume', sweep, 1, 7.8);
    await first.until(() => first.numbers('resume').includes(3));
    const last = first.heard.findLast((h) => h.id !== '')?.id;
    await first.stop();
    for (let place = 2; place <= 9; place++) await desk.read('resume', sweep, place, 7.8);
    const second = new Listener(urls[1] ?? '', last);
    await second.until(() => second.numbers('resume').length >= 8);
    expect(second.numbers('resume')).toEqual([4, 5, 6, 7, 8, 9, 10, 11]);
    expect(second.heard[0]).toMatchObject({ name: 'hello', data: { isBehind: false } });
    await second.stop();
  });

  it('brings positions in the order of commits, whoever began first', async () => {
    const sweep = await desk.openJob('prompt');
    await desk.openJob('late');
    const listener = new Listener(urls[0] ?? '');
    await listener.until(hasHello);
    const [slow, other] = [await db.pool.connect(), new Desk(db)];
    try {
      // an append that has its lock of the shop and does not commit yet: whoever comes after it waits for it
      await slow.query('begin');
      await slow.query(
        `select append_acts('shop', 'late', 2, array[3], array[type], array['late-3'], array[replace(text, '"number":2', '"number":3')],
           array[hash], array['late-3'], array[hash], array['{"kind":"kept"}'::json], null, null, null)
         from log_event where stream = 'late' and number = 2`,
      );
      const prompt = other.read('prompt', sweep, 1, 7.8);
      await slow.query('select pg_sleep(0.3)');
      expect(listener.numbers('prompt')).not.toContain(3);
      await slow.query('commit');
      await prompt;
    } finally {
      slow.release();
    }
    await listener.until(() => listener.numbers('prompt').includes(3));
    const order = listener.heard.flatMap((h) => (h.data.event?.number === 3 ? [h.data.stream] : []));
    expect(order.slice(-2)).toEqual(['late', 'prompt']);
    await listener.stop();
  });

  it('waits for nobody else: not for a transaction that only stands open, nor for one that holds the row of the shop', async () => {
    const sweep = await desk.openJob('foreign');
    const listener = new Listener(urls[0] ?? '');
    await listener.until(hasHello);
    const foreign = await db.pool.connect();
    try {
      await foreign.query('begin');
      await foreign.query('select * from shop for update');
      await foreign.query('insert into job_summary (shop_id, job_id, number, body) values ($1, $2, 7777, $3)', [SHOP, 'nobody', '{}']);
      await desk.read('foreign', sweep, 1, 7.8);
      await listener.until(() => listener.numbers('foreign').includes(3));
    } finally {
      await foreign.query('rollback');
      foreign.release();
    }
    await listener.stop();
  });

  it('ends with the session it was opened in', async () => {
    const [app] = apps;
    if (!app) throw new Error('no application');
    const own = await signIn(app, 'ts');
    const response = await fetch(`${urls[0]}/api/stream`, { headers: { cookie: own } });
    await app.inject({ method: 'DELETE', url: '/api/session', headers: { cookie: own } });
    // the next beat finds the session gone
    await expect(new Response(response.body).text()).resolves.toContain('event: hello');
  });

  it('is followed by nobody once the sockets that asked for it were reset', async () => {
    let asked = 0;
    const query = (given: { name?: string }, values?: unknown[]): Promise<unknown> => {
      if (given.name === 'find-tail') asked++;
      return db.pool.query(given as never, values);
    };
    const pool = new Proxy(db.pool, { get: (target, key) => (key === 'query' ? query : (Reflect.get(target, key) as unknown)) });
    const own = await startApp(db, { pool });
    try {
      const { port } = new URL(await listen(own));
      const session = await signIn(own);
      const reset = (after: number) =>
        new Promise<void>((resolve) => {
          const socket = connect(Number(port), '127.0.0.1', () => {
            socket.write(`GET /api/stream?device=gone HTTP/1.1\r\nhost: 127.0.0.1:${port}\r\ncookie: ${session}\r\n\r\n`);
            setTimeout(() => void socket.resetAndDestroy(), after);
          });
          socket.on('close', () => resolve()).on('error', () => undefined);
        });
      // more than one session may have at a time: each gives its place back
      for (let round = 0; round < 2; round++) await Promise.all(Array.from({ length: 15 }, (_, i) => reset(i)));
      // once a second while anybody follows
      let before = -1;
      for (let i = 0; i < 5 && asked !== before; i++) {
        before = asked;
        await new Promise((resolve) => setTimeout(resolve, 1500));
      }
      expect(asked).toBe(before);
    } finally {
      await own.close();
    }
  }, 30_000);

  it('is listened to by one session twenty times at most: the oldest is ended for the newest', async () => {
    const own = await startApp(db);
    const url = await listen(own);
    const session = await signIn(own);
    const stop = new AbortController();
    const hasEnded: boolean[] = [];
    const follow = async (i: number): Promise<number> => {
      const { status, body } = await fetch(`${url}/api/stream`, { headers: { cookie: session }, signal: stop.signal });
      hasEnded[i] = false;
      body?.pipeTo(new WritableStream()).then(
        () => (hasEnded[i] = true),
        () => undefined,
      );
      return status;
    };
    try {
      for (let i = 0; i < 22; i++) expect(await follow(i)).toBe(200);
      for (let i = 0; i < 200 && !hasEnded[1]; i++) await new Promise((resolve) => setTimeout(resolve, 20));
      expect(hasEnded).toEqual(Array.from({ length: 22 }, (_, i) => i < 2));
    } finally {
      stop.abort();
      await own.close();
    }
  });

  it('begins afresh where a cursor is of another log, or no place at all', async () => {
    const [epoch, tail] = [await findEpoch(db.pool, SHOP), await findTail(db.pool, SHOP)];
    const bad = ['other:1', `${epoch}:x1`, `${epoch}:1x`, `${epoch}:1:1`, epoch, `${epoch}:1234567890123456`];
    for (const id of bad) {
      const listener = new Listener(urls[0] ?? '', id);
      await listener.until(hasHello);
      expect([id, listener.heard[0]?.data.isBehind, listener.heard[0]?.data.sent]).toEqual([id, true, tail]);
      await listener.stop();
    }
    const good = new Listener(urls[0] ?? '', `${epoch}:${tail}`);
    await good.until(hasHello);
    expect(good.heard[0]?.data.isBehind).toBe(false);
    await good.stop();
  });

  it('comes back by itself after its connection to the database was cut', async () => {
    const sweep = await desk.openJob('cut');
    const listener = new Listener(urls[0] ?? '');
    await listener.until(hasHello);
    await db.pool.query(
      "select pg_terminate_backend(pid) from pg_stat_activity where query = 'listen estuarine' and datname = current_database()",
    );
    await desk.read('cut', sweep, 1, 7.8);
    await listener.until(() => listener.numbers('cut').includes(3));
    expect((await db.pool.query('select 1 from shop where shop_id = $1', [SHOP])).rowCount).toBe(1);
    await listener.stop();
  });
});

it('is closed also while its database does not answer', async () => {
  const mute = createServer({ allowHalfOpen: true }, () => undefined).listen(0, '127.0.0.1');
  await once(mute, 'listening');
  const tail = new Tail(`postgres://x@127.0.0.1:${(mute.address() as AddressInfo).port}/x`, db.pool, SHOP);
  const sockets: Socket[] = [];
  mute.on('connection', (socket: Socket) => sockets.push(socket));
  await tail.open();
  while (sockets.length === 0) await new Promise((resolve) => setTimeout(resolve, 10));
  const began = performance.now();
  await tail.close();
  expect(performance.now() - began).toBeLessThan(4000);
  for (const socket of sockets) socket.destroy();
  mute.close();
});

describe('a device that is cut off', () => {
  it('is named by the beats to the others while it had a job open, and no longer once it is heard or left the job', async () => {
    const now = { time: Date.now() };
    const own = await startApp(db, { clock: () => new Date(now.time) });
    const url = await listen(own);
    const session = await signIn(own);
    const enter = async (deviceId: string, jobId: string, isOpen = true) =>
      (await own.inject({ method: 'POST', url: `/api/devices/${deviceId}`, headers: { cookie: session }, payload: { jobId, isOpen } }))
        .statusCode;
    try {
      expect(await enter('tablet', 'job-1')).toBe(200);
      expect(await enter('bench', 'job-1')).toBe(200);
      const listener = new Listener(url);
      const said = (): unknown => listener.heard.at(-1)?.data;
      await listener.until(() => listener.heard.length > 0);
      expect(said()).toMatchObject({ cutOff: [] });
      now.time += 11_000;
      expect(await enter('bench', 'job-1')).toBe(200);
      const since = new Date(now.time - 11_000).toISOString();
      await listener.until(() => JSON.stringify(said()).includes('tablet'));
      expect(said()).toMatchObject({ cutOff: [{ deviceId: 'tablet', jobId: 'job-1', by: 'om', since }] });
      expect(await enter('tablet', 'job-1', false)).toBe(200);
      await listener.until(() => !JSON.stringify(said()).includes('tablet'));
      await listener.stop();
    } finally {
      await own.close();
    }
  }, 30_000);

  it('asks for a sound id and a job, and for somebody signed in', async () => {
    const [app] = apps;
    const post = async (deviceId: string, payload: object, headers = { cookie }) =>
      (await app?.inject({ method: 'POST', url: `/api/devices/${deviceId}`, headers, payload }))?.statusCode;
    expect(await post('a b', { jobId: 'j', isOpen: true })).toBe(422);
    expect(await post('constructor', { jobId: '__proto__', isOpen: true })).toBe(422);
    expect(await post('a', {})).toBe(422);
    expect(await post('a', { jobId: 'j', isOpen: true }, { cookie: '' })).toBe(401);
  });
});

it('keeps what a device says of itself in the event, in what is hashed and in what is sent', async () => {
  const [app] = apps;
  const device = { id: 'tablet-7', turn: 41, isClockSure: false };
  const commandId = nextId();
  const act = { type: 'fact.stated', body: { stage: 'open', fact: { kind: 'covers', areOff: true } } };
  await desk.keep('device-word', openAct('device-word'));
  const payload = { commandId, deviceAt: new Date().toISOString(), by: 'om', version: 3, device, act };
  const answer = await app?.inject({ method: 'POST', url: '/api/jobs/device-word/acts', headers: { cookie }, payload });
  // the covers that are off moved their parts: two events of one command
  expect(answer?.json()).toMatchObject({ kind: 'kept', first: 2, last: 3 });
  const url = '/api/jobs/device-word/events';
  const { events } = (await app?.inject({ method: 'GET', url, headers: { cookie } }))?.json() as { events: JobEvent[] };
  expect(events.slice(1)).toMatchObject([
    { type: 'fact.stated', commandId, device },
    { type: 'part.moved', commandId, device, body: { partId: 'post-cover', count: 2 } },
  ]);
  const { rows } = await db.pool.query<{ text: string }>(`select text from log_event where stream = 'device-word' and number > 1`);
  expect(rows.every((r) => r.text.includes('"device":{"id":"tablet-7"'))).toBe(true);
  // sent again it is the same act, and nothing moves twice
  const again = await app?.inject({ method: 'POST', url: '/api/jobs/device-word/acts', headers: { cookie }, payload });
  expect(again?.json()).toMatchObject({ kind: 'kept', first: 2, last: 3 });
  for (const odd of [{ ...device, turn: 2 ** 40 }, { ...device, id: '' }, { ...device, more: 1 }, 'tablet'])
    expect((await app?.inject({ method: 'POST', url: '/api/jobs/device-word/acts', headers: { cookie }, payload: { ...payload, commandId: nextId(), device: odd } }))?.statusCode).toBe(422); // prettier-ignore
});

it('whoever does not read what is sent is let go', async () => {
  const jobId = nextId();
  await desk.openJob(jobId);
  const url = new URL(urls[0] ?? '');
  const socket = connect(Number(url.port), '127.0.0.1');
  const closed = once(socket, 'close');
  socket.on('error', () => undefined);
  socket.write(`GET /api/stream HTTP/1.1\r\nhost: ${url.host}\r\ncookie: ${cookie}\r\n\r\n`);
  await once(socket, 'readable');
  // far more than sockets hold by themselves
  const event = { stream: jobId, type: 'use.noted', version: 1, at: '', deviceAt: '', by: 'om', commandId: 'slow' };
  const body = { uses: [], lookedUp: 'x'.repeat(1024 * 1024), noScan: '' };
  for (let number = 3; number < 27; number++)
    await db.pool.query(
      `insert into log_event (shop_id, stream, number, type, command_id, text, hash, position)
       values ($1, $2, $3, 'use.noted', 'slow', $4, decode('00', 'hex'), nextval('log_position'))`,
      [SHOP, jobId, number, JSON.stringify({ ...event, number, body })],
    );
  await tellOthers(db.pool, SHOP);
  // what had come until then is still there to be read, and no more
  await new Promise((resolve) => setTimeout(resolve, 2000));
  let bytes = 0;
  socket.on('data', (chunk: Buffer) => (bytes += chunk.length));
  await closed;
  expect(bytes).toBeLessThan(23 * 1024 * 1024);
}, 30_000);

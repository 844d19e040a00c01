import fs from 'node:fs';
import { jest } from '@jest/globals';
import type { FastifyError, FastifyReply, FastifyRequest } from 'fastify';
import type { Act } from '@estuarine/core';
import { inSnapshot, inTransaction, type Queryable } from '../src/database/database.ts';
import { errorHandler, HttpProblem } from '../src/problem.ts';
import { findHead, readEvents } from '../src/log/store.ts';
import { verifyChains } from '../src/log/verify.ts';
import { remake } from '../src/remake.ts';
import { seedDemo } from '@estuarine/seed';
import { createDatabase, Desk, nextId, openAct, SHOP, stockModules, type TestDatabase } from './support.ts';

let db: TestDatabase;
let desk: Desk;

beforeAll(async () => {
  db = await createDatabase();
  desk = new Desk(db);
});
afterAll(() => db.drop());

const stock = (...ids: string[]) => stockModules(db.pool, ...ids);

function planWith(jobId: string, shelfId: string): Act {
  const moduleIds = [shelfId, ...Array.from({ length: 27 }, (_, i) => `${jobId}-${i + 2}`)];
  return {
    type: 'plan.chosen',
    body: {
      school: 'spotRepair',
      moduleIds,
      fromShelf: [shelfId],
      rangeAh: 0,
      lowerBoundAh: 0,
      proven: true,
      blockMeanAh: [],
      assumedPlaces: [],
    },
  };
}

describe('an act', () => {
  it('sent twice with the same id is one act with one answer', async () => {
    const sweep = await desk.openJob('twice');
    const id = nextId();
    const first = await desk.read('twice', sweep, 1, 7.8, id);
    const head = await findHead(db.pool, SHOP, 'twice');
    expect(await desk.read('twice', sweep, 1, 7.8, id)).toEqual(first);
    expect(await findHead(db.pool, SHOP, 'twice')).toBe(head);
  });

  it('sent ten times at once is one act', async () => {
    const sweep = await desk.openJob('at-once');
    const id = nextId();
    const outcomes = await Promise.all(Array.from({ length: 10 }, () => desk.read('at-once', sweep, 1, 7.8, id)));
    expect(new Set(outcomes.map((o) => JSON.stringify(o))).size).toBe(1);
    expect(await findHead(db.pool, SHOP, 'at-once')).toBe(3);
  });

  it('with a known id and other content is refused with 409, and the first stands', async () => {
    const sweep = await desk.openJob('other');
    const id = nextId();
    await desk.read('other', sweep, 1, 7.8, id);
    const again = await desk.read('other', sweep, 1, 7.9, id).catch((e: unknown) => e);
    expect(again).toBeInstanceOf(HttpProblem);
    expect(again).toMatchObject({ status: 409, code: 'otherBody' });
    expect(await findHead(db.pool, SHOP, 'other')).toBe(3);
  });

  it('is another’s where its author is: the same id and content by somebody else is told apart', async () => {
    const sweep = await desk.openJob('whose');
    const id = nextId();
    await desk.read('whose', sweep, 1, 7.8, id, 'om');
    await expect(desk.read('whose', sweep, 1, 7.8, id, 'ts')).rejects.toMatchObject({ status: 409, code: 'otherBody' });
  });

  it('whose transaction was chosen to give way in a deadlock is kept all the same, once', async () => {
    await desk.openJob('locked');
    await stock('LOCK-1');
    const hooked = new Desk(db);
    let deadlocks = 2;
    Object.assign(hooked.jobs, {
      pool: new Proxy(db.pool, {
        get: (pool, key) => {
          if (key !== 'connect') return Reflect.get(pool, key) as unknown;
          return async () => {
            const client = await pool.connect();
            const query = client.query.bind(client) as (...given: unknown[]) => Promise<unknown>;
            const failing = (...given: unknown[]): Promise<unknown> => {
              const { name } = (typeof given[0] === 'object' ? given[0] : {}) as { name?: string };
              return name === 'lock-stream' && deadlocks-- > 0
                ? Promise.reject(Object.assign(new Error('deadlock detected'), { code: '40P01' }))
                : query(...given);
            };
            return new Proxy(client, {
              get: (one, name) => {
                if (name === 'query') return failing;
                const held = Reflect.get(one, name) as unknown;
                return typeof held === 'function' ? (held.bind(one) as unknown) : held;
              },
            });
          };
        },
      }),
    });
    expect(await hooked.keep('locked', planWith('locked', 'LOCK-1'))).toMatchObject({ kind: 'kept' });
    expect(deadlocks).toBe(-1);
    expect((await readEvents(db.pool, SHOP, 'locked', 0, 100)).filter((e) => e.type === 'plan.chosen')).toHaveLength(1);
  });

  it('that was refused is refused again, even when it could be kept now', async () => {
    await desk.openJob('refused');
    const id = nextId();
    const refusal = await desk.keep('refused', planWith('refused', 'R-1'), id);
    expect(refusal).toMatchObject({ kind: 'refused', code: 'taken' });
    await stock('R-1');
    expect(await desk.keep('refused', planWith('refused', 'R-1'), id)).toEqual(refusal);
    expect(await desk.keep('refused', planWith('refused', 'R-1'))).toMatchObject({ kind: 'kept' });
  });

  it('from many hands at once gets numbers without gaps', async () => {
    const sweep = await desk.openJob('many');
    await Promise.all(Array.from({ length: 28 }, (_, i) => desk.read('many', sweep, i + 1, 7.8 + i / 1000)));
    const events = await readEvents(db.pool, SHOP, 'many', 0, 100);
    expect(events.map((e) => e.number)).toEqual(Array.from({ length: 30 }, (_, i) => i + 1));
  });

  it('on a job that was never opened is answered with 404', async () => {
    await expect(
      desk.keep('nowhere', { type: 'fact.stated', body: { stage: 'open', fact: { kind: 'plug', isIn: false } } }),
    ).rejects.toMatchObject({ status: 404 });
  });
});

describe('two jobs', () => {
  it('opened twenty at once, by two processes, are all there', async () => {
    const other = new Desk(db);
    const opened = await Promise.all(Array.from({ length: 20 }, (_, i) => (i % 2 ? desk : other).keep(`many-${i}`, openAct(`many-${i}`))));
    expect(opened.map((o) => o.kind)).toEqual(Array.from({ length: 20 }, () => 'kept'));
  });

  it('opened at once get different numbers', async () => {
    const outcomes = await Promise.all(['n1', 'n2', 'n3', 'n4'].map((id) => desk.keep(id, openAct(id))));
    expect(outcomes.every((o) => o.kind === 'kept')).toBe(true);
    const { rows } = await db.pool.query<{ number: number }>("select number from job_summary where job_id in ('n1','n2','n3','n4')");
    expect(new Set(rows.map((r) => r.number)).size).toBe(4);
  });

  it('racing for one module: one has it, the other is told by whom', async () => {
    await stock('RACE-1');
    await Promise.all([desk.openJob('race-a'), desk.openJob('race-b')]);
    const outcomes = await Promise.all(['race-a', 'race-b'].map((id) => new Desk(db).keep(id, planWith(id, 'RACE-1'))));
    expect(outcomes.map((o) => o.kind).sort()).toEqual(['kept', 'refused']);
    expect(outcomes.find((o) => o.kind === 'refused')).toMatchObject({ code: 'taken', message: expect.stringMatching(/taken by job \d+/) });
  });

  it('share a module one after the other when the first plan is withdrawn', async () => {
    await stock('SHARE-1');
    await Promise.all([desk.openJob('share-a'), desk.openJob('share-b')]);
    const planId = nextId();
    await desk.keep('share-a', planWith('share-a', 'SHARE-1'), planId);
    expect(await desk.keep('share-b', planWith('share-b', 'SHARE-1'))).toMatchObject({ kind: 'refused' });
    await stock('SHARE-2');
    await desk.openJob('share-c');
    await desk.keep('share-c', planWith('share-c', 'SHARE-2'));
    await desk.keep('share-a', { type: 'plan.withdrawn', body: { planId } });
    // what another job holds stays held
    expect(await desk.keep('share-b', planWith('share-b', 'SHARE-2'))).toMatchObject({ kind: 'refused', code: 'taken' });
    expect(await desk.keep('share-b', planWith('share-b', 'SHARE-1'))).toMatchObject({ kind: 'kept' });
  });
});

describe('an import of stock and plans at once', () => {
  it('never get in each other’s way, whatever the order of the rows', async () => {
    const ids = Array.from({ length: 200 }, (_, i) => `W-${String(i).padStart(3, '0')}`);
    await stock(...ids);
    await Promise.all([0, 1, 2, 3].map((i) => desk.openJob(`way-${i}`)));
    const outcomes = await Promise.all([
      ...[0, 1, 2, 3].map((i) => new Desk(db).keep(`way-${i}`, planWith(`way-${i}`, ids[i * 50] ?? ''))),
      stock(...[...ids].reverse()),
      stock(...ids),
    ]);
    expect(outcomes.map((o) => o.kind)).toEqual(Array(6).fill('kept'));
  });
});

describe('a transaction that fails', () => {
  it('leaves nothing half written', async () => {
    const sweep = await desk.openJob('half');
    const head = await findHead(db.pool, SHOP, 'half');
    await db.pool.query("create function fail_on_half() returns trigger language plpgsql as $$ begin raise exception 'broken'; end $$");
    await db.pool.query(
      "create trigger fail before insert on log_command for each row when (new.command_id = 'fails') execute function fail_on_half()",
    );
    await expect(desk.read('half', sweep, 1, 7.8, 'fails')).rejects.toThrow('broken');
    await db.pool.query('drop trigger fail on log_command');
    expect(await findHead(db.pool, SHOP, 'half')).toBe(head);
    expect(await desk.read('half', sweep, 1, 7.8, 'fails')).toMatchObject({ kind: 'kept', first: (head ?? 0) + 1 });
  });
});

describe('remake and verify', () => {
  const tables = ['profile', 'policy', 'job_summary', 'module', 'gear', 'competence', 'instrument', 'person'];
  const dump = async (): Promise<string> => {
    const parts = await Promise.all(
      tables.map((t) => db.pool.query<{ row: unknown }>(`select to_jsonb(t) as row from ${t} t order by to_jsonb(t)::text`)),
    );
    return JSON.stringify(parts.map((p) => p.rows));
  };

  it('makes the cross-job tables anew, equal to what they were', async () => {
    await desk.keep('share-a', { type: 'fact.stated', body: { stage: 'isolate', fact: { kind: 'plug', isIn: false } } });
    const before = await dump();
    const count = await remake(db.pool);
    expect(count).toBeGreaterThan(50);
    expect(await dump()).toBe(before);
  });

  it('finds every chain whole', async () => {
    const { rows } = await db.pool.query<{ count: number }>('select count(*) as count from log_event');
    expect(await verifyChains(db.pool)).toMatchObject({ events: rows[0]?.count, faults: [] });
  });

  it('finds every chain whole while acts are kept', async () => {
    await desk.openJob('meanwhile');
    const act: Act = { type: 'fact.stated', body: { stage: 'isolate', fact: { kind: 'plug', isIn: false } } };
    const { faults } = await inSnapshot(db.pool, (client) => {
      let isFirst = true;
      // which streams there are was read; then one of them grows
      const query = async (text: string, values: unknown[]): Promise<unknown> => {
        const answer = await client.query<object>(text, values);
        if (isFirst) await desk.keep('meanwhile', act);
        isFirst = false;
        return answer;
      };
      return verifyChains({ query } as unknown as Queryable);
    });
    expect(faults).toEqual([]);
  });

  it.each([
    ['a changed byte', `update log_event set text = replace(text, '"by":"om"', '"by":"on"') where stream = 'many' and number = 13`, 13],
    ['a changed column', `update log_event set type = 'sweep.ended' where stream = 'many' and number = 13`, 13],
    ['a missing event', `delete from log_event where stream = 'many' and number = 13`, 14],
    ['a missing end', `delete from log_event where stream = 'many' and number = 30`, 29],
  ])('finds %s', async (_what, damage, number) => {
    const client = await db.pool.connect();
    try {
      await client.query('begin');
      await client.query(damage);
      expect((await verifyChains(client)).faults).toMatchObject([{ stream: 'many', number }]);
    } finally {
      await client.query('rollback');
      client.release();
    }
  });
});

describe('the demonstration', () => {
  it('is written once, and its chains and tables hold', async () => {
    const own = await createDatabase();
    try {
      // at this hour an isolation of the demonstration would run across midnight: gloves hold for the day they are picked
      const now = new Date(`${new Date().toISOString().slice(0, 10)}T19:40:00Z`);
      expect(await seedDemo(own.pool, SHOP, now)).toBe(true);
      expect(await seedDemo(own.pool, SHOP, now)).toBe(false);
      expect((await verifyChains(own.pool)).faults).toEqual([]);
      const { rows } = await own.pool.query<{ count: number }>('select count(*) as count from module where in_job is null');
      // 400 of the commonest, and of each other type a pack and twelve to choose from
      expect(rows[0]?.count).toBe(400 + (42 + 24 + 12 + 16 + 30) + 5 * 12);
    } finally {
      await own.drop();
    }
  }, 120_000);
});

it('outlives a connection that the database ends between two statements of a transaction', async () => {
  const ended = inTransaction(db.pool, async (client) => {
    const { rows } = await client.query<{ pid: number }>('select pg_backend_pid() as pid');
    await db.pool.query('select pg_terminate_backend($1)', [rows[0]?.pid]);
    await new Promise((resolve) => setTimeout(resolve, 100));
    await client.query('select 1');
  });
  const error: unknown = await ended.catch((reason: unknown) => reason);
  expect(await answerTo(error)).toMatchObject({ status: 503, type: 'urn:estuarine:notReady' });
  expect((await db.pool.query('select 1 as one')).rows).toEqual([{ one: 1 }]);
});

/** The problem that an error comes out as. */
async function answerTo(error: unknown, dataFolder: string | null = null): Promise<unknown> {
  let sent = '';
  const reply = { header: () => reply, type: () => reply, code: () => reply, send: (body: string) => ((sent = body), reply) };
  const request = { log: { error: () => undefined } } as unknown as FastifyRequest;
  await errorHandler(dataFolder)(error as FastifyError, request, reply as unknown as FastifyReply);
  return JSON.parse(sent) as unknown;
}

it('says that the disk is full, where the database says so and where that ended it', async () => {
  const full = { status: 503, type: 'urn:estuarine:diskFull', detail: expect.stringContaining('Free some space') };
  expect(await answerTo(Object.assign(new Error('could not extend file'), { code: '53100' }))).toMatchObject(full);
  const lost = Object.assign(new Error('connect'), { code: 'ECONNREFUSED' });
  const roomy = jest.spyOn(fs, 'statfsSync');
  try {
    roomy.mockReturnValue({ bavail: 10, bsize: 4096 } as never);
    expect(await answerTo(lost, '/data')).toMatchObject(full);
    expect(await answerTo(lost)).toMatchObject({ status: 503, type: 'urn:estuarine:notReady' });
    roomy.mockReturnValue({ bavail: 1e6, bsize: 4096 } as never);
    expect(await answerTo(lost, '/data')).toMatchObject({ status: 503, type: 'urn:estuarine:notReady' });
  } finally {
    roomy.mockRestore();
  }
});

import 'fake-indexeddb/auto';
import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { JobSummary, StreamedEvent } from '@estuarine/contract';
import { Subject } from 'rxjs';
import type * as z from 'zod';
import { Api, type Reply } from '../transport/api.ts';
import { Link } from '../transport/link.ts';
import { Tabs, type TabMessage } from '../transport/tabs.ts';
import { YardList } from './yard-list.ts';
import { pass, until, useVirtualTime } from '../../test/virtual-time.ts';

const at = '2026-05-04T08:00:00.000Z';
const jobOf = (jobId: string, number: number, reachableVolt = 0): JobSummary => ({
  ...{ jobId, fold: 1, number, kind: 'wholeRepair', closed: null, closedAt: null, comebackOf: null },
  ...{ vehicleName: '', plate: '', customerName: '', profileId: 'p', profileName: 'P', stage: 'isolate', reachableVolt },
  ...{
    lapsedVolt: 0,
    proofEndsAt: null,
    waitEndsAt: null,
    rest: null,
    lookAt: null,
    stripAt: null,
    steadyVolt: null,
    asksCosign: false,
    behindVolt: 0,
    highestVolt: 0,
  },
  ...{ measuredCount: 0, moduleCount: 28, rejectCount: 0, hasSource: false, toOrder: 0, lastBy: 'om', openedAt: at, lastAt: at },
});
const changed = (stream: string, position: number): StreamedEvent =>
  ({ position, stream, event: { number: 2 } }) as unknown as StreamedEvent;

class FakeServer {
  jobs = [jobOf('a', 1), jobOf('b', 2)];
  position = 10;
  isAway = false;
  readonly asked: string[] = [];
  async get<S extends z.ZodType>(path: string, schema: S): Promise<Reply<z.output<S>>> {
    this.asked.push(path);
    if (this.isAway) return { kind: 'unreachable' };
    const ids = new URL(path, 'http://x').searchParams.get('ids')?.split(',');
    const jobs = this.jobs.filter((j) => !ids || ids.includes(j.jobId));
    const reply: Reply<z.output<S>> = { kind: 'answer', value: schema.parse({ jobs }), position: this.position };
    await Promise.resolve();
    return reply;
  }
}

function setUp(server = new FakeServer()) {
  TestBed.resetTestingModule();
  const [events$, behind$, messages$] = [new Subject<StreamedEvent>(), new Subject<void>(), new Subject<TabMessage>()];
  const [isLive, confirmedAt] = [signal(true), signal(Date.parse(at))];
  const delivered = { position: 10 as number | null };
  TestBed.configureTestingModule({
    providers: [
      YardList,
      { provide: Api, useValue: server },
      { provide: Link, useValue: { events$, behind$, isLive, confirmedAt, delivered: () => delivered.position } },
      { provide: Tabs, useValue: { messages$ } },
    ],
  });
  return { server, list: TestBed.inject(YardList), events$, behind$, messages$, isLive, delivered };
}

useVirtualTime();

afterEach(() => {
  indexedDB = new IDBFactory();
});

describe('the jobs of the shop', () => {
  it('are all asked for once, and then only those that changed, together', async () => {
    const { server, list, events$, delivered } = setUp();
    await until(() => list.isFollowing());
    expect(list.jobs()?.map((j) => j.jobId)).toEqual(['a', 'b']);
    server.jobs = [jobOf('a', 1, 268.8), jobOf('b', 2, 100), jobOf('c', 3)];
    [server.position, delivered.position] = [14, 14];
    for (const [i, job] of ['a', 'c', 'a', 'a'].entries()) events$.next(changed(job, 11 + i));
    expect(list.isFollowing()).toBe(false);
    await until(() => list.isFollowing());
    expect(list.jobs()?.map((j) => [j.jobId, j.reachableVolt])).toEqual([
      ['c', 0],
      ['b', 0],
      ['a', 268.8],
    ]);
    expect(server.asked[0]).toBe('/api/jobs');
    expect(server.asked.slice(1).every((path) => path.startsWith('/api/jobs?ids='))).toBe(true);
    expect(server.asked.length).toBeLessThanOrEqual(3);
  });

  it('are not certain while an answer is older than what was passed on', async () => {
    const server = new FakeServer();
    server.position = 9;
    const { list } = setUp(server);
    await until(() => server.asked.length >= 2);
    expect(list.isFollowing()).toBe(false);
    server.position = 10;
    await until(() => list.isFollowing());
  });

  it('are asked for again and again once something may have been missed', async () => {
    const { server, list, behind$ } = setUp();
    await until(() => list.isFollowing());
    TestBed.tick();
    server.isAway = true;
    behind$.next();
    expect(list.isFollowing()).toBe(false);
    expect(list.staleSince()).toBe(Date.parse(at));
    await until(() => server.asked.length >= 3);
    expect(list.state()).toBe('seen');
    server.isAway = false;
    server.jobs = [jobOf('b', 2, 5)];
    await until(() => list.isFollowing());
    expect(list.jobs()).toEqual([jobOf('b', 2, 5)]);
  });

  it('lose no change that comes while they are asked for and the server goes away', async () => {
    const { server, list, events$, delivered } = setUp();
    await until(() => list.isFollowing());
    server.isAway = true;
    events$.next(changed('a', 11));
    await until(() => server.asked.length >= 2);
    events$.next(changed('b', 12));
    server.jobs = [jobOf('a', 1, 7), jobOf('b', 2, 8)];
    [server.isAway, server.position, delivered.position] = [false, 12, 12];
    await until(() => list.isFollowing());
    expect(list.jobs()?.map((j) => [j.jobId, j.reachableVolt])).toEqual([
      ['b', 8],
      ['a', 7],
    ]);
  });

  it('are not certain while the answer for an earlier change is on its way, whatever came later', async () => {
    const { server, list, events$, delivered } = setUp();
    await until(() => list.isFollowing());
    let give = (): void => undefined;
    const get = server.get.bind(server);
    server.get = async (path, schema) => {
      await new Promise<void>((resolve) => (give = resolve));
      return get(path, schema);
    };
    events$.next(changed('a', 11));
    await pass(250);
    server.get = get;
    events$.next(changed('b', 12));
    await pass(300);
    expect(list.isFollowing()).toBe(false);
    server.jobs = [jobOf('a', 1, 7), jobOf('b', 2, 8)];
    [server.position, delivered.position] = [12, 12];
    give();
    await until(() => list.isFollowing());
    expect(list.jobs()?.map((j) => j.reachableVolt)).toEqual([8, 7]);
  });

  it('are those that were seen last where the server is away from the start', async () => {
    const server = new FakeServer();
    setUp(server);
    await pass(50);
    server.isAway = true;
    const { list } = setUp(server);
    await until(() => list.jobs() !== null);
    expect(list.jobs()?.map((j) => j.jobId)).toEqual(['a', 'b']);
    expect(list.isFollowing()).toBe(false);
    expect(list.staleSince()).toBe(Date.parse(at));
  });

  it('are certain no longer when beats stay away', async () => {
    const { list, isLive } = setUp();
    await until(() => list.isFollowing());
    isLive.set(false);
    expect(list.isFollowing()).toBe(false);
  });

  it('are asked for by nobody once the page is gone', async () => {
    const { server, list, events$, behind$, messages$ } = setUp();
    await until(() => list.isFollowing());
    TestBed.resetTestingModule();
    const before = server.asked.length;
    behind$.next();
    events$.next(changed('a', 11));
    await pass(300);
    expect(server.asked).toHaveLength(before);
    expect([events$, behind$, messages$].some((s) => s.observed)).toBe(false);
  });
});

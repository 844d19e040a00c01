import 'fake-indexeddb/auto';
import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { Api, type Reply } from './api.ts';
import { DeviceStore, type WaitingPhoto } from './store.ts';
import { Link } from './link.ts';
import { Tabs, type TabMessage } from './tabs.ts';
import { Session } from '../session/session.ts';
import { Subject } from 'rxjs';
import { pass, settle, useVirtualTime } from '../../test/virtual-time.ts';
import { PhotoDesk } from './photo-desk.ts';

/** What a device keeps, in memory. */
class FakeStore {
  photos: WaitingPhoto[] = [];
  isFull = false;
  listPhotos = () => Promise.resolve([...this.photos]);
  savePhoto = (photo: WaitingPhoto) => {
    if (this.isFull) return Promise.reject(new Error('full'));
    this.photos.push(photo);
    return Promise.resolve();
  };
  removePhoto = (id: string) => {
    this.photos = this.photos.filter((p) => p.photoId !== id);
    return Promise.resolve();
  };
}

const photo = (photoId: string): WaitingPhoto => ({ photoId, jobId: 'j', picture: new Blob(['x'], { type: 'image/jpeg' }) });
const kept: Reply<unknown> = { kind: 'answer', value: {}, position: null };
const refused = (status: number, code = 'x'): Reply<unknown> => ({
  kind: 'problem',
  retryMillisecond: null,
  problem: { type: `urn:estuarine:${code}`, title: 'x', status, detail: 'The picture cannot be read.', path: [] },
});

function setUp(replies: Record<string, Reply<unknown>>, waiting: WaitingPhoto[] = [], { isLeading = true } = {}) {
  const store = new FakeStore();
  store.photos = waiting;
  const isLive = signal(true);
  const behind$ = new Subject<void>();
  const messages$ = new Subject<TabMessage>();
  const sent: string[] = [];
  const api = {
    putBytes: (path: string) => {
      const id = path.split('/').pop() ?? '';
      sent.push(id);
      return Promise.resolve(replies[id] ?? kept);
    },
  };
  TestBed.configureTestingModule({
    providers: [
      { provide: Api, useValue: api },
      { provide: DeviceStore, useValue: store },
      { provide: Link, useValue: { isLive, behind$ } },
      {
        provide: Tabs,
        useValue: {
          messages$,
          tell: (message: TabMessage) => messages$.next(message),
          whenLeading: (begin: () => void) => isLeading && begin(),
        },
      },
      { provide: Session, useValue: { person: signal({ id: 'om' }), isLocked: signal(false) } },
    ],
  });
  return { desk: TestBed.inject(PhotoDesk), store, isLive, sent, behind$, messages$ };
}

useVirtualTime();

async function rest(): Promise<void> {
  for (let i = 0; i < 5; i++) {
    TestBed.tick();
    await settle(2);
  }
}

describe('photographs on their way', () => {
  beforeEach(() => {
    URL.createObjectURL = () => 'blob:here';
    URL.revokeObjectURL = () => undefined;
  });

  it('wait on the device while the server is away, shown from there, and go when it is back', async () => {
    const { desk, store, isLive, sent } = setUp({});
    isLive.set(false);
    expect(await desk.put(photo('a'))).toBe(true);
    await rest();
    expect(sent).toEqual([]);
    expect(desk.address('j', 'a', 'small')).toBe('blob:here');
    isLive.set(true);
    await rest();
    expect(sent).toEqual(['a']);
    expect(store.photos).toEqual([]);
    expect(desk.address('j', 'a', 'small')).toBe('/api/jobs/j/photos/a?size=small');
  });

  it('that waited before a reload are found again', async () => {
    const { desk, sent } = setUp({}, [photo('old')]);
    await rest();
    expect(sent).toEqual(['old']);
    expect(desk.waiting()).toEqual([]);
  });

  it('that the server will never take stay on the device with its reason, and hold up no other', async () => {
    const { desk, store, sent } = setUp({ bad: refused(422) }, [photo('bad'), photo('good')]);
    await rest();
    expect(sent).toEqual(['bad', 'good']);
    expect(desk.faults().get('bad')).toBe('The picture cannot be read.');
    expect(store.photos.map((p) => p.photoId)).toEqual(['bad']);
  });

  it('of a job that is not there yet hold up no other, and are offered again when the stream begins anew', async () => {
    const replies: Record<string, Reply<unknown>> = { early: refused(404) };
    const { desk, store, sent, behind$ } = setUp(replies, [photo('early'), photo('good')]);
    await rest();
    expect(sent).toEqual(['early', 'good']);
    expect(store.photos.map((p) => p.photoId)).toEqual(['early']);
    delete replies.early;
    behind$.next();
    await rest();
    expect(sent).toEqual(['early', 'good', 'early']);
    expect(desk.faults().size).toBe(0);
    expect(store.photos).toEqual([]);
  });

  it('stay here until the server has kept that they were erased, and go then', async () => {
    const { store, isLive, messages$ } = setUp({}, [photo('a')]);
    isLive.set(false);
    await rest();
    const erase = { commandId: 'c', deviceAt: '', by: 'om', version: 1, act: { type: 'photo.erased', body: { photoId: 'a', reason: '' } } };
    const act = { seq: 1, jobId: 'j', refused: null, sent: erase };
    messages$.next({ kind: 'acts', put: [act], gone: [] });
    await rest();
    expect(store.photos).toHaveLength(1);
    messages$.next({ kind: 'kept', acts: [{ act, kept: { stream: 'j', first: 1, last: 1, at: '' } }] });
    await rest();
    expect(store.photos).toEqual([]);
  });

  it('that were erased meanwhile are not taken by the server, and leave the device', async () => {
    const { desk, store } = setUp({ a: refused(409, 'gone') }, [photo('a')]);
    await rest();
    expect(store.photos).toEqual([]);
    expect(desk.faults().size).toBe(0);
  });

  it('are not taken, and it is said, when the device’s disk is full', async () => {
    const { desk, store } = setUp({});
    store.isFull = true;
    expect(await desk.put(photo('a'))).toBe(false);
    expect(desk.waiting()).toEqual([]);
  });

  it('are asked for again after pauses that grow while the server does not answer, and at once when it is back', async () => {
    const replies: Record<string, Reply<unknown>> = { a: { kind: 'unreachable' } };
    const { isLive, sent, store } = setUp(replies, [photo('a')]);
    await rest();
    expect(sent).toEqual(['a']);
    await pass(10_000);
    expect(sent.length).toBeGreaterThanOrEqual(4);
    expect(sent.length).toBeLessThanOrEqual(8);
    replies.a = { ...refused(503), retryMillisecond: 60_000 } as Reply<unknown>;
    const before = sent.length;
    await pass(20_000);
    expect(sent).toHaveLength(before + 1);
    isLive.set(false);
    await rest();
    delete replies.a;
    isLive.set(true);
    await rest();
    expect(sent).toHaveLength(before + 2);
    expect(store.photos).toEqual([]);
  });

  it('are sent by the leading tab alone, and every tab knows which still wait', async () => {
    const { desk, sent, messages$ } = setUp({}, [], { isLeading: false });
    await desk.put(photo('a'));
    messages$.next({ kind: 'photos', put: [photo('b')], gone: [], faults: [] });
    // found on the disk before its word came: it is one all the same
    messages$.next({ kind: 'photos', put: [photo('b')], gone: [], faults: [] });
    await rest();
    expect(desk.waiting().map((p) => p.photoId)).toEqual(['a', 'b']);
    messages$.next({ kind: 'photos', put: [], gone: [], faults: [['b', 'Too wide.']] });
    expect(desk.faults().get('b')).toBe('Too wide.');
    messages$.next({ kind: 'photos', put: [], gone: [], faults: [['b', '']] });
    expect(desk.faults().size).toBe(0);
    messages$.next({ kind: 'photos', put: [], gone: ['a'], faults: [] });
    expect(desk.waiting().map((p) => p.photoId)).toEqual(['b']);
    expect(sent).toEqual([]);
  });
});

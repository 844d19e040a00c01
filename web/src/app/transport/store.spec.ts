import 'fake-indexeddb/auto';
import { openDB } from 'idb';
import { DeviceStore, SESSION_PATH } from './store.ts';

const at = '2026-05-04T08:00:00.000Z';
const sentOf = (commandId: string) => ({
  ...{ commandId, deviceAt: at, by: 'om', version: 1 },
  act: { type: 'act.withdrawn', body: { commandId: 'x', reason: 'mistyped' } } as const,
});

beforeEach(() => {
  indexedDB = new IDBFactory();
});

it('keeps what waited under the release before, and knows what that had sent already', async () => {
  const before = await openDB('estuarine', 4, {
    upgrade(db) {
      db.createObjectStore('waiting', { keyPath: 'seq', autoIncrement: true });
      db.createObjectStore('photo', { keyPath: 'photoId' });
      db.createObjectStore('job', { keyPath: 'jobId' });
      db.createObjectStore('answer');
    },
  });
  await before.add('waiting', { jobId: 'j', sent: sentOf('kept'), refused: null, kept: { stream: 'j', first: 2, last: 2, at } });
  await before.add('waiting', { jobId: 'j', sent: sentOf('waits'), refused: null, kept: null });
  await before.put('answer', { jobs: [] }, '/api/jobs');
  before.close();
  const store = new DeviceStore();
  expect(await store.listWaiting()).toEqual([{ seq: 2, jobId: 'j', sent: sentOf('waits'), refused: null }]);
  expect(await store.listSent('j')).toMatchObject([{ seq: 1, sent: { commandId: 'kept' }, keptAt: Date.parse(at) }]);
  expect(await store.findAnswer('/api/jobs')).toBeUndefined();
  // numbers go on where they were
  expect((await store.addWaiting('j', sentOf('next'), true)).seq).toBe(3);
});

it('drops what another log said, save who is signed in here', async () => {
  const store = new DeviceStore();
  expect(await store.beginEpoch('one', 0)).toBe(false);
  await store.saveAnswer('/api/jobs', { jobs: [] });
  await store.saveAnswer(SESSION_PATH, { person: null });
  expect(await store.beginEpoch('one', 0)).toBe(false);
  expect(await store.findAnswer('/api/jobs')).toEqual({ jobs: [] });
  expect(await store.beginEpoch('two', 0)).toBe(true);
  expect(await store.findAnswer('/api/jobs')).toBeUndefined();
  expect(await store.findAnswer(SESSION_PATH)).toEqual({ person: null });
});

it('opens its disk again after that failed once', async () => {
  const open = indexedDB.open.bind(indexedDB);
  jest.spyOn(indexedDB, 'open').mockImplementationOnce(() => {
    throw new Error('full');
  });
  const store = new DeviceStore();
  await expect(store.listWaiting()).rejects.toThrow('full');
  indexedDB.open = open;
  expect(await store.listWaiting()).toEqual([]);
});

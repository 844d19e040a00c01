import 'fake-indexeddb/auto';
import { TestBed } from '@angular/core/testing';
import type { Session as SessionAnswer } from '@estuarine/contract';
import { Subject } from 'rxjs';
import { Api, type Reply } from '../transport/api.ts';
import { DeviceStore, SESSION_PATH } from '../transport/store.ts';
import { Tabs, type TabMessage } from '../transport/tabs.ts';
import { PassphraseCheck } from './passphrase-check.ts';
import { Session } from './session.ts';
import { pass, useVirtualTime } from '../../test/virtual-time.ts';

const om = { id: 'om', name: 'OM', role: 'technician', note: '' } as unknown as SessionAnswer['person'];
const answerOf = (person: SessionAnswer['person'], isLocked = false): SessionAnswer => ({
  person,
  isLocked,
  persons: [],
  isDemo: false,
  accounts: [],
  needsFirstLead: false,
});

/** A server that knows who is signed in, and can be away. */
class FakeServer {
  isAway = false;
  answer = answerOf(om);
  readonly told: string[] = [];
  /** Holds back the answer to who is here; runs in place of an immediate one. */
  held: ((give: () => void) => void) | null = null;

  get(): Promise<Reply<unknown>> {
    if (this.isAway) return Promise.resolve({ kind: 'unreachable' });
    const reply: Reply<unknown> = { kind: 'answer', value: this.answer, position: null };
    const { held } = this;
    if (!held) return Promise.resolve(reply);
    return new Promise((resolve) => held(() => resolve(reply)));
  }
  post(path: string, _schema: unknown, body: { passphrase?: string }): Promise<Reply<unknown>> {
    if (this.isAway) return Promise.resolve({ kind: 'unreachable' });
    this.told.push(path);
    if (path.endsWith('/lock')) this.answer = { ...this.answer, isLocked: true };
    if (path.endsWith('/unlock')) {
      if (body.passphrase !== 'right')
        return Promise.resolve({
          ...{ kind: 'problem', retryMillisecond: null },
          problem: { type: 'x', title: '', status: 401, detail: 'That is not the passphrase.', path: [] },
        });
      this.answer = { ...this.answer, isLocked: false };
    }
    return Promise.resolve({ kind: 'answer', value: {}, position: null });
  }
  delete(): Promise<Reply<unknown>> {
    if (this.isAway) return Promise.resolve({ kind: 'unreachable' });
    this.answer = answerOf(null);
    return Promise.resolve({ kind: 'answer', value: {}, position: null });
  }
}

useVirtualTime();

async function setUp(server = new FakeServer()) {
  TestBed.resetTestingModule();
  const messages$ = new Subject<TabMessage>();
  const tell = (m: TabMessage): void => messages$.next(m);
  const known = { personId: '', passphrase: '' };
  const check = {
    remember: (personId: string, passphrase: string) => Promise.resolve(Object.assign(known, { personId, passphrase })),
    forget: () => Promise.resolve(Object.assign(known, { personId: '', passphrase: '' })),
    matches: (personId: string, passphrase: string) => Promise.resolve(known.personId === personId && known.passphrase === passphrase),
  };
  TestBed.configureTestingModule({
    providers: [
      { provide: Api, useValue: server },
      { provide: Tabs, useValue: { messages$, tell } },
      { provide: PassphraseCheck, useValue: check },
    ],
  });
  const session = TestBed.inject(Session);
  // until what was asked at the start is answered and remembered; a server that is held back never answers
  void session.load();
  await pass(500);
  return { server, session, tell, known };
}

beforeEach(() => localStorage.clear());
afterEach(() => {
  jest.restoreAllMocks();
  indexedDB = new IDBFactory();
});

describe('who is at a device', () => {
  it('stays known through a start without the server', async () => {
    const { server } = await setUp();
    server.isAway = true;
    const { session } = await setUp(server);
    expect(session.person()?.id).toBe('om');
    expect(session.isUnreachable()).toBe(true);
  });

  it('is known at once while the server takes its time', async () => {
    const { server } = await setUp();
    server.held = () => undefined;
    const { session } = await setUp(server);
    expect(session.person()?.id).toBe('om');
  });

  it('is what the last question says, whichever answer comes last', async () => {
    const { server, session } = await setUp();
    const gives: (() => void)[] = [];
    server.held = (give) => void gives.push(give);
    const slow = session.load();
    await pass(30);
    server.answer = answerOf(null);
    const quick = session.load();
    await pass(30);
    gives[1]?.();
    await quick;
    expect(session.person()).toBeNull();
    gives[0]?.();
    await slow;
    expect(session.person()).toBeNull();
  });

  it('is nobody after the sign-out, also for the next start without the server', async () => {
    const { server, session } = await setUp();
    await session.signOut();
    server.isAway = true;
    const again = await setUp(server);
    expect(again.session.person()).toBeNull();
    expect(again.session.isKnown()).toBe(true);
  });
});

it('who is at a device is asked until the server answers', async () => {
  const server = new FakeServer();
  server.isAway = true;
  const { session } = await setUp(server);
  expect(session.isKnown()).toBe(false);
  expect(session.isUnreachable()).toBe(true);
  server.isAway = false;
  for (let i = 0; i < 200 && !session.isKnown(); i++) await pass(30);
  expect(session.person()?.id).toBe('om');
  expect(session.isUnreachable()).toBe(false);
});

describe('a screen that locks itself', () => {
  it('is locked without the server, stays so through a start, and is locked there once that is back', async () => {
    const { server, session } = await setUp();
    server.isAway = true;
    await session.lock();
    expect(session.isLocked()).toBe(true);
    const again = await setUp(server);
    expect(again.session.isLocked()).toBe(true);
    expect(server.told).toEqual([]);
    server.isAway = false;
    await again.session.load();
    expect(server.told).toEqual([`${SESSION_PATH}/lock`]);
    expect(again.session.isLocked()).toBe(true);
  });

  it('locks after a quarter of an hour without a touch, server or not', async () => {
    let look = (): void => undefined;
    jest.spyOn(globalThis, 'setInterval').mockImplementation(((run: () => void) => {
      look = run;
      return 0;
    }) as unknown as typeof setInterval);
    const { server, session } = await setUp();
    server.isAway = true;
    const now = Date.now();
    jest.spyOn(Date, 'now').mockReturnValue(now + 14 * 60_000);
    look();
    expect(session.isLocked()).toBe(false);
    window.dispatchEvent(new Event('pointerdown'));
    jest.spyOn(Date, 'now').mockReturnValue(now + 28 * 60_000);
    look();
    expect(session.isLocked()).toBe(false);
    jest.spyOn(Date, 'now').mockReturnValue(now + 30 * 60_000);
    look();
    expect(session.isLocked()).toBe(true);
  });

  it('is opened without the server by the passphrase of whoever was here, and by no other', async () => {
    const { server, session, known } = await setUp();
    await session.signIn('om', 'right');
    expect(known).toEqual({ personId: 'om', passphrase: 'right' });
    server.isAway = true;
    await session.lock();
    expect(await session.unlock('ts', { passphrase: 'right' })).toContain('only OM comes back, by passphrase');
    expect(await session.unlock('om', { pin: '1234' })).toContain('only OM comes back, by passphrase');
    expect(await session.unlock('om', { passphrase: 'wrong' })).toBe('That is not the passphrase last used on this device.');
    expect(session.isLocked()).toBe(true);
    expect(await session.unlock('om', { passphrase: 'right' })).toBeNull();
    expect(session.isLocked()).toBe(false);
  });

  it('is locked again where the server, once it is back, holds it for locked', async () => {
    const { server, session } = await setUp();
    await session.signIn('om', 'right');
    await session.lock();
    await session.load();
    server.isAway = true;
    expect(await session.unlock('om', { passphrase: 'right' })).toBeNull();
    expect(session.isLocked()).toBe(false);
    server.isAway = false;
    await session.load();
    expect(session.isLocked()).toBe(true);
    expect(await session.unlock('om', { passphrase: 'wrong' })).toBe('That is not the passphrase.');
    expect(await session.unlock('om', { passphrase: 'right' })).toBeNull();
    expect(session.isLocked()).toBe(false);
    expect(localStorage.getItem('estuarine-locked')).toBeNull();
  });

  it('follows another tab that locked or opened it', async () => {
    const { session, tell } = await setUp();
    localStorage.setItem('estuarine-locked', 'locked');
    tell({ kind: 'sessionChanged' });
    expect(session.isLocked()).toBe(true);
    localStorage.removeItem('estuarine-locked');
    tell({ kind: 'sessionChanged' });
    expect(session.isLocked()).toBe(false);
  });

  it('loads again when the stream is of another log', async () => {
    const { server, session, tell } = await setUp();
    server.answer = answerOf(null);
    tell({ kind: 'behind', epoch: 'restored', delivered: 0 });
    await pass(30);
    expect(session.person()).toBeNull();
  });
});

it('keeps of a passphrase only what tells it from others', async () => {
  const { webcrypto } = jest.requireActual<typeof import('node:crypto')>('node:crypto');
  Object.defineProperty(globalThis.crypto, 'subtle', { value: webcrypto.subtle, configurable: true });
  (globalThis as { TextEncoder?: unknown }).TextEncoder ??= jest.requireActual<typeof import('node:util')>('node:util').TextEncoder;
  TestBed.configureTestingModule({});
  const check = TestBed.inject(PassphraseCheck);
  expect(await check.matches('om', 'right')).toBe(false);
  await check.remember('om', 'right');
  expect(await check.matches('om', 'right')).toBe(true);
  expect(await check.matches('om', 'wrong')).toBe(false);
  expect(await check.matches('ts', 'right')).toBe(false);
  expect(JSON.stringify(await TestBed.inject(DeviceStore).findAnswer('passphrase-check'))).not.toContain('right');
  await check.forget();
  expect(await check.matches('om', 'right')).toBe(false);
}, 30_000);

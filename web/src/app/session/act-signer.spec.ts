import 'fake-indexeddb/auto';
import { webcrypto } from 'node:crypto';
import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { signedText, type Certificate, type SentAct } from '@estuarine/contract';
import { Api, type Reply } from '../transport/api.ts';
import { Link } from '../transport/link.ts';
import { DeviceStore, type HeldKey } from '../transport/store.ts';
import { ActSigner } from './act-signer.ts';
import { Session } from './session.ts';

const NOW = Date.parse('2026-05-04T08:00:00Z');
const act = (by: string): SentAct => ({
  ...{ commandId: 'c1', deviceAt: new Date(NOW).toISOString(), by, version: 3, device: { id: 'd', isClockSure: true, turn: 1 } },
  act: { type: 'fact.stated', body: { stage: 'isolate', fact: { kind: 'plug', isIn: false } } },
});

Object.defineProperty(globalThis, 'crypto', { value: webcrypto, configurable: true });

/** The server certifies; what it was asked is remembered. */
function setUp(stored: HeldKey | null = null) {
  const [person, isLocked, isKnown, isLive] = [signal<{ id: string } | null>({ id: 'om' }), signal(false), signal(true), signal(true)];
  const asked: string[] = [];
  let answer: (key: string) => Promise<Reply<unknown>> = () => Promise.resolve({ kind: 'unreachable' });
  const disk: { held: HeldKey | null } = { held: stored };
  const store = {
    deviceId: 'd',
    findKey: () => Promise.resolve(disk.held),
    saveKey: (held: HeldKey) => Promise.resolve(void (disk.held = held)),
    removeKey: () => Promise.resolve(void (disk.held = null)),
  };
  const api = {
    post: (_path: string, _schema: unknown, { key }: { key: string }) => {
      asked.push(key);
      return answer(key);
    },
  };
  TestBed.configureTestingModule({
    providers: [
      { provide: Api, useValue: api },
      { provide: DeviceStore, useValue: store },
      { provide: Session, useValue: { person, isLocked, isKnown } },
      { provide: Link, useValue: { isLive, now: () => ({ at: new Date(NOW), isSure: true }) } },
    ],
  });
  const certify = (key: string): Promise<Reply<unknown>> =>
    Promise.resolve({ kind: 'answer', position: null, value: certificateOf(person()?.id ?? '', key) });
  return {
    person,
    isLocked,
    isKnown,
    isLive,
    asked,
    disk,
    certify,
    answerBy: (how: typeof answer) => (answer = how),
    signer: TestBed.inject(ActSigner),
  };
}

function certificateOf(of: string, key: string, until = NOW + 3_600_000): Certificate {
  return { person: of, device: 'd', key, from: new Date(NOW).toISOString(), until: new Date(until).toISOString(), mac: 'm'.repeat(43) };
}

async function settle(): Promise<void> {
  for (let i = 0; i < 30; i++) {
    TestBed.tick();
    await new Promise((r) => setTimeout(r, 2));
  }
}

afterEach(() => TestBed.resetTestingModule());

it('signs by a key that the server certified and that nobody can take away', async () => {
  const { signer, disk, answerBy, certify } = setUp();
  answerBy(certify);
  await settle();
  const signature = await signer.sign('j', act('om'));
  const key = await webcrypto.subtle.importKey('spki', Buffer.from(signature?.certificate.key ?? '', 'base64url'), { name: 'ECDSA', namedCurve: 'P-256' }, true, ['verify']); // prettier-ignore
  const proves = (jobId: string): Promise<boolean> =>
    webcrypto.subtle.verify({ name: 'ECDSA', hash: 'SHA-256' }, key, Buffer.from(signature?.value ?? '', 'base64url'), Buffer.from(signedText(jobId, act('om')))); // prettier-ignore
  expect([await proves('j'), await proves('k')]).toEqual([true, false]);
  expect(disk.held?.key.extractable).toBe(false);
  // nothing in another's name
  expect(await signer.sign('j', act('ts'))).toBeNull();
});

it.each([
  ['the screen locks', ({ isLocked }: ReturnType<typeof setUp>) => isLocked.set(true)],
  ['the person signs out', ({ person }: ReturnType<typeof setUp>) => person.set(null)],
])('drops the key when %s, from the disk as well', async (_when, leave) => {
  const desk = setUp();
  desk.answerBy(desk.certify);
  await settle();
  expect(await desk.signer.sign('j', act('om'))).not.toBeNull();
  leave(desk);
  await settle();
  expect([await desk.signer.sign('j', act('om')), desk.disk.held]).toEqual([null, null]);
});

it('leaves no key behind where the screen was locked before the answer came', async () => {
  const { signer, isLocked, disk, answerBy, certify } = setUp();
  let come: () => void = () => undefined;
  answerBy((key) => new Promise((resolve) => (come = () => void certify(key).then(resolve))));
  await settle();
  isLocked.set(true);
  await settle();
  come();
  await settle();
  expect([await signer.sign('j', act('om')), disk.held]).toEqual([null, null]);
});

it('waits for no server, and asks again once it is back', async () => {
  const { signer, isLive, asked, answerBy, certify } = setUp();
  answerBy(() => new Promise(() => undefined));
  await settle();
  expect(await signer.sign('j', act('om'))).toBeNull();
  expect(asked).toHaveLength(1);
  TestBed.resetTestingModule();
  const again = setUp();
  await settle();
  expect(await again.signer.sign('j', act('om'))).toBeNull();
  again.answerBy(again.certify);
  again.isLive.set(false);
  await settle();
  again.isLive.set(true);
  await settle();
  expect(await again.signer.sign('j', act('om'))).not.toBeNull();
  expect([isLive(), certify.length]).toEqual([true, 1]);
});

it('goes on with the key of before after a reload, unless it is another’s, of another device or over', async () => {
  const { privateKey } = await webcrypto.subtle.generateKey({ name: 'ECDSA', namedCurve: 'P-256' }, false, ['sign', 'verify']);
  const cases: [Certificate, boolean][] = [
    [certificateOf('om', 'k'), true],
    [certificateOf('ts', 'k'), false],
    [{ ...certificateOf('om', 'k'), device: 'e' }, false],
    [certificateOf('om', 'k', NOW - 1), false],
  ];
  for (const [certificate, isGood] of cases) {
    const { signer, asked, disk } = setUp({ certificate, key: privateKey });
    await settle();
    expect([(await signer.sign('j', act('om'))) !== null, asked.length, disk.held !== null]).toEqual([isGood, isGood ? 0 : 1, isGood]);
    TestBed.resetTestingModule();
  }
});

it('keeps what lies here until it is known who is here', async () => {
  const { privateKey } = await webcrypto.subtle.generateKey({ name: 'ECDSA', namedCurve: 'P-256' }, false, ['sign', 'verify']);
  const desk = setUp({ certificate: certificateOf('om', 'k'), key: privateKey });
  desk.isKnown.set(false);
  desk.person.set(null);
  await settle();
  expect(desk.disk.held).not.toBeNull();
});

it('is kept by the device’s own store', async () => {
  TestBed.configureTestingModule({});
  const store = TestBed.inject(DeviceStore);
  expect(await store.findKey()).toBeNull();
  await store.saveKey({ certificate: certificateOf('om', 'k'), key: {} as CryptoKey });
  expect((await store.findKey())?.certificate.person).toBe('om');
  await store.removeKey();
  expect(await store.findKey()).toBeNull();
});

import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { StreamedEvent } from '@estuarine/contract';
import { FOLD_VERSION } from '@estuarine/core';
import { Subject } from 'rxjs';
import { Session } from '../session/session.ts';
import { Link } from './link.ts';
import { DeviceStore } from './store.ts';
import { Tabs, type TabMessage } from './tabs.ts';

const SERVER = Date.parse('2026-05-04T10:00:00Z');

/** The browser's stream as the server would speak it. */
class FakeSource extends EventTarget {
  static readonly all: FakeSource[] = [];
  readonly url: string;
  isClosed = false;
  constructor(url: string) {
    super();
    this.url = url;
    FakeSource.all.push(this);
  }
  static get last(): FakeSource {
    const last = FakeSource.all.at(-1);
    if (!last) throw new Error('no stream');
    return last;
  }
  close(): void {
    this.isClosed = true;
  }
  async say(name: string, word: object | string): Promise<void> {
    const data = typeof word === 'string' ? word : JSON.stringify(word);
    this.dispatchEvent(new MessageEvent(name, { data }));
    await rest();
  }
  async hello(sent: number, over: object = {}): Promise<void> {
    await this.say('hello', { ...beat(sent), isBehind: false, epoch: 'e', sent, ...over });
  }
}

/** The device's disk is asked before anybody is told. */
const disk = { deviceId: 'tablet', beginEpoch: jest.fn<Promise<boolean>, [epoch: string]>(() => Promise.resolve(true)) };

/** What hangs on promises alone; no time passes. */
async function rest(): Promise<void> {
  for (let i = 0; i < 20; i++) await Promise.resolve();
}

const beat = (position: number | null, over: object = {}): object => ({
  ...{ now: new Date(SERVER).toISOString(), fold: FOLD_VERSION, position, cutOff: [] },
  ...over,
});
const kept = (position: number): StreamedEvent => ({ position, stream: 'shop', number: position, type: 'vehicle.erased' });

class FakeTabs {
  readonly messages$ = new Subject<TabMessage>();
  readonly told: TabMessage[] = [];
  isLeading = true;
  tell(message: TabMessage): void {
    this.told.push(message);
    this.messages$.next(message);
  }
  whenLeading(begin: () => void): void {
    if (this.isLeading) begin();
  }
}

let [wall, monotonic] = [0, 0];
const pass = (second: number): void => {
  wall += second * 1000;
  monotonic += second * 1000;
};
/** The link looks at its clocks twice a second; what passes by them is said apart. */
const look = (): Promise<void> => wait(600);

async function wait(millisecond: number): Promise<void> {
  jest.advanceTimersByTime(millisecond);
  await rest();
}

function setUp({ isLeading = true } = {}) {
  const tabs = new FakeTabs();
  tabs.isLeading = isLeading;
  const person = signal<object | null>({ id: 'om' });
  const isLocked = signal(false);
  TestBed.configureTestingModule({
    providers: [
      { provide: Tabs, useValue: tabs },
      { provide: Session, useValue: { person, isLocked } },
      { provide: DeviceStore, useValue: disk },
    ],
  });
  const link = TestBed.inject(Link);
  const [heard, behind]: [number[], number[]] = [[], []];
  link.events$.subscribe((e) => heard.push(e.position));
  link.behind$.subscribe(() => behind.push(link.delivered() ?? -1));
  TestBed.tick();
  return { tabs, person, isLocked, link, heard, behind };
}

beforeEach(() => {
  jest.useFakeTimers({ doNotFake: ['Date', 'performance', 'nextTick', 'queueMicrotask'] });
  disk.beginEpoch.mockClear();
  FakeSource.all.length = 0;
  (globalThis as { EventSource: unknown }).EventSource = FakeSource;
  [wall, monotonic] = [Date.parse('2026-05-04T09:00:00Z'), 5000];
  jest.spyOn(Date, 'now').mockImplementation(() => wall);
  jest.spyOn(performance, 'now').mockImplementation(() => monotonic);
});
afterEach(() => {
  TestBed.resetTestingModule();
  jest.restoreAllMocks();
  jest.useRealTimers();
});

describe('the stream of a browser', () => {
  it('is live by a beat that confirms what was passed on, and for no longer than that lasts', async () => {
    const { link } = setUp();
    expect(link.isLive()).toBe(false);
    await FakeSource.last.hello(7);
    expect([link.isLive(), link.delivered(), link.epoch(), link.confirmedAt()]).toEqual([true, 7, 'e', SERVER]);
    pass(6);
    await look();
    expect(link.isLive()).toBe(true);
    pass(1);
    await look();
    expect(link.isLive()).toBe(false);
  });

  it.each([
    ['the wall clock set back an hour', () => (wall -= 3_600_000)],
    ['the wall clock standing', () => undefined],
  ])('is not live ten seconds after the last beat, with %s', async (_how, change) => {
    const { link } = setUp();
    await FakeSource.last.hello(7);
    change();
    monotonic += 10_000;
    await look();
    expect(link.isLive()).toBe(false);
  });

  it('is not live after a sleep, in which the monotonic clock stood', async () => {
    const { link } = setUp();
    await FakeSource.last.hello(7);
    wall += 60_000;
    await look();
    expect(link.isLive()).toBe(false);
  });

  it('is not confirmed by a beat that says more than was passed on, until that came', async () => {
    const { link, heard } = setUp();
    await FakeSource.last.hello(7);
    for (let i = 0; i < 4; i++) {
      pass(2.5);
      await FakeSource.last.say('beat', beat(8));
    }
    await look();
    expect(link.isLive()).toBe(false);
    expect(link.heardAt()).toBe(SERVER);
    await FakeSource.last.say('kept', kept(8));
    expect(heard).toEqual([8]);
    await FakeSource.last.say('beat', beat(8));
    expect(link.isLive()).toBe(true);
  });

  it('counts from the beat that said so, where its event is late', async () => {
    const { link } = setUp();
    await FakeSource.last.hello(7);
    await FakeSource.last.say('beat', beat(8));
    pass(6);
    await FakeSource.last.say('kept', kept(8));
    expect(link.isLive()).toBe(true);
    // the next word may be missing by now
    pass(2);
    await look();
    expect(link.isLive()).toBe(false);
  });

  it('is not confirmed while the server cannot read how far its log goes', async () => {
    const { link } = setUp();
    await FakeSource.last.hello(7);
    for (let i = 0; i < 4; i++) {
      pass(2.5);
      await FakeSource.last.say('beat', beat(null));
    }
    await look();
    expect(link.isLive()).toBe(false);
  });

  it('finds in a tab that an event passed it by', () => {
    const { tabs, link, heard, behind } = setUp({ isLeading: false });
    expect(FakeSource.all).toEqual([]);
    tabs.tell({ kind: 'heard', epoch: 'e', beat: { now: '', fold: FOLD_VERSION, position: 3, cutOff: [] }, delivered: 3 });
    expect(behind).toEqual([3]);
    tabs.tell({ kind: 'event', event: kept(4), after: 3 });
    tabs.tell({ kind: 'event', event: kept(6), after: 5 });
    expect(heard).toEqual([4, 6]);
    expect(behind).toEqual([3, 6]);
    // the same again is no news
    tabs.tell({ kind: 'event', event: kept(6), after: 5 });
    expect(heard).toEqual([4, 6]);
    tabs.tell({ kind: 'heard', epoch: 'e', beat: { now: '', fold: FOLD_VERSION, position: 9, cutOff: [] }, delivered: 9 });
    expect(behind).toEqual([3, 6, 9]);
    expect(link.delivered()).toBe(9);
  });

  it('goes on where it was, after pauses that grow, and says that it is behind where it cannot', async () => {
    const { behind } = setUp();
    await FakeSource.last.hello(7);
    await FakeSource.last.say('kept', kept(8));
    expect(new URL(FakeSource.last.url, 'http://x').searchParams.get('cursor')).toBeNull();
    jest.spyOn(Math, 'random').mockReturnValue(0);
    FakeSource.last.dispatchEvent(new Event('error'));
    expect(FakeSource.last.isClosed).toBe(true);
    await wait(300);
    expect(FakeSource.all).toHaveLength(2);
    expect(new URL(FakeSource.last.url, 'http://x').searchParams.get('cursor')).toBe('e:8');
    FakeSource.last.dispatchEvent(new Event('error'));
    await wait(300);
    expect(FakeSource.all).toHaveLength(2);
    await wait(300);
    expect(FakeSource.all).toHaveLength(3);
    const before = behind.length;
    await FakeSource.last.hello(20, { isBehind: true });
    expect(behind.slice(before)).toEqual([20]);
  });

  it('begins another log before anybody hears of it', async () => {
    const { behind, link } = setUp();
    await FakeSource.last.hello(7);
    FakeSource.last.dispatchEvent(new Event('error'));
    await wait(800);
    const before = behind.length;
    await FakeSource.last.hello(2, { epoch: 'restored', isBehind: true });
    expect(disk.beginEpoch.mock.calls.map(([epoch]) => epoch)).toEqual(['e', 'restored']);
    expect(link.epoch()).toBe('restored');
    expect(link.delivered()).toBe(2);
    expect(behind.length).toBeGreaterThan(before);
  });

  it('is closed while the screen is locked and after the person left, and goes on from there', async () => {
    const { isLocked, person, heard } = setUp();
    await FakeSource.last.hello(7);
    const [first] = FakeSource.all;
    isLocked.set(true);
    TestBed.tick();
    expect(first?.isClosed).toBe(true);
    await first?.say('kept', kept(8));
    expect(heard).toEqual([]);
    isLocked.set(false);
    TestBed.tick();
    expect(new URL(FakeSource.last.url, 'http://x').searchParams.get('cursor')).toBe('e:7');
    person.set(null);
    TestBed.tick();
    expect(FakeSource.all.map((s) => s.isClosed)).toEqual([true, true]);
  });

  it('believes nothing behind a word that it cannot read', async () => {
    const { link, heard } = setUp();
    await FakeSource.last.hello(7);
    await FakeSource.last.say('kept', '{"position":');
    await FakeSource.last.say('kept', kept(9));
    expect(heard).toEqual([]);
    expect(link.isTooOld()).toBe(true);
    expect(FakeSource.last.isClosed).toBe(true);
  });

  it('tells when the server folds otherwise', async () => {
    const { link } = setUp();
    await FakeSource.last.hello(7, { fold: FOLD_VERSION + 1 });
    expect(link.isTooOld()).toBe(true);
  });
});

import { ChangeDetectionStrategy, Component, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import type { JobSummary, StockRow } from '@estuarine/contract';
import { Api, type Reply } from '../line/api.ts';
import { DeviceStore } from '../line/store.ts';
import { writeModuleCode } from './module-code.ts';
import { Scanner } from './scanner.ts';
import { selectScanned } from './select-scanned.ts';

const rows = [
  { moduleId: '02-17', inJob: 2 },
  { moduleId: 'S042', inJob: null },
] as unknown as StockRow[];
const jobs = [{ jobId: 'demo-turnstone', number: 2 }] as unknown as JobSummary[];

function setUp(isAway = false) {
  const gone: unknown[][] = [];
  const api = {
    get: (path: string): Promise<Reply<unknown>> =>
      Promise.resolve(
        isAway ? { kind: 'unreachable' } : { kind: 'answer', position: null, value: path === '/api/stock' ? { rows } : { jobs } },
      ),
  };
  TestBed.configureTestingModule({
    providers: [
      { provide: Api, useValue: api },
      { provide: DeviceStore, useValue: { findAnswer: () => Promise.resolve(undefined), saveAnswer: () => Promise.resolve() } },
      { provide: Router, useValue: { navigate: (way: unknown[]) => Promise.resolve(gone.push(way) > 0) } },
    ],
  });
  return { scanner: TestBed.inject(Scanner), gone };
}

describe('a scanned module', () => {
  it('is selected by the screen that shows it, and leads nowhere else', async () => {
    const { scanner, gone } = setUp();
    const asked: string[] = [];
    const leave = scanner.hold((id) => asked.push(id) > 0);
    expect(await scanner.take(writeModuleCode('02-17'))).toBe(true);
    expect([asked, gone]).toEqual([['02-17'], []]);
    leave();
    await scanner.take(writeModuleCode('02-17'));
    expect(asked).toHaveLength(1);
  });

  it('leads to the job whose pack it sits in, or to the shelf', async () => {
    const { scanner, gone } = setUp();
    expect(await scanner.take(writeModuleCode('02-17'))).toBe(true);
    expect(await scanner.takeId('S042')).toBe(true);
    expect(gone).toEqual([['/job', 'demo-turnstone', 'test'], ['/stock']]);
    expect(scanner.awaited()).toBe('S042');
  });

  it('is told to be unknown, and what is no module’s code too', async () => {
    const { scanner, gone } = setUp();
    expect(await scanner.takeId('nobody')).toBe(false);
    expect(scanner.fault()).toContain('is not known here');
    expect(scanner.awaited()).toBeNull();
    expect(await scanner.take('https://example.org')).toBe(false);
    expect(scanner.fault()).toContain('not of a module');
    scanner.clear();
    expect([scanner.fault(), gone]).toEqual([null, []]);
  });

  it('cannot be looked for while the server is away, and says so', async () => {
    const { scanner } = setUp(true);
    expect(await scanner.takeId('02-17')).toBe(false);
    expect(scanner.fault()).toContain('cannot be reached');
  });

  it('waits for the screen that a scan led to until that knows its modules', async () => {
    const { scanner } = setUp();
    await scanner.takeId('02-17');
    const modules = signal<string[]>([]);
    const selected: string[] = [];
    @Component({ template: '', changeDetection: ChangeDetectionStrategy.OnPush })
    class Screen {
      constructor() {
        selectScanned((id) => modules().includes(id) && selected.push(id) > 0);
      }
    }
    const fixture = TestBed.createComponent(Screen);
    await fixture.whenStable();
    expect([selected, scanner.awaited()]).toEqual([[], '02-17']);
    modules.set(['02-16', '02-17']);
    await fixture.whenStable();
    expect([selected, scanner.awaited()]).toEqual([['02-17'], null]);
    // scanned once more while the screen is shown
    await scanner.takeId('02-16');
    expect(selected).toEqual(['02-17', '02-16']);
    fixture.destroy();
  });
});

import { ChangeDetectionStrategy, Component, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import type { JobSummary, StockRow } from '@estuarine/contract';
import { Api, type Reply } from '../transport/api.ts';
import { DeviceStore } from '../transport/store.ts';
import { writeModuleLabel } from './module-label.ts';
import { LabelReader } from './label-reader.ts';
import { selectByLabel } from './select-by-label.ts';

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
  return { labels: TestBed.inject(LabelReader), gone };
}

describe('a module whose label is read', () => {
  it('is selected by the screen that shows it, and leads nowhere else', async () => {
    const { labels, gone } = setUp();
    const asked: string[] = [];
    const leave = labels.hold((id) => asked.push(id) > 0);
    expect(await labels.take(writeModuleLabel('02-17'))).toBe(true);
    expect([asked, gone]).toEqual([['02-17'], []]);
    leave();
    await labels.take(writeModuleLabel('02-17'));
    expect(asked).toHaveLength(1);
  });

  it('leads to the job whose pack it sits in, or to the shelf', async () => {
    const { labels, gone } = setUp();
    expect(await labels.take(writeModuleLabel('02-17'))).toBe(true);
    expect(await labels.takeId('S042')).toBe(true);
    expect(gone).toEqual([['/job', 'demo-turnstone', 'test'], ['/stock']]);
    expect(labels.awaited()).toBe('S042');
  });

  it('is told to be unknown, and what is no module’s code too', async () => {
    const { labels, gone } = setUp();
    expect(await labels.takeId('nobody')).toBe(false);
    expect(labels.fault()).toContain('is not known here');
    expect(labels.awaited()).toBeNull();
    expect(await labels.take('https://example.org')).toBe(false);
    expect(labels.fault()).toContain('not of a module');
    labels.clear();
    expect([labels.fault(), gone]).toEqual([null, []]);
  });

  it('cannot be looked for while the server is away, and says so', async () => {
    const { labels } = setUp(true);
    expect(await labels.takeId('02-17')).toBe(false);
    expect(labels.fault()).toContain('cannot be reached');
  });

  it('waits for the screen that a label led to until that knows its modules', async () => {
    const { labels } = setUp();
    await labels.takeId('02-17');
    const modules = signal<string[]>([]);
    const selected: string[] = [];
    @Component({ template: '', changeDetection: ChangeDetectionStrategy.OnPush })
    class Screen {
      constructor() {
        selectByLabel((id) => modules().includes(id) && selected.push(id) > 0);
      }
    }
    const fixture = TestBed.createComponent(Screen);
    await fixture.whenStable();
    expect([selected, labels.awaited()]).toEqual([[], '02-17']);
    modules.set(['02-16', '02-17']);
    await fixture.whenStable();
    expect([selected, labels.awaited()]).toEqual([['02-17'], null]);
    // read once more while the screen is shown
    await labels.takeId('02-16');
    expect(selected).toEqual(['02-17', '02-16']);
    fixture.destroy();
  });
});

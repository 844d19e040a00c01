import { ChangeDetectionStrategy, Component, DestroyRef, effect, inject, input, output, signal, untracked } from '@angular/core';
import { writeUnit, type Column, type StockFile, type SweepFile, type TableFault } from '@estuarine/core';
import * as comlink from 'comlink';
import { Notice } from '../ui/notice.ts';
import type { ImportReader, ImportTarget, Opened } from './import.worker.ts';

export type TableRead = Extract<SweepFile, { kind: 'read' }> | Extract<StockFile, { kind: 'read' }>;

/** A table file from choosing it to its readings: mapping of columns, preview, and every fault with its row and column. */
@Component({
  selector: 'app-import-table',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Notice],
  templateUrl: './import-table.html',
  styleUrl: './import-table.less',
})
export class ImportTable {
  readonly target = input.required<ImportTarget>();
  /** Dropped or pasted on the screen behind; null: one is chosen here. */
  readonly given = input<File | null>(null);
  readonly read = output<{ readonly fileName: string; readonly table: TableRead } | null>();

  protected readonly fileName = signal('');
  protected readonly opened = signal<Extract<Opened, { kind: 'opened' }> | null>(null);
  protected readonly columns = signal<readonly Column[]>([]);
  protected readonly faults = signal<readonly TableFault[]>([]);
  protected readonly reason = signal<string | null>(null);
  protected readonly isBusy = signal(false);
  protected readonly count = signal(0);

  readonly #worker = new Worker(new URL('./import.worker', import.meta.url), { type: 'module' });
  readonly #reader = comlink.wrap<ImportReader>(this.#worker);

  constructor() {
    inject(DestroyRef).onDestroy(() => this.#worker.terminate());
    effect(() => {
      const file = this.given();
      if (file) untracked(() => void this.#open(file));
    });
    // what is read for another pack or type of module is judged anew
    effect(() => {
      this.target();
      untracked(() => void this.#readNow());
    });
  }

  protected choose(files: FileList | null): void {
    const file = files?.[0];
    if (file) void this.#open(file);
  }

  async #open(file: File): Promise<void> {
    this.#reset(file.name);
    this.isBusy.set(true);
    const bytes = new Uint8Array(await file.arrayBuffer());
    const opened = await this.#reader.open(comlink.transfer(bytes, [bytes.buffer]), this.target());
    this.isBusy.set(false);
    if (opened.kind === 'unreadable') {
      this.reason.set(opened.reason);
      return;
    }
    this.opened.set(opened);
    this.columns.set(opened.shape.columns);
    await this.#readNow();
  }

  protected async mapColumn(index: number, key: string): Promise<void> {
    this.columns.update((all) => all.map((c) => (c.index === index ? { ...c, key: key === '' ? null : key } : c)));
    await this.#readNow();
  }

  protected unitOf({ unit }: Column, usual: string): string {
    return unit === null ? usual : writeUnit(unit);
  }

  protected where(fault: TableFault): string {
    return fault.row === 0 ? 'Whole table' : `Row ${fault.row}, column ${fault.column}${fault.heading ? ` (${fault.heading})` : ''}`;
  }

  async #readNow(): Promise<void> {
    const opened = this.opened();
    if (!opened) return;
    const table = await this.#reader.read({ headingRow: opened.shape.headingRow, columns: [...this.columns()] }, this.target());
    this.faults.set(table.kind === 'faulty' ? table.faults : []);
    this.count.set(table.kind === 'faulty' ? 0 : 'readings' in table ? table.readings.length : table.modules.length);
    this.read.emit(table.kind === 'faulty' ? null : { fileName: this.fileName(), table });
  }

  #reset(fileName: string): void {
    this.fileName.set(fileName.slice(0, 120));
    this.opened.set(null);
    this.faults.set([]);
    this.reason.set(null);
    this.count.set(0);
    this.read.emit(null);
  }
}

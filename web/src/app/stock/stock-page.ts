import { ScrollingModule } from '@angular/cdk/scrolling';
import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { type StockAnswer, stockAnswerSchema, type StockRow } from '@estuarine/contract';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { debounceTime, filter, merge } from 'rxjs';
import { TableDrop } from '../import/table-drop.ts';
import { KnownAnswers } from '../transport/known-answers.ts';
import { Link } from '../transport/link.ts';
import { selectByLabel } from '../labels/select-by-label.ts';
import { Notice } from '../ui/notice.ts';
import { filterStock, sortStock, whereIs, type SortKey, type StockFilter } from './stock-list.ts';
import { ShopDesk } from './shop-desk.ts';
import { StockImport } from './stock-import.ts';

const PATH = '/api/stock';
export const ROW_HEIGHT = 48;

/** Every module known to the shop. */
@Component({
  selector: 'app-stock-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ScrollingModule, NzButtonModule, Notice, StockImport, TableDrop],
  templateUrl: './stock-page.html',
  styleUrl: './stock-page.less',
})
export class StockPage {
  readonly #known = inject(KnownAnswers);
  readonly #desk = inject(ShopDesk);

  protected readonly rowHeight = ROW_HEIGHT;
  protected readonly stock = signal<StockAnswer | null>(null);
  protected readonly isStale = signal(false);
  protected readonly fault = signal<string | null>(null);
  protected readonly isImporting = signal(false);
  /** A table that was dropped or pasted, for the import; null: one is chosen there. */
  protected readonly given = signal<File | null>(null);
  protected readonly filter = signal<StockFilter>({ text: '', standing: 'shelf', minCapacityAh: null });
  protected readonly sort = signal<{ readonly key: SortKey; readonly isDown: boolean }>({ key: 'moduleId', isDown: false });
  protected readonly columns: readonly { key: SortKey; name: string }[] = [
    { key: 'moduleId', name: 'Module' },
    { key: 'capacityAh', name: 'Capacity, Ah' },
    { key: 'resistanceMilliohm', name: 'Resistance, mΩ' },
    { key: 'restDropMillivolt', name: 'Rest drop, mV' },
    { key: 'ocvVolt', name: 'Voltage, V' },
    { key: 'where', name: 'Where' },
  ];

  protected readonly chemistryOf = computed(
    () => new Map((this.stock()?.types ?? []).map((t) => [t.id, t.chemistry === 'nimh' ? 'NiMH' : 'Li-ion'])),
  );
  protected readonly shown = computed(() =>
    sortStock(filterStock(this.stock()?.rows ?? [], this.filter()), this.sort().key, this.sort().isDown),
  );
  protected readonly where = whereIs;

  /** The list on its way; a press rests on what comes of it, so that nobody's own last act stands in the way of the next. */
  #loaded: Promise<void> = Promise.resolve();

  constructor() {
    void this.load();
    selectByLabel((moduleId) => {
      const has = this.stock()?.rows.some((r) => r.moduleId === moduleId) ?? false;
      if (has) this.setFilter({ text: moduleId, standing: 'all', minCapacityAh: null });
      return has;
    });
    const link = inject(Link);
    merge(link.events$.pipe(filter((e) => e.stream === 'shop' || ('event' in e && /^(plan\.|job\.)/.test(e.event.type)))), link.behind$)
      .pipe(debounceTime(200), takeUntilDestroyed(inject(DestroyRef)))
      .subscribe(() => void this.load());
  }

  protected bringIn(table: File | null): void {
    this.given.set(table);
    this.isImporting.set(true);
  }

  protected load(): Promise<void> {
    return (this.#loaded = this.#load());
  }

  async #load(): Promise<void> {
    const known = await this.#known.ask(PATH, stockAnswerSchema);
    this.isStale.set(known.kind !== 'fresh');
    if (known.value && (known.kind === 'fresh' || !this.stock())) this.stock.set(known.value);
  }

  protected setFilter(change: Partial<StockFilter>): void {
    this.filter.update((f) => ({ ...f, ...change }));
  }

  protected setMinimum(text: string): void {
    const value = Number(text.replace(',', '.'));
    this.setFilter({ minCapacityAh: text.trim() === '' || !Number.isFinite(value) ? null : value });
  }

  protected sortBy(key: SortKey): void {
    this.sort.update((s) => ({ key, isDown: s.key === key ? !s.isDown : false }));
  }

  protected sortState(key: SortKey): 'ascending' | 'descending' | 'none' {
    const { key: by, isDown } = this.sort();
    return by !== key ? 'none' : isDown ? 'descending' : 'ascending';
  }

  protected identify(_index: number, row: StockRow): string {
    return row.moduleId;
  }

  protected async quarantine(row: StockRow): Promise<void> {
    const { moduleId } = row;
    const act =
      row.quarantine === null
        ? ({ type: 'module.quarantined', body: { moduleId, reason: 'Set aside by hand.' } } as const)
        : ({ type: 'module.released', body: { moduleId } } as const);
    await this.#loaded;
    this.fault.set(await this.#desk.act(act, this.stock()?.position));
    await this.load();
  }
}

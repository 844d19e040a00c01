import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, output, signal } from '@angular/core';
import type { ModuleType, StockModule } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { NzModalModule } from 'ng-zorro-antd/modal';
import { ImportTable, type TableRead } from '../import/import-table.ts';
import type { ImportTarget } from '../import/import.worker.ts';
import { ShopDesk } from './shop-desk.ts';

/** Modules from a file onto the shelf, all or nothing. A label that is known already gets the new figures. */
@Component({
  selector: 'app-stock-import',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzModalModule, NzButtonModule, ImportTable],
  template: `
    <nz-modal [nzVisible]="true" nzTitle="Import modules onto the shelf" [nzWidth]="820" (nzOnCancel)="closed.emit()" [nzFooter]="foot">
      <ng-container *nzModalContent>
        <label class="field">
          <span>All modules of the file are of this type</span>
          <select #choice class="plain" (change)="typeId.set(choice.value)">
            @for (type of types(); track type.id) {
              <option [value]="type.id">{{ type.name }}</option>
            }
          </select>
        </label>
        <app-import-table [target]="target()" (read)="take($event)" />
        @if (fault()) {
          <p role="alert">{{ fault() }}</p>
        }
      </ng-container>
      <ng-template #foot>
        <button nz-button type="button" (click)="closed.emit()">Close</button>
        <button nz-button nzType="primary" type="button" [disabled]="!modules() || isBusy()" (click)="keep()">Import</button>
      </ng-template>
    </nz-modal>
  `,
})
export class StockImport {
  readonly types = input.required<readonly ModuleType[]>();
  readonly closed = output();

  readonly #desk = inject(ShopDesk);
  protected readonly typeId = linkedSignal(() => this.types()[0]?.id ?? '');
  protected readonly target = computed((): ImportTarget => ({ kind: 'stock', typeId: this.typeId() }));
  protected readonly modules = signal<readonly StockModule[] | null>(null);
  protected readonly isBusy = signal(false);
  protected readonly fault = signal<string | null>(null);
  #fileName = '';

  protected take(read: { readonly fileName: string; readonly table: TableRead } | null): void {
    this.#fileName = read?.fileName ?? '';
    this.modules.set(read && 'modules' in read.table ? read.table.modules : null);
  }

  protected async keep(): Promise<void> {
    const modules = this.modules();
    if (!modules) return;
    this.isBusy.set(true);
    const typed = modules.map((m) => ({ ...m, typeId: this.typeId() }));
    const fault = await this.#desk.act({ type: 'stock.imported', body: { fileName: this.#fileName, modules: typed } });
    this.isBusy.set(false);
    this.fault.set(fault);
    if (fault === null) this.closed.emit();
  }
}

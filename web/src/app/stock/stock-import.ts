import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, output, signal } from '@angular/core';
import { scaleStock, type ModuleType, type StockFile, type StockModule } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { NzModalModule } from 'ng-zorro-antd/modal';
import { ImportTable, type TableRead } from '../import/import-table.ts';
import type { ImportTarget } from '../import/import.worker.ts';
import { UnitQuestions } from '../import/unit-questions.ts';
import { ChoiceField } from '../ui/choice-field.ts';
import { ShopDesk } from './shop-desk.ts';

type StockRead = Extract<StockFile, { kind: 'read' }>;
type StockQuestion = StockRead['questions'][number];

/** Modules from a file onto the shelf, all or nothing. A label that is known already gets the new figures. */
@Component({
  selector: 'app-stock-import',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzModalModule, NzButtonModule, ImportTable, UnitQuestions, ChoiceField],
  template: `
    <nz-modal [nzVisible]="true" nzTitle="Import modules onto the shelf" [nzWidth]="820" (nzOnCancel)="closed.emit()" [nzFooter]="foot">
      <ng-container *nzModalContent>
        <app-choice-field label="All modules of the file are of this type" [choices]="choices()" [(value)]="typeId" />
        @if (target(); as target) {
          <app-import-table class="below" [target]="target" [given]="given()" (read)="take($event)" />
        }
        <app-unit-questions [questions]="questions()" (scaled)="scale($event)" (left)="leave($event)" />
        @if (fault()) {
          <p role="alert">{{ fault() }}</p>
        }
      </ng-container>
      <ng-template #foot>
        <button nz-button type="button" (click)="closed.emit()">Close</button>
        <button nz-button nzType="primary" type="button" [disabled]="!modules() || questions().length > 0 || isBusy()" (click)="keep()">
          Import
        </button>
      </ng-template>
    </nz-modal>
  `,
  styles: `
    .below {
      display: block;
      margin-top: 12px;
    }
  `,
})
export class StockImport {
  readonly types = input.required<readonly ModuleType[]>();
  /** A table that was dropped or pasted. */
  readonly given = input<File | null>(null);
  readonly closed = output();

  readonly #desk = inject(ShopDesk);
  protected readonly typeId = linkedSignal(() => this.types()[0]?.id ?? '');
  protected readonly choices = computed(() => this.types().map(({ id, name }) => ({ value: id, name })));
  protected readonly target = computed((): ImportTarget | null => {
    const type = this.types().find((t) => t.id === this.typeId());
    return type ? { kind: 'stock', type } : null;
  });
  protected readonly modules = signal<readonly StockModule[] | null>(null);
  protected readonly questions = signal<StockRead['questions']>([]);
  protected readonly isBusy = signal(false);
  protected readonly fault = signal<string | null>(null);
  #fileName = '';

  protected take(read: { readonly fileName: string; readonly table: TableRead } | null): void {
    this.#fileName = read?.fileName ?? '';
    const table = read && 'modules' in read.table ? read.table : null;
    this.modules.set(table?.modules ?? null);
    this.questions.set(table?.questions ?? []);
  }

  protected scale(question: StockQuestion): void {
    this.modules.update((all) => all && scaleStock(all, question));
    this.leave(question);
  }

  protected leave(question: StockQuestion): void {
    this.questions.update((all) => all.filter((q) => q !== question));
  }

  protected async keep(): Promise<void> {
    const modules = this.modules();
    if (!modules) return;
    this.isBusy.set(true);
    const fault = await this.#desk.act({ type: 'stock.imported', body: { fileName: this.#fileName, modules: [...modules] } });
    this.isBusy.set(false);
    this.fault.set(fault);
    if (fault === null) this.closed.emit();
  }
}

import { CdkDropList, type CdkDragDrop } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { findMixedCells, spotName, trayCells, type Balance, type PartBalance } from '@estuarine/core';

/** The tray as it lies on the bench: what each cell holds. A cell takes what is dragged to it, or is picked by a tap. */
@Component({
  selector: 'app-tray-map',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CdkDropList],
  template: `
    <h3>Tray</h3>
    <div class="tray" role="group" aria-label="Tray, laid out like the vehicle, front to the left">
      @for (cell of cells(); track cell.name) {
        <button
          type="button"
          cdkDropList
          [cdkDropListData]="cell.name"
          [class.is-picked]="cell.name === picked()"
          [class.is-mixed]="cell.isMixed"
          [attr.aria-label]="cell.label"
          [attr.aria-pressed]="cell.name === picked()"
          (cdkDropListDropped)="dropped.emit({ cell: cell.name, part: take($event) })"
          (click)="pick.emit(cell.name)"
        >
          <span class="name figure">{{ cell.name }}</span>
          @for (lot of cell.lots; track lot.id) {
            <span class="lot"
              ><b class="figure">{{ lot.count }}</b> {{ lot.name }}</span
            >
          }
        </button>
      }
    </div>
    @for (mixed of mixedCells(); track mixed.cell) {
      <p class="warning" role="status">
        {{ mixed.cell }} holds {{ mixed.names[0] }} and {{ mixed.names[1] }}: one size, two parts. Lay one of them elsewhere.
      </p>
    }
    @if (others().length > 0) {
      <h3>Elsewhere</h3>
      <ul>
        @for (lot of others(); track lot.id) {
          <li>
            <b class="figure">{{ lot.count }}</b> {{ lot.name }} <span class="muted">{{ lot.spot }}</span>
          </li>
        }
      </ul>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 10px;
      align-content: start;
    }
    .tray {
      display: grid;
      grid-template-columns: repeat(8, minmax(0, 1fr));
      gap: 2px;
      padding: 2px;
      background: var(--sand);
      border: 1px solid var(--edge);
      border-radius: 6px;
    }
    button {
      display: grid;
      gap: 1px;
      align-content: start;
      min-width: 0;
      min-height: 58px;
      padding: 2px 3px;
      font: inherit;
      font-size: 11.5px;
      line-height: 1.15;
      text-align: left;
      color: var(--ink);
      background: var(--paper);
      border: 1.5px solid var(--line);
      border-radius: 3px;
      cursor: pointer;
      overflow: hidden;
    }
    .name {
      color: var(--fog);
    }
    .lot {
      overflow-wrap: anywhere;
    }
    .is-picked {
      border-color: var(--channel);
      background: var(--tide-wash);
    }
    .is-mixed {
      border-color: var(--sedge);
      border-style: dashed;
    }
    .cdk-drop-list-receiving,
    .cdk-drop-list-dragging {
      border-color: var(--tide);
    }
    .warning {
      padding-left: 10px;
      font-size: 15px;
      border-left: 4px solid var(--sedge);
    }
    ul {
      display: grid;
      gap: 4px;
      margin: 0;
      padding: 0;
      list-style: none;
      font-size: 15px;
    }
  `,
})
export class TrayMap {
  readonly balance = input.required<Balance>();
  readonly picked = input<string | null>(null);
  readonly pick = output<string>();
  readonly dropped = output<{ readonly cell: string; readonly part: PartBalance }>();

  protected readonly mixedCells = computed(() => findMixedCells(this.balance()));
  protected readonly cells = computed(() => {
    const mixed = new Set(this.mixedCells().map((m) => m.cell));
    return trayCells().map((name) => {
      const lots = this.balance().parts.flatMap(({ part, lots: all }) =>
        all
          .filter((l) => l.spot.kind === 'tray' && l.spot.cell === name && l.count > 0)
          .map((l) => ({ id: `${part.id}/${l.condition}`, name: part.name, count: l.count })),
      );
      const held = lots.length === 0 ? 'empty' : lots.map((l) => `${l.count} ${l.name}`).join(', ');
      return { name, lots, isMixed: mixed.has(name), label: `Cell ${name}, ${held}` };
    });
  });
  protected readonly others = computed(() =>
    this.balance().parts.flatMap(({ part, lots }) =>
      lots
        .filter((l) => l.spot.kind !== 'tray' && l.count !== 0)
        .map((l) => ({
          id: `${part.id}/${JSON.stringify(l.spot)}/${l.condition}`,
          name: part.name,
          count: l.count,
          spot: spotName(l.spot),
        })),
    ),
  );

  protected take(event: CdkDragDrop<string, unknown, PartBalance>): PartBalance {
    return event.item.data;
  }
}

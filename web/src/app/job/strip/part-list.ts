import { CdkDrag, CdkDropList } from '@angular/cdk/drag-drop';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
  inject,
  input,
  linkedSignal,
  model,
  output,
  signal,
} from '@angular/core';
import {
  findTakenCells,
  countInPlace,
  listStillIn,
  listTakenTogether,
  suggestCell,
  takeOffWhole,
  type ActBody,
  type Balance,
  type Hint,
  type PlaceView,
  type Profile,
  type Stage,
} from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { PartCard, type LeaveOff, type Move } from './part-card.ts';
import { PartAdd } from './part-add.ts';
import { PartSweep } from './part-sweep.ts';

/** The groups of one zone or layer, each taken off by a press or dragged to the tray; what the profile does not know is added here. */
@Component({
  selector: 'app-part-list',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CdkDrag, CdkDropList, NzButtonModule, PartAdd, PartCard, PartSweep],
  template: `
    @for (hint of placeHints(); track hint.text) {
      <p class="hint" role="note">
        {{ hint.text }} <span class="muted">From job {{ hint.jobs.join(', ') }}.</span>
      </p>
    }
    @if (isSweeping()) {
      <app-part-sweep [parts]="place().parts" [isLayer]="isLayer()" (taken)="takeWhole($event)" (closed)="isSweeping.set(false)" />
    } @else if (together().length > 1) {
      <div class="row">
        <button nz-button nzType="primary" type="button" class="whole" data-main (click)="takeWhole(allTogether())">
          <b class="figure">{{ pieces() }}</b> {{ isLeftOver() ? 'of these off, as the profile says' : 'off, all as the profile says' }}
        </button>
        <button type="button" class="add" (click)="isSweeping.set(true)">All but some…</button>
      </div>
    }
    <div class="groups" cdkDropList [cdkDropListSortingDisabled]="true">
      @for (view of place().parts; track view.part.id) {
        <app-part-card
          cdkDrag
          [cdkDragData]="view"
          [cdkDragDisabled]="view.part.id === open()"
          [id]="'part-' + view.part.id"
          [view]="view"
          [isOpen]="view.part.id === open()"
          [cell]="view.part.id === open() ? (picked() ?? free()) : free()"
          [maySign]="maySign()"
          [isPackInCar]="isPackInCar()"
          (toggled)="open.set(view.part.id === open() ? null : view.part.id)"
          (moved)="move($event)"
          (leftOff)="leftOff.emit($event)"
        />
      } @empty {
        <p class="muted">The profile counts nothing here. What you find can be added.</p>
      }
    </div>
    @if (isAdding()) {
      <app-part-add [stage]="stage()" [place]="place().place.id" (added)="add($event)" (closed)="isAdding.set(false)" />
    } @else {
      <button type="button" class="add" (click)="isAdding.set(true)">Add a part that the profile does not know</button>
    }
  `,
  styles: `
    :host,
    .groups {
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      gap: 8px;
      align-content: start;
    }
    .hint {
      padding: 4px 10px;
      font-size: 15px;
      background: var(--sand);
      border-left: 4px solid var(--sedge);
    }
    .row {
      gap: 8px;
    }
    .whole .figure {
      font-size: 20px;
    }
    .add {
      justify-self: start;
      min-height: 44px;
      padding: 0 14px;
      font: inherit;
      color: var(--channel);
      background: none;
      border: 1.5px dashed var(--channel);
      border-radius: 3px;
      cursor: pointer;
    }
  `,
})
export class PartList {
  readonly place = input.required<PlaceView>();
  readonly balance = input.required<Balance>();
  readonly profile = input.required<Profile>();
  readonly stage = input.required<Stage>();
  readonly hints = input<readonly Hint[]>([]);
  readonly maySign = input(false);
  readonly isPackInCar = input(true);
  /** Cell that was picked by hand in the tray. */
  readonly picked = input<string | null>(null);
  readonly open = model<string | null>(null);

  readonly moved = output<Move>();
  readonly leftOff = output<LeaveOff>();
  readonly added = output<ActBody<'part.added'>>();
  /** The last piece came off by what was pressed here. */
  readonly cleared = output();

  readonly #host = inject<ElementRef<HTMLElement>>(ElementRef);
  readonly #placeId = computed(() => this.place().place.id);

  protected readonly isAdding = signal(false);
  protected readonly isSweeping = linkedSignal<string, boolean>({ source: this.#placeId, computation: () => false });
  protected readonly isLayer = computed(() => this.profile().layers.some((l) => l.id === this.#placeId()));
  /** The groups that one press takes off. */
  protected readonly together = computed(() => listTakenTogether(this.place().parts, this.isLayer()));
  protected readonly allTogether = computed(() => new Set(this.together().map((v) => v.part.id)));
  protected readonly pieces = computed(() => this.together().reduce((sum, v) => sum + (countInPlace(v) ?? 0), 0));
  /** Some are taken by themselves, and stay. */
  protected readonly isLeftOver = computed(() => listStillIn(this.place().parts).length > this.together().length);
  /** Pieces of the place that is shown came off by what was pressed here. */
  #isMoving = false;
  protected readonly placeHints = computed(() => this.hints().filter((h) => h.place === this.place().place.id));
  /** The free cell that lies as this place lies. */
  protected readonly free = computed(() => {
    const { zones, layers } = this.profile();
    return suggestCell(this.place().place.id, zones, layers, findTakenCells(this.balance()));
  });

  constructor() {
    // done with by what was pressed here: on to the next place; whoever comes back to look stays
    let shown = '';
    effect(() => {
      const [id, { isClear }] = [this.#placeId(), this.place()];
      if (id !== shown) this.#isMoving = false;
      shown = id;
      if (!isClear || !this.#isMoving) return;
      this.#isMoving = false;
      this.cleared.emit();
    });
  }

  /** The next group has the focus: one key a group. */
  protected move(move: Move): void {
    if (move.from.kind === 'inPlace') this.#isMoving = true;
    this.moved.emit(move);
    if (move.from.kind === 'inPlace') setTimeout(() => this.#focusNext(move.partId));
  }

  protected takeWhole(chosen: ReadonlySet<string>): void {
    const { zones, layers } = this.profile();
    this.#isMoving = true;
    for (const move of takeOffWhole(this.place().parts, chosen, { zones, layers, taken: findTakenCells(this.balance()) }))
      this.moved.emit(move);
    this.isSweeping.set(false);
    setTimeout(() => this.#focusNext(null));
  }

  #focusNext(partId: string | null): void {
    const cards = [...this.#host.nativeElement.querySelectorAll('app-part-card')];
    const at = cards.findIndex((c) => c.id === `part-${partId}`);
    const after = [...cards.slice(at + 1), ...cards.slice(0, Math.max(0, at))];
    const next = after.map((c) => c.querySelector<HTMLElement>('.quick:not(.is-back)')).find((b) => b !== null);
    // the place is done with: on to the one that follows
    (next ?? document.querySelector<HTMLElement>('[data-next-place]'))?.focus();
  }

  protected add(part: ActBody<'part.added'>): void {
    this.isAdding.set(false);
    this.added.emit(part);
  }
}

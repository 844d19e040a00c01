import { CdkDrag, CdkDropList } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, computed, input, model, output, signal } from '@angular/core';
import { suggestCell, type ActBody, type Balance, type Hint, type PlaceView, type Profile, type Stage } from '@estuarine/core';
import { PartCard, type LeaveOff, type Move } from './part-card.ts';
import { PartAdd } from './part-add.ts';

/** The groups of one zone or layer, each taken off by a press or dragged to the tray; what the profile does not know is added here. */
@Component({
  selector: 'app-part-list',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CdkDrag, CdkDropList, PartAdd, PartCard],
  template: `
    @for (hint of placeHints(); track hint.text) {
      <p class="hint" role="note">
        {{ hint.text }} <span class="muted">From job {{ hint.jobs.join(', ') }}.</span>
      </p>
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
          (toggled)="open.set(view.part.id === open() ? null : view.part.id)"
          (moved)="moved.emit($event)"
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
  /** Cell that was picked by hand in the tray. */
  readonly picked = input<string | null>(null);
  readonly open = model<string | null>(null);

  readonly moved = output<Move>();
  readonly leftOff = output<LeaveOff>();
  readonly added = output<ActBody<'part.added'>>();

  protected readonly isAdding = signal(false);
  protected readonly placeHints = computed(() => this.hints().filter((h) => h.place === this.place().place.id));
  /** The free cell that lies as this place lies. */
  protected readonly free = computed(() => {
    const taken = new Set<string>();
    for (const { lots } of this.balance().parts)
      for (const { spot, count } of lots) if (spot.kind === 'tray' && count > 0) taken.add(spot.cell);
    const { zones, layers } = this.profile();
    return suggestCell(this.place().place.id, zones, layers, taken);
  });

  protected add(part: ActBody<'part.added'>): void {
    this.isAdding.set(false);
    this.added.emit(part);
  }
}

import { ChangeDetectionStrategy, Component, computed, input, linkedSignal, output, untracked } from '@angular/core';
import { countInPlace, listStillIn, listTakenTogether, type PartBalance } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';

/** All groups of a place, ticked as the profile counts them: what is otherwise is unticked, one by one or in one sweep of the finger. */
@Component({
  selector: 'app-part-sweep',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzButtonModule],
  template: `
    <ul (pointerdown)="begin($event)" (pointermove)="sweep($event)" (pointerup)="end()" (pointercancel)="end()">
      @for (row of rows(); track row.id) {
        <li>
          <label [attr.data-part]="row.id" [class.is-alone]="!row.canJoin">
            <input type="checkbox" [checked]="row.isTicked" [disabled]="!row.canJoin" (change)="toggle(row.id)" />
            <span>
              <b class="figure">{{ row.count ?? '?' }}</b> {{ row.name }}
              @if (row.why) {
                <small>{{ row.why }}</small>
              }
            </span>
          </label>
        </li>
      }
    </ul>
    <div class="row">
      <button nz-button nzType="primary" type="button" [disabled]="pieces() === 0" (click)="taken.emit(ticked())">
        {{ pieces() }} pieces off, as the profile says
      </button>
      <button nz-button type="button" (click)="closed.emit()">Not all at once</button>
    </div>
  `,
  styles: `
    :host {
      display: grid;
      gap: 10px;
      padding: 10px 12px 12px;
      background: var(--shell);
      border: 1.5px solid var(--channel);
      border-radius: 3px;
    }
    ul {
      display: grid;
      margin: 0;
      padding: 0;
      list-style: none;
    }
    label {
      display: flex;
      gap: 12px;
      align-items: center;
      min-height: 44px;
      border-bottom: 1px solid var(--line);
      cursor: pointer;
    }
    input {
      width: 26px;
      height: 26px;
      touch-action: none;
    }
    small {
      display: block;
      font-size: 14px;
      color: var(--sedge);
    }
    .is-alone {
      color: var(--fog);
      cursor: default;
    }
  `,
})
export class PartSweep {
  readonly parts = input.required<readonly PartBalance[]>();
  /** A layer comes off with what it bares. */
  readonly isLayer = input(false);

  /** Ids of the groups that came off in full. */
  readonly taken = output<ReadonlySet<string>>();
  readonly closed = output();

  readonly #inside = computed(() => listStillIn(this.parts()));
  readonly #together = computed(() => new Set(listTakenTogether(this.parts(), this.isLayer()).map((v) => v.part.id)));
  /** By value: what comes in meanwhile of other groups unticks and ticks nothing here. */
  readonly #joining = computed(() => [...this.#together()].join());
  protected readonly ticked = linkedSignal<string, ReadonlySet<string>>({
    source: this.#joining,
    computation: () => untracked(() => this.#together()),
  });
  protected readonly rows = computed(() =>
    this.#inside().map((view) => {
      const { id, name, caution } = view.part;
      const canJoin = this.#together().has(id);
      return {
        ...{ id, name, canJoin, count: countInPlace(view), isTicked: this.ticked().has(id) },
        why: [caution, canJoin ? '' : 'Taken by itself, in its turn.'].filter((t) => t !== '').join(' '),
      };
    }),
  );
  protected readonly pieces = computed(() => this.rows().reduce((sum, r) => sum + (r.isTicked ? (r.count ?? 0) : 0), 0));

  /** While a finger sweeps: whether it ticks or unticks, and what it has met already. */
  #stroke: { readonly ticks: boolean; readonly first: string; hasMoved: boolean } | null = null;

  protected toggle(id: string): void {
    this.#set(id, !this.ticked().has(id));
  }

  protected begin(event: PointerEvent): void {
    const id = (event.target as HTMLElement).tagName === 'INPUT' ? idAt(event) : null;
    this.#stroke = id === null ? null : { ticks: !this.ticked().has(id), first: id, hasMoved: false };
  }

  protected sweep(event: PointerEvent): void {
    const [stroke, id] = [this.#stroke, idAt(event)];
    if (!stroke || id === null || (id === stroke.first && !stroke.hasMoved)) return;
    // the first is set by the sweep too: a press that moved away is no press of its own
    if (!stroke.hasMoved) this.#set(stroke.first, stroke.ticks);
    stroke.hasMoved = true;
    this.#set(id, stroke.ticks);
  }

  protected end(): void {
    this.#stroke = null;
  }

  #set(id: string, isTicked: boolean): void {
    if (!this.rows().some((r) => r.id === id && r.canJoin)) return;
    const ticked = new Set(this.ticked());
    if (isTicked) ticked.add(id);
    else ticked.delete(id);
    this.ticked.set(ticked);
  }
}

/** The group whose row lies under the finger. */
function idAt({ clientX, clientY }: PointerEvent): string | null {
  return document.elementFromPoint(clientX, clientY)?.closest<HTMLElement>('[data-part]')?.dataset.part ?? null;
}

import { ChangeDetectionStrategy, Component, ElementRef, inject, input, output } from '@angular/core';
import { MARK_PATHS, type Verdict } from '@estuarine/core';
import { MARK_COLOURS } from './verdict-mark.ts';

/** What the strip shows of one place, place 1 first. */
export interface StripPlace {
  readonly place: number;
  readonly verdict: Verdict | null;
  readonly text: string;
}

const HEIGHT = 48;

/** The whole pack in one low row, to be seen beside the entry on a phone: each place with its verdict; a tap picks the nearest. */
@Component({
  selector: 'app-pack-strip',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg [attr.viewBox]="'0 0 ' + 100 * places().length + ' 400'" preserveAspectRatio="none" role="img" [attr.aria-label]="label()">
      @for (view of places(); track view.place; let i = $index) {
        <rect [class.is-selected]="view.place === selected()" [attr.x]="100 * i + 6" y="20" width="88" height="360" />
      }
    </svg>
    <span class="marks" aria-hidden="true">
      @for (view of places(); track view.place) {
        <svg class="mark" viewBox="-8 -8 16 16">
          @if (view.text !== '' || view.verdict === 'reject') {
            <path [attr.d]="marks[view.verdict ?? 'unknown']" fill-rule="evenodd" [style.fill]="colours[view.verdict ?? 'unknown']" />
          }
        </svg>
      }
    </span>
  `,
  styles: `
    :host {
      position: relative;
      display: block;
      height: ${HEIGHT}px;
      touch-action: manipulation;
      cursor: pointer;
    }
    svg {
      display: block;
      width: 100%;
      height: 100%;
    }
    rect {
      fill: var(--sand);
      stroke: var(--edge);
      stroke-width: 1;
      vector-effect: non-scaling-stroke;
    }
    rect.is-selected {
      fill: var(--paper);
      stroke: var(--channel);
      stroke-width: 3;
    }
    .marks {
      position: absolute;
      inset: 0;
      display: flex;
      align-items: center;
      pointer-events: none;
    }
    .mark {
      flex: 1 1 0;
      min-width: 0;
      height: 12px;
    }
  `,
  host: { '(pointerup)': 'onPointer($event)' },
})
export class PackStrip {
  readonly places = input.required<readonly StripPlace[]>();
  readonly selected = input<number | null>(null);
  readonly label = input.required<string>();

  readonly pickPlace = output<number>();

  readonly #element = inject<ElementRef<HTMLElement>>(ElementRef);

  protected readonly marks = MARK_PATHS;
  protected readonly colours = MARK_COLOURS;

  protected onPointer(event: PointerEvent): void {
    const box = this.#element.nativeElement.getBoundingClientRect();
    const at = Math.floor(((event.clientX - box.left) / box.width) * this.places().length);
    const view = this.places()[Math.min(Math.max(at, 0), this.places().length - 1)];
    if (view) this.pickPlace.emit(view.place);
  }
}

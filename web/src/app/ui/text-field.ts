import {
  afterRenderEffect,
  booleanAttribute,
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  input,
  model,
  viewChild,
} from '@angular/core';

let drawn = 0;

/** A labelled text: one line, or more with `rows`. What is wrong with it stands below. */
@Component({
  selector: 'app-text-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '[class.wide]': 'isWide()' },
  template: `
    <label class="field" [class.wide]="isWide()" [attr.for]="id">
      <span>{{ label() }}</span>
      @if (rows() > 1) {
        <textarea
          #area
          #box
          [id]="id"
          class="plain"
          [attr.rows]="rows()"
          [attr.maxlength]="most()"
          (input)="value.set(area.value)"
        ></textarea>
      } @else {
        <input
          #line
          #box
          [id]="id"
          class="plain"
          autocomplete="off"
          [class.figure]="isFigure()"
          [attr.type]="kind()"
          [attr.inputmode]="mode()"
          [attr.maxlength]="most()"
          (input)="value.set(line.value)"
        />
      }
      @if (fault(); as reason) {
        <em role="alert">{{ reason }}</em>
      }
    </label>
  `,
  styles: `
    :host {
      display: contents;
    }
  `,
})
export class TextField {
  protected readonly id = `text-${++drawn}`;
  readonly label = input.required<string>();
  readonly value = model.required<string>();
  /** Longest text that is taken. */
  readonly most = input<number | null>(null);
  readonly rows = input(1);
  readonly kind = input<'text' | 'search' | 'password'>('text');
  /** Which keyboard a tablet shows. */
  readonly mode = input<'decimal' | 'numeric' | null>(null);
  readonly isFigure = input(false, { transform: booleanAttribute });
  readonly isWide = input(false, { transform: booleanAttribute });
  /** What is wrong; empty or left out where nothing is. */
  readonly fault = input<string | undefined>();

  private readonly box = viewChild<ElementRef<HTMLInputElement | HTMLTextAreaElement>>('box');

  constructor() {
    // a binding misses what is typed and emptied again before the screen is drawn: then the typed text would stay
    afterRenderEffect(() => {
      const [box, value] = [this.box()?.nativeElement, this.value()];
      if (box && box.value !== value) box.value = value;
    });
  }
}

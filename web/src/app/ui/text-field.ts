import { booleanAttribute, ChangeDetectionStrategy, Component, input, model } from '@angular/core';

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
          [id]="id"
          class="plain"
          [attr.rows]="rows()"
          [attr.maxlength]="most()"
          [value]="value()"
          (input)="value.set(area.value)"
        ></textarea>
      } @else {
        <input
          #line
          [id]="id"
          class="plain"
          autocomplete="off"
          [class.figure]="isFigure()"
          [attr.type]="kind()"
          [attr.inputmode]="mode()"
          [attr.maxlength]="most()"
          [value]="value()"
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
}

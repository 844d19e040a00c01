import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import type { Fact } from '@estuarine/core';
import type { FactRow } from './fact-rows.ts';

/** How one part stands, and what may be said of it next. */
@Component({
  selector: 'app-fact-choices',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <fieldset>
      <legend>{{ row().name }}</legend>
      <div class="choices">
        @for (choice of row().choices; track choice.label) {
          <button
            type="button"
            [class.is-current]="choice.isCurrent"
            [attr.aria-pressed]="choice.isCurrent"
            (click)="say.emit(choice.fact)"
          >
            {{ choice.label }}
          </button>
        }
      </div>
    </fieldset>
  `,
  styleUrl: './fact-choices.less',
})
export class FactChoices {
  readonly row = input.required<FactRow>();
  readonly say = output<Fact>();
}

import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';

/** Something that is looked at and told good or not. */
export interface YesNoRow<K extends string> {
  readonly check: K;
  readonly name: string;
  /** Null: nobody looked. */
  readonly isGood: boolean | null;
}

/** What is looked at, a row each, yes or no by one press. */
@Component({
  selector: 'app-yes-no-rows',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <ul [attr.aria-label]="label()">
      @for (row of rows(); track row.check) {
        <li>
          <span>{{ row.name }}</span>
          @for (way of [true, false]; track way) {
            <button
              type="button"
              [class.is-on]="row.isGood === way"
              [attr.aria-pressed]="row.isGood === way"
              [attr.aria-label]="row.name + (way ? ': yes' : ': no')"
              (click)="said.emit({ check: row.check, isGood: way })"
            >
              {{ way ? 'yes' : 'no' }}
            </button>
          }
        </li>
      }
    </ul>
  `,
  styles: `
    ul {
      display: grid;
      gap: 6px;
      margin: 0;
      padding: 0;
      list-style: none;
    }
    li {
      display: grid;
      grid-template-columns: minmax(0, 1fr) 64px 64px;
      gap: 6px;
      align-items: center;
    }
    button {
      min-height: 44px;
      font: inherit;
      color: var(--channel);
      background: none;
      border: 1.5px solid var(--channel);
      border-radius: 3px;
      cursor: pointer;
    }
    .is-on {
      color: var(--paper);
      background: var(--channel);
    }
  `,
})
export class YesNoRows<K extends string> {
  readonly label = input.required<string>();
  readonly rows = input.required<readonly YesNoRow<K>[]>();
  readonly said = output<{ readonly check: K; readonly isGood: boolean }>();
}

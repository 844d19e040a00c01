import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import type { Suggestion } from '@estuarine/core';

/** Which piece of gear is taken: the ones that cannot be are shown with the reason and cannot be picked. */
@Component({
  selector: 'app-gear-choice',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <fieldset>
      <legend>{{ title() }}</legend>
      @if (none(); as words) {
        <label><input type="radio" [name]="title()" [checked]="picked() === ''" (change)="pick.emit('')" /> {{ words }}</label>
      }
      @for (item of items(); track item.gear.gearId) {
        <label [class.is-refused]="item.refusal !== null">
          <input
            type="radio"
            [name]="title()"
            [checked]="picked() === item.gear.gearId"
            [disabled]="item.refusal !== null"
            (change)="pick.emit(item.gear.gearId)"
          />
          <b class="figure">{{ item.gear.label }}</b>
          @if (item.gear.kind === 'gloves') {
            <span>class {{ item.gear.gloveClass }}, size {{ item.gear.size }}</span>
          }
          <span class="muted">{{ item.refusal ?? 'good for ' + item.daysLeft + ' days' }}</span>
        </label>
      } @empty {
        @if (!none()) {
          <p>None is in the register.</p>
        }
      }
    </fieldset>
  `,
  styles: `
    fieldset {
      display: grid;
      margin: 0;
      padding: 0;
      border: 0;
    }
    legend {
      padding: 0;
      font-size: 16px;
      font-weight: 650;
    }
    label {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 10px;
      align-items: center;
      min-height: 44px;
    }
    input {
      width: 22px;
      height: 22px;
    }
    .is-refused {
      color: var(--fog);
    }
    .is-refused b {
      text-decoration: line-through;
    }
  `,
})
export class GearChoice {
  readonly title = input.required<string>();
  readonly items = input.required<readonly Suggestion[]>();
  /** Id of the piece that is picked; empty for none. */
  readonly picked = input.required<string>();
  /** What picking no gear means, where that is a choice. */
  readonly none = input<string | null>(null);

  readonly pick = output<string>();
}

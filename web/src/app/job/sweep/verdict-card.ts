import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { FIGURES, type ModuleRecord, type SweepFigure, type VerdictReason } from '@estuarine/core';
import { VerdictMark, VERDICT_WORDS } from '../../ui/verdict-mark.ts';
import { FIGURE_NAMES, quantityLabel } from './sweep-walk.ts';

const RULE_WORDS: Record<VerdictReason['rule'], string> = {
  crowd: 'against the others',
  otherSide: 'against the others',
  deadCell: 'a dead cell',
  hardLimit: 'limit of the shop',
};

/** The verdict on one module: its reasons in sentences, the numbers behind them, and what speaks against the readings. */
@Component({
  selector: 'app-verdict-card',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [VerdictMark],
  template: `
    <div class="card" [class]="record().verdict">
      <p>
        <app-verdict-mark [mark]="record().verdict" /> <b>Module {{ record().place }}: {{ words[record().verdict] }}.</b>
        @if (record().reasons.length === 0) {
          {{ isRead() ? 'Not enough readings yet.' : 'Not looked at.' }}
        }
      </p>
      @for (reason of record().reasons; track $index) {
        <p>{{ reason.sentence }}</p>
      }
      @for (note of record().notes; track $index) {
        <p>{{ note.sentence }}</p>
      }
      @for (doubt of record().doubts; track $index) {
        <p class="doubt">{{ doubt.sentence }}</p>
      }
      @for (two of record().two; track two.quantity) {
        <p class="doubt">Two readings, {{ label(two.quantity).name }}:</p>
        @for (reading of two.readings; track reading.commandId) {
          <button type="button" (click)="choose.emit({ sweepId: two.sweepId, quantity: two.quantity, commandId: reading.commandId })">
            Count {{ reading.value }} {{ label(two.quantity).unit }} by {{ reading.by.toUpperCase() }}
          </button>
        }
      }
      @if (record().restDropPerHour; as perHour) {
        <p class="muted figure">{{ perHour.toFixed(2) }} mV an hour at rest</p>
      }
      <details>
        <summary>Numbers behind it</summary>
        <table class="sheet">
          <tbody>
            @for (reason of record().reasons; track $index) {
              <tr>
                <th scope="row">{{ figures[reason.figure] }}, {{ rules[reason.rule] }}</th>
                <td class="num">
                  {{ reason.value.toFixed(3) }} {{ reason.unit }}
                  @if (reason.median !== null) {
                    · median {{ reason.median.toFixed(3) }}
                  }
                  @if (reason.modifiedZ !== null) {
                    · z {{ reason.modifiedZ.toFixed(1) }}
                  }
                  · limit {{ reason.limit }}
                </td>
              </tr>
            }
          </tbody>
        </table>
        @if (blank().length > 0) {
          <p class="muted">Not looked at: {{ blank().join(', ') }}.</p>
        }
      </details>
    </div>
  `,
  styles: `
    .card {
      display: grid;
      gap: 4px;
      padding: 6px 0 6px 12px;
      font-size: 15px;
      border-left: 4px solid var(--edge);
    }
    .reject {
      border-color: var(--madder);
    }
    .watch {
      border-color: var(--sedge);
    }
    .keep {
      border-color: var(--reed);
    }
    .doubt {
      color: var(--sedge);
      font-weight: 600;
    }
    button {
      min-height: 44px;
      font: inherit;
      color: var(--channel);
      background: none;
      border: 1.5px solid var(--channel);
      border-radius: 3px;
    }
    summary {
      min-height: 44px;
      color: var(--channel);
      cursor: pointer;
    }
  `,
})
export class VerdictCard {
  readonly record = input.required<ModuleRecord>();
  readonly choose = output<{ sweepId: string; quantity: SweepFigure; commandId: string }>();

  protected readonly isRead = computed(() => Object.keys(this.record().figures).length > 0);
  /** Figures that nobody took of this module: neither good nor bad. */
  protected readonly blank = computed(() =>
    FIGURES.filter((f) => this.record().figures[f] === undefined).map((f) => FIGURE_NAMES[f].toLowerCase()),
  );

  protected readonly words = VERDICT_WORDS;
  protected readonly figures = FIGURE_NAMES;
  protected readonly rules = RULE_WORDS;
  protected readonly label = quantityLabel;
}

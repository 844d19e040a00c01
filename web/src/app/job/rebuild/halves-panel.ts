import { ChangeDetectionStrategy, Component, inject, input, signal } from '@angular/core';
import { readDecimal, type HalfView } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../transport/job-log.ts';
import { TextField } from '../../ui/text-field.ts';

/** Each run that the plug leaves, between its own ends, against the sum of its modules. */
@Component({
  selector: 'app-halves-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzButtonModule, TextField],
  template: `
    @for (half of halves(); track half.from) {
      <form (submit)="$event.preventDefault(); keep(half)">
        <p>
          From minus of <b class="figure">{{ half.from }}</b> to plus of <b class="figure">{{ half.to }}</b>: the modules sum to
          <b class="figure">{{ half.sumVolt.toFixed(1) }} V</b>
          @if (half.assumed.length > 0) {
            &ngsp;<span class="muted">({{ half.assumed.length }} not read: taken like the others)</span>
          }
        </p>
        <div class="row">
          <app-text-field
            [label]="'Measured ' + half.from + ' to ' + half.to + ', V'"
            isFigure
            mode="decimal"
            [fault]="faults()[half.from] ?? ''"
            [value]="texts()[half.from] ?? ''"
            (valueChange)="set(half.from, $event)"
          />
          <button nz-button nzType="primary" type="submit">Keep</button>
        </div>
        @if (half.measured; as measured) {
          <p role="status" class="answer" [class.is-bad]="!measured.agrees">
            <b class="figure">{{ measured.volt.toFixed(1) }} V</b>, {{ measured.differenceVolt.toFixed(1) }} V off the sum, ±
            {{ measured.allowedVolt.toFixed(1) }} V by two meters of half a percent.
            {{ measured.sentence ?? 'It agrees.' }}
          </p>
        }
      </form>
    }
    <p class="muted">The plug is not put in to please a meter: with it out the ends of the string show no sum.</p>
  `,
  styles: `
    :host,
    form {
      display: grid;
      gap: 8px;
    }
    form + form {
      padding-top: 10px;
      border-top: 1px solid var(--line);
    }
    .row {
      display: grid;
      grid-template-columns: minmax(0, 1fr) auto;
      gap: 8px;
      align-items: end;
    }
    .row button {
      min-height: 48px;
    }
    .answer {
      padding: 4px 12px;
      border-left: 4px solid var(--reed);
    }
    .answer.is-bad {
      font-weight: 600;
      border-color: var(--madder);
    }
  `,
})
export class HalvesPanel {
  readonly halves = input.required<readonly HalfView[]>();

  readonly #log = inject(JobLog);
  protected readonly texts = signal<Record<number, string>>({});
  protected readonly faults = signal<Record<number, string>>({});

  protected set(from: number, text: string): void {
    this.texts.update((t) => ({ ...t, [from]: text }));
    this.faults.update((f) => ({ ...f, [from]: '' }));
  }

  protected keep({ from, to }: HalfView): void {
    const read = readDecimal(this.texts()[from] ?? '');
    if (read.kind === 'refused' || Math.abs(read.value) > 2000) {
      const reason = read.kind === 'refused' ? read.message : `${read.value} V is more than any pack: millivolt?`;
      this.faults.update((f) => ({ ...f, [from]: reason }));
      return;
    }
    void this.#log.act({ type: 'half.measured', body: { from, to, volt: read.value } });
    this.set(from, '');
  }
}

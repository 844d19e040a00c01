import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { fitLeak, readDecimal, type Coolant, type Leak, type Result } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../transport/job-log.ts';
import { TextField } from '../../ui/text-field.ts';

const SAID: Record<Leak['verdict'], string> = {
  tight: 'It holds.',
  leaking: 'It leaks: find where before any paste is laid.',
  settling: 'It falls ever slower: the air cools still. Wait, and begin anew.',
  unclear: 'It cannot be told from these readings: watch longer, or read finer.',
};

/** The empty loop under pressure, read some times: what it loses, by a straight line, and whether that is a leak. */
@Component({
  selector: 'app-loop-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzButtonModule, TextField],
  template: `
    <p>
      Air at <b class="figure">{{ coolant().testKilopascal }} kPa</b>, watched for <b class="figure">{{ coolant().testMinute }} min</b>: at
      most <b class="figure">{{ coolant().mostLostKilopascal }} kPa</b> may go.
    </p>
    <form (submit)="$event.preventDefault(); add()">
      <app-text-field label="After, min" isFigure mode="decimal" [(value)]="minute" />
      <app-text-field label="Pressure, kPa" isFigure mode="decimal" [fault]="fault()" [(value)]="pressure" />
      <button nz-button type="submit">Add</button>
    </form>
    @if (readings().length > 0) {
      <ol>
        @for (reading of readings(); track reading.minute) {
          <li class="figure">{{ reading.minute }} min {{ reading.kilopascal }} kPa</li>
        }
      </ol>
      <div class="row">
        <button nz-button type="button" (click)="dropLast()">Take the last away</button>
        <button nz-button nzType="primary" type="button" [disabled]="readings().length < 4" (click)="keep()">Keep this test</button>
      </div>
    }
    @if (answer(); as found) {
      <p role="status" class="answer" [class.is-bad]="found.kind === 'refused' || found.value.verdict !== 'tight'">
        @if (found.kind === 'answer') {
          <b>{{ said[found.value.verdict] }}</b>
          <span class="figure"
            >{{ found.value.lostKilopascal.toFixed(2) }} ± {{ found.value.bandKilopascal.toFixed(2) }} kPa in
            {{ coolant().testMinute }} min</span
          >
        } @else {
          {{ found.message }}
        }
      </p>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 10px;
    }
    form {
      display: grid;
      grid-template-columns: minmax(0, 1fr) minmax(0, 1fr) auto;
      gap: 8px;
      align-items: end;
    }
    ol {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 16px;
      margin: 0;
      padding: 0;
      list-style: none;
    }
    .row {
      display: flex;
      flex-wrap: wrap;
      gap: 8px;
    }
    button {
      min-height: 48px;
    }
    .answer {
      padding: 4px 12px;
      border-left: 4px solid var(--reed);
    }
    .answer.is-bad {
      border-color: var(--madder);
    }
  `,
})
export class LoopPanel {
  readonly coolant = input.required<Coolant>();
  /** What the last kept test came to. */
  readonly kept = input.required<Result<Leak> | null>();

  readonly #log = inject(JobLog);
  protected readonly said = SAID;
  protected readonly minute = signal('0');
  protected readonly pressure = signal('');
  protected readonly fault = signal('');
  protected readonly readings = signal<readonly { minute: number; kilopascal: number }[]>([]);
  protected readonly answer = computed(() =>
    this.readings().length > 0
      ? this.readings().length < 4
        ? null
        : fitLeak({ readings: this.readings(), ...this.coolant() })
      : this.kept(),
  );

  protected add(): void {
    const [minute, pressure] = [readDecimal(this.minute()), readDecimal(this.pressure())];
    const last = this.readings().at(-1)?.minute ?? -1;
    if (minute.kind === 'refused' || pressure.kind === 'refused') {
      this.fault.set(minute.kind === 'refused' ? minute.message : pressure.kind === 'refused' ? pressure.message : '');
      return;
    }
    if (!(minute.value > last && minute.value >= 0 && minute.value <= 1440)) {
      this.fault.set('Each reading is later than the one before, within a day.');
      return;
    }
    if (!(pressure.value >= 0 && pressure.value <= 2000)) {
      this.fault.set('Pressure in kPa over the air outside, 0 to 2000: 1 bar is 100.');
      return;
    }
    this.fault.set('');
    this.readings.set([...this.readings(), { minute: minute.value, kilopascal: pressure.value }]);
    this.pressure.set('');
    this.minute.set(String(Math.min(this.coolant().testMinute, minute.value + Math.ceil(this.coolant().testMinute / 5))));
  }

  protected dropLast(): void {
    this.readings.set(this.readings().slice(0, -1));
  }

  protected keep(): void {
    void this.#log.act({ type: 'leak.tested', body: { readings: [...this.readings()] } });
    this.readings.set([]);
    this.minute.set('0');
  }
}

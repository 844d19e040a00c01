import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { latestSweep, type JobState, type Sweep, type SweepKind } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../transport/job-log.ts';
import { Link } from '../../transport/link.ts';
import { ChoiceField, choicesOf } from '../../ui/choice-field.ts';
import { TextField } from '../../ui/text-field.ts';
import { readOptional, RECOVERED_NAMES, SWEEP_NAMES } from './sweep-walk.ts';

/** Begins a sweep: what it is, and what a later figure needs to know about it. */
@Component({
  selector: 'app-sweep-start',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormsModule, ChoiceField, NzButtonModule, TextField],
  template: `
    <h2>{{ names[kind()] }} sweep</h2>
    @if (last(); as before) {
      <p class="muted">The last one of this kind has ended. Starting again makes a new sweep; the old one stays.</p>
    }
    @if (kind() === 'rest') {
      <p>
        @if (open()) {
          The drop is counted from the open-circuit sweep begun {{ restHours() }} h ago.
          @if (leastRestHour() > 0) {
            A rest of less than {{ leastRestHour() }} h is not judged.
          }
        } @else {
          There is no open-circuit sweep yet: no drop can be given, only the voltages.
        }
      </p>
    }
    @if (kind() === 'rest' && open()) {
      <app-text-field [label]="'Rested, h (left empty: ' + restHours() + ')'" isFigure mode="decimal" [(value)]="rested" />
    }
    @if (kind() === 'load') {
      <div class="row">
        <app-text-field label="Load, A" isFigure mode="decimal" [(value)]="ampere" />
        <app-text-field label="for, s" isFigure mode="decimal" [(value)]="second" />
      </div>
      <p class="muted">Left empty, drops are compared, and resistance stays unknown.</p>
      <app-choice-field label="Read again once the load is off" [choices]="recoveredChoices" [(value)]="recovered" />
    }
    @if (isVolt()) {
      <label class="field">
        <span>Smallest step of the meter</span>
        <select class="plain" name="resolution" [ngModel]="resolution()" (ngModelChange)="resolution.set($event)">
          <option value="">not known</option>
          <option value="0.001">1 mV</option>
          <option value="0.01">10 mV</option>
        </select>
      </label>
    }
    @if (fault()) {
      <p role="alert" class="fault">{{ fault() }}</p>
    }
    <button nz-button nzType="primary" data-main type="button" (click)="start()">Start the sweep</button>
  `,
  styles: `
    :host {
      display: grid;
      gap: 12px;
      align-content: start;
    }
    .fault {
      color: var(--madder);
    }
  `,
})
export class SweepStart {
  readonly kind = input.required<SweepKind>();
  readonly state = input.required<JobState>();

  readonly #log = inject(JobLog);
  readonly #link = inject(Link);

  protected readonly names = SWEEP_NAMES;
  protected readonly ampere = signal('');
  protected readonly second = signal('');
  protected readonly recoveredChoices = choicesOf<Sweep['recovered']>(RECOVERED_NAMES);
  /** Where the voltage before the load is known, that after it tells little of most. */
  protected readonly recovered = linkedSignal(computed((): Sweep['recovered'] => (this.open() ? 'standApart' : 'all')));
  /** Hours without load, where they were others than those since the sweep. */
  protected readonly rested = signal('');
  protected readonly leastRestHour = computed(() => this.#log.policy().limits.leastRestHour);
  protected readonly resolution = signal('0.001');
  protected readonly fault = signal<string | null>(null);
  protected readonly last = computed(() => latestSweep(this.state(), this.kind()) ?? null);
  protected readonly open = computed(() => latestSweep(this.state(), 'openCircuit') ?? null);
  protected readonly restHours = computed(() => {
    const since = this.open()?.startedAt;
    return since ? (Math.max(0, this.#link.serverNow() - Date.parse(since)) / 3_600_000).toFixed(1) : '';
  });

  /** Ampere-hours and milliohms have no step in millivolts. */
  protected readonly isVolt = computed(() => this.kind() !== 'capacity' && this.kind() !== 'resistance');

  protected start(): void {
    const kind = this.kind();
    const ampere = kind === 'load' ? readOptional(this.ampere()) : null;
    const second = kind === 'load' ? readOptional(this.second()) : null;
    const rested = kind === 'rest' ? readOptional(this.rested()) : null;
    if (ampere === undefined || second === undefined || rested === undefined) {
      this.fault.set('Load, time and hours are numbers above zero, or stay empty.');
      return;
    }
    this.fault.set(null);
    void this.#log.act({
      type: 'sweep.started',
      body: {
        kind,
        restSince: kind === 'rest' ? (this.open()?.id ?? null) : null,
        restHour: rested,
        loadAmpere: ampere,
        loadSecond: second,
        recovered: this.recovered(),
        resolution: this.isVolt() && this.resolution() !== '' ? Number(this.resolution()) : null,
      },
    });
  }
}

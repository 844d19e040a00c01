import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { fanAnswerSchema } from '@estuarine/contract';
import { judgeByCurve, readDecimal, type AirPart, type FanPoint } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { Api } from '../../transport/api.ts';
import { listInstruments } from '../../transport/instruments.ts';
import { JobLog } from '../../transport/job-log.ts';
import { Plot, type PlotLine } from '../../ui/plot.ts';
import { TextField } from '../../ui/text-field.ts';

/** Volt at which a fan is read, up to what a battery under charge gives. */
const STEPS = [2, 4, 6, 8, 10, 12] as const;

/** A fan over the voltage: read from a supply and an airflow meter, or typed; what it starts at and moves, and what that makes of it. */
@Component({
  selector: 'app-fan-curve',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzButtonModule, Plot, TextField],
  template: `
    @if (bench(); as on) {
      @if (isRunning()) {
        <p role="status">
          <progress [value]="points().length" [max]="steps.length" aria-label="Voltages read"></progress>
          <span class="figure"> {{ points().length }} of {{ steps.length }}</span>
        </p>
        <button nz-button type="button" (click)="isStopped.set(true)">Stop, and turn the supply off</button>
      } @else {
        <button nz-button type="button" (click)="run()">
          Read it from 2 to 12 V{{ on.isSimulated ? ', simulated supply and airflow meter' : '' }}
        </button>
      }
    }
    <form (submit)="$event.preventDefault(); add()">
      <app-text-field label="At, V" isFigure mode="decimal" [(value)]="volt" />
      <app-text-field label="Draws, A" isFigure mode="decimal" [(value)]="ampere" />
      <app-text-field label="Moves, m³/h" isFigure mode="decimal" [(value)]="flow" />
      <button nz-button type="submit">Add</button>
    </form>
    @if (fault()) {
      <p class="fault" role="alert">{{ fault() }}</p>
    }
    @if (shown().length > 0) {
      <app-plot [lines]="lines()" xTitle="V" yTitle="m³/h" [label]="said()" />
      <p role="status">{{ said() }}</p>
    }
    @if (points().length > 0 && !isRunning()) {
      <div class="pair">
        <button nz-button type="button" (click)="points.set([])">Drop these</button>
        <button nz-button nzType="primary" type="button" (click)="keep()">Keep {{ points().length }} readings</button>
      </div>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 8px;
    }
    form {
      display: grid;
      grid-template-columns: repeat(3, minmax(0, 1fr)) auto;
      gap: 8px;
      align-items: end;
    }
    .pair {
      display: grid;
      grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
      gap: 8px;
    }
    button {
      min-height: 48px;
    }
    .fault {
      color: var(--madder);
    }
  `,
})
export class FanCurve {
  readonly part = input.required<AirPart>();
  /** What it moves against nothing on 12 V. */
  readonly freeCubicMetrePerHour = input.required<number>();

  readonly #log = inject(JobLog);
  readonly #api = inject(Api);
  readonly #instruments = listInstruments();
  protected readonly steps = STEPS;
  protected readonly volt = signal('');
  protected readonly ampere = signal('');
  protected readonly flow = signal('');
  protected readonly fault = signal('');
  protected readonly isRunning = signal(false);
  protected readonly isStopped = signal(false);
  /** Read and not kept yet. */
  protected readonly points = signal<readonly FanPoint[]>([]);

  /** A supply and an airflow meter of the bench; null where it has not both. */
  protected readonly bench = computed(() => {
    const all = this.#instruments();
    const [supply, meter] = [all.find((i) => i.kind === 'supply'), all.find((i) => i.kind === 'airflowMeter')];
    return supply && meter ? { supplyId: supply.instrumentId, meterId: meter.instrumentId, isSimulated: supply.isSimulated } : null;
  });
  /** What is being read, else what was kept last. */
  protected readonly shown = computed(() => (this.points().length > 0 ? this.points() : (this.part().curve?.points ?? [])));
  protected readonly lines = computed((): PlotLine[] => {
    const rising = [...this.shown()].sort((a, b) => a.volt - b.volt);
    const free = this.freeCubicMetrePerHour();
    return [
      { kind: 'dash', name: 'a free one', tone: 'fog', x: [0, 12], y: [0, free] },
      { kind: 'line', name: 'this one', tone: 'channel', x: rising.map((p) => p.volt), y: rising.map((p) => p.cubicMetrePerHour) },
    ];
  });
  protected readonly said = computed(() => {
    const judged = judgeByCurve(this.shown(), this.freeCubicMetrePerHour());
    if (!judged) return '';
    const start = judged.startVolt === null ? '' : `, turns from ${judged.startVolt} V`;
    return `${judged.verdict}${start}: ${judged.sentence}.`;
  });

  protected async run(): Promise<void> {
    const on = this.bench();
    if (!on) return;
    this.fault.set('');
    this.points.set([]);
    this.isStopped.set(false);
    this.isRunning.set(true);
    const [jobId, part] = [this.#log.jobId(), this.part().part];
    const ask = (volt: number) =>
      this.#api.post(`/api/instruments/${encodeURIComponent(on.supplyId)}/fan`, fanAnswerSchema, {
        meterId: on.meterId,
        jobId,
        part,
        volt,
      });
    for (const volt of STEPS) {
      if (this.isStopped()) break;
      const reply = await ask(volt);
      if (reply.kind !== 'answer') {
        this.fault.set(reply.kind === 'problem' ? reply.problem.detail : 'The server cannot be reached. Type what the instruments show.');
        break;
      }
      const { ampere, cubicMetrePerHour } = reply.value;
      this.points.update((all) => [...all, { volt, ampere, cubicMetrePerHour }]);
    }
    // whatever came of it, no fan is left running
    if ((await ask(0)).kind !== 'answer') this.fault.set('The supply did not say that it is off: turn it off by hand.');
    this.isRunning.set(false);
  }

  protected add(): void {
    const [volt, ampere, flow] = [this.volt(), this.ampere(), this.flow()].map((text) => readDecimal(text));
    const refused = [volt, ampere, flow].find((r) => r?.kind === 'refused');
    if (refused?.kind === 'refused' || volt?.kind !== 'answer' || ampere?.kind !== 'answer' || flow?.kind !== 'answer') {
      this.fault.set(refused?.kind === 'refused' ? refused.message : 'Volt, ampere and m³/h.');
      return;
    }
    const why =
      volt.value <= 0 || volt.value > 15
        ? 'Volt above 0 and up to 15: the fan is for 12.'
        : ampere.value < 0 || ampere.value > 100
          ? 'Ampere from 0 to 100.'
          : flow.value < 0 || flow.value > 5000
            ? 'Cubic metres an hour from 0 to 5000.'
            : '';
    this.fault.set(why);
    if (why !== '') return;
    const point = { volt: volt.value, ampere: ampere.value, cubicMetrePerHour: flow.value };
    this.points.update((all) => [...all.filter((p) => p.volt !== point.volt), point]);
    for (const field of [this.volt, this.ampere, this.flow]) field.set('');
  }

  protected keep(): void {
    void this.#log.act({ type: 'fan.measured', body: { part: this.part().part, points: [...this.points()] } });
    this.points.set([]);
  }
}

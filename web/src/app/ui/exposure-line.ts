import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { drawLine, LIVE_VOLT, type JobExposure, type Stage, type TracePoint } from '@estuarine/core';
import { RouterLink } from '@angular/router';
import { watchWidth } from './element-width.ts';
import { StageWords } from './stage-words.ts';

export interface StageView {
  readonly stage: Stage;
  readonly isDone: boolean;
}

/** "What can I touch now?" across the top of a job, in volts; the navigation between its stages as well. */
@Component({
  selector: 'app-exposure-line',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink],
  templateUrl: './exposure-line.html',
  styleUrl: './exposure-line.less',
})
export class ExposureLine {
  readonly jobId = input.required<string>();
  readonly exposure = input.required<JobExposure>();
  readonly trace = input.required<{
    readonly start: { reachableVolt: number; behindVolt: number };
    readonly done: TracePoint[];
    readonly planned: TracePoint[];
  }>();
  readonly stages = input.required<readonly StageView[]>();
  readonly present = input.required<Stage>();
  readonly shown = input.required<Stage | null>();
  /** Null while it is certain; else up to when it was, why it is not any more, and the most that is possible. */
  readonly stale = input<{ readonly since: string; readonly why: string; readonly highestVolt: number } | null>(null);

  /** What the hands must wear, in a sentence; empty where nothing is asked for. */
  readonly gloves = input('');

  /** Devices that are cut off and may have done more; empty where there are none. */
  readonly cutOff = input('');

  readonly why = output();

  readonly #width = watchWidth(1160);

  protected readonly names = inject(StageWords).names;
  protected readonly volt = computed(() => this.exposure().reachable.volt);
  protected readonly isLive = computed(() => Math.max(this.volt(), this.stale()?.highestVolt ?? 0) >= LIVE_VOLT);
  protected readonly between = computed(() => this.exposure().reachable.between);
  protected readonly ampere = computed(() => this.exposure().reachable.worstShort?.ampere ?? null);
  protected readonly lineWidth = computed(() => Math.max(240, this.#width() - (this.#width() >= 1000 ? 330 : 300)));
  protected readonly height = computed(() => (this.#width() >= 1000 ? 96 : 72));
  protected readonly shape = computed(() =>
    drawLine({
      ...this.trace(),
      stages: this.stages().map((s) => s.stage),
      present: this.present(),
      width: this.lineWidth(),
      height: this.height(),
    }),
  );
  protected readonly behind = computed(() => {
    const { volt } = this.exposure().behind;
    return volt.toFixed(volt < 100 ? 1 : 0);
  });
}

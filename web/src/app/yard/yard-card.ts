import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { JobSummary } from '@estuarine/contract';
import { JOB_KIND_NAMES, KIND_RULES, type YardWait } from '@estuarine/core';
import { VerdictMark } from '../ui/verdict-mark.ts';
import { sayWait } from './say-wait.ts';

/** What can be reached on a job of the yard, by this device's knowledge. */
export interface YardVolts {
  readonly reachVolt: number;
  readonly mostVolt: number;
  readonly isLive: boolean;
  /** As of when, where it is not certain any more; empty while it is. */
  readonly asOf: string;
  /** Why it may be other than the server's; empty where nothing speaks for it. */
  readonly doubts: string;
}

/** One job of the yard: what can be reached on it now, and what it waits for. */
@Component({
  selector: 'app-yard-card',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink, VerdictMark],
  template: `
    @let shown = volts();
    <a [routerLink]="['/job', job().jobId, job().stage]" [class.is-urgent]="wait().lane === 'now'">
      <span class="line">
        <b>Job {{ job().number }}</b>
        <b class="stage">{{ stageName() }}</b>
        @if (job().plate) {
          <span class="plate">{{ job().plate }}</span>
        }
      </span>
      <span class="cut">{{ job().vehicleName }}</span>
      <small class="cut muted">{{ about() }}</small>
      <span class="volts" [class.is-live]="shown.isLive">
        @if (shown.isLive) {
          <app-verdict-mark mark="live" />
        }
        <span class="figure">
          @if (shown.asOf === '') {
            {{ shown.reachVolt.toFixed(1) }} V
          } @else {
            <s>{{ shown.reachVolt.toFixed(1) }} V</s>
          }
        </span>
        <small class="behind muted"
          >within reach · <span class="figure">{{ job().behindVolt.toFixed(job().behindVolt < 100 ? 1 : 0) }} V</span> behind covers</small
        >
      </span>
      @if (doubt()) {
        <small class="doubt">{{ doubt() }}</small>
      }
      <span class="line foot">
        @if (waitsFor(); as text) {
          <b class="waits figure">{{ text }}</b>
        }
        @if (isMeasured()) {
          <small class="muted"
            ><span class="figure">{{ job().measuredCount }}/{{ job().moduleCount }}</span> measured</small
          >
        }
        @if (job().rejectCount > 0) {
          <small class="rejects"><app-verdict-mark mark="reject" /> {{ job().rejectCount }} rejected</small>
        }
      </span>
    </a>
  `,
  styleUrl: './yard-card.less',
})
export class YardCard {
  readonly job = input.required<JobSummary>();
  readonly wait = input.required<YardWait>();
  readonly volts = input.required<YardVolts>();
  /** Server time, epoch milliseconds. */
  readonly now = input.required<number>();
  readonly stageName = input.required<string>();

  protected readonly about = computed(() => {
    const { kind, customerName, comebackOf } = this.job();
    return [JOB_KIND_NAMES[kind], ...(customerName ? [customerName] : []), ...(comebackOf ? [`back from job ${comebackOf}`] : [])].join(
      ', ',
    );
  });
  protected readonly waitsFor = computed(() => sayWait(this.job(), this.wait(), this.now()));
  protected readonly doubt = computed(() => {
    const { asOf, mostVolt, doubts } = this.volts();
    return [...(asOf ? [`as of ${asOf}, up to ${mostVolt.toFixed(0)} V`] : []), ...(doubts ? [doubts] : [])].join(', ');
  });
  protected readonly isMeasured = computed(() => {
    const { kind, measuredCount, closed } = this.job();
    return closed === null && (measuredCount > 0 || KIND_RULES[kind].stages.includes('test'));
  });
}

import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { LIVE_VOLT, type JobExposure, type Stage } from '@estuarine/core';
import type { StageView } from '../../ui/exposure-line.ts';
import { StageWords } from '../../ui/stage-words.ts';

/** What stays of a job's head while its stage is scrolled: the number, never hidden, what is next, and the way to another stage. */
@Component({
  selector: 'app-number-strip',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <button
      type="button"
      class="why figure"
      [class.is-live]="isLive()"
      (click)="why.emit()"
      aria-label="Open the number up: what can be reached now"
    >
      @if (stale(); as old) {
        <b
          ><s>{{ volt() }}</s></b
        >
        <span>as of {{ old.since }}, up to {{ old.highestVolt.toFixed(0) }} V</span>
      } @else {
        <b>{{ volt() }} V</b>
        <span>{{ posts() }}{{ cutOff() ? ', may be higher' : '' }}</span>
      }
    </button>
    @if (alarm()) {
      <b class="says is-live">{{ alarm() }}</b>
    } @else if (next()) {
      <span class="says"><span class="muted">Next:</span> {{ next() }}</span>
    }
    <select #choice class="plain" aria-label="Go to a stage" (change)="go.emit(choice.value)">
      @for (view of stages(); track view.stage) {
        <option [value]="view.stage" [selected]="view.stage === shown()">{{ view.isDone ? '✓ ' : '' }}{{ names()[view.stage] }}</option>
      }
    </select>
  `,
  styles: `
    :host {
      display: flex;
      gap: 16px;
      align-items: center;
      height: 56px;
      padding: 0 24px;
      background: var(--shell);
      border-bottom: 1.5px solid var(--edge);
    }
    .why {
      display: flex;
      gap: 10px;
      align-items: baseline;
      flex: none;
      min-height: 48px;
      padding: 0;
      font-size: 14px;
      text-align: left;
      color: var(--channel);
      background: none;
      border: 0;
      cursor: pointer;
    }
    .why b {
      font-size: 26px;
    }
    .why span {
      align-self: center;
      max-width: 190px;
      color: var(--ink);
    }
    .why.is-live,
    .says.is-live {
      color: var(--live-ink);
    }
    .says {
      flex: 1;
      min-width: 0;
      max-height: 48px;
      overflow: hidden;
      font-weight: 650;
      line-height: 1.25;
    }
    select {
      flex: none;
      margin-left: auto;
    }
    @media (max-width: 1099px) {
      :host {
        padding: 0 var(--bar-width, 16px) 0 16px;
      }
    }
    @media (max-width: 699px) {
      :host {
        gap: 8px;
        padding: 0 12px;
      }
      .why {
        flex-direction: column;
        gap: 0;
        justify-content: center;
        font-size: 12px;
      }
      .why b {
        font-size: 22px;
        line-height: 1.1;
      }
      .why span {
        align-self: start;
        max-width: 120px;
        line-height: 1.1;
      }
      .says {
        font-size: 14px;
      }
      select {
        max-width: 104px;
        padding-inline: 6px;
      }
    }
  `,
})
export class NumberStrip {
  readonly exposure = input.required<JobExposure>();
  readonly stages = input.required<readonly StageView[]>();
  readonly shown = input.required<Stage | null>();
  /** As on the line itself: null while the number is certain. */
  readonly stale = input<{ readonly since: string; readonly why: string; readonly highestVolt: number } | null>(null);
  readonly cutOff = input('');
  readonly next = input('');
  /** What no hand may overlook, in a few words; empty where there is none. */
  readonly alarm = input('');

  readonly why = output();
  readonly go = output<string>();

  protected readonly names = inject(StageWords).names;
  protected readonly volt = computed(() => this.exposure().reachable.volt.toFixed(1));
  protected readonly isLive = computed(() => Math.max(this.exposure().reachable.volt, this.stale()?.highestVolt ?? 0) >= LIVE_VOLT);
  protected readonly posts = computed(() => {
    const { between } = this.exposure().reachable;
    return between ? `${between[0]} to ${between[1]}` : 'no two bare posts';
  });
}

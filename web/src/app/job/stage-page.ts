import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, input } from '@angular/core';
import { Router } from '@angular/router';
import { STAGES, type Stage } from '@estuarine/core';
import { JobLog } from '../transport/job-log.ts';
import { Notice } from '../ui/notice.ts';
import { Shortcuts } from '../ui/shortcuts.ts';
import { IntakeStage } from './intake/intake-stage.ts';
import { HandOverStage } from './hand-over/hand-over-stage.ts';
import { IsolateStage } from './isolate/isolate-stage.ts';
import { MatchStage } from './plan/match-stage.ts';
import { OpenStage } from './open/open-stage.ts';
import { CoolStage } from './cool/cool-stage.ts';
import { GoOn } from './line/go-on.ts';
import { RebuildStage } from './rebuild/rebuild-stage.ts';
import { RefitStage } from './refit/refit-stage.ts';
import { StripStage } from './strip/strip-stage.ts';
import { TestStage } from './sweep/test-stage.ts';

/** One stage of a job. Which part of the screen does the work depends on the stage alone. */
@Component({
  selector: 'app-stage-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    IntakeStage,
    HandOverStage,
    IsolateStage,
    StripStage,
    OpenStage,
    CoolStage,
    RebuildStage,
    RefitStage,
    TestStage,
    MatchStage,
    GoOn,
    Notice,
  ],
  template: `
    @if (log.state()) {
      @switch (kind()) {
        @case ('intake') {
          <app-intake-stage />
        }
        @case ('isolate') {
          @defer (on immediate) {
            <app-isolate-stage />
          }
        }
        @case ('strip') {
          @defer (on immediate) {
            <app-strip-stage />
          }
        }
        @case ('open') {
          @defer (on immediate) {
            <app-open-stage />
          }
        }
        @case ('refit') {
          @defer (on immediate) {
            <app-refit-stage />
          }
        }
        @case ('rebuild') {
          @defer (on immediate) {
            <app-rebuild-stage />
          }
        }
        @case ('cool') {
          @defer (on immediate) {
            <app-cool-stage />
          }
        }
        @case ('test') {
          @defer (on immediate) {
            <app-test-stage />
          }
        }
        @case ('match') {
          @defer (on immediate) {
            <app-match-stage />
          }
        }
        @case ('handOver') {
          @defer (on immediate) {
            <app-hand-over-stage />
          }
        }
        @default {
          <div class="page"><app-notice title="There is no such stage">Choose one on the line above.</app-notice></div>
        }
      }
      @if (known(); as shown) {
        <app-go-on [shown]="shown" />
      }
    }
  `,
})
export class StagePage {
  readonly stage = input.required<string>();

  protected readonly log = inject(JobLog);
  protected readonly known = computed((): Stage | null => STAGES.find((s) => s === this.stage()) ?? null);
  protected readonly kind = computed((): Stage | 'unknown' => this.known() ?? 'unknown');

  constructor() {
    const [shortcuts, router] = [inject(Shortcuts), inject(Router)];
    const step = (by: number): void => {
      const stages = this.log.stages().map((s) => s.stage);
      const to = stages[stages.findIndex((s) => s === this.known()) + by];
      if (to) void router.navigate(['/job', this.log.jobId(), to]);
    };
    const offs = [
      shortcuts.register({ key: 'm', what: 'to the act that this stage is about', run: focusMainAct }),
      shortcuts.register({ key: ']', what: 'next stage', run: () => step(1) }),
      shortcuts.register({ key: '[', what: 'stage before', run: () => step(-1) }),
    ];
    inject(DestroyRef).onDestroy(() => offs.forEach((off) => off()));
  }
}

/** The field or button that a stage names as its main act; where it names none its first primary button, the way on, or any. */
function focusMainAct(): void {
  const main = document.querySelector('main');
  const act = [
    '[data-main]:not(:disabled)',
    'app-stage-page .ant-btn-primary:not(:disabled)',
    '[data-go-on]',
    'app-stage-page button:not(:disabled)',
  ]
    .map((selector) => [...(main?.querySelectorAll<HTMLElement>(selector) ?? [])].find((e) => e.offsetParent !== null))
    .find((e) => e !== undefined);
  act?.focus();
}

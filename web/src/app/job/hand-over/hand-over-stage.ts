import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { ActivatedRoute, Router } from '@angular/router';
import { findCoreDesk, findHandOver, type HandOverStep } from '@estuarine/core';
import { map } from 'rxjs';
import { JobLog } from '../../transport/job-log.ts';
import { StageParts, type StagePart } from '../../ui/stage-parts.ts';
import { CorePanel } from './core-panel.ts';
import { FinishPanel } from './finish-panel.ts';
import { RecordPanel } from './record-panel.ts';
import { ReportPanel } from './report-panel.ts';
import { TermsPanel } from './terms-panel.ts';

/** The last ten minutes of a job, and what is asked years later: one list of what is left, each thing done in one of the rooms. */
@Component({
  selector: 'app-hand-over-stage',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CorePanel, FinishPanel, RecordPanel, ReportPanel, StageParts, TermsPanel],
  template: `
    @if (left(); as list) {
      <app-stage-parts [parts]="parts()" [shown]="part()" (shownChange)="show($event)" />
      <p class="ahead">
        @if (list.next; as next) {
          <span
            >{{ isPresent() ? 'Next' : 'Before it is handed over' }}: <b>{{ next.todo }}</b></span
          >
          @if (next.room !== part()) {
            <button type="button" class="outlined" (click)="show(next.room)">Go there</button>
          }
        } @else {
          <span>Handed over: nothing is left to do.</span>
        }
      </p>
      @switch (part()) {
        @case ('finish') {
          <app-finish-panel />
        }
        @case ('report') {
          <app-report-panel />
        }
        @case ('terms') {
          <app-terms-panel />
        }
        @case ('core') {
          <app-core-panel />
        }
        @case ('record') {
          <app-record-panel />
        }
      }
    }
  `,
  styleUrl: '../room.less',
  styles: `
    .ahead {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 12px;
      align-items: center;
      min-height: 44px;
      margin: 0;
      padding: 4px 24px;
      background: var(--sand);
      border-bottom: 1px solid var(--line);
      border-left: 4px solid var(--channel);
    }
    @media (max-width: 699px) {
      .ahead {
        padding: 4px 16px;
      }
    }
  `,
})
export class HandOverStage {
  readonly #log = inject(JobLog);
  readonly #router = inject(Router);
  readonly #route = inject(ActivatedRoute);

  readonly #part = toSignal(this.#route.queryParamMap.pipe(map((q) => q.get('part'))), { initialValue: null });
  protected readonly part = computed(() => this.#part() ?? 'finish');
  protected readonly left = computed(() => {
    const [state, profile] = [this.#log.state(), this.#log.profile()];
    return state && profile ? findHandOver(state, profile) : null;
  });
  /** Elsewhere on the job something else comes first. */
  protected readonly isPresent = computed(() => this.#log.closed() !== null || this.#log.state()?.stage === 'handOver');
  protected readonly parts = computed((): StagePart[] => {
    const count = (room: HandOverStep['room']): number => this.left()?.steps.filter((s) => s.room === room && !s.isDone).length ?? 0;
    const state = this.#log.state();
    return [
      { id: 'finish', name: 'Finish', count: count('finish') },
      { id: 'report', name: 'Report', count: count('report') },
      { id: 'terms', name: 'Conditions' },
      { id: 'core', name: 'Core desk', count: state && findCoreDesk(state.handOver) ? count('core') : 0 },
      { id: 'record', name: 'Record' },
    ];
  });

  protected show(part: string): void {
    void this.#router.navigate([], { queryParams: { part: part === 'finish' ? null : part }, replaceUrl: true });
  }
}

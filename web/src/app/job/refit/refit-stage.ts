import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { ActivatedRoute, Router } from '@angular/router';
import { refitOf, type RefitStep } from '@estuarine/core';
import { map } from 'rxjs';
import { JobLog } from '../../transport/job-log.ts';
import { StageParts, type StagePart } from '../../ui/stage-parts.ts';
import { PhysicalStage } from '../physical/physical-stage.ts';
import { LedgerTable } from '../strip/ledger-table.ts';
import { DrainPanel } from './drain-panel.ts';
import { RoadPanel } from './road-panel.ts';
import { ScanPanel } from './scan-panel.ts';
import { WakePanel } from './wake-panel.ts';
import { WayBack } from './way-back.ts';

/** Back in, awake, and measured in the car: what is left is one list, and each thing of it is done in one of the rooms. */
@Component({
  selector: 'app-refit-stage',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DrainPanel, LedgerTable, PhysicalStage, RoadPanel, ScanPanel, StageParts, WakePanel, WayBack],
  template: `
    @if (refit(); as work) {
      <app-stage-parts [parts]="parts()" [shown]="part()" (shownChange)="show($event)" />
      @if (part() !== 'pack' && part() !== 'ledger') {
        <section class="ahead" aria-label="What is left of the way back">
          @if (work.next; as next) {
            <p class="next">
              Next: <b>{{ next.todo }}</b>
              @if (next.room !== part()) {
                <button type="button" class="outlined" (click)="show(next.room)">Go there</button>
              }
            </p>
          } @else {
            <p class="next">Back in, awake, and nothing owed.</p>
          }
          <details>
            <summary>{{ done() }} of {{ work.steps.length }} done</summary>
            <ol class="steps" aria-label="Steps of the way back">
              @for (step of work.steps; track step.id) {
                <li>
                  <button type="button" [class.is-done]="step.isDone" [class.is-next]="step === work.next" (click)="show(step.room)">
                    {{ step.isDone ? '✓ ' : '' }}{{ step.title }}
                  </button>
                </li>
              }
            </ol>
          </details>
        </section>
      }
      @switch (part()) {
        @case ('back') {
          <app-way-back [refit]="work" />
        }
        @case ('wake') {
          <app-wake-panel [refit]="work" />
        }
        @case ('scan') {
          <app-scan-panel [refit]="work" />
        }
        @case ('drain') {
          <app-drain-panel />
        }
        @case ('road') {
          <app-road-panel />
        }
        @case ('pack') {
          <app-physical-stage stage="refit" />
        }
        @case ('ledger') {
          <app-ledger-table stage="refit" />
        }
      }
    }
  `,
  styleUrl: '../room.less',
  styles: `
    .ahead {
      display: grid;
      grid-template-columns: minmax(0, 1fr) auto;
      gap: 0 16px;
      align-items: start;
      padding: 6px 24px;
      border-bottom: 1px solid var(--line);
    }
    .next {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 12px;
      align-items: center;
      min-height: 44px;
      margin: 0;
      padding: 0 12px;
      background: var(--sand);
      border-left: 4px solid var(--channel);
    }
    .next b::first-letter {
      text-transform: none;
    }
    summary {
      min-height: 44px;
      padding-block: 0;
      line-height: 44px;
      cursor: pointer;
    }
    details[open] {
      grid-column: 1 / -1;
    }
    .steps {
      display: flex;
      flex-wrap: wrap;
      gap: 6px;
      margin: 0;
      padding: 4px 0;
      list-style: none;
    }
    .steps button {
      min-height: 44px;
      padding: 0 12px;
      font: inherit;
      color: var(--ink);
      text-align: left;
      background: none;
      border: 1.5px solid var(--edge);
      border-radius: 3px;
      cursor: pointer;
    }
    .steps button::first-letter {
      text-transform: uppercase;
    }
    .steps .is-done {
      color: var(--fog);
    }
    .steps .is-next {
      border: 2px solid var(--channel);
    }
    @media (max-width: 699px) {
      .ahead {
        grid-template-columns: minmax(0, 1fr);
        padding: 8px 16px;
      }
    }
  `,
})
export class RefitStage {
  protected readonly log = inject(JobLog);
  readonly #router = inject(Router);
  readonly #route = inject(ActivatedRoute);

  readonly #part = toSignal(this.#route.queryParamMap.pipe(map((q) => q.get('part'))), { initialValue: null });
  protected readonly part = computed(() => this.#part() ?? 'back');
  protected readonly refit = computed(() => {
    const [state, profile, ledger] = [this.log.state(), this.log.profile(), this.log.ledger()];
    return state && profile && ledger ? refitOf(state, profile, ledger, this.log.policy().isolation.back) : null;
  });
  protected readonly done = computed(() => this.refit()?.steps.filter((s) => s.isDone).length ?? 0);
  protected readonly parts = computed((): StagePart[] => {
    const work = this.refit();
    const left = (room: RefitStep['room']): number => work?.steps.filter((s) => s.room === room && !s.isDone).length ?? 0;
    return [
      { id: 'back', name: 'Put back', count: left('back') },
      { id: 'wake', name: 'Wake', count: left('wake') },
      { id: 'scan', name: 'Scan', count: left('scan') },
      { id: 'drain', name: 'Capacity' },
      { id: 'road', name: 'Road', count: left('road') },
      { id: 'pack', name: 'How it stands' },
      { id: 'ledger', name: 'Ledger', count: this.log.ledger()?.owed ?? 0 },
    ];
  });

  protected show(part: string): void {
    void this.#router.navigate([], { queryParams: { part: part === 'back' ? null : part }, replaceUrl: true });
  }
}

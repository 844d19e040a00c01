import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import { type Stage } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../transport/job-log.ts';
import { StageWords } from '../../ui/stage-words.ts';

/** The end of a stage's screen: on to the stage that comes after it, said the louder once this one is done. */
@Component({
  selector: 'app-go-on',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink, NzButtonModule],
  template: `
    @if (following(); as stage) {
      <nav aria-label="After this stage">
        @if (isDone()) {
          <span>{{ names()[shown()] }} is done.</span>
          <a nz-button nzType="primary" data-go-on [routerLink]="['/job', log.jobId(), stage]">Go on to {{ names()[stage] }}</a>
        } @else {
          <a data-go-on [routerLink]="['/job', log.jobId(), stage]">Go on to {{ names()[stage] }}</a>
          <span class="muted">{{ names()[shown()] }} is not done yet; nothing hinders looking ahead.</span>
        }
      </nav>
    }
  `,
  styles: `
    nav {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 16px;
      align-items: center;
      min-height: 56px;
      padding: 6px 24px;
      border-top: 1px solid var(--line);
    }
    a {
      display: inline-flex;
      align-items: center;
      min-height: 44px;
    }
    @media (max-width: 699px) {
      nav {
        padding: 6px 12px;
      }
    }
    @media print {
      nav {
        display: none;
      }
    }
  `,
})
export class GoOn {
  readonly shown = input.required<Stage>();

  protected readonly log = inject(JobLog);
  protected readonly names = inject(StageWords).names;
  readonly #at = computed(() => this.log.stages().findIndex((s) => s.stage === this.shown()));
  protected readonly isDone = computed(() => this.log.stages()[this.#at()]?.isDone ?? false);
  protected readonly following = computed(() => (this.#at() < 0 ? null : (this.log.stages()[this.#at() + 1]?.stage ?? null)));
}

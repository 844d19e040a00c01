import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import { judgeTerms } from '@estuarine/core';
import { JobLog } from '../../transport/job-log.ts';
import { Link } from '../../transport/link.ts';
import { chosenTerms } from './chosen-terms.ts';

/** A word beside the job's name once a supplier's condition is broken: while the hands are still there. */
@Component({
  selector: 'app-terms-chip',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink],
  template: `
    @if (broken(); as count) {
      <a [routerLink]="['/job', log.jobId(), 'handOver']" [queryParams]="{ part: 'terms' }"
        >{{ terms()?.supplier }}: {{ count }} {{ count === 1 ? 'condition' : 'conditions' }} broken</a
      >
    }
  `,
  styles: `
    a {
      padding: 2px 8px;
      color: var(--madder);
      border: 1.5px solid var(--madder);
      border-radius: 3px;
    }
  `,
})
export class TermsChip {
  protected readonly log = inject(JobLog);
  readonly #link = inject(Link);
  protected readonly terms = chosenTerms();
  protected readonly broken = computed(() => {
    const [terms, state, profile] = [this.terms(), this.log.state(), this.log.profile()];
    if (!terms || !state || !profile) return 0;
    return judgeTerms(state, profile, terms, this.#link.serverNow(), this.log.policy().isolation.timeZone).filter(
      (c) => c.standing === 'broken',
    ).length;
  });
}

import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { termsAnswerSchema } from '@estuarine/contract';
import { judgeTerms, type SupplierTerms } from '@estuarine/core';
import { JobLog } from '../../line/job-log.ts';
import { KnownAnswers } from '../../line/known-answers.ts';
import { Link } from '../../line/link.ts';

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
  readonly #known = inject(KnownAnswers);
  readonly #link = inject(Link);
  protected readonly terms = signal<SupplierTerms | null>(null);
  readonly #chosen = computed(() => this.log.state()?.handOver.terms.at(-1)?.terms ?? null);
  protected readonly broken = computed(() => {
    const [terms, state, profile] = [this.terms(), this.log.state(), this.log.profile()];
    if (!terms || !state || !profile) return 0;
    return judgeTerms(state, profile, terms, this.#link.serverNow()).filter((c) => c.standing === 'broken').length;
  });

  constructor() {
    effect(() => {
      const chosen = this.#chosen();
      untracked(() => void this.#load(chosen));
    });
  }

  async #load(chosen: { readonly id: string; readonly version: number } | null): Promise<void> {
    const known = chosen && (await this.#known.ask(`/api/terms/${chosen.id}/${chosen.version}`, termsAnswerSchema));
    this.terms.set(known?.value?.terms ?? null);
  }
}

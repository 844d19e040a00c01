import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { policyAnswerSchema } from '@estuarine/contract';
import { Api } from '../../transport/api.ts';
import { JobLog } from '../../transport/job-log.ts';

/** Which limits the verdicts follow, and the way to newer ones. */
@Component({
  selector: 'app-limits-line',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink],
  template: `
    <p class="muted">
      Verdicts follow the shop's limits, version {{ own() }} (watch at z {{ log.policy().limits.watchZ }}, reject at
      {{ log.policy().limits.rejectZ }}).
      <a routerLink="/limits">See the limits</a>
      @if (isNewer()) {
        · Version {{ latest() }} stands now: <button type="button" class="link" (click)="adopt()">judge this job by it</button>
      }
    </p>
  `,
  styles: `
    p {
      font-size: 15px;
    }
  `,
})
export class LimitsLine {
  readonly #api = inject(Api);
  protected readonly log = inject(JobLog);
  protected readonly latest = signal(0);
  protected readonly own = computed(() => this.log.state()?.policyVersion ?? 0);
  protected readonly isNewer = computed(() => this.latest() > this.own());

  constructor() {
    void this.#api.get('/api/policy', policyAnswerSchema).then((reply) => {
      if (reply.kind === 'answer') this.latest.set(reply.value.version);
    });
  }

  protected adopt(): void {
    void this.log.act({ type: 'policy.adopted', body: { policyVersion: this.latest() } });
  }
}

import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { findRest, sayTime } from '@estuarine/core';
import { JobLog } from '../../transport/job-log.ts';
import { Link } from '../../transport/link.ts';

/** How long the modules have rested since the open-circuit sweep, and from when on their drop is judged. */
@Component({
  selector: 'app-rest-clock',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (rest(); as now) {
      <p role="timer" aria-label="Rest">
        Resting <b class="figure">{{ now.rested }}</b>{{ now.left ? ': a drop is judged in ' + now.left : ', long enough to be judged' }}.
      </p>
    }
  `,
  styles: `
    p {
      padding: 8px 12px;
      border-left: 4px solid var(--channel);
    }
  `,
})
export class RestClock {
  readonly #log = inject(JobLog);
  readonly #link = inject(Link);

  protected readonly rest = computed(() => {
    const state = this.#log.state();
    const rest = state ? findRest(state, this.#log.policy().limits) : null;
    if (!rest) return null;
    const now = this.#link.serverNow();
    const left = rest.judgedFrom - now;
    return { rested: sayTime(Math.max(0, now - rest.since) / 1000), left: left > 0 ? sayTime(left / 1000) : null };
  });
}

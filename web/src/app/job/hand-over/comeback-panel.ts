import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { jobAnswerSchema, profileAnswerSchema } from '@estuarine/contract';
import { explainComeback, localTime, type JobState, type Profile } from '@estuarine/core';
import { JobLog } from '../../transport/job-log.ts';
import { KnownAnswers } from '../../transport/known-answers.ts';

const MOST = 6;
const WORDS = { module: 'Module', joint: 'Joint at link', cooling: 'Cooling', hand: 'An earlier hand', other: 'Something else' } as const;

/** A job that came back: what of its record before explains what is seen now, and what a person made of it. */
@Component({
  selector: 'app-comeback-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink],
  template: `
    <h2>Why it came back</h2>
    @if (earlier(); as before) {
      <p class="muted">
        Held against the record of <a [routerLink]="['/job', before.jobId, 'handOver']">job {{ before.state.intake.opened?.number }}</a
        >, closed {{ closedOn(before.state) }}. Shares are a guess from the record; only their order is worth something.
      </p>
      <ol class="causes" aria-label="Likely causes, the likeliest first">
        @for (cause of causes(); track $index) {
          <li>
            <span class="figure">{{ (100 * cause.share).toFixed(0) }} %</span>
            <span>
              <b>{{ words[cause.what] }}{{ cause.at === null ? '' : ' ' + cause.at }}</b>
              {{ cause.because.join(', ') }}
            </span>
            <button
              type="button"
              class="outlined"
              [class.is-on]="isSaid(cause.what, cause.at)"
              [attr.aria-pressed]="isSaid(cause.what, cause.at)"
              (click)="say(cause.what, cause.at)"
            >
              It was this
            </button>
          </li>
        }
      </ol>
      <button
        type="button"
        class="outlined other"
        [class.is-on]="isSaid('other', null)"
        [attr.aria-pressed]="isSaid('other', null)"
        (click)="say('other', null)"
      >
        It was something else
      </button>
    } @else {
      <p class="muted">
        {{ hasFailed() ? 'The job before cannot be read here: the server is away, or it has another log.' : 'Reading the job before.' }}
      </p>
    }
  `,
  styleUrl: '../room.less',
  styles: `
    :host {
      display: grid;
      gap: 8px;
    }
    .causes {
      display: grid;
      gap: 6px;
      margin: 0;
      padding: 0;
      list-style: none;
    }
    li {
      display: grid;
      grid-template-columns: 52px minmax(0, 1fr) auto;
      gap: 8px;
      align-items: center;
      padding: 4px 0;
      border-bottom: 1px solid var(--line);
    }
    .other {
      justify-self: start;
    }
  `,
})
export class ComebackPanel {
  readonly #log = inject(JobLog);
  readonly #known = inject(KnownAnswers);
  protected readonly words = WORDS;
  protected readonly earlier = signal<{ readonly jobId: string; readonly state: JobState; readonly profile: Profile } | null>(null);
  protected readonly hasFailed = signal(false);

  readonly #beforeId = computed(() => this.#log.state()?.intake.opened?.comebackOf ?? null);
  protected readonly causes = computed(() => {
    const [before, state, profile] = [this.earlier(), this.#log.state(), this.#log.profile()];
    return before && state && profile ? explainComeback(before, { state, profile }).slice(0, MOST) : [];
  });
  protected closedOn({ intake }: JobState): string {
    const at = intake.closed?.at;
    return at === undefined ? 'never' : localTime(Date.parse(at), this.#log.policy().isolation.timeZone).date;
  }

  readonly #said = computed(() => this.#log.state()?.handOver.explained.at(-1) ?? null);

  constructor() {
    effect(() => {
      const jobId = this.#beforeId();
      untracked(() => void this.#load(jobId));
    });
  }

  protected isSaid(what: keyof typeof WORDS, at: number | null): boolean {
    const said = this.#said();
    return said?.what === what && said.at === at;
  }

  protected say(what: keyof typeof WORDS, at: number | null): void {
    void this.#log.act({ type: 'comeback.explained', body: { what, at, note: '' } });
  }

  async #load(jobId: string | null): Promise<void> {
    if (jobId === null) return;
    const { value: job } = await this.#known.ask(`/api/jobs/${encodeURIComponent(jobId)}`, jobAnswerSchema);
    const profile =
      job && (await this.#known.ask(`/api/profiles/${job.profileId}/${job.profileVersion}`, profileAnswerSchema)).value?.profile;
    // another job is looked at meanwhile
    if (this.#beforeId() !== jobId) return;
    this.hasFailed.set(!profile);
    if (profile) this.earlier.set({ jobId, state: job.state, profile });
  }
}

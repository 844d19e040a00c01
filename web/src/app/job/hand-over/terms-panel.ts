import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { termsListAnswerSchema } from '@estuarine/contract';
import { judgeTerms, readTerms, type JudgedCondition, type SupplierTerms } from '@estuarine/core';
import { chosenTerms } from './chosen-terms.ts';
import { JobLog } from '../../transport/job-log.ts';
import { KnownAnswers } from '../../transport/known-answers.ts';
import { Link } from '../../transport/link.ts';
import { Session } from '../../session/session.ts';
import { ShopDesk } from '../../stock/shop-desk.ts';
import { StageWords } from '../../ui/stage-words.ts';

/** A supplier's conditions as they stand on this job: met, missing, broken, each with the way to its record. */
@Component({
  selector: 'app-terms-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink],
  template: `
    <div class="body">
      <section class="view" aria-label="Conditions">
        @if (terms(); as held) {
          <h2>{{ held.supplier }}, version {{ held.version }}: {{ held.months }} months</h2>
          <p>{{ count('met') }} met, {{ count('missing') }} missing, {{ count('broken') }} broken.</p>
          <ul class="conditions" aria-label="Conditions, each as it stands">
            @for (row of rows(); track row.condition.kind) {
              <li [class]="row.standing">
                <svg viewBox="-8 -8 16 16" width="20" height="20" aria-hidden="true">
                  <path [attr.d]="marks[row.standing]" fill-rule="evenodd" />
                </svg>
                <span>
                  <b>{{ row.sentence }}</b> <span class="standing">{{ row.standing }}</span>
                  <span class="why">{{ row.why }}</span>
                </span>
                <a class="go" [routerLink]="['/job', log.jobId(), row.stage]">{{ stageNames()[row.stage] }}</a>
                @if (row.standing === 'missing' || row.isSaid) {
                  <span class="said" role="group" [attr.aria-label]="'Said of: ' + row.sentence">
                    <button type="button" class="outlined" [class.is-on]="row.isSaid && row.standing === 'met'" (click)="say(row, true)">
                      I saw it done
                    </button>
                    <button
                      type="button"
                      class="outlined"
                      [class.is-on]="row.isSaid && row.standing === 'broken'"
                      (click)="say(row, false)"
                    >
                      It was not
                    </button>
                  </span>
                }
              </li>
            }
          </ul>
        } @else if (chosen()) {
          <p class="muted">The conditions cannot be read here: the server is away.</p>
        } @else {
          <h2>No supplier’s conditions are followed on this job</h2>
          <p>Choose whose parts go in: from then on the job says what is met, what is missing, and what can no more be mended.</p>
        }
      </section>
      <section class="panel" aria-label="Whose conditions">
        <h3>Whose parts go in</h3>
        @if (mayChoose()) {
          <div class="choice stack">
            @for (offer of list(); track offer.id) {
              <button
                type="button"
                [class.is-on]="chosen()?.id === offer.id"
                [attr.aria-pressed]="chosen()?.id === offer.id"
                (click)="choose(offer)"
              >
                {{ offer.supplier }}, {{ offer.conditions.length }} conditions, {{ offer.months }} months
              </button>
            } @empty {
              <p class="muted">The shop has no supplier’s conditions yet.</p>
            }
            <button type="button" [class.is-on]="!chosen()" [attr.aria-pressed]="!chosen()" (click)="choose(null)">None</button>
          </div>
          <label class="button">
            Take a supplier’s file
            <input #file type="file" accept=".json,application/json" class="visually-hidden" (change)="take(file)" />
          </label>
        } @else {
          <p class="muted">
            {{ log.closed() ? 'The job is closed: what was chosen stands.' : 'A technician or the lead chooses whose conditions hold.' }}
          </p>
        }
        @if (fault()) {
          <p class="fault" role="alert">{{ fault() }}</p>
        }
        @if (taken()) {
          <p class="answer" role="status">{{ taken() }}</p>
        }
        <p class="muted">
          The file is JSON, as <a href="/api/terms.schema.json" target="_blank" rel="noopener">its schema</a> says. A new version never
          changes what a job was begun by.
        </p>
      </section>
    </div>
  `,
  styleUrls: ['../two-panes.less', '../room.less'],
  styles: `
    .button {
      justify-self: start;
    }
    .conditions {
      display: grid;
      gap: 8px;
      margin: 0;
      padding: 0;
      list-style: none;
    }
    li {
      display: grid;
      grid-template-columns: 26px minmax(0, 1fr) auto;
      gap: 4px 10px;
      align-items: center;
      padding: 6px 0;
      border-bottom: 1px solid var(--line);
    }
    .met path {
      fill: var(--reed);
    }
    .missing path {
      fill: var(--sedge);
    }
    .broken path {
      fill: var(--madder);
    }
    .standing {
      margin-left: 6px;
      padding: 0 8px;
      background: var(--sand);
      border-radius: 9px;
    }
    .why {
      display: block;
      color: var(--fog);
    }
    .go {
      display: inline-grid;
      min-height: 44px;
      padding: 0 12px;
      align-items: center;
    }
    .said {
      display: flex;
      flex-wrap: wrap;
      gap: 6px;
      grid-column: 2 / -1;
    }
    .stack {
      display: grid;
    }
    .stack button {
      text-align: left;
    }
  `,
})
export class TermsPanel {
  protected readonly log = inject(JobLog);
  readonly #known = inject(KnownAnswers);
  readonly #link = inject(Link);
  readonly #desk = inject(ShopDesk);
  readonly #session = inject(Session);
  protected readonly stageNames = inject(StageWords).names;
  /** Filled, half and barred, as verdicts are: readable without colour. */
  protected readonly marks = {
    met: 'M-6 0a6 6 0 1 0 12 0a6 6 0 1 0-12 0z',
    missing: 'M-6 0a6 6 0 1 0 12 0a6 6 0 1 0-12 0zM-4.4 0a4.4 4.4 0 1 1 8.8 0a4.4 4.4 0 1 1-8.8 0z',
    broken: 'M-6-6h12v12h-12zM-4-1.3v2.6h8v-2.6z',
  } as const;
  protected readonly list = signal<readonly SupplierTerms[]>([]);
  protected readonly terms = chosenTerms();
  protected readonly fault = signal('');
  protected readonly taken = signal('');

  protected readonly chosen = computed(() => this.log.state()?.handOver.terms.at(-1)?.terms ?? null);
  protected readonly mayChoose = computed(
    () => (this.#session.person()?.role ?? 'apprentice') !== 'apprentice' && this.log.closed() === null,
  );
  protected readonly rows = computed(() => {
    const [terms, state, profile] = [this.terms(), this.log.state(), this.log.profile()];
    return terms && state && profile ? judgeTerms(state, profile, terms, this.#link.serverNow(), this.log.policy().isolation.timeZone) : [];
  });

  constructor() {
    void this.#loadList();
  }

  protected count(standing: JudgedCondition['standing']): number {
    return this.rows().filter((r) => r.standing === standing).length;
  }

  protected choose(terms: SupplierTerms | null): void {
    void this.log.act({ type: 'terms.chosen', body: { terms: terms && { id: terms.id, version: terms.version } } });
  }

  protected say({ condition }: JudgedCondition, isMet: boolean): void {
    void this.log.act({ type: 'terms.met', body: { condition: condition.kind, isMet, note: '' } });
  }

  protected async take(input: HTMLInputElement): Promise<void> {
    const file = input.files?.[0];
    input.value = '';
    if (!file) return;
    const read = readTerms(await file.text());
    const refusal = read.kind === 'refused' ? read.message : await this.#desk.act({ type: 'terms.published', body: { terms: read.value } });
    this.fault.set(refusal ?? '');
    this.taken.set(refusal === null && read.kind === 'answer' ? `Taken: ${read.value.supplier}, version ${read.value.version}.` : '');
    await this.#loadList();
  }

  async #loadList(): Promise<void> {
    const { value } = await this.#known.ask('/api/terms', termsListAnswerSchema);
    this.list.set(value?.terms ?? []);
    for (const terms of value?.terms ?? []) await this.#known.keep(`/api/terms/${terms.id}/${terms.version}`, { terms });
  }
}

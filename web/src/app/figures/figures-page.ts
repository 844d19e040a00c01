import { DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { figuresAnswerSchema, type FiguresAnswer } from '@estuarine/contract';
import { drawBars } from '@estuarine/core';
import { KnownAnswers, listStateOf } from '../transport/known-answers.ts';
import { Session } from '../session/session.ts';
import { ListPage, type ListState } from '../ui/list-page.ts';
import { Notice } from '../ui/notice.ts';
import { PictureView } from '../ui/picture-view.ts';
import { StageWords } from '../ui/stage-words.ts';

/** What the jobs of the shop add up to: each chart with the figures that it is drawn from. */
@Component({
  selector: 'app-figures-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DecimalPipe, ListPage, Notice, PictureView, RouterLink],
  template: `
    <app-list-page heading="Figures of the shop" what="the figures" [state]="state()" (retry)="load()">
      <a head class="button is-quiet" href="/api/figures.xlsx" download>As a workbook</a>
      @if (answer(); as got) {
        @let figures = got.figures;
        <section aria-label="Money out">
          <h2>Money that is out: {{ figures.outstanding | number: '1.2-2' }} {{ got.currency }}</h2>
          @if (figures.money.length > 0) {
            <div class="scroll" tabindex="0" role="region" aria-label="Deposits that are out">
              <table>
                <thead>
                  <tr>
                    <th scope="col">Job</th>
                    <th scope="col">Supplier</th>
                    <th scope="col">Goes back</th>
                    <th scope="col">Ship by</th>
                    <th scope="col" class="figure">Deposit</th>
                    <th scope="col" class="figure">Out</th>
                  </tr>
                </thead>
                <tbody>
                  @for (line of figures.money; track line.jobId) {
                    <tr [class.is-late]="line.isLate">
                      <td>
                        <a [routerLink]="['/job', line.jobId, 'handOver']" [queryParams]="{ part: 'core' }">Job {{ line.number }}</a>
                      </td>
                      <td>{{ line.supplier }}</td>
                      <td>{{ line.count }} {{ line.what === 'pack' ? 'whole' : line.count === 1 ? 'module' : 'modules' }}</td>
                      <td>
                        {{ line.shipBy }}{{ line.isDisputed ? ', disputed' : line.isShipped ? ', shipped' : line.isLate ? ', late' : '' }}
                      </td>
                      <td class="figure">{{ line.deposit | number: '1.2-2' }}</td>
                      <td class="figure">{{ line.outstanding | number: '1.2-2' }}</td>
                    </tr>
                  }
                </tbody>
              </table>
            </div>
          } @else {
            <p class="muted">No deposit is out.</p>
          }
        </section>
        <section aria-label="Comebacks">
          <h2>Comebacks by school and pack</h2>
          @if (figures.comebacks.length > 0) {
            <div class="scroll" tabindex="0" role="region" aria-label="Comebacks by school and pack">
              <table>
                <thead>
                  <tr>
                    <th scope="col">School</th>
                    <th scope="col">Pack</th>
                    <th scope="col" class="figure">Closed</th>
                    <th scope="col" class="figure">Came back</th>
                    <th scope="col" class="figure">Share</th>
                    <th scope="col">Jobs</th>
                  </tr>
                </thead>
                <tbody>
                  @for (line of figures.comebacks; track line.school + line.profileName) {
                    <tr>
                      <td>{{ line.schoolName }}</td>
                      <td>{{ line.profileName }}</td>
                      <td class="figure">{{ line.closed }}</td>
                      <td class="figure">{{ line.comebacks }}</td>
                      <td class="figure">{{ line.share * 100 | number: '1.0-0' }} %</td>
                      <td>{{ line.jobs.join(', ') }}</td>
                    </tr>
                  }
                </tbody>
              </table>
            </div>
            <p class="muted">
              The share counts one good job and one comeback more than there were (Laplace), so that a single job proves nothing.
            </p>
          } @else {
            <p class="muted">No job is closed yet.</p>
          }
        </section>
        <section aria-label="Minutes">
          <h2>Minutes against the quote</h2>
          @if (figures.minutes.length > 0) {
            <div class="side">
              <div class="scroll" tabindex="0" role="region" aria-label="Minutes of each stage">
                <table>
                  <thead>
                    <tr>
                      <th scope="col">Pack</th>
                      <th scope="col">Stage</th>
                      <th scope="col" class="figure">Quoted</th>
                      <th scope="col" class="figure">Median</th>
                      <th scope="col" class="figure">Jobs</th>
                    </tr>
                  </thead>
                  <tbody>
                    @for (line of figures.minutes; track line.profileName + line.stage) {
                      <tr [class.is-late]="line.quotedMinute !== null && line.medianMinute > line.quotedMinute">
                        <td>{{ line.profileName }}</td>
                        <td>{{ names()[line.stage] }}</td>
                        <td class="figure">{{ line.quotedMinute ?? '–' }}</td>
                        <td class="figure">{{ line.medianMinute | number: '1.0-0' }}</td>
                        <td class="figure">{{ line.jobs }}</td>
                      </tr>
                    }
                  </tbody>
                </table>
              </div>
              <app-picture-view [picture]="minutes()" says="Minutes of each stage over all packs: quoted beside worked." />
            </div>
          }
        </section>
        <section aria-label="Modules">
          <h2>Modules in and out</h2>
          @if (figures.months.length > 0) {
            <div class="side">
              <table>
                <thead>
                  <tr>
                    <th scope="col">Month</th>
                    <th scope="col" class="figure">Jobs closed</th>
                    <th scope="col" class="figure">Into packs</th>
                    <th scope="col" class="figure">Out of packs</th>
                  </tr>
                </thead>
                <tbody>
                  @for (line of figures.months; track line.month) {
                    <tr>
                      <td>{{ line.month }}</td>
                      <td class="figure">{{ line.closed }}</td>
                      <td class="figure">{{ line.in }}</td>
                      <td class="figure">{{ line.out }}</td>
                    </tr>
                  }
                </tbody>
              </table>
              <app-picture-view [picture]="months()" says="Modules into packs and out of packs, month by month." />
            </div>
          } @else {
            <app-notice title="Nothing to count yet">Modules are counted when a job is closed.</app-notice>
          }
        </section>
        @if (isLead()) {
          <section aria-label="The whole shop">
            <h2>The whole shop</h2>
            <p>
              <a href="/api/shop/archive.zip" download>Everything as one zip of open formats</a>. It comes back in with
              <code>npm run import</code>, also into a newer release. It holds what people sign in with: keep it like a key.
            </p>
          </section>
        }
      }
    </app-list-page>
  `,
  styles: `
    section {
      margin-bottom: 24px;
    }
    .scroll {
      overflow-x: auto;
    }
    .side {
      display: grid;
      grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
      gap: 24px;
      align-items: start;
    }
    table {
      width: 100%;
      border-collapse: collapse;
    }
    th,
    td {
      padding: 6px 10px;
      text-align: left;
      border-bottom: 1px solid var(--line);
    }
    th {
      font-weight: 400;
      color: var(--fog);
    }
    th.figure,
    td.figure {
      text-align: right;
    }
    th.figure {
      font-family: inherit;
    }
    td a {
      display: inline-grid;
      min-width: 44px;
      min-height: 44px;
      align-items: center;
    }
    .is-late td:first-child {
      box-shadow: inset 4px 0 var(--madder);
    }
    @media (max-width: 1099px) {
      .side {
        grid-template-columns: minmax(0, 1fr);
      }
    }
  `,
})
export class FiguresPage {
  readonly #known = inject(KnownAnswers);
  readonly #session = inject(Session);
  protected readonly names = inject(StageWords).names;
  protected readonly state = signal<ListState>('loading');
  protected readonly answer = signal<FiguresAnswer | null>(null);
  protected readonly isLead = computed(() => this.#session.person()?.role === 'lead');
  protected readonly minutes = computed(() => {
    const lines = this.answer()?.figures.minutes ?? [];
    const stages = [...new Set(lines.map((l) => l.stage))];
    const sum = (stage: string, of: (l: (typeof lines)[number]) => number): number =>
      lines.filter((l) => l.stage === stage).reduce((s, l) => s + of(l), 0);
    return drawBars(
      stages.map((stage) => ({
        name: this.names()[stage],
        first: sum(stage, (l) => l.quotedMinute ?? 0),
        second: sum(stage, (l) => l.medianMinute),
      })),
      { unit: 'min', first: 'quoted', second: 'worked, median' },
    );
  });
  protected readonly months = computed(() =>
    drawBars(
      (this.answer()?.figures.months ?? []).map((m) => ({ name: m.month, first: m.in, second: m.out })),
      { unit: 'modules', first: 'into packs', second: 'out of packs' },
    ),
  );

  constructor() {
    void this.load();
  }

  protected async load(): Promise<void> {
    const known = await this.#known.ask('/api/figures', figuresAnswerSchema);
    this.state.set(listStateOf(known));
    if (known.value) this.answer.set(known.value);
  }
}

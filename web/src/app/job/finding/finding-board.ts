import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { FINDING_WORDS, FOLLOW_WORDS, sayPin, SEVERITY_WORDS, type ActBody, type Finding, type Pin, type Stage } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../transport/job-log.ts';
import { PackDrawing, type PlaceView } from '../../ui/pack-drawing.ts';
import { FindingForm } from './finding-form.ts';

/** What was seen on this job: noted with its place, and open until what follows was done. */
@Component({
  selector: 'app-finding-board',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DatePipe, NzButtonModule, FindingForm, PackDrawing],
  template: `
    @if (log.profile(); as profile) {
      <div class="columns">
        <section aria-label="Note a finding">
          <h2>Note a finding</h2>
          @if (isInside()) {
            <app-pack-drawing
              [profile]="profile"
              [places]="marked()"
              [selected]="pin()?.on === 'module' ? $any(pin()).place : null"
              [openLinks]="log.openBars()"
              [isPlugIn]="log.state()?.pack?.isPlugIn ?? true"
              label="Pack; press a module or a link to set the pin of a finding"
              (pickPlace)="pin.set({ on: 'module', place: $event })"
              (pickLink)="pin.set({ on: 'link', link: $event })"
            />
          }
          <app-finding-form [profile]="profile" [stage]="stage()" [pin]="pin()" (noted)="note($event)" />
          @if (pin()) {
            <button type="button" class="link" (click)="pin.set(null)">Choose the place from the list instead</button>
          }
        </section>
        <section aria-label="Findings">
          <h2>Findings</h2>
          @for (finding of findings(); track finding.findingId) {
            <article [class.is-settled]="finding.settled" [class]="finding.severity">
              <p>
                <b>{{ words[finding.kind] }}</b>, {{ severityWords[finding.severity] }} · {{ sayPin(finding.pin, profile) }}
                @if (finding.isOnArrival) {
                  <span class="arrival">on arrival</span>
                }
              </p>
              @if (finding.note) {
                <p>{{ finding.note }}</p>
              }
              <p class="muted">
                {{ followWords[finding.follow] }} · {{ finding.by.toUpperCase() }}, {{ finding.at | date: 'd MMM HH:mm' }}
                @if (finding.settled; as done) {
                  · settled by {{ done.by.toUpperCase() }}: {{ done.note }}
                }
              </p>
              @if (!finding.settled && finding.follow !== 'nothing') {
                <form class="row" (submit)="$event.preventDefault(); settle(finding, doneBox)">
                  <input
                    #doneBox
                    class="plain"
                    maxlength="2000"
                    [attr.aria-label]="'What was done about: ' + words[finding.kind]"
                    placeholder="what was done"
                  />
                  <button nz-button type="submit">Settled</button>
                </form>
              }
            </article>
          } @empty {
            <p class="muted">
              Nothing was noted yet. Look for black or green copper, heat marks, leaks, bulges, burnt pins, ties cut and torn seals.
            </p>
          }
        </section>
      </div>
    }
  `,
  styleUrl: './finding-board.less',
})
export class FindingBoard {
  readonly stage = input.required<Stage>();

  protected readonly log = inject(JobLog);
  protected readonly words = FINDING_WORDS;
  protected readonly severityWords = SEVERITY_WORDS;
  protected readonly followWords = FOLLOW_WORDS;
  protected readonly sayPin = sayPin;
  protected readonly pin = signal<Pin | null>(null);
  protected readonly isInside = computed(() => this.stage() !== 'strip' && this.stage() !== 'intake');
  /** Open ones first, the worst first. */
  protected readonly findings = computed(() => {
    const rank = { severe: 0, moderate: 1, slight: 2 };
    return [...(this.log.state()?.finding.findings ?? [])].sort(
      (a, b) => Number(a.settled !== null) - Number(b.settled !== null) || rank[a.severity] - rank[b.severity] || b.number - a.number,
    );
  });
  /** Modules with a finding carry its mark. */
  protected readonly marked = computed((): PlaceView[] => {
    const found = new Map<number, Finding>();
    for (const f of this.findings()) if (f.pin.on === 'module' && !f.settled && !found.has(f.pin.place)) found.set(f.pin.place, f);
    return [...found].map(([place, { kind, severity }]) => ({
      ...{ place, verdict: severity === 'severe' ? 'reject' : 'watch', text: FINDING_WORDS[kind] },
      ...{ deviation: null, deviationText: '', figureVerdict: 'unknown', isPending: false },
    }));
  });

  protected note(body: ActBody<'finding.noted'>): void {
    void this.log.act({ type: 'finding.noted', body });
    this.pin.set(null);
  }

  protected settle(finding: Finding, box: HTMLInputElement): void {
    const note = box.value.trim();
    if (note === '') return;
    void this.log.act({ type: 'finding.settled', body: { findingId: finding.findingId, note } });
    box.value = '';
  }
}

import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { CAUSE_NAMES, CAUSES, findCauses, findOffers, type Cause } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../transport/job-log.ts';
import { Session } from '../../session/session.ts';
import { readAsked } from '../../ui/asked-figures.ts';
import { TextField } from '../../ui/text-field.ts';
import { YesNoRows, type YesNoRow } from '../../ui/yes-no-rows.ts';
import { JobClosing } from '../intake/job-closing.ts';
import { ComebackPanel } from './comeback-panel.ts';

const MONTHS = [0, 3, 6, 12, 24, 36] as const;

/** What brought the car in and whether it is answered, what is promised, what was offered, and the end of the job. */
@Component({
  selector: 'app-finish-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ComebackPanel, JobClosing, NzButtonModule, TextField, YesNoRows],
  template: `
    <div class="body">
      <section class="view" aria-label="Causes and warranty">
        @if (isComeback()) {
          <app-comeback-panel />
        }
        <h2>What brought it in, and is it answered?</h2>
        <app-text-field label="How it was answered, kept with the next press; may stay empty" isWide [most]="400" [(value)]="how" />
        <app-yes-no-rows label="Causes" [rows]="causes()" (said)="answer($event)" />
        @if (notes().length > 0) {
          <ul class="notes">
            @for (note of notes(); track note) {
              <li>{{ note }}</li>
            }
          </ul>
        }
        <h2>Accessories</h2>
        <div class="fields">
          <app-text-field label="What is offered" [most]="120" [(value)]="offer" />
          <button nz-button type="button" [disabled]="!offer().trim()" (click)="offered('accepted')">Accepted</button>
          <button nz-button type="button" [disabled]="!offer().trim()" (click)="offered('refused')">Refused</button>
        </div>
        @for (made of offers(); track made.commandId) {
          <p class="muted">{{ made.what }}: {{ made.answer }}, {{ made.by.toUpperCase() }}.</p>
        }
      </section>
      <section class="panel" aria-label="Warranty and closing">
        <h2>What is promised</h2>
        @if (given(); as stands) {
          <p class="answer">
            {{ stands.months === 0 ? 'No warranty' : stands.months + ' months'
            }}{{ stands.kilometre === null ? '' : ', or ' + stands.kilometre + ' km' }}. {{ stands.words }}
          </p>
        }
        @if (mayPromise()) {
          <div class="choice" role="group" aria-label="Months of warranty">
            @for (months of choices; track months) {
              <button
                type="button"
                [class.is-on]="given()?.months === months"
                [attr.aria-pressed]="given()?.months === months"
                (click)="promise(months)"
              >
                {{ months === 0 ? 'None' : months + ' months' }}
              </button>
            }
          </div>
          <div class="fields">
            <app-text-field label="or kilometres" isFigure mode="numeric" [(value)]="kilometre" />
            <app-text-field label="Terms" [most]="400" [(value)]="terms" />
          </div>
          <p class="muted">Kilometres and terms are kept with the months. The warranty follows pack and vehicle, whoever owns them.</p>
        } @else {
          <p class="muted">
            {{ isClosed() ? 'The job is closed: open it again to promise otherwise.' : 'A technician or the lead says what is promised.' }}
          </p>
        }
        @if (fault()) {
          <p class="fault" role="alert">{{ fault() }}</p>
        }
        <app-job-closing />
      </section>
    </div>
  `,
  styleUrls: ['../two-panes.less', '../room.less'],
  styles: `
    .notes {
      margin: 0;
      padding-left: 20px;
    }
  `,
})
export class FinishPanel {
  readonly #log = inject(JobLog);
  readonly #session = inject(Session);
  protected readonly choices = MONTHS;
  protected readonly how = signal('');
  protected readonly offer = signal('');
  protected readonly kilometre = signal('');
  protected readonly terms = signal('');
  protected readonly fault = signal('');

  readonly #slice = computed(() => this.#log.state()?.handOver ?? null);
  readonly #named = computed(() => {
    const slice = this.#slice();
    return new Map(slice ? findCauses(slice).map((c) => [c.cause, c]) : []);
  });
  protected readonly isComeback = computed(() => this.#log.state()?.intake.opened?.comebackOf != null);
  protected readonly causes = computed((): YesNoRow<Cause>[] => {
    const heat = this.#log.state()?.cool.judged.at(-1)?.isAnswered ?? null;
    return CAUSES.map((cause) => ({
      check: cause,
      name: CAUSE_NAMES[cause],
      // said at the cooling already: nobody is asked twice
      isGood: this.#named().get(cause)?.isAnswered ?? (cause === 'heat' && heat === true ? true : null),
    }));
  });
  protected readonly notes = computed(() => [...this.#named().values()].filter((c) => c.how !== '').map((c) => `${CAUSE_NAMES[c.cause]}: ${c.how}`)); // prettier-ignore
  protected readonly offers = computed(() => {
    const slice = this.#slice();
    return slice ? findOffers(slice) : [];
  });
  protected readonly given = computed(() => this.#slice()?.given.at(-1) ?? null);
  protected readonly isClosed = computed(() => this.#log.closed() !== null);
  protected readonly mayPromise = computed(
    () => (this.#session.person()?.role ?? 'apprentice') !== 'apprentice' && this.#log.closed() === null,
  );

  protected answer({ check, isGood }: { readonly check: Cause; readonly isGood: boolean }): void {
    void this.#log.act({ type: 'cause.answered', body: { cause: check, isAnswered: isGood, how: this.how().trim() } });
    this.how.set('');
  }

  protected offered(answer: 'accepted' | 'refused'): void {
    void this.#log.act({ type: 'accessory.offered', body: { what: this.offer().trim(), answer, note: '' } });
    this.offer.set('');
  }

  protected promise(months: number): void {
    const read = readAsked([{ name: 'Kilometres', text: this.kilometre(), least: 1, most: 2_000_000, isOptional: true }]);
    this.fault.set('fault' in read ? read.fault : '');
    if ('fault' in read) return;
    const [kilometre = null] = read.values;
    void this.#log.act({
      type: 'warranty.given',
      body: { months, kilometre: kilometre === null ? null : Math.round(kilometre), words: this.terms().trim() },
    });
  }
}

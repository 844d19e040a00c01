import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { CORE_CHECK_NAMES, findCoreDesk, localTime, type CoreCheck } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../transport/job-log.ts';
import { Link } from '../../transport/link.ts';
import { injectPhotoTaking } from '../finding/photo-taking.ts';
import { readAsked } from '../../ui/asked-figures.ts';
import { TextField } from '../../ui/text-field.ts';
import { YesNoRows, type YesNoRow } from '../../ui/yes-no-rows.ts';

/** Begins the words on photographs of what goes back. */
const PACKING = 'Packed to go back';

/** The old pack or the loose old modules on their way back: agreed, looked at, packed, shipped, credited or disputed. */
@Component({
  selector: 'app-core-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzButtonModule, TextField, YesNoRows],
  template: `
    <div class="body">
      <section class="view" aria-label="What goes back">
        @if (desk(); as back) {
          <h2>
            {{ back.what === 'pack' ? back.count + ' whole' : back.count + (back.count === 1 ? ' loose module' : ' loose modules') }} to
            {{ back.supplier }}
          </h2>
          <p [class.is-late]="isLate()">
            Ship by <b class="figure">{{ back.shipBy }}</b>{{ isLate() ? ': that day is over.' : '.' }} Deposit
            <b class="figure">{{ back.deposit }} {{ currency() }}</b
            >, still out <b class="figure">{{ back.outstanding }} {{ currency() }}</b
            >.
          </p>
          <h3>Before it is packed</h3>
          <app-yes-no-rows label="Before it is packed" [rows]="checks()" (said)="look($event)" />
          <label class="button">
            Photograph: posts, cables, carton
            <input #camera type="file" accept="image/*" capture="environment" class="visually-hidden" (change)="photograph(camera)" />
          </label>
          <p class="muted">
            {{
              packed() === 0
                ? 'One before the carton is shut settles most disputes.'
                : packed() === 1
                  ? 'One was taken.'
                  : packed() + ' were taken.'
            }}
          </p>
          @for (sent of shipments(); track sent.commandId) {
            <p class="answer">Shipped {{ sent.on }}, {{ sent.count }}, {{ sent.carrier || 'no word on how' }}.</p>
          }
          @if (back.settled; as end) {
            <p class="answer" [class.is-bad]="end.outcome !== 'credited'">
              {{ outcomes[end.outcome] }}, {{ end.credit }} {{ currency() }}. {{ end.note }}
            </p>
          }
          <p class="caution">
            Packs and modules are dangerous goods: rules for their transport and the maker’s information govern how they are packed, marked
            and sent.
          </p>
        } @else {
          <h2>Nothing goes back from this job</h2>
          <p>Where a pack or modules were bought against a deposit, note here what goes back, to whom, and by when.</p>
        }
      </section>
      <section class="panel" aria-label="What was agreed">
        <h3>{{ desk() ? 'Agreed otherwise' : 'What was agreed' }}</h3>
        <div class="choice" role="group" aria-label="What goes back">
          <button type="button" [class.is-on]="what() === 'pack'" [attr.aria-pressed]="what() === 'pack'" (click)="what.set('pack')">
            Whole pack
          </button>
          <button
            type="button"
            [class.is-on]="what() === 'modules'"
            [attr.aria-pressed]="what() === 'modules'"
            (click)="what.set('modules')"
          >
            Loose modules
          </button>
        </div>
        <app-text-field label="Supplier" isWide [most]="120" [(value)]="supplier" />
        <div class="fields">
          <app-text-field label="How many" isFigure mode="numeric" [(value)]="count" />
          <app-text-field [label]="'Deposit, ' + currency()" isFigure mode="decimal" [(value)]="deposit" />
          <app-text-field label="Ship by, year-month-day" isFigure [(value)]="shipBy" />
        </div>
        <button nz-button type="button" class="tall" (click)="agree()">Keep it</button>
        @if (desk()) {
          <h3>Shipped</h3>
          <div class="fields">
            <app-text-field label="On, year-month-day" isFigure [(value)]="on" />
            <app-text-field label="How many" isFigure mode="numeric" [(value)]="sent" />
            <app-text-field label="How" [most]="120" [(value)]="carrier" />
          </div>
          <button nz-button type="button" class="tall" (click)="ship()">It is shipped</button>
          <h3>What came of it</h3>
          <div class="fields">
            <app-text-field [label]="'Credit, ' + currency()" isFigure mode="decimal" [(value)]="credit" />
            <app-text-field label="Their words" [most]="400" [(value)]="note" />
          </div>
          <div class="choice">
            <button type="button" (click)="settle('credited')">Credited</button>
            <button type="button" (click)="settle('disputed')">Disputed</button>
            <button type="button" (click)="settle('refused')">Refused for good</button>
          </div>
        }
        @if (fault()) {
          <p class="fault" role="alert">{{ fault() }}</p>
        }
      </section>
    </div>
  `,
  styleUrls: ['../two-panes.less', '../room.less'],
  styles: `
    .button {
      justify-self: start;
    }
    .is-late {
      padding-left: 10px;
      border-left: 4px solid var(--madder);
    }
  `,
})
export class CorePanel {
  readonly #log = inject(JobLog);
  readonly #link = inject(Link);
  protected readonly outcomes = { credited: 'Credited', disputed: 'Disputed', refused: 'Refused for good' } as const;
  protected readonly desk = computed(() => {
    const state = this.#log.state();
    return state && findCoreDesk(state.handOver);
  });
  protected readonly currency = computed(() => this.#log.policy().money.currency);
  protected readonly shipments = computed(() => this.#log.state()?.handOver.shipped ?? []);
  protected readonly checks = computed((): YesNoRow<CoreCheck>[] =>
    (this.desk()?.checks ?? []).map((c) => ({ ...c, name: CORE_CHECK_NAMES[c.check] })),
  );
  readonly #today = computed(() => localTime(this.#link.serverNow(), this.#log.policy().isolation.timeZone).date);
  protected readonly isLate = computed(() => {
    const back = this.desk();
    return back !== null && !back.isAllShipped && back.shipBy < this.#today();
  });

  protected readonly what = signal<'pack' | 'modules'>('pack');
  protected readonly supplier = signal('');
  protected readonly count = signal('1');
  protected readonly deposit = signal('');
  protected readonly shipBy = signal('');
  protected readonly on = signal('');
  protected readonly sent = signal('');
  protected readonly carrier = signal('');
  protected readonly credit = signal('');
  protected readonly note = signal('');
  protected readonly fault = signal('');
  readonly #takePhoto = injectPhotoTaking();
  protected readonly packed = computed(
    () => (this.#log.state()?.finding.photos ?? []).filter((p) => p.erased === null && p.caption.startsWith(PACKING)).length,
  );

  constructor() {
    // what stands is what is changed
    const back = this.desk();
    if (back) {
      this.what.set(back.what);
      this.supplier.set(back.supplier);
      this.count.set(`${back.count}`);
      this.deposit.set(`${back.deposit}`);
      this.shipBy.set(back.shipBy);
      this.sent.set(`${back.count}`);
      this.credit.set(`${back.deposit}`);
    }
    this.on.set(this.#today());
  }

  protected look({ check, isGood }: { readonly check: CoreCheck; readonly isGood: boolean }): void {
    void this.#log.act({ type: 'core.checked', body: { check, isGood } });
  }

  protected async photograph(input: HTMLInputElement): Promise<void> {
    const file = input.files?.[0];
    input.value = '';
    if (file) this.fault.set((await this.#takePhoto(file, { stage: 'handOver', caption: PACKING, place: null, pairOf: null })) ?? '');
  }

  protected agree(): void {
    const supplier = this.supplier().trim();
    const read = readAsked([
      { name: 'How many', text: this.count(), least: 1, most: 999 },
      { name: 'Deposit', text: this.deposit(), least: 0, most: 10_000_000 },
    ]);
    const fault = supplier === '' ? 'Supplier: still to be said.' : 'fault' in read ? read.fault : dayFault('Ship by', this.shipBy());
    this.fault.set(fault);
    if (fault !== '' || 'fault' in read) return;
    const [count = 1, deposit = 0] = read.values;
    const body = { supplier, what: this.what(), count: Math.round(count ?? 1), deposit: deposit ?? 0, shipBy: this.shipBy().trim() };
    void this.#log.act({ type: 'core.agreed', body });
    this.sent.set(`${body.count}`);
    this.credit.set(`${body.deposit}`);
  }

  protected ship(): void {
    const read = readAsked([{ name: 'How many', text: this.sent(), least: 1, most: 999 }]);
    const fault = 'fault' in read ? read.fault : dayFault('On', this.on());
    this.fault.set(fault);
    if (fault !== '' || 'fault' in read) return;
    void this.#log.act({ type: 'core.shipped', body: { on: this.on().trim(), count: Math.round(read.values[0] ?? 1), carrier: this.carrier().trim() } }); // prettier-ignore
  }

  protected settle(outcome: 'credited' | 'disputed' | 'refused'): void {
    const read = readAsked([
      { name: 'Credit', text: outcome === 'credited' ? this.credit() : this.credit() || '0', least: 0, most: 10_000_000 },
    ]);
    this.fault.set('fault' in read ? read.fault : '');
    if ('fault' in read) return;
    const credit = outcome === 'refused' ? 0 : (read.values[0] ?? 0);
    void this.#log.act({ type: 'core.settled', body: { outcome, credit, note: this.note().trim() } });
  }
}

/** What is wrong with a day as it was typed; empty where nothing is. */
function dayFault(name: string, text: string): string {
  const day = text.trim();
  if (day === '') return `${name}: still to be said.`;
  const isDay = /^\d{4}-\d{2}-\d{2}$/.test(day) && new Date(`${day}T00:00:00Z`).toISOString().slice(0, 10) === day;
  return isDay ? '' : `${name}: a day such as 2026-12-04; "${day}" is none.`;
}

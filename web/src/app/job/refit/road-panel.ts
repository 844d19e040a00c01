import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { watchAnswerSchema } from '@estuarine/contract';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { Api } from '../../transport/api.ts';
import { findInstrument } from '../../transport/instruments.ts';
import { JobLog } from '../../transport/job-log.ts';
import { readAsked } from '../../ui/asked-figures.ts';
import { TextField } from '../../ui/text-field.ts';

/** What a simulated car gives on a hill and takes on a long brake. */
const SIMULATED_AMPERE = { gives: 50, takes: -35 } as const;

/** The road test, before the last trim: how the blocks keep together while the pack gives and takes, and how warm it gets. */
@Component({
  selector: 'app-road-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzButtonModule, TextField],
  template: `
    <div class="body">
      <section class="view" aria-label="Road tests so far">
        <h2>What to watch</h2>
        <ul>
          <li>Ready light and lamps, from the first metre on.</li>
          <li>Blocks side by side on a hill up (it gives) and on a long brake (it takes): within 0.2 V a module of one another.</li>
          <li>The hottest sensor: below 50 °C, and the fan heard once it rises.</li>
          <li>Charge shown: it moves in small steps; a jump is a weak block.</li>
        </ul>
        @for (drive of drives(); track drive.number) {
          <p class="answer" [class.is-bad]="!drive.isGood">
            <b>{{ drive.isGood ? 'Good' : 'Not good' }}</b>, {{ drive.minute }} min, by {{ drive.by.toUpperCase() }}.
            @if (drive.spreadLoadVolt !== null) {
              Giving {{ drive.spreadLoadVolt }} V a module apart.
            }
            @if (drive.spreadChargeVolt !== null) {
              Taking {{ drive.spreadChargeVolt }} V apart.
            }
            @if (drive.highestCelsius !== null) {
              Up to {{ drive.highestCelsius }} °C.
            }
            {{ drive.note }}
          </p>
        } @empty {
          <p class="muted">Nobody drove it yet.</p>
        }
      </section>
      <section class="panel" aria-label="This drive">
        @if (reader(); as on) {
          <div class="choice" role="group" aria-label="Read from the car while it is driven">
            <button type="button" [disabled]="isAsking()" (click)="read('gives')">
              Read while it gives{{ on.isSimulated ? ' (simulated)' : '' }}
            </button>
            <button type="button" [disabled]="isAsking()" (click)="read('takes')">
              Read while it takes{{ on.isSimulated ? ' (simulated)' : '' }}
            </button>
          </div>
        }
        <div class="fields">
          <app-text-field label="Minutes" isFigure mode="decimal" [(value)]="minute" />
          <app-text-field label="Giving, V a module apart" isFigure mode="decimal" [(value)]="spreadLoad" />
          <app-text-field label="Taking, V a module apart" isFigure mode="decimal" [(value)]="spreadCharge" />
          <app-text-field label="Hottest, °C" isFigure mode="decimal" [(value)]="celsius" />
        </div>
        <app-text-field label="What was seen" [most]="400" [(value)]="note" />
        <div class="choice">
          <button type="button" (click)="keep(true)">It drives well</button>
          <button type="button" (click)="keep(false)">Something is wrong</button>
        </div>
        @if (fault()) {
          <p class="fault" role="alert">{{ fault() }}</p>
        }
        <p class="caution">
          Seats, belts and everything that holds them are back and tight before the car moves. Local rules govern who drives.
        </p>
      </section>
    </div>
  `,
  styleUrls: ['../two-panes.less', '../room.less'],
})
export class RoadPanel {
  readonly #log = inject(JobLog);
  readonly #api = inject(Api);
  protected readonly reader = findInstrument('scanTool');
  protected readonly isAsking = signal(false);
  protected readonly drives = computed(() => [...(this.#log.state()?.refit.driven ?? [])].reverse());
  protected readonly minute = signal('');
  protected readonly spreadLoad = signal('');
  protected readonly spreadCharge = signal('');
  protected readonly celsius = signal('');
  protected readonly note = signal('');
  protected readonly fault = signal('');

  /** The worst of what was read so far stays in the fields. */
  protected async read(when: 'gives' | 'takes'): Promise<void> {
    const [reader, blocks] = [this.reader(), this.#log.profile()?.blocks ?? []];
    if (!reader || this.isAsking()) return;
    this.isAsking.set(true);
    const body = { readerId: reader.instrumentId, load: { ampere: SIMULATED_AMPERE[when], second: 0 } };
    const reply = await this.#api.post(`/api/jobs/${this.#log.jobId()}/car/watch`, watchAnswerSchema, body);
    this.isAsking.set(false);
    if (reply.kind !== 'answer') {
      this.fault.set(reply.kind === 'problem' ? reply.problem.detail : 'The car cannot be read from here. Type what the reader shows.');
      return;
    }
    this.fault.set('');
    const perModule = reply.value.blockVolts.flatMap((v, i) => (v === null ? [] : [v / (blocks[i] ?? 1)]));
    const worst = (field: typeof this.spreadLoad, value: number, digits: number): void => {
      const before = Number(field());
      if (field() === '' || !(before >= value)) field.set(value.toFixed(digits));
    };
    if (perModule.length > 1)
      worst(when === 'gives' ? this.spreadLoad : this.spreadCharge, Math.max(...perModule) - Math.min(...perModule), 2);
    const celsius = reply.value.celsius.filter((c): c is number => c !== null);
    if (celsius.length > 0) worst(this.celsius, Math.max(...celsius), 0);
  }

  protected keep(isGood: boolean): void {
    const read = readAsked([
      { name: 'Minutes', text: this.minute(), least: 1, most: 1440 },
      { name: 'Giving, V a module', text: this.spreadLoad(), least: 0, most: 20, isOptional: true },
      { name: 'Taking, V a module', text: this.spreadCharge(), least: 0, most: 20, isOptional: true },
      { name: 'Hottest, °C', text: this.celsius(), least: -60, most: 200, isOptional: true },
    ]);
    this.fault.set('fault' in read ? read.fault : '');
    if ('fault' in read) return;
    const [minute, spreadLoadVolt = null, spreadChargeVolt = null, highestCelsius = null] = read.values;
    void this.#log.act({ type: 'road.driven', body: { minute: minute ?? 0, spreadLoadVolt, spreadChargeVolt, highestCelsius, isGood, note: this.note().trim() } }); // prettier-ignore
    for (const field of [this.minute, this.spreadLoad, this.spreadCharge, this.celsius, this.note]) field.set('');
  }
}

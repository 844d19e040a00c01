import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, input, output, resource, signal } from '@angular/core';
import { type InstrumentRow, instrumentsAnswerSchema, measureAnswerSchema } from '@estuarine/contract';
import { readDecimal, type Act, type FaultPlace, type Isolation, type Profile } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { Api } from '../../transport/api.ts';
import { ReckonLink } from '../../reckoner/reckon-link.ts';

const FIELDS = [
  ['packVolt', 'Across the pack, V'],
  ['minusChassisVolt', 'Minus to chassis, V'],
  ['plusChassisVolt', 'Plus to chassis, V'],
  ['withResistorVolt', 'The larger again, resistor in, V'],
  ['resistorOhm', 'The resistor, ohm'],
] as const;
type Field = (typeof FIELDS)[number][0];

/** Insulation against the chassis by two voltages, and where in the string a single fault lies. */
@Component({
  selector: 'app-insulation-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DatePipe, NzButtonModule, ReckonLink],
  template: `
    <details [open]="isAsked() || finding() !== null">
      <summary>Insulation against the chassis</summary>
      <form (submit)="$event.preventDefault(); keep()">
        @for (field of fields; track field[0]) {
          <label class="field">
            <span>{{ field[1] }}</span>
            <input
              #box
              class="plain figure"
              inputmode="decimal"
              autocomplete="off"
              [value]="texts()[field[0]]"
              (input)="set(field[0], box.value)"
            />
          </label>
        }
        <button nz-button type="submit" [disabled]="values() === null">Keep these readings</button>
      </form>
      @if (tester(); as instrument) {
        <div class="row tester">
          <button nz-button type="button" [nzLoading]="isAsking()" (click)="ask(instrument)">
            Take both poles from {{ instrument.isSimulated ? 'the simulated insulation tester' : instrument.name }}
          </button>
        </div>
      }
      @if (fault(); as reason) {
        <p role="alert" class="fault">{{ reason }}</p>
      }
      @if (finding(); as found) {
        @if (found.result.kind === 'answer') {
          <p class="answer" [class.is-low]="!found.result.value.passes">
            <b class="figure">{{ found.result.value.ohmPerVolt.toFixed(0) }} ohm per volt</b>
            ({{ (found.result.value.ohm / 1000).toFixed(0) }} kohm over the pack's highest voltage):
            {{ found.result.value.passes ? 'at or above' : 'below' }} the {{ found.ohmPerVoltRequired }} asked for
            {{ found.ohmPerVoltRequired > 100 ? 'while the cables join it to the inverter ' : '' }}(UN R100).
            {{ found.mark.by.toUpperCase() }} {{ found.mark.at | date: 'HH:mm' }}
          </p>
        } @else {
          <p class="answer is-low">{{ found.result.message }}</p>
        }
        @if (question(); as asked) {
          <app-reckon-link calculation="isolate.insulation" [question]="asked" />
        }
        @if (place(); as at) {
          <p>
            If one fault makes it, it lies <b class="figure">{{ at.modulesFromNegative.toFixed(1) }}</b> modules up from the negative end,
            {{ at.isMeasured ? 'walked by what each module was measured at' : 'all modules taken as alike' }}.
          </p>
          <svg
            viewBox="0 0 600 54"
            role="img"
            [attr.aria-label]="'The fault lies ' + at.modulesFromNegative.toFixed(1) + ' of ' + profile().moduleCount + ' modules up'"
          >
            @for (module of modules(); track module.place) {
              <rect [attr.x]="module.x" y="8" [attr.width]="module.width" height="26" [class.is-near]="module.isNear" />
              @if (module.isNamed) {
                <text [attr.x]="module.x + module.width / 2" y="50">{{ module.place }}</text>
              }
            }
            <path class="fault-mark" [attr.d]="'M' + faultX() + ' 2v38m-6-6l6 8 6-8'" />
          </svg>
        }
      }
    </details>
  `,
  styles: `
    details {
      border-top: 1px solid var(--line);
    }
    summary {
      min-height: 44px;
      font-size: 17px;
      font-weight: 650;
      padding-block: 0;
      line-height: 44px;
      cursor: pointer;
    }
    form {
      display: grid;
      grid-template-columns: repeat(auto-fit, minmax(180px, 1fr));
      gap: 10px;
      align-items: end;
    }
    input {
      width: 100%;
    }
    .tester {
      margin-top: 12px;
    }
    .fault {
      color: var(--madder);
    }
    .answer {
      margin-top: 12px;
      padding-left: 12px;
      border-left: 4px solid var(--channel);
    }
    .answer.is-low {
      border-left-color: var(--madder);
    }
    rect {
      fill: var(--tide-wash);
      stroke: var(--channel);
    }
    rect.is-near {
      fill: var(--madder-wash);
      stroke: var(--madder);
    }
    text {
      font-size: 12px;
      text-anchor: middle;
      fill: var(--fog);
    }
    .fault-mark {
      fill: none;
      stroke: var(--madder);
      stroke-width: 2.5;
    }
  `,
})
export class InsulationPanel {
  readonly finding = input.required<Isolation['insulation']>();
  readonly profile = input.required<Profile>();
  /** Where a single fault lies, walked by the modules; null where it cannot be told. */
  readonly place = input.required<FaultPlace | null>();
  /** Whether the shop asks for it on every job. */
  readonly isAsked = input.required<boolean>();

  readonly jobId = input.required<string>();

  readonly act = output<Act>();

  readonly #api = inject(Api);
  protected readonly isAsking = signal(false);
  readonly #instruments = resource({
    loader: async () => {
      const reply = await this.#api.get('/api/instruments', instrumentsAnswerSchema);
      return reply.kind === 'answer' ? reply.value.instruments : [];
    },
  });
  protected readonly tester = computed(
    () => this.#instruments.value()?.find((i) => i.kind === 'insulationTester' && i.gearId !== null) ?? null,
  );

  protected readonly fields = FIELDS;
  protected readonly texts = signal<Readonly<Record<Field, string>>>({
    ...{ packVolt: '', minusChassisVolt: '', plusChassisVolt: '', withResistorVolt: '', resistorOhm: '' },
  });
  protected readonly fault = signal<string | null>(null);
  protected readonly values = computed((): Record<Field, number> | null => {
    const values: Partial<Record<Field, number>> = {};
    for (const [key] of FIELDS) {
      const read = readDecimal(this.texts()[key]);
      if (read.kind === 'refused') return null;
      values[key] = read.value;
    }
    return values as Record<Field, number>;
  });
  /** As the equation is asked, while what is typed here is whole. */
  protected readonly question = computed(() => {
    const values = this.values();
    if (!values) return null;
    const { packVolt, minusChassisVolt, plusChassisVolt, withResistorVolt, resistorOhm } = values;
    return { packVolt, higherVolt: Math.max(minusChassisVolt, plusChassisVolt), withResistorVolt, resistorOhm };
  });
  protected readonly modules = computed(() => {
    const { moduleCount } = this.profile();
    const width = 600 / moduleCount;
    const at = this.place()?.modulesFromNegative ?? -1;
    return Array.from({ length: moduleCount }, (_, i) => ({
      ...{ place: i + 1, x: i * width, width: width - 2 },
      isNear: Math.abs(i + 0.5 - at) <= 1,
      isNamed: i === 0 || (i + 1) % 5 === 0,
    }));
  });
  protected readonly faultX = computed(() => ((this.place()?.modulesFromNegative ?? 0) * 600) / this.profile().moduleCount);

  protected set(key: Field, text: string): void {
    this.fault.set(null);
    this.texts.update((all) => ({ ...all, [key]: text }));
  }

  /** Each pole to the chassis in turn; both or nothing is recorded. */
  protected async ask(instrument: InstrumentRow): Promise<void> {
    if (this.isAsking()) return;
    this.isAsking.set(true);
    const ohms: number[] = [];
    for (const place of ['minusChassis', 'plusChassis'] as const) {
      const path = `/api/instruments/${encodeURIComponent(instrument.instrumentId)}/measure`;
      const reply = await this.#api.post(path, measureAnswerSchema, { jobId: this.jobId(), place, sourceId: null });
      if (reply.kind === 'answer') ohms.push(reply.value.value);
      else this.fault.set(reply.kind === 'problem' ? reply.problem.detail : 'The server cannot be reached. Nothing was read.');
    }
    this.isAsking.set(false);
    const [minusOhm, plusOhm] = ohms;
    if (minusOhm === undefined || plusOhm === undefined || instrument.gearId === null) return;
    this.fault.set(null);
    this.act.emit({ type: 'insulation.tested', body: { testerId: instrument.gearId, minusOhm, plusOhm } });
  }

  protected keep(): void {
    const values = this.values();
    if (!values) return;
    if (
      values.packVolt <= 0 ||
      values.withResistorVolt <= 0 ||
      values.resistorOhm <= 0 ||
      values.minusChassisVolt < 0 ||
      values.plusChassisVolt < 0
    ) {
      this.fault.set('Give magnitudes without a sign; the pack, the last reading and the resistor above zero.');
      return;
    }
    this.act.emit({ type: 'insulation.read', body: values });
  }
}

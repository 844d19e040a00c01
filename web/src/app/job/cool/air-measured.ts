import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { findDriven, findReturned, readDecimal, type CoolEffect } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../transport/job-log.ts';
import { TextField } from '../../ui/text-field.ts';

/** Air measured beside what was seen: what comes back warm, by three thermometers, and what a drive proves by heat. */
@Component({
  selector: 'app-air-measured',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzButtonModule, TextField],
  template: `
    <details>
      <summary>Warm air that comes back{{ returned() ? ': ' + sayReturned() : '' }}</summary>
      <form (submit)="$event.preventDefault(); keepReturned()">
        <p class="muted wide">Fan running for ten minutes. A crushed outlet or a leaking seal sends warm air back to the intake.</p>
        <app-text-field label="Cabin, °C" isFigure mode="decimal" [(value)]="cabin" />
        <app-text-field label="At the intake, °C" isFigure mode="decimal" [(value)]="inlet" />
        <app-text-field label="At the outlet, °C" isFigure mode="decimal" [(value)]="outlet" />
        <button nz-button type="submit">Keep, {{ when() }}</button>
        @if (returnedFault()) {
          <p class="fault wide" role="alert">{{ returnedFault() }}</p>
        }
      </form>
      @if (returned(); as found) {
        <p role="status" class="answer" [class.is-bad]="found.share >= 0.1">{{ sayReturned() }}.</p>
      } @else if (hasReturned()) {
        <p role="status" class="answer is-bad">These figures say nothing: the outlet must be the warmest, the cabin the coolest.</p>
      }
    </details>
    <details>
      <summary>Air proven by heat{{ driven() ? ': ' + sayDriven() : '' }}</summary>
      <form (submit)="$event.preventDefault(); keepDriven()">
        <p class="muted wide">
          A steady drive of a quarter of an hour. Heat is I²R of the string,
          <span class="figure">{{ milliohm().toFixed(0) }} mΩ</span> by {{ measured() }} of {{ count() }} modules measured.
        </p>
        <app-text-field label="Current, A (root mean square)" isFigure mode="decimal" [(value)]="ampere" />
        <app-text-field label="The air warms by, K" isFigure mode="decimal" [(value)]="rise" />
        <button nz-button type="submit">Keep, {{ when() }}</button>
        @if (drivenFault()) {
          <p class="fault wide" role="alert">{{ drivenFault() }}</p>
        }
      </form>
      @if (driven(); as found) {
        <p role="status" class="answer" [class.is-bad]="found.agrees === false">
          <b class="figure">{{ found.watt.toFixed(0) }} W</b>, so <b class="figure">{{ found.cubicMetrePerHour.toFixed(0) }} m³/h</b> (<span
            class="figure"
            >{{ found.leastCubicMetrePerHour.toFixed(0) }} to {{ found.mostCubicMetrePerHour?.toFixed(0) ?? 'any' }}</span
          >
          by 1 K of the thermometers), {{ (100 * found.shareOfClean).toFixed(0) }} % of clean.
          {{ found.agrees === null ? '' : found.agrees ? 'What was found explains it.' : 'What was found does not explain it: look on.' }}
        </p>
      }
    </details>
  `,
  styles: `
    :host {
      display: grid;
      gap: 6px;
    }
    form {
      display: grid;
      grid-template-columns: repeat(auto-fit, minmax(120px, 1fr));
      gap: 8px;
      align-items: end;
      padding: 8px 0;
    }
    .wide {
      grid-column: 1 / -1;
    }
    button {
      min-height: 48px;
    }
    .fault {
      color: var(--madder);
    }
    .answer {
      padding: 4px 12px;
      border-left: 4px solid var(--reed);
    }
    .answer.is-bad {
      border-color: var(--madder);
    }
  `,
})
export class AirMeasured {
  readonly effect = input.required<CoolEffect | null>();
  /** Whether what is measured now is measured after cleaning. */
  readonly isAfter = input.required<boolean>();

  readonly #log = inject(JobLog);
  protected readonly cabin = signal('');
  protected readonly inlet = signal('');
  protected readonly outlet = signal('');
  protected readonly ampere = signal('');
  protected readonly rise = signal('');
  protected readonly returnedFault = signal('');
  protected readonly drivenFault = signal('');

  protected readonly when = computed(() => (this.isAfter() ? 'as it is now' : 'as found'));
  readonly #phase = computed(() => (this.isAfter() ? 'after' : 'asFound'));
  readonly #cool = computed(() => this.#log.state()?.cool ?? null);
  protected readonly hasReturned = computed(() => this.#cool()?.returned.some((r) => r.when === this.#phase()) ?? false);
  protected readonly returned = computed(() => {
    const cool = this.#cool();
    return cool && findReturned(cool, this.#phase());
  });
  readonly #modules = computed(() => this.#log.exposure()?.modules ?? []);
  protected readonly milliohm = computed(() => this.#modules().reduce((sum, m) => sum + m.milliohm, 0));
  protected readonly count = computed(() => this.#modules().length);
  protected readonly measured = computed(() => this.#log.records().filter((r) => r.figures.resistanceMilliohm !== undefined).length);
  protected readonly driven = computed(() => {
    const [cool, profile, effect] = [this.#cool(), this.#log.profile(), this.effect()];
    const reckoned = effect && (this.isAfter() ? effect.now : effect.found);
    return cool && profile && findDriven(cool, this.#phase(), this.milliohm(), reckoned, profile);
  });

  protected sayReturned(): string {
    const found = this.returned();
    return found ? `${(100 * found.share).toFixed(0)} % of it, the inlet ${found.liftKelvin.toFixed(1)} K warmer` : '';
  }

  protected sayDriven(): string {
    const found = this.driven();
    return found ? `${found.cubicMetrePerHour.toFixed(0)} m³/h` : '';
  }

  protected keepReturned(): void {
    const read = [this.cabin(), this.inlet(), this.outlet()].map((text) => readDecimal(text));
    const refused = read.find((r) => r.kind === 'refused');
    const [cabinCelsius = Number.NaN, inletCelsius = Number.NaN, outletCelsius = Number.NaN] = read.map((r) =>
      r.kind === 'answer' ? r.value : Number.NaN,
    );
    const isPossible = [cabinCelsius, inletCelsius, outletCelsius].every((c) => c >= -60 && c <= 200);
    this.returnedFault.set(refused?.kind === 'refused' ? refused.message : isPossible ? '' : 'Degrees Celsius from -60 to 200.');
    if (this.returnedFault() !== '') return;
    void this.#log.act({ type: 'air.returned', body: { when: this.#phase(), cabinCelsius, inletCelsius, outletCelsius } });
    for (const field of [this.cabin, this.inlet, this.outlet]) field.set('');
  }

  protected keepDriven(): void {
    const [ampere, rise] = [readDecimal(this.ampere()), readDecimal(this.rise())];
    const refused = ampere.kind === 'refused' ? ampere : rise.kind === 'refused' ? rise : null;
    if (refused || ampere.kind === 'refused' || rise.kind === 'refused') {
      this.drivenFault.set(refused?.message ?? '');
      return;
    }
    const isPossible = ampere.value > 0 && ampere.value <= 1000 && rise.value > 0 && rise.value <= 150;
    this.drivenFault.set(isPossible ? '' : 'A current up to 1000 A, and air that warms by up to 150 K.');
    if (!isPossible) return;
    void this.#log.act({ type: 'air.driven', body: { when: this.#phase(), ampere: ampere.value, riseKelvin: rise.value } });
    this.ampere.set('');
    this.rise.set('');
  }
}

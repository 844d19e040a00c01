import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, output } from '@angular/core';
import { figureFormat, type ProposedMend } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../transport/job-log.ts';
import { SWEEP_NAMES } from './sweep-walk.ts';

/** A row that slipped, or two readings at each other's place: what stands, what would stand, and one press to put it right. */
@Component({
  selector: 'app-mend-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzButtonModule],
  template: `
    <p>{{ shown().sentence }}</p>
    @if (ways().length > 1) {
      <div class="ways" role="group" aria-label="Row at fault">
        @for (way of ways(); track way.act.body.sweepId) {
          <button type="button" [class.is-on]="way === shown()" [attr.aria-pressed]="way === shown()" (click)="choose(way)">
            {{ names[way.kind] }}
          </button>
        }
      </div>
    }
    <div class="scroll" tabindex="0" role="region" aria-label="Readings before and after">
      <table class="sheet">
        <thead>
          <tr>
            <th scope="row">Module</th>
            @for (row of shown().rows; track row.place) {
              <th scope="col" class="num">{{ row.place }}</th>
            }
          </tr>
        </thead>
        <tbody>
          <tr>
            <th scope="row">Stands</th>
            @for (row of shown().rows; track row.place) {
              <td class="num">{{ show(row.before) }}</td>
            }
          </tr>
          <tr>
            <th scope="row">Mended</th>
            @for (row of shown().rows; track row.place) {
              <td class="num">
                @if (row.after === null) {
                  <em>read anew</em>
                } @else {
                  <b>{{ show(row.after) }}</b>
                }
              </td>
            }
          </tr>
        </tbody>
      </table>
    </div>
    <button nz-button type="button" (click)="mend()">
      {{ isSwap() ? 'Exchange the two' : 'Move the row' }}{{ anew() ? ', read module ' + anew() + ' anew' : '' }}
    </button>
    <small class="muted">What was written stays in the record beside it.</small>
  `,
  styles: `
    :host {
      display: grid;
      gap: 6px;
      padding: 8px 12px;
      border-left: 4px solid var(--sedge);
    }
    p {
      color: var(--sedge);
      font-weight: 600;
    }
    .scroll {
      overflow-x: auto;
    }
    .ways {
      display: flex;
    }
    .ways button {
      min-height: 44px;
      padding: 0 12px;
      font: inherit;
      color: var(--channel);
      background: none;
      border: 1.5px solid var(--channel);
    }
    .ways .is-on {
      color: var(--paper);
      background: var(--channel);
    }
    [nz-button] {
      justify-self: start;
    }
  `,
})
export class MendPanel {
  /** The mend of either row, the likelier first. */
  readonly ways = input.required<readonly [ProposedMend, ...ProposedMend[]]>();

  /** A place that is to be read anew. */
  readonly toRead = output<number>();

  readonly #log = inject(JobLog);
  protected readonly names = SWEEP_NAMES;
  readonly #sweepId = linkedSignal(computed(() => this.ways()[0].act.body.sweepId));
  protected readonly shown = computed(() => this.ways().find((way) => way.act.body.sweepId === this.#sweepId()) ?? this.ways()[0]);
  protected readonly isSwap = computed(() => this.shown().rows.length === 2 && this.shown().act.body.anew.length === 0);
  protected readonly anew = computed(() => this.shown().act.body.anew.join(' and '));

  protected choose({ act }: ProposedMend): void {
    this.#sweepId.set(act.body.sweepId);
  }

  protected show(value: number | null): string {
    return value === null ? 'not read' : value.toFixed(figureFormat('openCircuitVolt').digits);
  }

  protected mend(): void {
    const { act } = this.shown();
    const [place] = act.body.anew;
    void this.#log.act(act);
    if (place !== undefined) this.toRead.emit(place);
  }
}

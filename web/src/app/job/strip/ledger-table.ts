import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { findLookAlikes, listBackwards, spotName, type Stage } from '@estuarine/core';
import { JobLog } from '../../transport/job-log.ts';
import { Session } from '../../session/session.ts';
import { moveAct } from './ledger-acts.ts';
import { PartCard } from './part-card.ts';

/** The balance of the whole job: what came off last is offered first on the way back; then everything, part by part. */
@Component({
  selector: 'app-ledger-table',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [PartCard],
  template: `
    @if (log.ledger(); as ledger) {
      <section class="no-print" aria-label="Next to go back">
        <h2>Back in, what came off last first</h2>
        @for (view of back(); track view.part.id) {
          <app-part-card
            [view]="view"
            [isOpen]="view.part.id === openId()"
            [maySign]="maySign()"
            (toggled)="toggle(view.part.id)"
            (moved)="log.act(moveAct(stage(), $event))"
            (leftOff)="log.act({ type: 'part.leftOff', body: $event })"
          />
        } @empty {
          <p class="muted">Nothing is owed: all that came off is back or signed for.</p>
        }
      </section>
      <section aria-label="Balance">
        <div class="row">
          <h2>Balance</h2>
          <button class="link no-print" type="button" (click)="print()">Print the ledger</button>
        </div>
        <div class="scroll">
          <table class="sheet">
            <thead>
              <tr>
                <th scope="col">Part</th>
                <th scope="col">Place</th>
                <th scope="col" class="num">Out</th>
                <th scope="col" class="num">Back</th>
                <th scope="col" class="num">Missing</th>
                <th scope="col" class="num">Left off</th>
                <th scope="col" class="num">Owed</th>
                <th scope="col" class="num">To order</th>
                <th scope="col">Where it is</th>
              </tr>
            </thead>
            <tbody>
              @for (view of touched(); track view.part.id) {
                <tr>
                  <td>
                    {{ view.part.name }} <span class="figure">{{ view.part.size }}</span>
                  </td>
                  <td>{{ placeName(view.part.place) }}</td>
                  <td class="num">{{ view.out }}</td>
                  <td class="num">{{ view.back }}</td>
                  <td class="num">{{ view.absent || '' }}</td>
                  <td class="num">{{ view.leftOff || '' }}</td>
                  <td class="num">
                    <b>{{ view.owed }}</b>
                  </td>
                  <td class="num">{{ view.toOrder || '' }}</td>
                  <td>
                    @for (lot of view.lots; track $index) {
                      <span class="lot"
                        >{{ lot.count }} {{ spotName(lot.spot) }}{{ lot.condition === 'good' ? '' : ', ' + lot.condition }}</span
                      >
                    }
                  </td>
                </tr>
              } @empty {
                <tr>
                  <td colspan="9" class="muted">Nothing has come off yet.</td>
                </tr>
              }
            </tbody>
            <tfoot>
              <tr>
                <th scope="row" colspan="2">All</th>
                <td class="num">{{ ledger.out }}</td>
                <td class="num">{{ ledger.back }}</td>
                <td class="num">{{ ledger.absent || '' }}</td>
                <td class="num">{{ ledger.leftOff || '' }}</td>
                <td class="num">
                  <b>{{ ledger.owed }}</b>
                </td>
                <td class="num">{{ ledger.toOrder || '' }}</td>
                <td></td>
              </tr>
            </tfoot>
          </table>
        </div>
        @for (left of log.state()?.strip?.leftOff ?? []; track left.commandId) {
          <p class="signed">
            {{ left.count }} × {{ partName(left.partId) }} left off, signed by {{ left.by.toUpperCase() }}: {{ left.reason }} Then:
            {{ left.followUp }}
          </p>
        }
        @if (lookAlikes().length > 0) {
          <details>
            <summary>Look alike: {{ lookAlikes().length }} pairs of one size</summary>
            <ul>
              @for (pair of lookAlikes(); track $index) {
                <li>
                  <span class="figure">{{ pair.part.size }}</span>: {{ pair.part.name }} ({{ pair.part.where }}) and
                  {{ pair.other.name }} ({{ pair.other.where }})
                </li>
              }
            </ul>
          </details>
        }
      </section>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 20px;
      padding: 18px 24px 24px;
    }
    section {
      display: grid;
      gap: 8px;
      min-width: 0;
    }
    .scroll {
      overflow-x: auto;
    }
    .lot {
      display: block;
    }
    .signed {
      padding: 4px 12px;
      font-size: 15px;
      border-left: 4px solid var(--sedge);
    }
    tfoot th,
    tfoot td {
      border-top: 2px solid var(--edge);
      border-bottom: 0;
    }
    summary {
      min-height: 44px;
      align-content: center;
      cursor: pointer;
    }
    @media (max-width: 699px) {
      :host {
        padding: 14px;
      }
    }
  `,
})
export class LedgerTable {
  readonly stage = input.required<Stage>();

  protected readonly log = inject(JobLog);
  readonly #session = inject(Session);
  protected readonly spotName = spotName;
  protected readonly moveAct = moveAct;
  protected readonly openId = signal<string | null>(null);
  protected readonly maySign = computed(() => (this.#session.person()?.role ?? 'apprentice') !== 'apprentice');
  protected readonly back = computed(() => {
    const ledger = this.log.ledger();
    return ledger ? listBackwards(ledger) : [];
  });
  protected readonly touched = computed(() => (this.log.ledger()?.parts ?? []).filter((b) => b.out + b.absent + b.back > 0));
  protected readonly lookAlikes = computed(() => findLookAlikes(this.log.profile()?.parts ?? []));

  protected print(): void {
    window.print();
  }

  protected toggle(id: string): void {
    this.openId.update((open) => (open === id ? null : id));
  }

  protected placeName(id: string): string {
    const profile = this.log.profile();
    return [...(profile?.zones ?? []), ...(profile?.layers ?? [])].find((p) => p.id === id)?.name ?? id;
  }

  protected partName(id: string): string {
    return this.log.ledger()?.parts.find((b) => b.part.id === id)?.part.name ?? id;
  }
}

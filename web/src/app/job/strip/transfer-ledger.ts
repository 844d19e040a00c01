import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { FATES, listTransfers, type Fate, type TransferView } from '@estuarine/core';
import { JobLog } from '../../transport/job-log.ts';

const FATE_WORDS: Record<Fate, string> = { supplied: 'comes with the new', moves: 'moves across', stays: 'stays with the old' };

/** An exchange job: old and new pack side by side, each part where it is now, and what is not yet moved. */
@Component({
  selector: 'app-transfer-ledger',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p class="open" role="status">
      @if (waiting().length > 0) {
        <b>Not moved yet: {{ waiting().length }}.</b> {{ names(waiting()) }}.
      } @else if (views().length > 0) {
        <b>All that moves has moved.</b> What is supplied was seen, what stays was left.
      } @else {
        The profile names nothing that moves across on an exchange.
      }
    </p>
    <div class="packs">
      @for (side of sides(); track side.name) {
        <section [attr.aria-label]="side.name">
          <h2>{{ side.name }}</h2>
          <div class="pack">
            @for (view of side.views; track view.transfer.id) {
              <div class="part" [class.is-ghost]="side.isGhost(view)">
                <b>{{ view.transfer.name }}</b>
                <span class="muted">{{ side.say(view) }}</span>
              </div>
            } @empty {
              <span class="muted">Nothing yet.</span>
            }
          </div>
        </section>
      }
    </div>
    <table class="sheet">
      <thead>
        <tr>
          <th scope="col">Part</th>
          <th scope="col">What becomes of it</th>
          <th scope="col">Done</th>
        </tr>
      </thead>
      <tbody>
        @for (view of views(); track view.transfer.id) {
          <tr>
            <td>
              {{ view.transfer.name }}
              @if (view.transfer.note) {
                <div class="muted">{{ view.transfer.note }}</div>
              }
            </td>
            <td>
              <select
                #fate
                class="plain"
                [attr.aria-label]="'What becomes of: ' + view.transfer.name"
                (change)="say(view, fates[fate.selectedIndex]!, false)"
              >
                @for (name of fates; track name) {
                  <option [selected]="name === view.fate">{{ words[name] }}</option>
                }
              </select>
            </td>
            <td>
              <button type="button" class="done" [attr.aria-pressed]="view.isDone" (click)="say(view, view.fate, !view.isDone)">
                {{ doneWord(view) }}
              </button>
              @if (view.mark; as mark) {
                <span class="muted">{{ mark.by.toUpperCase() }}</span>
              }
            </td>
          </tr>
        }
      </tbody>
    </table>
    <p class="muted">The new pack's insulating bags and carton are kept for the core.</p>
  `,
  styles: `
    :host {
      display: grid;
      gap: 16px;
      padding: 18px 24px 24px;
    }
    .open {
      padding: 8px 14px;
      background: var(--shell);
      border-left: 4px solid var(--channel);
    }
    .packs {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 20px;
    }
    .pack {
      display: flex;
      flex-wrap: wrap;
      gap: 6px;
      align-content: start;
      min-height: 120px;
      padding: 10px;
      background: var(--shell);
      border: 2px solid var(--tide);
      border-radius: 8px;
    }
    .part {
      display: grid;
      padding: 6px 10px;
      font-size: 15px;
      background: var(--paper);
      border: 1.5px solid var(--edge);
      border-radius: 3px;
    }
    .is-ghost {
      background: none;
      border-style: dashed;
    }
    .done {
      min-height: 44px;
      padding: 0 14px;
      font: inherit;
      color: var(--ink);
      background: none;
      border: 1.5px dashed var(--edge);
      border-radius: 3px;
      cursor: pointer;
    }
    .done[aria-pressed='true'] {
      border-style: solid;
      background: var(--tide-wash);
    }
    @media (max-width: 699px) {
      :host {
        padding: 14px;
      }
      .packs {
        grid-template-columns: 1fr;
      }
    }
  `,
})
export class TransferLedger {
  readonly #log = inject(JobLog);

  protected readonly fates = FATES;
  protected readonly words = FATE_WORDS;
  protected readonly views = computed(() => {
    const [state, profile] = [this.#log.state(), this.#log.profile()];
    return state && profile ? listTransfers(state, profile) : [];
  });
  protected readonly waiting = computed(() => this.views().filter((v) => v.fate === 'moves' && !v.isDone));
  protected readonly sides = computed(() => {
    const views = this.views();
    const isOnNew = (v: TransferView): boolean => v.isDone && v.fate !== 'stays';
    return [
      {
        name: 'Old pack',
        views: views.filter((v) => v.fate !== 'supplied'),
        isGhost: isOnNew,
        say: (v: TransferView): string => (v.fate === 'stays' ? 'stays' : v.isDone ? 'gone across' : 'to be moved'),
      },
      {
        name: 'New pack',
        views: views.filter((v) => v.fate !== 'stays'),
        isGhost: (v: TransferView): boolean => !isOnNew(v),
        say: (v: TransferView): string =>
          v.fate === 'supplied' ? (v.isDone ? 'supplied, seen' : 'supplied, not seen yet') : v.isDone ? 'moved' : 'waits',
      },
    ];
  });

  protected names(views: readonly TransferView[]): string {
    return views.map((v) => v.transfer.name).join(', ');
  }

  protected doneWord({ fate, isDone }: TransferView): string {
    if (fate === 'moves') return isDone ? 'moved' : 'not moved';
    if (fate === 'supplied') return isDone ? 'seen' : 'not seen';
    return isDone ? 'left there' : 'not looked at';
  }

  protected say({ transfer }: TransferView, fate: Fate, isDone: boolean): void {
    void this.#log.act({ type: 'transfer.stated', body: { transferId: transfer.id, fate, isDone } });
  }
}

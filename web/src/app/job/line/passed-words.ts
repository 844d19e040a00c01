import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { isActType, type Act, type Fact, type PassedWord, type Profile } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { Session } from '../../session/session.ts';
import { sayAct, sayFact } from '../say-act.ts';

/** How many words one answer is for. */
const AT_ONCE = 100;
/** With more the list is folded away, and the answers with it: nobody answers for what they do not see. */
const OPEN_UP_TO = 2;

/** Words that somebody passed on in another's name, unproven: who said what for whom, and the answer of whoever is to give it. */
@Component({
  selector: 'app-passed-words',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DatePipe, NzButtonModule],
  template: `
    @for (group of groups(); track group.of) {
      <section class="passed" role="group" [attr.aria-label]="'Passed on for ' + group.of.toUpperCase()">
        <p>
          <b>Passed on for {{ group.of.toUpperCase() }}, unproven.</b>
          It raises the number and counts for nothing else until {{ group.isMine ? 'you answer' : group.of.toUpperCase() + ' answers' }}.
        </p>
        <details [open]="group.words.length <= OPEN_UP_TO">
          <summary>
            {{ group.words.length === 1 ? 'One word' : group.words.length + ' words' }}{{ group.isMine ? ', to be answered' : '' }}
          </summary>
          <ul>
            @for (word of group.words; track word.said.commandId) {
              <li>
                <span>
                  {{ sayWord(word) }}, {{ word.said.deviceAt | date: 'd MMM, HH:mm' }}
                  <span class="muted">by way of {{ word.by.toUpperCase() }}</span>
                </span>
                @if (group.isMine && group.words.length > 1) {
                  <span class="row">
                    <button nz-button type="button" (click)="give([word], true)">It is so</button>
                    <button nz-button type="button" (click)="give([word], false)">Not so</button>
                  </span>
                }
              </li>
            }
          </ul>
          @if (group.isMine) {
            <span class="row">
              <button nz-button nzType="primary" type="button" (click)="give(group.words, true)">
                {{ group.words.length > 1 ? 'All of it is so' : 'It is so' }}
              </button>
              <button nz-button type="button" (click)="give(group.words, false)">
                {{ group.words.length > 1 ? 'None of it is so' : 'Not so' }}
              </button>
            </span>
          } @else if (isLead()) {
            <span class="row">
              <button nz-button type="button" (click)="give(group.words, false)">
                Set aside: {{ group.of.toUpperCase() }} will not answer
              </button>
            </span>
          }
        </details>
      </section>
    }
  `,
  styles: `
    .passed {
      margin: 0 24px 12px;
      padding: 10px 14px;
      border-left: 4px solid var(--reed);
      background: var(--shell);
    }
    p {
      margin: 0 0 6px;
    }
    summary {
      min-height: 32px;
      cursor: pointer;
    }
    ul {
      margin: 0 0 8px;
      padding: 0;
      list-style: none;
    }
    li {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 16px;
      align-items: center;
      justify-content: space-between;
      max-width: 760px;
      padding: 2px 0;
      border-top: 1px solid var(--edge);
    }
    .row {
      display: inline-flex;
      flex-wrap: wrap;
      gap: 8px;
    }
    button {
      min-height: 44px;
      height: auto;
      white-space: normal;
    }
    @media (max-width: 699px) {
      .passed {
        margin: 0 12px 12px;
      }
    }
  `,
})
export class PassedWords {
  readonly #me = inject(Session).person;
  readonly words = input.required<readonly PassedWord[]>();
  readonly profile = input.required<Profile>();
  readonly answered = output<Act>();

  protected readonly OPEN_UP_TO = OPEN_UP_TO;
  protected readonly isLead = computed(() => this.#me()?.role === 'lead');
  protected readonly groups = computed(() => {
    const of = [...new Set(this.words().map((w) => w.of))];
    return of.map((person) => ({
      of: person,
      isMine: person === this.#me()?.id,
      words: this.words().filter((w) => w.of === person),
    }));
  });

  protected give(words: readonly PassedWord[], areSo: boolean): void {
    const commandIds = words.map((w) => w.said.commandId);
    for (let i = 0; i < commandIds.length; i += AT_ONCE)
      this.answered.emit({ type: 'word.confirmed', body: { commandIds: commandIds.slice(i, i + AT_ONCE), areSo } });
  }

  protected sayWord({ said }: PassedWord): string {
    if (said.type === 'fact.stated') return sayFact((said.body as { readonly fact: Fact }).fact, this.profile());
    return isActType(said.type) ? sayAct(said.type) : said.type;
  }
}

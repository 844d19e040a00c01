import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import type { QuestionAnswer, Question } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';

/** What would settle what the number stands above the known: each question with its answers, one press each. */
@Component({
  selector: 'app-ask-list',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzButtonModule],
  template: `
    @for (question of questions(); track $index) {
      <div class="ask" role="group" [attr.aria-label]="question.ask">
        <p>
          <b>{{ question.ask }}</b> {{ question.hint }}
        </p>
        @if (question.answers.length > 0) {
          <div class="row">
            @for (answer of question.answers; track answer.label) {
              <button nz-button type="button" (click)="answered.emit(answer)">{{ answer.label }}</button>
            }
          </div>
        }
      </div>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 10px;
    }
    .ask {
      border-left: 3px solid var(--reed);
      padding-left: 10px;
    }
    p {
      margin: 0 0 6px;
    }
    .row {
      display: flex;
      flex-wrap: wrap;
      gap: 8px;
    }
    button {
      min-height: 44px;
      white-space: normal;
      height: auto;
    }
  `,
})
export class AskList {
  readonly questions = input.required<readonly Question[]>();
  readonly answered = output<QuestionAnswer>();
}

import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import type { UnitQuestion } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { Notice } from '../ui/notice.ts';

/** Columns of a file whose unit is asked about before anything is imported. */
@Component({
  selector: 'app-unit-questions',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzButtonModule, Notice],
  template: `
    @for (question of questions(); track question.figure) {
      <app-notice [title]="question.sentence">
        <div class="row">
          <button nz-button type="button" (click)="scaled.emit(question)">Take it {{ question.factor }} times as large</button>
          <button nz-button type="button" (click)="left.emit(question)">It is right as it is</button>
        </div>
      </app-notice>
    }
  `,
  styles: `
    .row {
      display: flex;
      flex-wrap: wrap;
      gap: 8px;
    }
  `,
})
export class UnitQuestions<Figure extends string> {
  readonly questions = input.required<readonly UnitQuestion<Figure>[]>();
  readonly scaled = output<UnitQuestion<Figure>>();
  /** The column stays as it is. */
  readonly left = output<UnitQuestion<Figure>>();
}

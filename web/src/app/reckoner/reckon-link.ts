import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import { linkTo } from './question.ts';

/** From a number to the calculation that gave it, with what it was computed from. */
@Component({
  selector: 'app-reckon-link',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink],
  template: `<a [routerLink]="link().commands" [queryParams]="link().queryParams">Open in the Reckoner</a>`,
  styles: `
    a {
      display: inline-flex;
      align-items: center;
      min-height: 44px;
      font-size: 15px;
    }
  `,
})
export class ReckonLink {
  readonly calculation = input.required<string>();
  readonly question = input.required<unknown>();

  protected readonly link = computed(() => linkTo(this.calculation(), this.question()));
}

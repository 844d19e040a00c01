import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { LOOK_NAMES, LOOK_PICTURES, type Look, type RebuildStep } from '@estuarine/core';
import { JobLog } from '../../transport/job-log.ts';

/** What is looked at in a step, drawn as it should be and as it should not. */
@Component({
  selector: 'app-look-rows',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <ul>
      @for (seen of checks(); track seen.check) {
        @let picture = pictures[seen.check];
        <li [class.is-bad]="seen.isGood === false">
          <span>{{ names[seen.check] }}</span>
          @for (way of ways; track way.word) {
            <button
              type="button"
              [class.is-on]="seen.isGood === way.isGood"
              [attr.aria-pressed]="seen.isGood === way.isGood"
              [attr.aria-label]="names[seen.check] + ': ' + way.word"
              (click)="say(seen.check, way.isGood)"
            >
              <svg viewBox="0 0 72 40" aria-hidden="true">
                <path [attr.d]="picture.common" />
                <path class="own" [attr.d]="way.isGood ? picture.good : picture.bad" />
              </svg>
              {{ way.word }}
            </button>
          }
        </li>
      }
    </ul>
  `,
  styles: `
    ul {
      display: grid;
      gap: 8px;
      margin: 0;
      padding: 0;
      list-style: none;
    }
    li {
      display: grid;
      grid-template-columns: minmax(0, 1fr) 92px 92px;
      gap: 6px;
      align-items: center;
    }
    .is-bad span {
      font-weight: 650;
    }
    button {
      display: grid;
      justify-items: center;
      min-height: 64px;
      padding: 4px;
      font: inherit;
      color: var(--channel);
      background: none;
      border: 1.5px solid var(--channel);
      border-radius: 3px;
      cursor: pointer;
    }
    button.is-on {
      color: var(--paper);
      background: var(--channel);
    }
    svg {
      width: 64px;
      height: 36px;
      fill: none;
      stroke: currentcolor;
      stroke-width: 1.5;
    }
    .own {
      stroke-width: 2.5;
    }
  `,
})
export class LookRows {
  readonly checks = input.required<RebuildStep['checks']>();

  readonly #log = inject(JobLog);
  protected readonly ways = [
    { word: 'yes', isGood: true },
    { word: 'no', isGood: false },
  ] as const;
  protected readonly names = LOOK_NAMES;
  protected readonly pictures = LOOK_PICTURES;

  protected say(check: Look, isGood: boolean): void {
    void this.#log.act({ type: 'rebuild.checked', body: { check, isGood, note: '' } });
  }
}

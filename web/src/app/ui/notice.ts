import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';

/** The one way the screens show that something is wrong, missing or empty: what is, what was kept, what to do. */
@Component({
  selector: 'app-notice',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="notice" [class.is-fault]="kind() === 'fault'" [attr.role]="kind() === 'fault' ? 'alert' : 'status'">
      <strong>{{ title() }}</strong>
      <ng-content />
      @if (action(); as name) {
        <button type="button" class="act" (click)="act.emit()">{{ name }}</button>
      }
    </div>
  `,
  styles: `
    .notice {
      display: grid;
      gap: 8px;
      justify-items: start;
      max-width: 70ch;
      padding: 14px 18px;
      background: var(--shell);
      border-left: 4px solid var(--edge);
    }
    .is-fault {
      background: var(--madder-wash);
      border-left-color: var(--madder);
    }
    .act {
      min-height: 44px;
      padding: 0 16px;
      font: inherit;
      font-weight: 650;
      color: var(--channel);
      background: none;
      border: 1.5px solid var(--channel);
      border-radius: 3px;
      cursor: pointer;
    }
  `,
})
export class Notice {
  readonly title = input.required<string>();
  readonly kind = input<'plain' | 'fault'>('plain');
  readonly action = input<string | null>(null);
  readonly act = output();
}

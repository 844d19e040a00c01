import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';

/** A line across the top: something is wrong that concerns every screen, with the one thing to do about it. */
@Component({
  selector: 'app-alert-line',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div role="alert">
      <span>{{ text() }}</span>
      <button type="button" (click)="act.emit()">{{ action() }}</button>
    </div>
  `,
  styles: `
    div {
      display: flex;
      gap: 16px;
      align-items: center;
      justify-content: space-between;
      padding: 8px 24px;
      color: var(--ink);
      background: var(--madder-wash);
      border-bottom: 2px solid var(--madder);
    }
    button {
      min-height: 44px;
      padding: 0 14px;
      font: inherit;
      color: var(--ink);
      background: none;
      border: 1.5px solid currentColor;
      border-radius: 3px;
    }
  `,
})
export class AlertLine {
  readonly text = input.required<string>();
  readonly action = input('Close');
  readonly act = output();
}

import { ChangeDetectionStrategy, Component, output } from '@angular/core';

/** A keypad with keys of 64 px for hands without gloves on a tablet. */
@Component({
  selector: 'app-number-pad',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (key of keys; track key.value) {
      <button type="button" [class.wide]="key.value === 'enter'" [attr.aria-label]="key.name" (click)="pressed.emit(key.value)">
        {{ key.text }}
      </button>
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: repeat(4, 1fr);
      gap: 6px;
    }
    button {
      min-height: 64px;
      font-family: var(--mono);
      font-size: 24px;
      color: var(--ink);
      background: var(--sand);
      border: 1px solid var(--edge);
      border-radius: 3px;
      touch-action: manipulation;
    }
    .wide {
      color: var(--on-channel);
      background: var(--channel);
    }
  `,
})
export class NumberPad {
  /** A digit, the decimal mark, `back`, `skip` or `enter`. */
  readonly pressed = output<string>();

  protected readonly keys = [
    ...['7', '8', '9'].map(digit),
    { value: 'back', text: '⌫', name: 'Back' },
    ...['4', '5', '6'].map(digit),
    { value: 'skip', text: '›', name: 'Skip' },
    ...['1', '2', '3'].map(digit),
    { value: '-', text: '−', name: 'Minus' },
    digit('0'),
    { value: '.', text: '.', name: 'Decimal mark' },
    { value: '00', text: '00', name: 'Two zeros' },
    { value: 'enter', text: '↵', name: 'Keep and go on' },
  ];
}

function digit(value: string): { value: string; text: string; name: string } {
  return { value, text: value, name: value };
}

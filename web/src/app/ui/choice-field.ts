import { ChangeDetectionStrategy, Component, input, model } from '@angular/core';

export interface Choice<T extends string> {
  readonly value: T;
  readonly name: string;
}

/** A labelled choice of one among some. */
@Component({
  selector: 'app-choice-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <label class="field">
      <span>{{ label() }}</span>
      <select #select class="plain" (change)="pick(select.selectedIndex)">
        @for (choice of choices(); track choice.value) {
          <option [value]="choice.value" [selected]="choice.value === value()">{{ choice.name }}</option>
        }
      </select>
      @if (fault(); as reason) {
        <em role="alert">{{ reason }}</em>
      }
    </label>
  `,
  styles: `
    :host {
      display: contents;
    }
  `,
})
export class ChoiceField<T extends string> {
  readonly label = input.required<string>();
  readonly choices = input.required<readonly Choice<T>[]>();
  readonly value = model.required<T>();
  readonly fault = input<string | undefined>();

  protected pick(index: number): void {
    const choice = this.choices()[index];
    if (choice) this.value.set(choice.value);
  }
}

/** Choices from a record of names, in its order. */
export function choicesOf<T extends string>(names: Readonly<Record<T, string>>): Choice<T>[] {
  return (Object.entries(names) as [T, string][]).map(([value, name]) => ({ value, name }));
}

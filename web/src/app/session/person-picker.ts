import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { Session } from './session.ts';

/** Who is at the device; the acts of each person are sent only while that person is picked. */
@Component({
  selector: 'app-person-picker',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <label>
      <span class="visually-hidden">Person at this device</span>
      <select #choice class="plain" [value]="session.person()?.id ?? ''" (change)="pick(choice.value)">
        @if (!session.person()) {
          <option value="" selected>Who are you?</option>
        }
        @for (person of session.persons(); track person.id) {
          <option [value]="person.id" [selected]="person.id === session.person()?.id">{{ person.name }}, {{ person.role }}</option>
        }
      </select>
    </label>
    @if (fault()) {
      <span role="alert">{{ fault() }}</span>
    }
  `,
  styles: `
    :host {
      display: flex;
      align-items: center;
      gap: 8px;
    }
    select {
      max-width: 240px;
      font-size: 15px;
    }
  `,
})
export class PersonPicker {
  protected readonly session = inject(Session);
  protected readonly fault = signal<string | null>(null);

  protected async pick(id: string): Promise<void> {
    const person = this.session.persons().find((p) => p.id === id);
    if (person) this.fault.set(await this.session.pick(person));
  }
}

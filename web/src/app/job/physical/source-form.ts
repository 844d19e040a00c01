import { ChangeDetectionStrategy, Component, input, output, signal } from '@angular/core';
import { readDecimal, type Fact } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';

const MOST_VOLT = 2000;

/** A charger or other source across the ends of the string: what it gives, and when it is off again. */
@Component({
  selector: 'app-source-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzButtonModule],
  template: `
    <fieldset>
      <legend>Charger or other source</legend>
      @if (volt(); as joined) {
        <p>
          <b class="figure">{{ joined }} V</b> stand across the ends. Every module counts as full while it is on, and after it until it is
          read again.
        </p>
        <button nz-button type="button" (click)="say.emit({ kind: 'charger', volt: null })">It is off and taken away</button>
      } @else {
        <form (submit)="$event.preventDefault(); join()">
          <input
            #box
            class="plain figure"
            inputmode="decimal"
            autocomplete="off"
            aria-label="Voltage of the source, volt"
            placeholder="volt"
            [value]="text()"
            [attr.aria-invalid]="fault() ? true : null"
            (input)="text.set(box.value); fault.set(null)"
          />
          <button nz-button type="submit">It is joined to the ends</button>
        </form>
        @if (fault(); as reason) {
          <p class="fault" role="alert">{{ reason }}</p>
        }
      }
    </fieldset>
  `,
  styles: `
    fieldset {
      margin: 0 0 12px;
      padding: 0;
      border: 0;
    }
    legend {
      padding: 0;
      font-size: 15px;
      color: var(--fog);
    }
    form {
      display: flex;
      flex-wrap: wrap;
      gap: 8px;
    }
    input {
      width: 110px;
    }
    p {
      margin: 4px 0 8px;
    }
    .fault {
      color: var(--madder);
    }
  `,
})
export class SourceForm {
  /** What stands across the ends now; null where nothing does. */
  readonly volt = input.required<number | null>();
  readonly say = output<Fact>();

  protected readonly text = signal('');
  protected readonly fault = signal<string | null>(null);

  /** Enter on an empty field does nothing. */
  protected join(): void {
    if (this.text().trim() === '') return;
    const read = readDecimal(this.text());
    if (read.kind === 'refused') {
      this.fault.set(read.message);
      return;
    }
    if (!(read.value > 0 && read.value <= MOST_VOLT)) {
      this.fault.set(`A source gives more than 0 and up to ${MOST_VOLT} V.`);
      return;
    }
    this.say.emit({ kind: 'charger', volt: read.value });
    this.text.set('');
  }
}

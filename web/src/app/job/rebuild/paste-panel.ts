import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, signal } from '@angular/core';
import { readDecimal, type Coolant, type PasteView } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../transport/job-log.ts';
import { ChoiceField, choicesOf } from '../../ui/choice-field.ts';
import { TextField } from '../../ui/text-field.ts';

type Pattern = Coolant['paste']['pattern'];
/** The pattern on the plate, on a field of 120 by 60. */
const PATHS: Record<Pattern, string> = {
  lines: 'M14 14h92M14 25h92M14 36h92M14 47h92',
  cross: 'M14 12L106 48M106 12L14 48M60 10v40',
  dots: [18, 39, 60, 81, 102].flatMap((x) => [16, 30, 44].map((y) => `M${x - 1} ${y}h2`)).join(''),
  sheet: 'M14 12h92v36h-92z',
};

/** Paste under modules that lie on a cold plate: how much by area, thickness and density, and in which pattern. */
@Component({
  selector: 'app-paste-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField, NzButtonModule, TextField],
  template: `
    <div class="picture">
      <svg viewBox="0 0 120 60" role="img" [attr.aria-label]="'Pattern: ' + names[pattern()]">
        <rect x="4" y="4" width="112" height="52" rx="2" />
        <path [class.is-sheet]="pattern() === 'sheet'" [attr.d]="paths[pattern()]" />
      </svg>
      <p>
        <b class="figure">{{ need().gram.toFixed(1) }} g</b> a module ({{ need().leastGram.toFixed(0) }} to
        {{ need().mostGram.toFixed(0) }}): {{ coolant().paste.areaSquareCentimetre }} cm² of {{ coolant().paste.thicknessMillimetre }} mm.
      </p>
    </div>
    <form (submit)="$event.preventDefault(); keep()">
      <app-text-field label="From place" isFigure mode="numeric" [(value)]="from" />
      <app-text-field label="to place" isFigure mode="numeric" [(value)]="to" />
      <app-text-field label="Weighed, g" isFigure mode="decimal" [fault]="fault()" [(value)]="gram" />
      <app-choice-field label="Pattern" [choices]="patterns" [(value)]="pattern" />
      <button nz-button nzType="primary" type="submit" class="wide">It is laid</button>
    </form>
    <p role="status">
      @if (need().missing.length > 0) {
        Without fresh paste: <b class="figure">{{ need().missing.join(', ') }}</b>
      } @else {
        Every place has its paste.
      }
    </p>
    @if (need().fault; as reason) {
      <p class="is-bad" role="alert">{{ reason }}</p>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 10px;
    }
    .picture {
      display: grid;
      grid-template-columns: 140px minmax(0, 1fr);
      gap: 12px;
      align-items: center;
    }
    rect {
      fill: var(--sand);
      stroke: var(--edge);
    }
    path {
      fill: none;
      stroke: var(--channel);
      stroke-width: 4;
      stroke-linecap: round;
    }
    path.is-sheet {
      fill: var(--channel);
    }
    form {
      display: grid;
      grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
      gap: 8px;
      align-items: end;
    }
    .wide {
      grid-column: 1 / -1;
      min-height: 56px;
    }
    .is-bad {
      padding: 4px 12px;
      border-left: 4px solid var(--madder);
    }
  `,
})
export class PastePanel {
  readonly coolant = input.required<Coolant>();
  readonly need = input.required<PasteView>();

  readonly #log = inject(JobLog);
  protected readonly paths = PATHS;
  protected readonly names: Record<Pattern, string> = { lines: 'lines', cross: 'cross', dots: 'dots', sheet: 'whole sheet' };
  protected readonly patterns = choicesOf(this.names);
  /** By its value: stays as picked while acts come in. */
  protected readonly pattern = linkedSignal(computed(() => this.coolant().paste.pattern));
  /** Places that wait for paste, or for another amount of it. */
  readonly #waiting = computed(() => [...this.need().missing, ...this.need().wrong].sort((a, b) => a - b));
  readonly #first = computed(() => this.#waiting()[0] ?? this.need().places[0] ?? 1);
  /** The end of the run of such places from the first on. */
  readonly #last = computed(() => {
    const waiting = new Set(this.#waiting());
    let last = this.#first();
    while (waiting.has(last + 1)) last++;
    return last;
  });
  protected readonly from = linkedSignal(() => String(this.#first()));
  protected readonly to = linkedSignal(() => String(this.#last()));
  protected readonly gram = signal('');
  protected readonly fault = signal('');

  protected keep(): void {
    const [from, to] = [Number(this.from()), Number(this.to())];
    const read = readDecimal(this.gram());
    if (!Number.isInteger(from) || !Number.isInteger(to) || from < 1 || to < from) {
      this.fault.set('Places by number, the first not behind the last.');
      return;
    }
    if (read.kind === 'refused' || !(read.value > 0 && read.value <= 100_000)) {
      this.fault.set(read.kind === 'refused' ? read.message : 'Gram above zero, as weighed.');
      return;
    }
    this.fault.set('');
    this.gram.set('');
    void this.#log.act({ type: 'paste.laid', body: { from, to, gram: read.value, pattern: this.pattern() } });
  }
}

import { ChangeDetectionStrategy, Component, inject, input, signal } from '@angular/core';
import { readDecimal, type AirPart } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../transport/job-log.ts';
import { ChoiceField, choicesOf } from '../../ui/choice-field.ts';
import { TextField } from '../../ui/text-field.ts';

/** The fan on 12 V: spins or not, how it sounds, whether its wheel has play, and from which voltage it turns. */
@Component({
  selector: 'app-fan-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField, NzButtonModule, TextField],
  template: `
    <form (submit)="$event.preventDefault(); keep(true)">
      <h3>On 12 V before it goes back</h3>
      <p class="muted">{{ pins() || 'Pins and polarity by the maker’s drawing' }}; hands off the wheel.</p>
      <div class="pair">
        <app-choice-field label="It sounds" [choices]="noises" [(value)]="noise" />
        <app-choice-field label="Its wheel" [choices]="plays" [(value)]="play" />
      </div>
      <app-text-field label="Turns from, V (may stay empty)" isFigure mode="decimal" [fault]="fault()" [(value)]="startVolt" />
      <div class="pair">
        <button nz-button nzType="primary" type="submit">It spins</button>
        <button nz-button type="button" (click)="keep(false)">It does not spin</button>
      </div>
    </form>
  `,
  styles: `
    form {
      display: grid;
      gap: 8px;
    }
    .pair {
      display: grid;
      grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
      gap: 8px;
      align-items: end;
    }
    button {
      min-height: 56px;
    }
  `,
})
export class FanForm {
  readonly part = input.required<AirPart>();
  /** Where plus and minus go; empty where the profile does not say. */
  readonly pins = input('');

  readonly #log = inject(JobLog);
  protected readonly noises = choicesOf({ none: 'smooth', rough: 'rough', grinding: 'grinding' });
  protected readonly plays = choicesOf({ firm: 'firm', play: 'has play' });
  protected readonly noise = signal<'none' | 'rough' | 'grinding'>('none');
  protected readonly play = signal<'firm' | 'play'>('firm');
  protected readonly startVolt = signal('');
  protected readonly fault = signal('');

  protected keep(spins: boolean): void {
    const text = this.startVolt().trim();
    const read = readDecimal(text);
    if (text !== '' && (read.kind === 'refused' || read.value < 0 || read.value > 60)) {
      this.fault.set(read.kind === 'refused' ? read.message : 'Volt from 0 to 60: the fan is for 12.');
      return;
    }
    this.fault.set('');
    const startVolt = text === '' || read.kind === 'refused' ? null : read.value;
    const body = { part: this.part().part, spins, noise: this.noise(), hasPlay: this.play() === 'play', startVolt };
    void this.#log.act({ type: 'fan.tested', body });
  }
}

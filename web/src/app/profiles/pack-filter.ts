import { ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import { CHEMISTRY_NAMES, COOLING_NAMES, filterProfiles, PLUG_KIND_NAMES, type PackWanted, type Profile } from '@estuarine/core';
import { ChoiceField, choicesOf } from '../ui/choice-field.ts';
import { TextField } from '../ui/text-field.ts';

const ANY = 'any';

/** Narrows packs down by what can be seen on the car: words, chemistry, plug, cooling. */
@Component({
  selector: 'app-pack-filter',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField, TextField],
  template: `
    <div role="search" aria-label="Which pack">
      <app-text-field label="Search" kind="search" [(value)]="text" (valueChange)="tell()" />
      <app-choice-field label="Chemistry" [choices]="chemistries" [(value)]="chemistry" (valueChange)="tell()" />
      <app-choice-field label="Plug" [choices]="plugs" [(value)]="plug" (valueChange)="tell()" />
      <app-choice-field label="Cooled by" [choices]="coolings" [(value)]="cooling" (valueChange)="tell()" />
    </div>
    @if (count() === 0) {
      <p class="muted" role="status">None of the {{ profiles().length }} packs is like that.</p>
    }
  `,
  styles: `
    div {
      display: flex;
      flex-wrap: wrap;
      gap: 12px 16px;
      align-items: end;
    }
  `,
})
export class PackFilter {
  readonly profiles = input.required<readonly Profile[]>();
  /** The packs that are like that. */
  readonly found = output<readonly Profile[]>();

  protected readonly text = signal('');
  protected readonly chemistry = signal<Profile['moduleType']['chemistry'] | typeof ANY>(ANY);
  protected readonly plug = signal<Profile['plug']['kind'] | typeof ANY>(ANY);
  protected readonly cooling = signal<'air' | 'liquid' | typeof ANY>(ANY);
  protected readonly chemistries = choicesOf({ [ANY]: 'any', ...CHEMISTRY_NAMES });
  protected readonly plugs = choicesOf({ [ANY]: 'any', ...PLUG_KIND_NAMES });
  protected readonly coolings = choicesOf({ [ANY]: 'any', ...COOLING_NAMES });

  readonly #list = computed(() => {
    const [chemistry, plug, cooling] = [this.chemistry(), this.plug(), this.cooling()];
    const wanted: PackWanted = {
      text: this.text(),
      chemistry: chemistry === ANY ? null : chemistry,
      plug: plug === ANY ? null : plug,
      cooling: cooling === ANY ? null : cooling,
    };
    return filterProfiles(this.profiles(), wanted);
  });
  protected readonly count = computed(() => this.#list().length);

  protected tell(): void {
    this.found.emit(this.#list());
  }
}

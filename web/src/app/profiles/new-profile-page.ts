import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, linkedSignal, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import {
  CHEMISTRY_NAMES,
  PLUG_KIND_NAMES,
  readDecimal,
  sayPlug,
  sayString,
  startProfile,
  stringVolt,
  type Chemistry,
  type Profile,
} from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { ChoiceField, choicesOf } from '../ui/choice-field.ts';
import { PackDrawing, type PlaceView } from '../ui/pack-drawing.ts';
import { readNumbers, sayPath } from '../ui/schema-form/schema.ts';
import { TextField } from '../ui/text-field.ts';
import { ProfileDraft } from './profile-draft.ts';

const ARCHETYPES: Record<Profile['archetype'], string> = {
  A: 'A: behind the rear seat',
  B: 'B: boot bulkhead',
  C: 'C: under the rear seat, bays',
  D: 'D: load floor, wide',
  E: 'E: under the seat, one-piece frames',
  F: 'F: load floor, combined unit',
  G: 'G: plug-in, air cooled',
  H: 'H: liquid cooled',
};

/** A profile from nothing, in the order in which a pack is looked at: the label, the string, the plug, mass and wait. */
@Component({
  selector: 'app-new-profile-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField, FormsModule, NzButtonModule, PackDrawing, RouterLink, TextField],
  templateUrl: './new-profile-page.html',
  styleUrl: './new-profile-page.less',
})
export class NewProfilePage {
  readonly #router = inject(Router);
  readonly #draft = inject(ProfileDraft);

  protected readonly sayPath = sayPath;
  protected readonly archetypes = choicesOf(ARCHETYPES);
  protected readonly chemistries = choicesOf<Chemistry>(CHEMISTRY_NAMES);
  protected readonly plugKinds = choicesOf(PLUG_KIND_NAMES);
  protected readonly barChoices = choicesOf({ single: 'one by one', frames: 'a long frame on each side' });

  protected readonly name = signal('');
  protected readonly archetype = signal<Profile['archetype']>('A');
  protected readonly chemistry = signal<Chemistry>('nimh');
  protected readonly moduleCount = signal('28');
  protected readonly cells = signal('6');
  protected readonly blocks = signal('2');
  protected readonly bars = signal<'single' | 'frames'>('single');
  protected readonly capacity = signal('6.5');
  protected readonly plugName = signal('service plug');
  protected readonly plugKind = signal<Profile['plug']['kind']>('lever');
  protected readonly plugWhere = signal('');
  protected readonly opensLink = signal('14');
  protected readonly packMass = signal('39');
  protected readonly moduleMass = signal('1.05');
  protected readonly wait = signal('10');
  /** The label as photographed, for as long as this page is open. */
  protected readonly label = signal<string | null>(null);

  readonly #found = computed(() => {
    const figure = (text: string): number => {
      const read = readDecimal(text.trim());
      return read.kind === 'answer' ? read.value : Number.NaN;
    };
    const count = figure(this.moduleCount());
    const blocks = readNumbers(this.blocks().replaceAll(',', ' ')) ?? [];
    const [only] = blocks;
    const isEach = blocks.length === 1 && only !== undefined && only > 0 && count > only;
    const opensLink = this.opensLink().trim();
    return startProfile({
      ...{
        name: this.name().trim() || 'New pack',
        archetype: this.archetype(),
        chemistry: this.chemistry(),
        moduleCount: count,
        cells: figure(this.cells()),
      },
      blocks: isEach ? Array<number>(Math.min(200, Math.floor(count / only))).fill(only) : blocks,
      ...{ capacityAh: figure(this.capacity()), hasFrames: this.bars() === 'frames' },
      ...{ plugName: this.plugName(), plugKind: this.plugKind(), plugWhere: this.plugWhere().trim() || 'not noted' },
      opensLink: opensLink === '' ? null : figure(opensLink),
      ...{ packKilogram: figure(this.packMass()), moduleKilogram: figure(this.moduleMass()), capacitorMinute: figure(this.wait()) },
    });
  });
  protected readonly made = computed(() => {
    const found = this.#found();
    return found.kind === 'answer' ? found.value : null;
  });
  protected readonly refusal = computed(() => {
    const found = this.#found();
    return found.kind === 'refused' ? found : null;
  });
  /** The last one that was whole, while the next is being written. */
  protected readonly drawn = linkedSignal<Profile | null, Profile | null>({
    source: () => this.made(),
    computation: (made, previous) => made ?? previous?.value ?? null,
  });
  protected readonly string = computed(() => sayString(this.drawn() as Profile));
  protected readonly plug = computed(() => sayPlug(this.drawn() as Profile));
  protected readonly full = computed(() => stringVolt(this.drawn() as Profile).toFixed(0));
  protected readonly places = computed((): PlaceView[] =>
    Array.from({ length: this.drawn()?.moduleCount ?? 0 }, (_, i) => ({
      ...{ place: i + 1, verdict: null, text: '', deviation: null, deviationText: '', figureVerdict: 'unknown', isPending: false },
    })),
  );

  constructor() {
    inject(DestroyRef).onDestroy(() => this.#forgetLabel());
  }

  protected faultAt(path: string): string | undefined {
    const refused = this.refusal();
    return refused?.path.join('.').startsWith(path) ? refused.message : undefined;
  }

  protected look(input: HTMLInputElement): void {
    const [file] = input.files ?? [];
    this.#forgetLabel();
    this.label.set(file ? URL.createObjectURL(file) : null);
    input.value = '';
  }

  protected goOn(): void {
    const made = this.made();
    if (!made) return;
    this.#draft.hold(made);
    void this.#router.navigate(['/profiles', made.id]);
  }

  #forgetLabel(): void {
    const label = this.label();
    if (label !== null) URL.revokeObjectURL(label);
  }
}

import { ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import {
  FINDING_KINDS,
  FOLLOW_UPS,
  SEVERITIES,
  type ActBody,
  type FindingKind,
  type FollowUp,
  type Pin,
  type Profile,
  type Severity,
  type Stage,
  FINDING_WORDS,
  FOLLOW_WORDS,
  sayPin,
  SEVERITY_WORDS,
} from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { TextField } from '../../ui/text-field.ts';

/** What was seen, how bad it is, and what follows. Its place is a pin that was set before, or one of the list. */
@Component({
  selector: 'app-finding-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzButtonModule, TextField],
  template: `
    <form class="form" (submit)="$event.preventDefault(); keep()" aria-label="A finding">
      <label class="field">
        <span>What is seen</span>
        <select #kindBox class="plain" (change)="kind.set(kinds[kindBox.selectedIndex]!)">
          @for (name of kinds; track name) {
            <option [selected]="name === kind()">{{ words[name] }}</option>
          }
        </select>
      </label>
      <label class="field">
        <span>How bad</span>
        <select #severityBox class="plain" (change)="severity.set(severities[severityBox.selectedIndex]!)">
          @for (name of severities; track name) {
            <option [selected]="name === severity()">{{ severityWords[name] }}</option>
          }
        </select>
      </label>
      <label class="field">
        <span>What follows</span>
        <select #followBox class="plain" (change)="follow.set(follows[followBox.selectedIndex]!)">
          @for (name of follows; track name) {
            <option [selected]="name === follow()">{{ followWords[name] }}</option>
          }
        </select>
      </label>
      @if (pin(); as set) {
        <p class="field"><span>Where</span> {{ sayPin(set, profile()) }}</p>
      } @else {
        <label class="field">
          <span>Where</span>
          <select #placeBox class="plain" (change)="at.set(placeBox.selectedIndex)">
            @for (place of places(); track $index) {
              <option [selected]="$index === at()">{{ place.name }}</option>
            }
          </select>
        </label>
      }
      <app-text-field label="In words" isWide [most]="2000" [(value)]="note" />
      <label class="check wide">
        <input #arrivalBox type="checkbox" [checked]="isOnArrival()" (change)="isOnArrival.set(arrivalBox.checked)" />
        It was so on arrival, before anything was touched here
      </label>
      <div class="row wide"><button nz-button nzType="primary" type="submit">Note the finding</button></div>
    </form>
  `,
  styles: `
    p.field {
      align-content: start;
    }
    .check {
      display: flex;
      gap: 10px;
      align-items: center;
      min-height: 44px;
    }
  `,
})
export class FindingForm {
  readonly profile = input.required<Profile>();
  readonly stage = input.required<Stage>();
  /** Set on a drawing or a photograph; null: chosen from the list. */
  readonly pin = input<Pin | null>(null);
  readonly noted = output<ActBody<'finding.noted'>>();

  protected readonly kinds = FINDING_KINDS;
  protected readonly words = FINDING_WORDS;
  protected readonly severities = SEVERITIES;
  protected readonly severityWords = SEVERITY_WORDS;
  protected readonly follows = FOLLOW_UPS;
  protected readonly followWords = FOLLOW_WORDS;
  protected readonly sayPin = sayPin;
  protected readonly kind = signal<FindingKind>('corrosion');
  protected readonly severity = signal<Severity>('moderate');
  protected readonly follow = signal<FollowUp>('clean');
  protected readonly note = signal('');
  protected readonly isOnArrival = signal(false);
  protected readonly at = signal(0);
  /** Zones first while stripping, layers first afterwards; then modules and links. */
  protected readonly places = computed((): { name: string; pin: Pin }[] => {
    const { zones, layers, moduleCount } = this.profile();
    const zonePins = zones.map((z) => ({ name: z.name, pin: { on: 'zone', zone: z.id } as const }));
    const layerPins = layers.map((l) => ({ name: l.name, pin: { on: 'layer', layer: l.id } as const }));
    const modules = Array.from({ length: moduleCount }, (_, i) => ({
      name: `module ${i + 1}`,
      pin: { on: 'module', place: i + 1 } as const,
    }));
    const links = modules.slice(1).map((_, i) => ({ name: `link ${i + 1}`, pin: { on: 'link', link: i + 1 } as const }));
    const isInside = this.stage() !== 'strip' && this.stage() !== 'intake';
    return [...(isInside ? [...layerPins, ...modules, ...links, ...zonePins] : [...zonePins, ...layerPins, ...modules, ...links])];
  });

  protected keep(): void {
    const pin = this.pin() ?? this.places()[this.at()]?.pin;
    if (!pin) return;
    this.noted.emit({
      ...{ stage: this.stage(), kind: this.kind(), severity: this.severity(), follow: this.follow() },
      ...{ pin, note: this.note().trim(), isOnArrival: this.isOnArrival() },
    });
    this.note.set('');
  }
}

import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { coolingOf, COOLING_NAMES, layOutPack, sayPlug, sayString, SLAB_HEIGHT, type Profile } from '@estuarine/core';

/** A pack in small: its drawing and what it is told by. */
@Component({
  selector: 'app-pack-card',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @let profile = pack();
    <svg [attr.viewBox]="'0 0 ' + layout().width + ' ' + layout().height" aria-hidden="true">
      @for (slab of layout().slabs; track slab.place) {
        <rect class="slab" [attr.x]="slab.x" [attr.y]="slab.y" [attr.width]="slab.width" [attr.height]="slabHeight" rx="3" />
      }
      @for (bar of layout().bars; track bar.link) {
        <rect
          class="bar"
          [class.is-plug]="bar.isPlug"
          [attr.x]="bar.x"
          [attr.y]="bar.y"
          [attr.width]="bar.width"
          [attr.height]="bar.height"
        />
      }
    </svg>
    <b class="name">{{ profile.name }}</b>
    <span class="figure">{{ string() }}</span>
    <span>{{ plug() }}</span>
    <span class="muted">cooled by {{ cooling() }} · type {{ profile.archetype }} · version {{ profile.version }}</span>
  `,
  styles: `
    :host {
      display: grid;
      gap: 4px;
      align-content: start;
      font-size: 15px;
    }
    svg {
      width: 100%;
      height: 56px;
    }
    .slab {
      fill: var(--sand);
      stroke: var(--edge);
      stroke-width: 2;
    }
    .bar {
      fill: var(--post);
    }
    .bar.is-plug {
      fill: var(--channel);
    }
    .name {
      font-size: 18px;
    }
    .figure {
      font-size: 14px;
    }
  `,
})
export class PackCard {
  readonly pack = input.required<Profile>();

  protected readonly slabHeight = SLAB_HEIGHT;
  protected readonly layout = computed(() => layOutPack(this.pack(), 26 * this.pack().moduleCount));
  protected readonly string = computed(() => sayString(this.pack()));
  protected readonly plug = computed(() => sayPlug(this.pack()));
  protected readonly cooling = computed(() => COOLING_NAMES[coolingOf(this.pack())]);
}

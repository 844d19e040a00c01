import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';

/** The stack from above: how much hotter each module ran than clean, dark where most, with the ones that suffered most marked. */
@Component({
  selector: 'app-heat-strip',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg [attr.viewBox]="'0 0 ' + modules().length * 10 + ' 34'" role="img" [attr.aria-label]="label()">
      @for (module of modules(); track module.place) {
        <g [attr.transform]="'translate(' + (module.place - 1) * 10 + ' 0)'">
          <rect class="bare" x="0.5" y="0.5" width="9" height="24" />
          <rect class="heat" x="0.5" y="0.5" width="9" height="24" [style.fill-opacity]="module.share" />
          @if (module.isWeak) {
            <path d="M5 27l3.4 5.6h-6.8z" />
          }
        </g>
      }
    </svg>
    <p class="muted">
      Dark: ran hottest as found, up to <span class="figure">{{ most().toFixed(1) }} K</span> over clean.
      {{ weak().length > 0 ? 'Triangle: suffered most by what Test measured.' : '' }}
    </p>
  `,
  styles: `
    :host {
      display: grid;
      gap: 4px;
    }
    svg {
      width: 100%;
      max-height: 110px;
    }
    .bare {
      fill: var(--paper);
      stroke: var(--edge);
      stroke-width: 0.6;
    }
    .heat {
      fill: var(--live-ink);
    }
    path {
      fill: var(--madder);
    }
  `,
})
export class HeatStrip {
  /** As found, and clean; place 1 first. */
  readonly celsius = input.required<readonly number[]>();
  readonly usual = input.required<readonly number[]>();
  /** Places that are weakest. */
  readonly weak = input.required<readonly number[]>();

  readonly #hotter = computed(() => this.celsius().map((c, i) => c - (this.usual()[i] ?? c)));
  protected readonly most = computed(() => Math.max(0, ...this.#hotter()));
  protected readonly modules = computed(() => {
    const [low, high] = [Math.min(...this.celsius()), Math.max(...this.celsius())];
    const isHotter = this.most() > 0.05;
    return this.celsius().map((celsius, i) => ({
      place: i + 1,
      share: isHotter && high > low ? 0.08 + (0.8 * (celsius - low)) / (high - low) : 0,
      isWeak: this.weak().includes(i + 1),
    }));
  });
  protected readonly label = computed(() => {
    const weak = this.weak();
    return `The stack: up to ${this.most().toFixed(1)} K over clean${weak.length > 0 ? `; weakest ${weak.join(', ')}` : ''}`;
  });
}

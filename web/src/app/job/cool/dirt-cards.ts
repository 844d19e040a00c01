import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import type { AirPart } from '@estuarine/core';

/** Shares on the cards, from clean to all but shut. */
const SHARES = [0, 0.2, 0.4, 0.6, 0.8, 0.95] as const;

/** A part of the air path from clean to shut, drawn: a wheel, a grille or pleats. One press says what was seen. */
@Component({
  selector: 'app-dirt-cards',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div role="group" [attr.aria-label]="label()">
      @for (card of cards(); track card.share) {
        <button type="button" [class.is-on]="card.isOn" [attr.aria-pressed]="card.isOn" (click)="picked.emit(card.share)">
          <svg viewBox="-30 -30 60 60" aria-hidden="true">
            <circle r="28" />
            <path class="body" [attr.d]="body()" />
            <path class="dirt" [attr.d]="body()" [style.stroke-width]="card.dirt" />
          </svg>
          <span class="figure">{{ card.text }}</span>
        </button>
      }
    </div>
  `,
  styles: `
    div {
      display: grid;
      grid-template-columns: repeat(3, minmax(0, 1fr));
      gap: 6px;
    }
    button {
      display: grid;
      gap: 2px;
      justify-items: center;
      min-height: 92px;
      padding: 4px;
      font: inherit;
      color: var(--ink);
      background: none;
      border: 1.5px solid var(--edge);
      border-radius: 3px;
      cursor: pointer;
    }
    .is-on {
      background: var(--shell);
      border: 3px solid var(--channel);
    }
    svg {
      width: 56px;
      height: 56px;
    }
    circle {
      fill: var(--paper);
      stroke: var(--edge);
    }
    path {
      fill: none;
      stroke-linecap: butt;
    }
    .body {
      stroke: var(--fog);
      stroke-width: 1;
    }
    .dirt {
      stroke: var(--post);
      opacity: 0.75;
    }
  `,
})
export class DirtCards {
  readonly kind = input.required<AirPart['kind']>();
  readonly share = input.required<number | null>();
  readonly label = input.required<string>();
  readonly picked = output<number>();

  protected readonly body = computed(() => PATHS[this.kind()] ?? GRILLE);
  protected readonly cards = computed(() => {
    const shown = this.share();
    const nearest = shown === null ? null : SHARES.reduce((best, s) => (Math.abs(s - shown) < Math.abs(best - shown) ? s : best));
    return SHARES.map((share) => ({ share, dirt: 10.5 * share, isOn: share === nearest, text: `${(100 * share).toFixed(0)} %` }));
  });
}

const blades = Array.from({ length: 12 }, (_, i) => {
  const a = (i * Math.PI) / 6;
  const at = (r: number, turn: number): string => `${(r * Math.cos(a + turn)).toFixed(1)} ${(r * Math.sin(a + turn)).toFixed(1)}`;
  return `M${at(10, 0)}L${at(25, 0.45)}`;
}).join('');
const GRILLE = [-20, -12, -4, 4, 12, 20]
  .map((y) => `M${(-Math.sqrt(676 - y * y)).toFixed(1)} ${y}H${Math.sqrt(676 - y * y).toFixed(1)}`)
  .join('');
const PLEATS = 'M-24 8l6-16 6 16 6-16 6 16 6-16 6 16 6-16 6 16';
const GAPS = [-18, -9, 0, 9, 18].map((x) => `M${x} -18V18`).join('');
const PIPE = 'M-25 -9C-8 -9 8 -9 25 -9M-25 9C-8 9 8 9 25 9M-20 0H20';
const PATHS: Partial<Record<AirPart['kind'], string>> = {
  fan: blades,
  filter: PLEATS,
  cells: GAPS,
  duct: PIPE,
  coldPlate: PIPE,
  pump: blades,
};

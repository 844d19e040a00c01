import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import type { PlugKind } from '@estuarine/core';

const WORDS: Record<PlugKind, string> = {
  lever: 'A plug with a lever: lever down, then straight out',
  swing: 'A plug with a handle: pull, swing over, draw out',
  round: 'A round plug: turn counter-clockwise, lift',
  switch: 'A switch: turn from on to off',
  bolted: 'A plug behind two bolts: bolts off, then straight out',
};

/** How the service plug of this kind comes out, in two small drawings: in, and out. */
@Component({
  selector: 'app-plug-picture',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg
      viewBox="0 0 260 110"
      width="260"
      role="img"
      [attr.aria-label]="words[kind()] + (hasParking() ? ', and into the second socket' : '')"
    >
      <g class="base">
        <rect x="14" y="66" width="96" height="30" rx="3" />
        <rect x="150" y="66" width="96" height="30" rx="3" />
        @if (hasParking()) {
          <circle cx="228" cy="81" r="10" class="socket" />
        }
      </g>
      <g class="plug">
        @switch (kind()) {
          @case ('lever') {
            <rect x="34" y="44" width="56" height="24" />
            <path d="M36 44V18h8v26" class="grip" />
            <rect x="170" y="20" width="56" height="24" />
            <path d="M172 30h-26v8h26" class="grip" />
          }
          @case ('swing') {
            <rect x="34" y="48" width="56" height="20" />
            <path d="M40 48q22-30 44 0" class="grip" />
            <rect x="170" y="22" width="56" height="20" />
            <path d="M176 22q22-34 44 0" class="grip" />
          }
          @case ('round') {
            <circle cx="62" cy="56" r="24" />
            <path d="M62 36v40" class="grip" />
            <circle cx="188" cy="32" r="24" />
            <path d="M168 32h40" class="grip" />
          }
          @case ('switch') {
            <circle cx="62" cy="56" r="26" />
            <path d="M62 34v44" class="grip" />
            <circle cx="198" cy="56" r="26" />
            <path d="M176 56h44" class="grip" />
          }
          @case ('bolted') {
            <rect x="34" y="44" width="56" height="24" />
            <circle cx="24" cy="74" r="5" class="bolt" />
            <circle cx="100" cy="74" r="5" class="bolt" />
            <rect x="170" y="18" width="56" height="24" />
            <circle cx="150" cy="52" r="5" class="bolt" />
            <circle cx="246" cy="52" r="5" class="bolt" />
          }
        }
      </g>
      <path class="arrow" [attr.d]="kind() === 'round' ? 'M130 62a14 14 0 1 1 12-14' : 'M122 78h14m-5-5l6 5-6 5'" />
      @if (kind() !== 'switch') {
        <path class="arrow" d="M246 58V14m-5 7l5-8 5 8" />
      }
      <text x="62" y="108">{{ kind() === 'switch' ? 'on' : 'in' }}</text>
      <text x="198" y="108">{{ kind() === 'switch' ? 'off' : 'out' }}</text>
    </svg>
  `,
  styles: `
    svg {
      max-width: 100%;
    }
    .base rect {
      fill: var(--sand);
      stroke: var(--ink);
      stroke-width: 1.5;
    }
    .socket {
      fill: var(--silt);
      stroke: var(--ink);
      stroke-width: 1.5;
    }
    .plug rect,
    .plug circle {
      fill: var(--live);
      stroke: var(--ink);
      stroke-width: 2;
    }
    .plug .bolt {
      fill: var(--edge);
    }
    .plug .grip {
      fill: none;
      stroke: var(--ink);
      stroke-width: 4;
    }
    .arrow {
      fill: none;
      stroke: var(--channel);
      stroke-width: 2.5;
    }
    text {
      font-size: 12px;
      text-anchor: middle;
      fill: var(--fog);
    }
  `,
})
export class PlugPicture {
  readonly kind = input.required<PlugKind>();
  readonly hasParking = input(false);
  protected readonly words = WORDS;
}

import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { LIVE_VOLT, type LayerView } from '@estuarine/core';

const STEP = 52;
const LEFT = 8;
const WIDTH = 168;
const SKEW = 34;

/** The pack taken apart, layer above layer, each with what can be reached once it is off. The list beside it does the same work. */
@Component({
  selector: 'app-layer-drawing',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg [attr.viewBox]="'0 0 320 ' + height()" role="img" [attr.aria-label]="label()" (pointerup)="press($event)">
      @for (layer of layers(); track layer.place.id; let i = $index) {
        @let y = 12 + i * step;
        <g [class.is-off]="layer.isOff" [class.is-selected]="layer.place.id === selected()">
          <path class="slab" [attr.d]="slab(y)" />
          <path class="edge" [attr.d]="edge(y)" />
          <text class="name" [attr.x]="218" [attr.y]="y + 16">{{ i + 1 }}</text>
          <text class="volt" [class.is-live]="layer.reachableVolt >= live" [attr.x]="310" [attr.y]="y + 16">
            {{ layer.reachableVolt.toFixed(0) }} V
          </text>
          <text class="behind" [attr.x]="310" [attr.y]="y + 32">{{ layer.behindVolt.toFixed(0) }} V behind</text>
        </g>
      }
    </svg>
  `,
  styles: `
    svg {
      display: block;
      width: 100%;
      max-width: 460px;
    }
    .slab {
      fill: var(--tide-wash);
      stroke: var(--tide);
      stroke-width: 1.5;
      cursor: pointer;
    }
    .edge {
      fill: var(--sand);
      stroke: var(--tide);
      stroke-width: 1.5;
    }
    .is-off path {
      fill: none;
      stroke: var(--edge);
      stroke-dasharray: 5 4;
    }
    .is-selected path {
      stroke: var(--channel);
      stroke-width: 3;
    }
    text {
      fill: var(--ink);
      font-size: 13px;
    }
    .name,
    .volt {
      font-family: var(--mono);
      font-size: 15px;
    }
    .volt,
    .behind {
      text-anchor: end;
    }
    .volt.is-live {
      fill: var(--live-ink);
      font-weight: 700;
    }
    .behind {
      fill: var(--fog);
      font-size: 12px;
    }
  `,
})
export class LayerDrawing {
  readonly layers = input.required<readonly LayerView[]>();
  readonly selected = input.required<string>();
  readonly pick = output<string>();

  protected readonly step = STEP;
  protected readonly live = LIVE_VOLT;
  protected readonly height = computed(() => 20 + this.layers().length * STEP);
  protected readonly label = computed(() =>
    this.layers()
      .map((l) => `${l.place.name}: ${l.isOff ? 'off' : 'on'}, ${l.reachableVolt.toFixed(0)} V in reach once it is off`)
      .join('; '),
  );

  protected slab(y: number): string {
    return `M${LEFT + SKEW} ${y}H${LEFT + SKEW + WIDTH}L${LEFT + WIDTH} ${y + 26}H${LEFT}z`;
  }

  protected edge(y: number): string {
    return `M${LEFT} ${y + 26}H${LEFT + WIDTH}L${LEFT + SKEW + WIDTH} ${y}V${y + 8}L${LEFT + WIDTH} ${y + 34}H${LEFT}z`;
  }

  protected press(event: PointerEvent): void {
    const box = (event.currentTarget as SVGSVGElement).getBoundingClientRect();
    const y = ((event.clientY - box.top) * this.height()) / box.height;
    const layer = this.layers()[Math.max(0, Math.min(this.layers().length - 1, Math.floor((y - 6) / STEP)))];
    if (layer) this.pick.emit(layer.place.id);
  }
}

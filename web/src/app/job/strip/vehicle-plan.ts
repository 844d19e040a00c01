import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { PLAN, type PlaceView, type Zone } from '@estuarine/core';
import { PART_PATHS } from './part-glyph.ts';

/** The vehicle from above, front to the left: its zones with what is still in each, group by group. Zones are picked in the list too. */
@Component({
  selector: 'app-vehicle-plan',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg viewBox="-3 -3 106 50" role="img" [attr.aria-label]="label()" (pointerup)="pick($event)">
      <path class="body" d="M6 2H86Q100 2 100 14V30Q100 42 86 42H6Q-1 42 -1 22Q-1 2 6 2z" />
      <path class="glass" d="M22 5L30 9V35L22 39Q18 22 22 5z" />
      <path class="glass" d="M97 9L93 12V32L97 35Q99 22 97 9z" />
      @for (wheel of wheels; track $index) {
        <rect class="wheel" [attr.x]="wheel[0]" [attr.y]="wheel[1]" width="13" height="4" rx="1.4" />
      }
      <path class="ahead" d="M4 22l4-2.6v5.2z" />
      @for (view of drawn(); track view.place.id) {
        @let area = zone(view).area;
        <g [class.is-selected]="view.place.id === selected()" [class.is-clear]="view.isClear" [class.is-begun]="view.out > 0">
          <rect class="zone" [attr.x]="area.x" [attr.y]="area.y" [attr.width]="area.length" [attr.height]="area.width" rx="1.2" />
          @for (dot of dots(view); track dot.id) {
            <g [attr.transform]="'translate(' + dot.x + ' ' + dot.y + ') scale(0.11)'" [class.is-off]="dot.isOff" class="dot">
              <path [attr.d]="dot.path" fill-rule="evenodd" />
            </g>
          }
        </g>
      }
    </svg>
  `,
  styles: `
    svg {
      display: block;
      width: 100%;
      touch-action: manipulation;
    }
    .body {
      fill: var(--paper);
      stroke: var(--edge);
      stroke-width: 0.5;
    }
    .glass {
      fill: var(--sand);
    }
    .wheel {
      fill: var(--edge);
    }
    .ahead {
      fill: var(--fog);
    }
    .zone {
      fill: var(--tide-wash);
      fill-opacity: 0.8;
      stroke: var(--tide);
      stroke-width: 0.4;
      cursor: pointer;
    }
    .is-begun .zone {
      fill: var(--sand);
    }
    .is-clear .zone {
      fill: var(--silt);
      stroke-dasharray: 1.6 1.2;
    }
    .is-selected .zone {
      stroke: var(--channel);
      stroke-width: 1.1;
    }
    .dot path {
      fill: var(--channel);
    }
    .dot.is-off path {
      fill: none;
      stroke: var(--edge);
      stroke-width: 2.4;
    }
  `,
})
export class VehiclePlan {
  readonly places = input.required<readonly PlaceView[]>();
  readonly selected = input.required<string>();
  readonly pickZone = output<string>();
  /** A group was pressed inside the zone that is picked already. */
  readonly pickPart = output<string>();

  protected readonly wheels = [
    [12, -1.6],
    [12, 41.6],
    [74, -1.6],
    [74, 41.6],
  ] as const;
  /** Small zones above large ones, the picked one on top. */
  protected readonly drawn = computed(() => {
    const size = (v: PlaceView): number => this.zone(v).area.length * this.zone(v).area.width;
    return [...this.places()].sort(
      (a, b) => Number(a.place.id === this.selected()) - Number(b.place.id === this.selected()) || size(b) - size(a),
    );
  });
  protected readonly label = computed(
    () =>
      `Vehicle from above, front to the left. ${this.places()
        .map((p) => `${p.place.name}: ${p.inPlace} in, ${p.owed} off`)
        .join('; ')}.`,
  );

  protected zone(view: PlaceView): Zone {
    return view.place as Zone;
  }

  /** The groups of a zone in a grid of its own shape. */
  protected dots(view: PlaceView): { id: string; x: number; y: number; path: string; isOff: boolean }[] {
    const { x, y, length, width } = this.zone(view).area;
    const count = view.parts.length;
    const columns = Math.max(1, Math.min(count, Math.round(Math.sqrt((count * length) / width))));
    const rows = Math.max(1, Math.ceil(count / columns));
    return view.parts.map(({ part, owed, out, absent }, i) => ({
      id: part.id,
      x: x + ((i % columns) + 0.5) * (length / columns),
      y: y + (Math.floor(i / columns) + 0.5) * (width / rows),
      path: PART_PATHS[part.kind],
      isOff: owed > 0 && owed >= (part.count ?? out + absent),
    }));
  }

  /** The zone under the pointer, the smallest where they lie on each other; in the picked zone the nearest group. */
  protected pick(event: PointerEvent): void {
    const box = (event.currentTarget as SVGSVGElement).getBoundingClientRect();
    const x = ((event.clientX - box.left) * 106) / box.width - 3;
    const y = ((event.clientY - box.top) * 50) / box.height - 3;
    if (x < -3 || x > PLAN.length + 3) return;
    const hit = this.drawn().findLast((v) => {
      const { area } = this.zone(v);
      return x >= area.x && x <= area.x + area.length && y >= area.y && y <= area.y + area.width;
    });
    if (!hit) return;
    if (hit.place.id !== this.selected()) {
      this.pickZone.emit(hit.place.id);
      return;
    }
    const far = (dot: { x: number; y: number }): number => (dot.x - x) ** 2 + (dot.y - y) ** 2;
    const [nearest] = this.dots(hit).sort((a, b) => far(a) - far(b));
    if (nearest) this.pickPart.emit(nearest.id);
  }
}

import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { PartKind } from '@estuarine/core';

/** One shape for each kind of part, on a field of 24 by 24 around the origin. */
export const PART_PATHS: Record<PartKind, string> = {
  fastener: 'M0-10L8.7-5V5L0 10L-8.7 5V-5zM0-4a4 4 0 1 0 0 8a4 4 0 1 0 0-8z',
  clip: 'M-9-9H9V-5H3L2 6L5 9H-5L-2 6L-3-5H-9z',
  connector: 'M-10-6H6V-3H10V3H6V6H-10zM-6-3V3H-2V-3z',
  cable: 'M-10 6C-4 6-6-6 0-6S4 6 10 6V9C2 9 4-3 0-3S-2 9-10 9z',
  cover: 'M-10-7H10L8 7H-8zM-6-4L-5 4H5L6-4z',
  duct: 'M-10-7H2A8 8 0 0 1 10 1V9H4V1A2 2 0 0 0 2-1H-10z',
  bar: 'M-10-4H10V4H-10zM-7-1.5h3v3h-3zM4-1.5h3v3h-3z',
  bracket: 'M-9-9H-4V4H9V9H-9zM2 5.5h3v2h-3z',
};

@Component({
  selector: 'app-part-glyph',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<svg viewBox="-12 -12 24 24" width="24" height="24" aria-hidden="true"><path [attr.d]="path()" fill-rule="evenodd" /></svg>`,
  styles: `
    :host {
      display: inline-flex;
    }
    path {
      fill: var(--tide);
    }
  `,
})
export class PartGlyph {
  readonly kind = input.required<PartKind>();
  protected readonly path = computed(() => PART_PATHS[this.kind()]);
}

import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { Verdict } from '@estuarine/core';

export type Mark = Verdict | 'live';

/** Shape beside colour, readable in greyscale: one path each around the origin, six units to each side, filled even-odd. */
export const MARK_PATHS: Record<Mark, string> = {
  keep: 'M-6 0a6 6 0 1 0 12 0a6 6 0 1 0-12 0z',
  watch: 'M-6 0a6 6 0 1 0 12 0a6 6 0 1 0-12 0zM0-4.4a4.4 4.4 0 0 1 0 8.8z',
  reject: 'M-6-6h12v12h-12zM-4-1.3v2.6h8v-2.6z',
  unknown: 'M-6 0a6 6 0 1 0 12 0a6 6 0 1 0-12 0zM-4.4 0a4.4 4.4 0 1 1 8.8 0a4.4 4.4 0 1 1-8.8 0z',
  live: 'M1.5-7l-6 8h3.6l-1.2 6 6.2-8.4h-3.8z',
};

export const MARK_COLOURS: Record<Mark, string> = {
  keep: 'var(--reed)',
  watch: 'var(--sedge)',
  reject: 'var(--madder)',
  unknown: 'var(--edge)',
  live: 'var(--live-ink)',
};

export const VERDICT_WORDS: Record<Verdict, string> = { keep: 'keep', watch: 'watch', reject: 'reject', unknown: 'not judged' };

@Component({
  selector: 'app-verdict-mark',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<svg viewBox="-8 -8 16 16" [attr.width]="size()" [attr.height]="size()" aria-hidden="true">
    <path [attr.d]="path()" fill-rule="evenodd" [style.fill]="colour()" />
  </svg>`,
  styles: `
    :host {
      display: inline-flex;
      margin-right: 4px;
      vertical-align: -3px;
    }
  `,
})
export class VerdictMark {
  readonly mark = input.required<Mark>();
  readonly size = input(18);

  protected readonly path = computed(() => MARK_PATHS[this.mark()]);
  protected readonly colour = computed(() => MARK_COLOURS[this.mark()]);
}

import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { MARK_PATHS, type DrawnMark as Mark, type Verdict } from '@estuarine/core';

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

import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import type { Ink, Picture } from '@estuarine/core';

/** A drawing of the core on the screen: the same that the report prints. */
@Component({
  selector: 'app-picture-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg [attr.viewBox]="'0 0 ' + picture().width + ' ' + picture().height" role="img" [attr.aria-label]="says()">
      @for (shape of picture().shapes; track $index) {
        @switch (shape.kind) {
          @case ('rect') {
            <rect
              [attr.x]="shape.x"
              [attr.y]="shape.y"
              [attr.width]="shape.width"
              [attr.height]="shape.height"
              [style.fill]="colour(shape.fill)"
              [style.stroke]="colour(shape.line)"
              [attr.stroke-width]="shape.thick ?? 1"
              [attr.stroke-dasharray]="shape.isDashed ? '4 3' : null"
            />
          }
          @case ('circle') {
            <circle
              [attr.cx]="shape.x"
              [attr.cy]="shape.y"
              [attr.r]="shape.r"
              [style.fill]="colour(shape.fill)"
              [style.stroke]="colour(shape.line)"
              [attr.stroke-width]="shape.thick ?? 1"
            />
          }
          @case ('path') {
            <path
              [attr.d]="shape.d"
              fill-rule="evenodd"
              [attr.transform]="shape.x === undefined ? null : 'translate(' + shape.x + ' ' + (shape.y ?? 0) + ')'"
              [style.fill]="colour(shape.fill)"
              [style.stroke]="colour(shape.line)"
              [attr.stroke-width]="shape.thick ?? 1"
              [attr.stroke-dasharray]="shape.isDashed ? '4 3' : null"
            />
          }
          @case ('text') {
            <text
              [attr.x]="shape.x"
              [attr.y]="shape.y"
              [attr.font-size]="shape.size"
              [attr.text-anchor]="shape.anchor ?? 'start'"
              [attr.transform]="shape.turn === undefined ? null : 'rotate(' + shape.turn + ' ' + shape.x + ' ' + shape.y + ')'"
              [class.figure]="shape.isFigure"
              [style.fill]="colour(shape.ink)"
            >
              {{ shape.text }}
            </text>
          }
        }
      }
    </svg>
  `,
  styles: `
    svg {
      display: block;
      width: 100%;
      height: auto;
    }
  `,
})
export class PictureView {
  readonly picture = input.required<Picture>();
  readonly says = input.required<string>();

  protected colour(ink: Ink | undefined): string {
    return ink === undefined ? 'none' : `var(--${ink})`;
  }
}

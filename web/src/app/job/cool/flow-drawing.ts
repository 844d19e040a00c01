import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import type { AirPart } from '@estuarine/core';

const [WIDTH, HEIGHT, MIDDLE, LEAST] = [960, 86, 43, 4];

/** The air path as a stream: as wide as each part lets through, as found or now. A part is picked by pressing it. */
@Component({
  selector: 'app-flow-drawing',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg [attr.viewBox]="'0 0 ' + width + ' ' + height" preserveAspectRatio="none" aria-hidden="true">
      @for (piece of pieces(); track piece.part) {
        <path [class.is-dirty]="piece.isDirty" [class.is-unknown]="piece.isUnknown" [attr.d]="piece.path" />
      }
    </svg>
    <div class="names" role="group" aria-label="Parts of the air path">
      @for (part of parts(); track part.part) {
        <button
          type="button"
          [class.is-on]="part.part === selected()"
          [attr.aria-pressed]="part.part === selected()"
          (click)="picked.emit(part.part)"
        >
          <b>{{ part.name }}</b>
          <span class="figure" [class.is-dirty]="(shareOf(part) ?? 0) >= 0.2">{{ say(part) }}</span>
        </button>
      }
    </div>
  `,
  styles: `
    svg {
      display: block;
      width: 100%;
      height: 86px;
    }
    path {
      fill: var(--tide);
      opacity: 0.45;
    }
    path.is-dirty {
      fill: var(--madder);
      opacity: 0.6;
    }
    path.is-unknown {
      fill: none;
      stroke: var(--edge);
      stroke-dasharray: 6 5;
      opacity: 1;
    }
    .names {
      display: grid;
      grid-auto-flow: column;
      grid-auto-columns: minmax(0, 1fr);
      gap: 4px;
    }
    button {
      display: grid;
      gap: 2px;
      justify-items: center;
      min-height: 56px;
      padding: 4px;
      font: inherit;
      font-size: 15px;
      color: var(--ink);
      background: none;
      border: 1px solid transparent;
      border-radius: 3px;
      cursor: pointer;
    }
    button.is-on {
      border: 2px solid var(--channel);
    }
    span {
      color: var(--fog);
    }
    span.is-dirty {
      font-weight: 700;
      color: var(--madder);
    }
    @media (max-width: 699px) {
      .names {
        grid-auto-flow: row;
      }
      button {
        grid-template-columns: minmax(0, 1fr) auto;
        align-items: center;
        justify-items: start;
      }
    }
  `,
})
export class FlowDrawing {
  readonly parts = input.required<readonly AirPart[]>();
  readonly selected = input.required<number>();
  /** As it is now, after cleaning; else as it was found. */
  readonly isNow = input(false);
  readonly picked = output<number>();

  protected readonly width = WIDTH;
  protected readonly height = HEIGHT;
  /** One piece a part, from the middle of the part before to the middle of the next, so that it narrows and widens like a stream. */
  protected readonly pieces = computed(() => {
    const parts = this.parts();
    const step = WIDTH / Math.max(1, parts.length);
    const halfOf = (i: number): number => Math.max(LEAST, (MIDDLE - 3) * (1 - (this.shareOf(parts[i]) ?? 0)));
    return parts.map((part, i) => {
      const [x, w] = [i * step, step];
      const own = halfOf(i);
      const left = i === 0 ? own : (halfOf(i - 1) + own) / 2;
      const right = i === parts.length - 1 ? own : (halfOf(i + 1) + own) / 2;
      const edge = (sign: 1 | -1): string =>
        `C${x + 0.25 * w} ${MIDDLE + sign * left} ${x + 0.25 * w} ${MIDDLE + sign * own} ${x + 0.5 * w} ${MIDDLE + sign * own}C${x + 0.75 * w} ${MIDDLE + sign * own} ${x + 0.75 * w} ${MIDDLE + sign * right} ${x + w} ${MIDDLE + sign * right}`;
      const back = `L${x + w} ${MIDDLE + right}C${x + 0.75 * w} ${MIDDLE + right} ${x + 0.75 * w} ${MIDDLE + own} ${x + 0.5 * w} ${MIDDLE + own}C${x + 0.25 * w} ${MIDDLE + own} ${x + 0.25 * w} ${MIDDLE + left} ${x} ${MIDDLE + left}Z`;
      const share = this.shareOf(part);
      return { part: part.part, path: `M${x} ${MIDDLE - left}${edge(-1)}${back}`, isDirty: (share ?? 0) >= 0.2, isUnknown: share === null };
    });
  });

  protected shareOf(part: AirPart | undefined): number | null {
    if (!part) return null;
    return this.isNow() ? (part.after ?? part.asFound) : part.asFound;
  }

  protected say(part: AirPart): string {
    const share = this.shareOf(part);
    return share === null ? 'not looked at' : `${(100 * share).toFixed(0)} % shut`;
  }
}

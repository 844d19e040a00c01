import { ChangeDetectionStrategy, Component, effect, inject, input, model } from '@angular/core';
import { Shortcuts } from './shortcuts.ts';

export interface StagePart {
  readonly id: string;
  readonly name: string;
  /** Shown beside the name where there is something to count. */
  readonly count?: number;
}

/** The parts of one stage's screen, one shown at a time. */
@Component({
  selector: 'app-stage-parts',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <nav aria-label="Parts of this stage">
      @for (part of parts(); track part.id) {
        <button type="button" [attr.aria-current]="part.id === shown() ? 'true' : null" (click)="shown.set(part.id)">
          {{ part.name }}
          @if (part.count) {
            <span class="figure">{{ part.count }}</span>
          }
        </button>
      }
    </nav>
  `,
  styles: `
    nav {
      display: flex;
      gap: 2px;
      overflow-x: auto;
      padding: 0 24px;
      background: var(--shell);
      border-bottom: 1px solid var(--line);
    }
    button {
      flex: none;
      min-height: 48px;
      padding: 0 14px;
      font: inherit;
      color: var(--fog);
      background: none;
      border: 0;
      border-bottom: 3px solid transparent;
      cursor: pointer;
    }
    button[aria-current] {
      color: var(--ink);
      font-weight: 650;
      border-bottom-color: var(--channel);
    }
    .figure {
      margin-left: 4px;
      padding: 0 6px;
      font-size: 14px;
      color: var(--ink);
      background: var(--sand);
      border-radius: 9px;
    }
    @media (max-width: 699px) {
      nav {
        padding: 0 8px;
      }
    }
  `,
})
export class StageParts {
  readonly parts = input.required<readonly StagePart[]>();
  readonly shown = model.required<string>();

  constructor() {
    const shortcuts = inject(Shortcuts);
    // each part has the number of its place in the row
    effect((onCleanup) => {
      const offs = this.parts()
        .slice(0, 9)
        .map((part, i) => shortcuts.register({ key: String(i + 1), what: `show ${part.name}`, run: () => this.shown.set(part.id) }));
      onCleanup(() => offs.forEach((off) => off()));
    });
  }
}

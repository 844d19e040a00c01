import { ChangeDetectionStrategy, Component, computed, inject, input, model } from '@angular/core';
import type { Held, InHand, Tried } from '@estuarine/core';
import { JobLog } from '../../transport/job-log.ts';

const HOLDS = [
  { name: 'where it belongs', shift: 0, isOtherSide: false },
  { name: 'one module to the left', shift: -1, isOtherSide: false },
  { name: 'one module to the right', shift: 1, isOtherSide: false },
  { name: 'on the other side', shift: 0, isOtherSide: true },
] as const;

/** What a frame or a bar would do before it is laid: join, leave open, or short, with modules and amperes. Nothing is recorded. */
@Component({
  selector: 'app-frame-trial',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p class="muted">Hold it over the stack; nothing is recorded until it is on.</p>
    <div class="holds" role="group" aria-label="How the frame is held">
      @for (hold of holds; track hold.name) {
        <button type="button" [class.is-on]="isHeld(hold)" [attr.aria-pressed]="isHeld(hold)" (click)="take(hold)">{{ hold.name }}</button>
      }
    </div>
    @if (hand() && tried()) {
      <ul role="status">
        @for (line of lines(); track $index) {
          <li [class.is-bad]="line.isBad">{{ line.text }}</li>
        }
      </ul>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 8px;
    }
    .holds {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 6px;
    }
    button {
      min-height: 44px;
      padding: 0 10px;
      font: inherit;
      font-size: 15px;
      color: var(--channel);
      background: none;
      border: 1.5px solid var(--channel);
      border-radius: 3px;
      cursor: pointer;
    }
    .is-on {
      color: var(--paper);
      background: var(--channel);
    }
    ul {
      display: grid;
      gap: 4px;
      margin: 0;
      padding: 8px 12px;
      list-style: none;
      border-left: 4px solid var(--reed);
    }
    ul:has(.is-bad) {
      border-color: var(--madder);
    }
    .is-bad {
      font-weight: 600;
    }
  `,
})
export class FrameTrial {
  readonly held = input.required<Held>();
  readonly tried = input.required<Tried | null>();
  readonly hand = model.required<InHand | null>();

  readonly #log = inject(JobLog);
  protected readonly holds = HOLDS;
  protected readonly lines = computed((): { readonly text: string; readonly isBad: boolean }[] => {
    const tried = this.tried();
    const count = this.#log.profile()?.moduleCount ?? 0;
    if (!tried) return [];
    const bad = (text: string) => ({ text, isBad: true });
    const open = tried.faults.filter((f) => f.kind === 'open').length;
    return [
      ...tried.faults.flatMap(({ kind, modules, ampere, posts }) => {
        switch (kind) {
          case 'short':
            return [
              bad(
                `Short: ${name(modules)}, up to ${(ampere ?? 0).toFixed(0)} A${posts.length > 0 ? `, through ${posts.slice(0, 4).join(' ')}${posts.length > 4 ? ' …' : ''}` : ''}.`,
              ),
            ];
          case 'parallel':
            return [bad(`Side by side: ${name(modules)}.`)];
          case 'turned':
            return [bad(`Module ${modules.join(', ')} lies end for end.`)];
          case 'reversedOutput':
            return [bad('The ends stand the wrong way round.')];
          case 'open':
            return [];
        }
      }),
      ...(tried.loose > 0 ? [bad(`${tried.loose} of its bars find no post.`)] : []),
      {
        text:
          tried.outputVolt === null
            ? `${count} modules in ${open + 1} parts, nothing joins the ends.`
            : `The ends stand at ${tried.outputVolt.toFixed(1)} V${open > 0 ? `, ${open} parts apart` : ''}.`,
        isBad: false,
      },
    ];
  });

  protected isHeld(hold: (typeof HOLDS)[number]): boolean {
    const hand = this.hand();
    return hand?.id === this.held().id && hand.shift === hold.shift && hand.isOtherSide === hold.isOtherSide;
  }

  protected take(hold: (typeof HOLDS)[number]): void {
    const { shift, isOtherSide } = hold;
    this.hand.set(this.isHeld(hold) ? null : { ...this.held(), shift, isOtherSide });
  }
}

function name(modules: readonly number[]): string {
  const shown = modules.slice(0, 6).join(', ');
  return `module${modules.length > 1 ? 's' : ''} ${shown}${modules.length > 6 ? ` and ${modules.length - 6} more` : ''}`;
}

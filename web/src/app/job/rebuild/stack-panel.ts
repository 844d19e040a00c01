import { ChangeDetectionStrategy, Component, computed, inject, input, model, signal } from '@angular/core';
import { idSchema, type LaidPlace } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../line/job-log.ts';
import { TextField } from '../../ui/text-field.ts';

/** One place of the stack: which module belongs there, what lies there, and one press to lay it. What is said is kept, right or wrong. */
@Component({
  selector: 'app-stack-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzButtonModule, TextField],
  template: `
    @if (at(); as here) {
      <p>
        Place <b class="figure">{{ here.place }}</b> of {{ places().length }}:
        @if (here.planned) {
          <b class="figure">{{ here.planned }}</b> belongs here.
        } @else {
          no module was named.
        }
      </p>
      <p class="muted">
        {{ here.laid === '' ? 'Nothing lies here.' : here.laid + ' lies here' + (here.isTurned ? ', end for end.' : '.') }}
      </p>
      @if (here.planned && !here.isDone) {
        <button nz-button nzType="primary" type="button" class="lay" (click)="lay(here.planned, false)">
          {{ here.planned }} lies here
        </button>
      }
      <form (submit)="layOther($event)">
        <app-text-field label="Another module lies here" isFigure [most]="64" [fault]="fault()" [(value)]="other" />
        <button nz-button type="submit">Lay it</button>
      </form>
      <div class="row">
        @if (here.laid) {
          <button nz-button type="button" (click)="lay(here.laid, !here.isTurned)">
            {{ here.isTurned ? 'It lies the right way round' : 'It lies end for end' }}
          </button>
          <button nz-button type="button" (click)="lay(null, false)">Take it out</button>
        }
        <button nz-button type="button" aria-label="Previous place" (click)="step(-1)">‹</button>
        <button nz-button type="button" aria-label="Next place" (click)="step(1)">›</button>
      </div>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 10px;
    }
    .lay {
      min-height: 64px;
    }
    form {
      display: grid;
      grid-template-columns: 1fr auto;
      gap: 8px;
      align-items: end;
    }
    .row {
      display: flex;
      flex-wrap: wrap;
      gap: 8px;
    }
  `,
})
export class StackPanel {
  readonly places = input.required<readonly LaidPlace[]>();
  readonly place = model.required<number>();

  readonly #log = inject(JobLog);
  protected readonly other = signal('');
  protected readonly fault = signal('');
  protected readonly at = computed(() => this.places()[this.place() - 1] ?? null);

  protected lay(moduleId: string | null, isTurned: boolean): void {
    const place = this.place();
    void this.#log.stateFact('rebuild', { kind: 'module', place, moduleId, isTurned });
    this.other.set('');
    this.fault.set('');
    const ahead = this.places().find((p) => p.place > place && !p.isDone);
    if (moduleId !== null && !isTurned && moduleId === this.at()?.planned && ahead) this.place.set(ahead.place);
  }

  protected layOther(event: Event): void {
    event.preventDefault();
    const id = this.other().trim();
    if (idSchema.safeParse(id).success) this.lay(id, false);
    else this.fault.set('The label of the module: letters, digits, point, dash and underscore.');
  }

  protected step(by: number): void {
    const count = this.places().length;
    this.place.set(((this.place() - 1 + by + count) % count) + 1);
  }
}

import { ChangeDetectionStrategy, Component, computed, inject, input, model, resource, signal } from '@angular/core';
import { stockAnswerSchema } from '@estuarine/contract';
import { idSchema, plusSide, type LaidPlace } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../transport/job-log.ts';
import { KnownAnswers } from '../../transport/known-answers.ts';
import { TextField } from '../../ui/text-field.ts';
import { suggestInstead, whyNotLay } from './instead.ts';

/** One place of the stack: which module belongs there, what lies there, and one press to lay it. What is said is kept, right or wrong. */
@Component({
  selector: 'app-stack-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzButtonModule, TextField],
  template: `
    @if (at(); as here) {
      <p>
        Place <b class="figure">{{ here.place }}</b>:
        @if (here.planned) {
          <b class="figure">{{ here.planned }}</b> belongs here.
        } @else {
          no module was named.
        }
      </p>
      <p class="muted">
        {{ here.laid === '' ? 'Nothing lies here.' : here.laid + ' lies here' + (here.isTurned ? ', end for end.' : '.') }}
        Its plus post looks to the {{ plusOf(here.place) }}.
      </p>
      @for (why of doubts(); track why) {
        <p class="doubt" role="alert">{{ why }}</p>
      }
      @if (instead(); as other) {
        <p>
          To take instead: <b class="figure">{{ other.moduleId }}</b> from the shelf{{ other.bin ? ', ' + other.bin : '' }},
          {{ other.why }}. Choose it under Match, so that it is reserved.
        </p>
      }
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
        @if (here.laid || here.planned) {
          <button nz-button type="button" (click)="drop(here.laid || here.planned)">It was dropped</button>
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
    .doubt {
      padding: 4px 12px;
      font-weight: 600;
      border-left: 4px solid var(--madder);
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
  readonly #known = inject(KnownAnswers);
  protected readonly other = signal('');
  protected readonly fault = signal('');
  protected readonly at = computed(() => this.places().find((p) => p.place === this.place()) ?? this.places()[0] ?? null);
  readonly #stock = resource({ loader: () => this.#known.ask('/api/stock', stockAnswerSchema) });
  readonly #rows = computed(() => this.#stock.value()?.value?.rows ?? []);
  /** What speaks against the module that lies or belongs here, by what the stock says of it. */
  protected readonly doubts = computed(() => {
    const here = this.at();
    const number = this.#log.state()?.intake.opened?.number ?? 0;
    const ids = [...new Set([here?.laid, here?.planned])].filter((id) => id !== undefined && id !== '');
    return ids.flatMap(
      (id) =>
        whyNotLay(
          this.#rows().find((r) => r.moduleId === id),
          number,
          this.#log.profile(),
        ) ?? [],
    );
  });
  /** Where the module of this place was dropped: the nearest of the shelf. */
  protected readonly instead = computed(() => {
    const [here, state, profile] = [this.at(), this.#log.state(), this.#log.profile()];
    if (!here || !state || !profile) return null;
    const gone = new Set(state.rebuild.dropped.map((d) => d.moduleId));
    const id = [here.laid, here.planned].find((one) => gone.has(one));
    return id === undefined ? null : suggestInstead(id, this.#rows(), state, profile, gone);
  });

  protected lay(moduleId: string | null, isTurned: boolean): void {
    const place = this.at()?.place ?? this.place();
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

  protected plusOf(place: number): string {
    const profile = this.#log.profile();
    if (!profile) return '';
    return plusSide(profile, place) === 'near' ? profile.layout.nearSide : profile.layout.farSide;
  }

  protected drop(moduleId: string): void {
    void this.#log.act({ type: 'module.dropped', body: { moduleId, note: '' } });
  }

  protected step(by: number): void {
    const all = this.places();
    const next = all[(all.findIndex((p) => p.place === this.at()?.place) + by + all.length) % all.length];
    if (next) this.place.set(next.place);
  }
}

import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { readDecimal, surveyJoints, type Survey } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../transport/job-log.ts';
import { TextField } from '../../ui/text-field.ts';

/** A known current through the string, and what drops over each joint: outliers, heat, and the least fault that this meter sees. */
@Component({
  selector: 'app-survey-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzButtonModule, TextField],
  template: `
    <div class="row">
      <app-text-field label="Current, A" isFigure mode="decimal" [(value)]="ampere" />
      <app-text-field label="Step of the meter, mV" isFigure mode="decimal" [(value)]="step" />
    </div>
    <form (submit)="$event.preventDefault(); take()">
      <div class="entry">
        <app-text-field
          [label]="'Over joint ' + link() + ' (' + link() + ' to ' + (link() + 1) + '), mV'"
          isFigure
          mode="decimal"
          [fault]="fault()"
          [(value)]="text"
        />
        <button nz-button nzType="primary" type="submit">Next</button>
      </div>
    </form>
    <p role="status">
      <b class="figure">{{ drops().size }}</b> of {{ links().length }} joints
      @if (draft(); as answer) {
        · median <b class="figure">{{ (1000 * answer.medianMilliohm).toFixed(0) }} µΩ</b> · a fault below
        <b class="figure">{{ (1000 * answer.leastMilliohm).toFixed(0) }} µΩ</b> cannot be seen
      }
    </p>
    @for (joint of outliers(); track joint.id) {
      <p class="is-bad">
        Joint <b class="figure">{{ joint.id }}</b> to {{ +joint.id + 1 }}: <b class="figure">{{ joint.milliohm.toFixed(2) }} mΩ</b>, makes
        <b class="figure">{{ joint.watt.toFixed(1) }} W</b> at 100 A. Take the nut off, clean, tighten anew.
      </p>
    }
    @if (drops().size > 0) {
      <div class="row">
        <button nz-button type="button" (click)="back()">‹ {{ before() }}</button>
        <button nz-button nzType="primary" type="button" (click)="keep()">Keep {{ drops().size }} joints</button>
      </div>
    } @else if (survey(); as kept) {
      <p>
        Kept: {{ kept.joints.length }} joints, median <b class="figure">{{ (1000 * kept.medianMilliohm).toFixed(0) }} µΩ</b>,
        {{ keptBad() === 0 ? 'none stands out.' : keptBad() + ' to be made anew.' }}
      </p>
    }
    <p class="muted">10 A make 1 mV over 0.1 mΩ. Worth doing while the covers are off; nothing waits for it.</p>
  `,
  styles: `
    :host {
      display: grid;
      gap: 10px;
    }
    .row {
      display: grid;
      grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
      gap: 8px;
      align-items: end;
    }
    .entry {
      display: grid;
      grid-template-columns: minmax(0, 1fr) 96px;
      gap: 8px;
      align-items: end;
    }
    button {
      min-height: 48px;
    }
    .is-bad {
      padding: 4px 12px;
      border-left: 4px solid var(--madder);
    }
  `,
})
export class SurveyPanel {
  /** Links that are joined now, ascending. */
  readonly links = input.required<readonly number[]>();
  readonly survey = input.required<Survey | null>();
  readonly seen = output<number>();

  readonly #log = inject(JobLog);
  protected readonly ampere = signal('10');
  protected readonly step = signal('0.1');
  protected readonly text = signal('');
  protected readonly fault = signal('');
  protected readonly drops = signal<ReadonlyMap<number, number>>(new Map());
  protected readonly link = computed(() => this.links().find((k) => !this.drops().has(k)) ?? this.links().at(-1) ?? 1);
  protected readonly before = computed(() => [...this.drops().keys()].at(-1) ?? 0);
  protected readonly draft = computed(() => {
    const body = this.#body();
    const answer = body && surveyJoints({ ...body, joints: body.joints.map((j) => ({ id: String(j.link), millivolt: j.millivolt })) });
    return answer?.kind === 'answer' ? answer.value : null;
  });
  protected readonly outliers = computed(() => (this.draft() ?? this.survey())?.joints.filter((j) => j.isOutlier) ?? []);
  protected readonly keptBad = computed(() => this.survey()?.joints.filter((j) => j.isOutlier).length ?? 0);

  protected take(): void {
    const read = readDecimal(this.text());
    if (this.text().trim() === '') return;
    if (read.kind === 'refused' || read.value < 0 || read.value > 20_000) {
      this.fault.set(read.kind === 'refused' ? read.message : 'Millivolt from 0 to 20 000, without a sign.');
      return;
    }
    this.fault.set('');
    this.text.set('');
    this.drops.set(new Map([...this.drops(), [this.link(), read.value]]));
    this.seen.emit(this.link());
  }

  protected back(): void {
    const last = this.before();
    this.text.set(String(this.drops().get(last) ?? ''));
    this.drops.set(new Map([...this.drops()].filter(([k]) => k !== last)));
    this.seen.emit(last);
  }

  protected keep(): void {
    const body = this.#body();
    if (!body) {
      this.fault.set('Current and step of the meter are numbers above zero.');
      return;
    }
    void this.#log.act({ type: 'joints.surveyed', body });
    this.drops.set(new Map());
  }

  #body() {
    const [ampere, step] = [readDecimal(this.ampere()), readDecimal(this.step())];
    if (ampere.kind === 'refused' || step.kind === 'refused' || this.drops().size === 0) return null;
    if (!(ampere.value > 0 && ampere.value <= 1000 && step.value > 0 && step.value <= 100)) return null;
    const joints = [...this.drops()].map(([link, millivolt]) => ({ link, millivolt }));
    return { ampere: ampere.value, resolutionMillivolt: step.value, joints };
  }
}

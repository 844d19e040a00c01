import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import {
  latestSweep,
  scaleFigure,
  SWEEP_KINDS,
  SWEEP_QUANTITIES,
  type ActBody,
  type JobState,
  type Profile,
  type SweepFile,
  type SweepKind,
} from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { NzModalModule } from 'ng-zorro-antd/modal';
import { v7 as uuid } from 'uuid';
import { JobLog } from '../transport/job-log.ts';
import { Link } from '../transport/link.ts';
import { readOptional } from '../job/sweep/sweep-walk.ts';
import { ChoiceField, choicesOf } from '../ui/choice-field.ts';
import { TextField } from '../ui/text-field.ts';
import { ImportTable, type TableRead } from './import-table.ts';
import type { ImportTarget } from './import.worker.ts';
import { UnitQuestions } from './unit-questions.ts';

type SweepRead = Extract<SweepFile, { kind: 'read' }>;
type SweepQuestion = SweepRead['questions'][number];

/** Sweeps from a file onto a job, all or nothing; asks for what the file does not say. */
@Component({
  selector: 'app-import-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzModalModule, NzButtonModule, ChoiceField, ImportTable, UnitQuestions, TextField],
  template: `
    <nz-modal [nzVisible]="true" nzTitle="Import sweeps from a file" [nzWidth]="820" (nzOnCancel)="closed.emit()" [nzFooter]="foot">
      <ng-container *nzModalContent>
        <app-import-table [target]="target()" [given]="given()" (read)="take($event)" />
        @if (kinds().includes('openCircuit') || kinds().includes('rest')) {
          <app-choice-field label="When was it measured?" [choices]="whens" [(value)]="when" />
          @if (when() === 'at') {
            <label class="field">
              <span>First reading taken, by the clock here</span>
              <input #moment class="plain figure" type="datetime-local" [value]="at()" (input)="at.set(moment.value)" />
            </label>
          }
          @if (when() === 'unsaid') {
            <p class="muted">Not said, it counts as older than every charge: after one the number on the line does not go by this file.</p>
          }
        }
        @if (kinds().includes('load')) {
          <app-text-field
            label="Load of the readings under load, A (left empty: no resistance from it)"
            isFigure
            mode="decimal"
            [(value)]="ampere"
          />
        }
        @if (kinds().includes('rest')) {
          <app-text-field
            label="Hours of rest before the second sweep (left empty: no drop per hour)"
            isFigure
            mode="decimal"
            [(value)]="hours"
          />
        }
        <app-unit-questions [questions]="questions()" (scaled)="scale($event)" (left)="leave($event)" />
        @if (fault()) {
          <p role="alert">{{ fault() }}</p>
        }
      </ng-container>
      <ng-template #foot>
        <button nz-button type="button" (click)="closed.emit()">Close</button>
        <button nz-button nzType="primary" type="button" [disabled]="!readings() || questions().length > 0" (click)="keep()">Import</button>
      </ng-template>
    </nz-modal>
  `,
})
export class ImportDialog {
  readonly profile = input.required<Profile>();
  readonly state = input.required<JobState>();
  /** A table that was dropped or pasted. */
  readonly given = input<File | null>(null);
  readonly closed = output();

  readonly #log = inject(JobLog);
  readonly #link = inject(Link);
  readonly #fileName = signal('');
  protected readonly readings = signal<SweepRead | null>(null);
  /** Columns whose unit is asked about before anything is imported. */
  protected readonly questions = signal<readonly SweepQuestion[]>([]);
  protected readonly ampere = signal('');
  protected readonly hours = signal('');
  protected readonly whens = choicesOf({ unsaid: 'not said', now: 'just now', at: 'at a time' });
  protected readonly when = signal<'unsaid' | 'now' | 'at'>('unsaid');
  /** As the field gives it: local, to the minute. */
  protected readonly at = signal('');
  protected readonly fault = signal<string | null>(null);

  protected readonly target = computed((): ImportTarget => {
    const { moduleCount, moduleType } = this.profile();
    return { kind: 'sweep', modules: { moduleCount, type: moduleType } };
  });
  protected readonly kinds = computed((): SweepKind[] => {
    const figures = new Set(this.readings()?.readings.map((r) => r.figure));
    return SWEEP_KINDS.filter((kind) => SWEEP_QUANTITIES[kind].some((q) => figures.has(q)));
  });

  protected take(read: { readonly fileName: string; readonly table: TableRead } | null): void {
    this.#fileName.set(read?.fileName ?? '');
    const table = read && 'readings' in read.table ? read.table : null;
    this.readings.set(table);
    this.questions.set(table?.questions ?? []);
  }

  protected scale(question: SweepQuestion): void {
    this.readings.update((table) => table && { ...table, readings: scaleFigure(table.readings, question) });
    this.leave(question);
  }

  protected leave(question: SweepQuestion): void {
    this.questions.update((all) => all.filter((q) => q !== question));
  }

  protected async keep(): Promise<void> {
    const table = this.readings();
    const ampere = readOptional(this.ampere());
    const hours = readOptional(this.hours());
    if (!table) return;
    if (ampere === undefined || hours === undefined) {
      this.fault.set('Load and hours are numbers above zero, or stay empty.');
      return;
    }
    const measured = this.#measured();
    if (measured === null) {
      this.fault.set('Measured at: a day and a time that are over.');
      return;
    }
    const commandId = uuid();
    const kept = await this.#log.act(
      { type: 'readings.imported', body: { measured, ...this.#toBody(table, commandId, ampere) } },
      commandId,
    );
    if (kept === null) this.fault.set('The import could not be stored on this device. Nothing was imported.');
    else this.closed.emit();
  }

  /** Null where the time that was entered is none, or still to come. */
  #measured(): string | null {
    if (this.when() === 'unsaid') return 'unsaid';
    const now = this.#link.serverNow();
    const at = this.when() === 'now' ? now : Date.parse(this.at());
    return at <= now ? new Date(at).toISOString() : null;
  }

  #toBody(table: SweepRead, commandId: string, loadAmpere: number | null): Omit<ActBody<'readings.imported'>, 'measured'> {
    const idOf = (kind: SweepKind): string => `${commandId}-${kind}`;
    const before = this.kinds().includes('openCircuit') ? idOf('openCircuit') : (latestSweep(this.state(), 'openCircuit')?.id ?? null);
    return {
      fileName: this.#fileName(),
      sweeps: this.kinds().map((kind) => ({
        sweepId: idOf(kind),
        kind,
        restSince: kind === 'rest' ? before : null,
        restHour: kind === 'rest' ? (readOptional(this.hours()) ?? null) : null,
        loadAmpere: kind === 'load' ? loadAmpere : null,
        loadSecond: null,
        recovered: 'all' as const,
        resolution: null,
        readings: table.readings
          .filter((r) => SWEEP_QUANTITIES[kind].includes(r.figure))
          .map(({ place, figure, value }) => ({ place, quantity: figure, value })),
      })),
    };
  }
}

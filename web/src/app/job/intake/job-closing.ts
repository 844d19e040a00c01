import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { findUnmet } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../transport/job-log.ts';
import { Session } from '../../session/session.ts';
import { TextField } from '../../ui/text-field.ts';

/** Closes a job by the rules of its kind, breaks it off with a reason, or opens it again. */
@Component({
  selector: 'app-job-closing',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DatePipe, NzButtonModule, TextField],
  template: `
    @if (closed(); as ended) {
      <h3>
        {{ ended.outcome === 'finished' ? 'Finished' : 'Broken off' }} {{ ended.at | date: 'd MMM y, HH:mm' }} by
        {{ ended.by.toUpperCase() }}
      </h3>
      @if (ended.note) {
        <p>{{ ended.note }}</p>
      }
      @for (line of ended.unmet; track line) {
        <p class="muted">{{ line }}</p>
      }
      @if (mayClose()) {
        <app-text-field label="Why it is opened again, eight letters or more" [most]="400" [(value)]="reason" />
        <button nz-button type="button" [disabled]="!hasReason()" (click)="reopen()">Open the job again</button>
      }
    } @else {
      <h3>Closing the job</h3>
      @for (line of unmet(); track line) {
        <p>{{ line }}</p>
      } @empty {
        <p>Nothing stands against closing it as finished.</p>
      }
      @if (mayClose()) {
        <app-text-field
          [label]="isLead() ? 'Note on how it ends; to break it off, why, in eight letters or more' : 'Note on how it ends, may stay empty'"
          [most]="400"
          [(value)]="reason"
        />
        <div class="row">
          <button nz-button type="button" [disabled]="unmet().length > 0" (click)="finish()">Close as finished</button>
          @if (isLead()) {
            <button nz-button type="button" [disabled]="!hasReason()" (click)="breakOff()">Break the job off</button>
          }
        </div>
      } @else {
        <p class="muted">A technician or the lead closes a job.</p>
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 8px;
      justify-items: start;
      margin-top: 16px;
    }
    p {
      margin: 0;
    }
    .row {
      display: flex;
      flex-wrap: wrap;
      gap: 8px;
    }
  `,
})
export class JobClosing {
  readonly #log = inject(JobLog);
  readonly #session = inject(Session);

  protected readonly reason = signal('');
  protected readonly hasReason = computed(() => this.reason().trim().length >= 8);
  protected readonly isLead = computed(() => this.#session.person()?.role === 'lead');
  protected readonly mayClose = computed(() => (this.#session.person()?.role ?? 'apprentice') !== 'apprentice');
  /** By what the server has kept: a permit is nothing before. */
  protected readonly closed = computed(() => this.#log.kept()?.state.intake.closed ?? null);
  protected readonly unmet = computed(() => {
    const [state, profile] = [this.#log.state(), this.#log.profile()];
    return state && profile ? findUnmet(state, profile) : [];
  });

  protected finish(): void {
    void this.#log.act({ type: 'job.closed', body: { outcome: 'finished', note: this.reason().trim() } });
    this.reason.set('');
  }

  protected breakOff(): void {
    void this.#log.act({ type: 'job.closed', body: { outcome: 'brokenOff', reason: this.reason().trim(), unmet: [] } });
    this.reason.set('');
  }

  protected reopen(): void {
    void this.#log.act({ type: 'job.reopened', body: { reason: this.reason().trim() } });
    this.reason.set('');
  }
}

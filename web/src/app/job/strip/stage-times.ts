import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { JobLog } from '../../transport/job-log.ts';
import { recallForJob } from './memory.ts';
import { StageWords } from '../../ui/stage-words.ts';

/** Minutes a stage: quoted, here so far, and in the middle of the shop's jobs on this profile. Breaks are left out. */
@Component({
  selector: 'app-stage-times',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>Minutes a stage</h2>
    <table class="sheet">
      <thead>
        <tr>
          <th scope="col">Stage</th>
          <th scope="col" class="num">Quoted</th>
          <th scope="col" class="num">This job</th>
          <th scope="col" class="num">Shop, middle</th>
          <th scope="col" class="num">Jobs</th>
          <th scope="col">Against the quote</th>
        </tr>
      </thead>
      <tbody>
        @for (row of rows(); track row.stage) {
          <tr>
            <td>{{ names()[row.stage] }}</td>
            <td class="num">{{ row.quotedMinute ?? '–' }}</td>
            <td class="num">{{ row.here }}</td>
            <td class="num">{{ row.medianMinute === null ? '–' : row.medianMinute.toFixed(0) }}</td>
            <td class="num">{{ row.jobs }}</td>
            <td>{{ row.words }}</td>
          </tr>
        }
      </tbody>
    </table>
    <p class="muted">
      Counted from one record to the next; more than half an hour without one is a break. The wait for the capacitors counts as Isolate.
    </p>
  `,
  styles: `
    :host {
      display: grid;
      gap: 12px;
      padding: 18px 24px 24px;
      overflow-x: auto;
    }
  `,
})
export class StageTimes {
  readonly #log = inject(JobLog);
  readonly #memory = recallForJob();

  protected readonly names = inject(StageWords).names;
  protected readonly rows = computed(() => {
    const minutes = this.#log.state()?.minutes ?? {};
    return (this.#memory()?.stages ?? []).map((row) => {
      const spent = minutes[row.stage] ?? 0;
      const ratio = row.quotedMinute !== null && row.medianMinute !== null ? row.medianMinute / row.quotedMinute : null;
      return {
        ...row,
        here: spent > 0 ? spent.toFixed(0) : '–',
        words:
          ratio === null
            ? ''
            : ratio > 1.1
              ? `${Math.round((ratio - 1) * 100)} % over`
              : ratio < 0.9
                ? `${Math.round((1 - ratio) * 100)} % under`
                : 'as quoted',
      };
    });
  });
}

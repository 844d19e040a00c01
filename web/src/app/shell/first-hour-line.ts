import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { Router } from '@angular/router';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { FirstHour, HOUR_STEPS } from './first-hour.ts';

/** The step of the first hour, above whatever screen is shown. */
@Component({
  selector: 'app-first-hour-line',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzButtonModule],
  template: `
    <aside aria-label="First hour">
      <b class="figure">{{ (hour.at() ?? 0) + 1 }} of {{ steps.length }}</b>
      <span>{{ step().text }}</span>
      <span class="row">
        <button nz-button type="button" (click)="show()">Show me</button>
        <button nz-button nzType="primary" type="button" (click)="next()">{{ isLast() ? 'Done' : 'Next step' }}</button>
        <button nz-button type="button" (click)="hour.end()">Never again</button>
      </span>
    </aside>
  `,
  styles: `
    aside {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 14px;
      align-items: center;
      padding: 4px 16px;
      background: var(--tide-wash);
      border-bottom: 1.5px solid var(--channel);
    }
    .row {
      margin-left: auto;
      gap: 6px;
    }
  `,
})
export class FirstHourLine {
  protected readonly hour = inject(FirstHour);
  readonly #router = inject(Router);
  protected readonly steps = HOUR_STEPS;
  protected readonly step = computed(() => HOUR_STEPS[this.hour.at() ?? 0] ?? { text: '', path: '/yard' });
  protected readonly isLast = computed(() => this.hour.at() === HOUR_STEPS.length - 1);

  protected show(): void {
    void this.#router.navigateByUrl(this.step().path);
  }

  protected next(): void {
    this.hour.go((this.hour.at() ?? 0) + 1);
    if (this.hour.at() !== null) this.show();
  }
}

import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import type { JobSummary } from '@estuarine/contract';
import { LIVE_VOLT, STAGE_NAMES } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { debounceTime, merge } from 'rxjs';
import { Api } from '../log/api.ts';
import { DeviceStore } from '../log/device-store.ts';
import { Link } from '../log/link.ts';
import { Outbox } from '../log/outbox.ts';
import { Notice } from '../ui/notice.ts';
import { VerdictMark } from '../ui/verdict-mark.ts';

const PATH = '/api/jobs';

/** All jobs of the shop, each with its stage and what can be reached on it now. */
@Component({
  selector: 'app-yard-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink, DatePipe, Notice, VerdictMark, NzButtonModule],
  templateUrl: './yard-page.html',
  styleUrl: './yard-page.less',
})
export class YardPage {
  readonly #api = inject(Api);
  readonly #store = inject(DeviceStore);
  readonly #link = inject(Link);
  readonly #outbox = inject(Outbox);
  readonly #jobs = signal<readonly JobSummary[] | null>(null);
  protected readonly isStale = signal(false);
  protected readonly hasFailed = signal(false);

  protected readonly jobs = this.#jobs.asReadonly();
  protected readonly names = STAGE_NAMES;
  protected readonly isLinked = this.#link.isLive;
  protected readonly coming = computed(() => this.#outbox.acts().filter((a) => a.sent.act.type === 'job.opened' && a.kept === null));

  constructor() {
    void this.load();
    merge(this.#link.events$, this.#link.behind$)
      .pipe(debounceTime(150), takeUntilDestroyed(inject(DestroyRef)))
      .subscribe(() => void this.load());
  }

  protected isLive(job: JobSummary): boolean {
    return job.reachableVolt >= LIVE_VOLT;
  }

  protected async load(): Promise<void> {
    const reply = await this.#api.get<{ jobs: JobSummary[] }>(PATH);
    if (reply.kind === 'answer') {
      this.#jobs.set(reply.value.jobs);
      this.isStale.set(false);
      this.hasFailed.set(false);
      await this.#store.saveAnswer(PATH, reply.value).catch(() => undefined);
      return;
    }
    const known = await this.#store.findAnswer<{ jobs: JobSummary[] }>(PATH).catch(() => undefined);
    this.isStale.set(true);
    if (known && !this.#jobs()) this.#jobs.set(known.jobs);
    if (!known && !this.#jobs()) this.hasFailed.set(true);
  }
}

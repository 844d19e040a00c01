import { DatePipe } from '@angular/common';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  inject,
  input,
  signal,
  untracked,
  viewChild,
  type ElementRef,
} from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { ActivatedRoute, NavigationEnd, Router, RouterLink, RouterOutlet } from '@angular/router';
import { STAGES, type Stage } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { filter, map, startWith } from 'rxjs';
import { JobFollow } from '../transport/job-follow.ts';
import { TermsChip } from './hand-over/terms-chip.ts';
import { JobLog } from '../transport/job-log.ts';
import { JobPapers } from '../transport/job-papers.ts';
import { JobWaiting } from '../transport/job-waiting.ts';
import { Outbox } from '../transport/outbox.ts';
import { ExposureLine } from '../ui/exposure-line.ts';
import { watchHasLeft } from '../ui/has-left.ts';
import { Notice } from '../ui/notice.ts';
import { Shortcuts } from '../ui/shortcuts.ts';
import { sayAct, sayFact } from './say-act.ts';
import { NumberStrip } from './line/number-strip.ts';
import { PassedWords } from './line/passed-words.ts';
import { WhyDrawer } from './line/why-drawer.ts';
import { StageWords } from '../ui/stage-words.ts';

/** A job: its exposure line above, the stage that is looked at below. */
@Component({
  selector: 'app-job-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterOutlet, RouterLink, DatePipe, NzButtonModule, ExposureLine, Notice, NumberStrip, PassedWords, WhyDrawer, TermsChip],
  providers: [JobFollow, JobWaiting, JobPapers, JobLog],
  templateUrl: './job-page.html',
  styleUrl: './job-page.less',
})
export class JobPage {
  readonly jobId = input.required<string>();

  protected readonly log = inject(JobLog);
  readonly #outbox = inject(Outbox);
  readonly #router = inject(Router);
  readonly #route = inject(ActivatedRoute);

  private readonly edge = viewChild<ElementRef<HTMLElement>>('edge');

  /** The head is scrolled away: its number stays in a strip. */
  protected readonly hasScrolled = watchHasLeft(this.edge);
  protected readonly isWhyOpen = signal(false);
  protected readonly names = inject(StageWords).names;
  protected readonly say = sayAct;
  protected readonly stages = this.log.stages;
  protected readonly shown = toSignal(
    this.#router.events.pipe(
      filter((e) => e instanceof NavigationEnd),
      startWith(null),
      map(() => (this.#route.snapshot.firstChild?.params.stage as Stage | undefined) ?? null),
    ),
    { initialValue: null },
  );
  protected readonly isSheet = computed(() => this.shown() === null);
  protected readonly stale = computed(() => {
    const since = this.log.staleSince();
    const why = this.log.isConnected() ? 'catching up' : 'not connected';
    return since === null ? null : { since: clock(since), why, highestVolt: this.log.highestPossible() };
  });
  /** On the way back in a job says that its cooling is not answered, until it is. */
  protected readonly isCoolingOpen = computed(() => {
    const stage = this.log.state()?.stage ?? 'intake';
    const isOnTheWayBack = STAGES.indexOf(stage) >= STAGES.indexOf('match') && this.log.closed() === null;
    return isOnTheWayBack && this.shown() !== 'cool' && this.stages().some((s) => s.stage === 'cool' && !s.isDone);
  });
  protected readonly hasTerms = computed(() => this.log.closed() === null && this.log.state()?.handOver.terms.at(-1)?.terms != null);
  protected readonly isComing = computed(() =>
    this.#outbox.acts().some((a) => a.jobId === this.jobId() && a.sent.act.type === 'job.opened'),
  );

  constructor() {
    effect(() => {
      const jobId = this.jobId();
      untracked(() => void this.log.open(jobId));
    });
    // without a stage in the address the job opens where it stands
    effect(() => {
      const state = this.log.kept()?.state;
      const isBare = this.#route.snapshot.firstChild === null;
      if (state && isBare) untracked(() => void this.#router.navigate(['/job', this.jobId(), state.stage], { replaceUrl: true }));
    });
    const off = inject(Shortcuts).register({
      key: 'z',
      ctrl: true,
      what: 'take back your last reading, sweep or import',
      run: () => void this.log.undo(),
    });
    inject(DestroyRef).onDestroy(() => {
      off();
      this.log.leave();
    });
  }

  /** Other devices whose acts may be missing here, in words; empty where there is none. */
  protected readonly cutOff = computed(() =>
    this.log
      .cutOff()
      .map((c) => `${c.by.toUpperCase()}’s device since ${clock(Date.parse(c.since))}`)
      .join(', '),
  );
  /** A question that a fact raised: its parts were counted otherwise. */
  protected readonly question = computed(() => {
    const [asked, profile] = [this.log.asked(), this.log.profile()];
    return asked && profile ? { ...asked, says: sayFact(asked.fact, profile) } : null;
  });
  protected readonly steady = computed(() => this.log.isolation()?.steady ?? null);

  protected reload(): void {
    location.reload();
  }

  protected goTo(stage: string): void {
    void this.#router.navigate(['/job', this.jobId(), stage]);
  }
}

function clock(at: number): string {
  return new Date(at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });
}

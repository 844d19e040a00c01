import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { figuresAnswerSchema, gearAnswerSchema, type FiguresAnswer, type JobSummary } from '@estuarine/contract';
import {
  findDue,
  findHands,
  findYardWait,
  GEAR_NAMES,
  JOB_KIND_NAMES,
  LANE_NAMES,
  LANES,
  LIVE_VOLT,
  sortLane,
  type Due,
  type Hands,
} from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { DeviceStore } from '../transport/store.ts';
import { KnownAnswers } from '../transport/known-answers.ts';
import { Link } from '../transport/link.ts';
import { Outbox } from '../transport/outbox.ts';
import { FirstHour } from '../shell/first-hour.ts';
import { Session } from '../session/session.ts';
import { ChoiceField, choicesOf } from '../ui/choice-field.ts';
import { ListPage } from '../ui/list-page.ts';
import { Notice } from '../ui/notice.ts';
import { StageWords } from '../ui/stage-words.ts';
import { TextField } from '../ui/text-field.ts';
import { filterJobs, type JobFilter } from './job-filter.ts';
import { clock } from './say-wait.ts';
import { reachOf } from './reach.ts';
import { WaitingVolts } from './waiting-volts.ts';
import { YardCard, type YardVolts } from './yard-card.ts';
import { YardList } from './yard-list.ts';

const SOON_DAYS = 30;
/** While the yard hangs on the wall it counts as looked at. */
const WALL_TOUCH_MILLISECOND = 30_000;

/** All jobs of the shop, each with its stage and what can be reached on it now. */
@Component({
  selector: 'app-yard-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  providers: [YardList],
  imports: [RouterLink, ListPage, TextField, ChoiceField, Notice, NzButtonModule, YardCard],
  templateUrl: './yard-page.html',
  styleUrl: './yard-page.less',
})
export class YardPage {
  readonly #known = inject(KnownAnswers);
  readonly #link = inject(Link);
  readonly #outbox = inject(Outbox);
  readonly #waiting = inject(WaitingVolts);
  readonly #deviceId = inject(DeviceStore).deviceId;
  readonly #session = inject(Session);
  readonly #element = inject<ElementRef<HTMLElement>>(ElementRef);
  readonly #words = inject(StageWords);
  readonly #list = inject(YardList);
  readonly #jobs = this.#list.jobs;
  protected readonly state = this.#list.state;
  /** Gear that is overdue or soon will be. */
  protected readonly due = signal<readonly (Due & { readonly label: string })[]>([]);

  /** Old packs and modules that are still to go back, or that a supplier disputes. */
  protected readonly cores = signal<FiguresAnswer['figures']['money']>([]);

  protected readonly hour = inject(FirstHour);
  protected readonly isDemo = inject(Session).isDemo;
  protected readonly search = signal('');
  protected readonly standing = signal<JobFilter['standing']>('open');
  protected readonly kind = signal<JobFilter['kind']>('all');
  protected readonly standings = choicesOf<JobFilter['standing']>({ open: 'open jobs', closed: 'closed jobs', all: 'all jobs' });
  protected readonly kinds = choicesOf<JobFilter['kind']>({ all: 'every kind', ...JOB_KIND_NAMES });

  protected readonly jobs = computed(() => {
    const all = this.#jobs();
    return all && filterJobs(all, { text: this.search(), standing: this.standing(), kind: this.kind() });
  });
  /** By the server's clock: waits run down, and what is over calls for hands. */
  protected readonly now = computed(() => this.#link.serverNow());
  protected readonly lanes = computed(() => {
    const rows = (this.jobs() ?? []).map((job) => ({ job, wait: findYardWait(job, this.now()) }));
    return LANES.map((id) => ({ id, name: LANE_NAMES[id], rows: sortLane(rows.filter((r) => r.wait.lane === id)) })).filter(
      // a lane that nobody asked for is not shown empty
      ({ id, rows: own }) => own.length > 0 || (this.standing() !== 'closed' && id !== 'left'),
    );
  });
  protected readonly hands = computed(() => findHands(this.#jobs() ?? [], this.now()));
  protected readonly count = computed(() => this.#jobs()?.length ?? 0);
  protected readonly isFollowing = this.#list.isFollowing;
  protected readonly asOf = computed(() => {
    const since = this.#list.staleSince();
    return since === null ? '' : clock(since);
  });
  protected readonly coming = computed(() => this.#outbox.acts().filter((a) => a.sent.act.type === 'job.opened'));

  constructor() {
    void this.#loadDue();
  }

  protected reach(job: JobSummary): number {
    return reachOf(job, this.#waiting.volts().get(job.jobId), this.#link.serverNow());
  }

  /** The most that can stand there while this row may not be as it is. */
  protected most(job: JobSummary): number {
    return Math.max(this.reach(job), job.highestVolt);
  }

  /** Why the number may be other than the server's or than the truth; empty where nothing speaks for it. */
  protected doubts(job: JobSummary): string {
    const waiting = this.#waiting.volts().get(job.jobId);
    const away = this.#link.cutOff().filter((c) => c.jobId === job.jobId && c.deviceId !== this.#deviceId);
    return [
      ...(waiting ? [`${waiting.count} not kept yet`] : []),
      ...(away.length > 0
        ? [`may be higher: cut off ${away.map((c) => `${c.by.toUpperCase()} since ${clock(Date.parse(c.since))}`).join(', ')}`]
        : []),
    ].join(', ');
  }

  protected voltsOf(job: JobSummary): YardVolts {
    const [reachVolt, mostVolt] = [this.reach(job), this.most(job)];
    const isLive = (this.isFollowing() ? reachVolt : mostVolt) >= LIVE_VOLT;
    return { reachVolt, mostVolt, isLive, asOf: this.isFollowing() ? '' : this.asOf(), doubts: this.doubts(job) };
  }

  protected stageName(job: JobSummary): string {
    if (job.closed !== null) return job.closed === 'finished' ? 'Finished' : 'Broken off';
    return this.#words.names()[job.stage];
  }

  protected sayHands({ number, since, free }: Hands): string {
    if (free === null) return `at job ${number} since ${clock(since)}`;
    return free.until === null ? `free, last at job ${number}` : `free until ${clock(free.until)}, job ${number}`;
  }

  /** The yard alone fills the screen and stays, unlocked for looking: leaving it locks the session. */
  protected async showOnWall(): Promise<void> {
    const isShown = await this.#element.nativeElement.requestFullscreen().then(
      () => true,
      // a browser that lets no page fill the screen: it stays as it is
      () => false,
    );
    if (!isShown) return;
    const stay = setInterval(() => this.#session.touch(), WALL_TOUCH_MILLISECOND);
    const left = (): void => {
      if (document.fullscreenElement !== null) return;
      clearInterval(stay);
      document.removeEventListener('fullscreenchange', left);
      void this.#session.lock();
    };
    document.addEventListener('fullscreenchange', left);
  }

  async #loadDue(): Promise<void> {
    void this.#known
      .ask('/api/figures', figuresAnswerSchema)
      .then(({ value }) => this.cores.set((value?.figures.money ?? []).filter((m) => !m.isShipped || m.isDisputed)));
    const known = await this.#known.ask('/api/gear', gearAnswerSchema);
    if (known.kind !== 'fresh') return;
    const { rows, policy, today } = known.value;
    this.due.set(
      rows
        .filter((r) => r.retired === null)
        .map(({ gear }) => ({ label: `${GEAR_NAMES[gear.kind]} ${gear.label}`, ...findDue(gear, policy, today) }))
        .filter((d) => d.refusal !== null || (d.daysLeft ?? Infinity) <= SOON_DAYS)
        .sort((a, b) => (a.daysLeft ?? 0) - (b.daysLeft ?? 0)),
    );
  }

  protected beginHour(): void {
    this.hour.go(0);
  }

  protected load(): void {
    this.#list.load();
  }
}

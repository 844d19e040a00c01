import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { figuresAnswerSchema, gearAnswerSchema, type FiguresAnswer, type JobSummary } from '@estuarine/contract';
import { findDue, GEAR_NAMES, JOB_KIND_NAMES, KIND_RULES, LIVE_VOLT, sayTime, STAGE_NAMES, type Due } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { DeviceStore } from '../line/store.ts';
import { KnownAnswers } from '../line/known-answers.ts';
import { Link } from '../line/link.ts';
import { Outbox } from '../line/outbox.ts';
import { ChoiceField, choicesOf } from '../ui/choice-field.ts';
import { ListPage } from '../ui/list-page.ts';
import { Notice } from '../ui/notice.ts';
import { TextField } from '../ui/text-field.ts';
import { VerdictMark } from '../ui/verdict-mark.ts';
import { filterJobs, type JobFilter } from './job-filter.ts';
import { WaitingVolts } from './waiting-volts.ts';
import { YardList } from './yard-list.ts';

const SOON_DAYS = 30;

/** All jobs of the shop, each with its stage and what can be reached on it now. */
@Component({
  selector: 'app-yard-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  providers: [YardList],
  imports: [RouterLink, DatePipe, ListPage, TextField, ChoiceField, Notice, VerdictMark, NzButtonModule],
  templateUrl: './yard-page.html',
  styleUrl: './yard-page.less',
})
export class YardPage {
  readonly #known = inject(KnownAnswers);
  readonly #link = inject(Link);
  readonly #outbox = inject(Outbox);
  readonly #waiting = inject(WaitingVolts);
  readonly #deviceId = inject(DeviceStore).deviceId;
  readonly #list = inject(YardList);
  readonly #jobs = this.#list.jobs;
  protected readonly state = this.#list.state;
  /** Gear that is overdue or soon will be. */
  protected readonly due = signal<readonly (Due & { readonly label: string })[]>([]);

  /** Old packs and modules that are still to go back, or that a supplier disputes. */
  protected readonly cores = signal<FiguresAnswer['figures']['money']>([]);

  protected readonly search = signal('');
  protected readonly standing = signal<JobFilter['standing']>('open');
  protected readonly kind = signal<JobFilter['kind']>('all');
  protected readonly standings = choicesOf<JobFilter['standing']>({ open: 'open jobs', closed: 'closed jobs', all: 'all jobs' });
  protected readonly kinds = choicesOf<JobFilter['kind']>({ all: 'every kind', ...JOB_KIND_NAMES });
  protected readonly kindNames = JOB_KIND_NAMES;

  protected readonly jobs = computed(() => {
    const all = this.#jobs();
    return all && filterJobs(all, { text: this.search(), standing: this.standing(), kind: this.kind() });
  });
  protected readonly count = computed(() => this.#jobs()?.length ?? 0);
  protected readonly names = STAGE_NAMES;
  protected readonly isFollowing = this.#list.isFollowing;
  protected readonly asOf = computed(() => {
    const since = this.#list.staleSince();
    return since === null ? '' : clock(new Date(since).toISOString());
  });
  protected readonly coming = computed(() => this.#outbox.acts().filter((a) => a.sent.act.type === 'job.opened'));

  constructor() {
    void this.#loadDue();
  }

  /** By the server's clock: a proof that has lapsed by the time alone counts no longer. */
  protected reach(job: JobSummary): number {
    const hasLapsed = job.proofEndsAt !== null && this.#link.serverNow() > Date.parse(job.proofEndsAt);
    const kept = hasLapsed ? job.lapsedVolt : job.reachableVolt;
    const waiting = this.#waiting.volts().get(job.jobId);
    // what waits here raises it; of a job that this device has not seen anything may be bare
    return waiting ? Math.max(kept, waiting.volt ?? job.behindVolt) : kept;
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
      ...(away.length > 0 ? [`may be higher: cut off ${away.map((c) => `${c.by.toUpperCase()} since ${clock(c.since)}`).join(', ')}`] : []),
    ].join(', ');
  }

  protected isLive(job: JobSummary): boolean {
    return (this.isFollowing() ? this.reach(job) : this.most(job)) >= LIVE_VOLT;
  }

  protected isMeasured({ kind, measuredCount }: JobSummary): boolean {
    return measuredCount > 0 || KIND_RULES[kind].stages.includes('test');
  }

  /** What the job waits for, and until when; null where it waits for nothing. */
  protected waitsFor(job: JobSummary): { readonly text: string; readonly isUrgent: boolean } | null {
    if (job.closed !== null) return job.lookAt === null ? null : lookOf(job.lookAt, job.stripAt, this.#link.serverNow());
    const now = this.#link.serverNow();
    if (job.steadyVolt !== null) return { text: `steady at ${job.steadyVolt.toFixed(0)} V: hands off`, isUrgent: true };
    if (job.asksCosign) return { text: 'asks for a co-sign', isUrgent: true };
    if (job.proofEndsAt !== null)
      return now > Date.parse(job.proofEndsAt)
        ? { text: 'proof has lapsed', isUrgent: true }
        : { text: `proven dead until ${clock(job.proofEndsAt)}`, isUrgent: false };
    if (job.waitEndsAt === null) return job.rest && restOf(job.rest, now);
    const left = Date.parse(job.waitEndsAt) - now;
    if (left <= 0) return { text: 'wait is over: prove dead', isUrgent: true };
    return {
      text: `capacitors, ${Math.floor(left / 60_000)}:${String(Math.floor(left / 1000) % 60).padStart(2, '0')} to go`,
      isUrgent: false,
    };
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

  protected load(): void {
    this.#list.load();
  }
}

/** The next look at the air path of a vehicle that has left, and when its pack is opened for its cells. */
function lookOf(lookAt: string, stripAt: string | null, now: number): { readonly text: string; readonly isUrgent: boolean } {
  const dayOf = (at: string): string =>
    new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric' }).format(Date.parse(at));
  const say = (what: string, at: string): string =>
    now > Date.parse(at) ? `${what}: due since ${dayOf(at)}` : `${what} again ${dayOf(at)}`;
  const strip = stripAt === null ? '' : `, ${now > Date.parse(stripAt) ? 'cells due' : 'cells'} ${dayOf(stripAt)}`;
  return {
    text: `${say('air path', lookAt)}${strip}`,
    isUrgent: now > Date.parse(lookAt) || (stripAt !== null && now > Date.parse(stripAt)),
  };
}

function restOf(
  { since, judgedFrom }: NonNullable<JobSummary['rest']>,
  now: number,
): { readonly text: string; readonly isUrgent: boolean } {
  const left = Date.parse(judgedFrom) - now;
  const rested = Math.max(0, now - Date.parse(since));
  const hours = (millisecond: number): string => sayTime(60 * Math.ceil(millisecond / 60_000));
  return { text: left > 0 ? `rest, judged in ${hours(left)}` : `rested ${hours(rested)}: read again`, isUrgent: false };
}

function clock(at: string): string {
  return new Date(at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });
}

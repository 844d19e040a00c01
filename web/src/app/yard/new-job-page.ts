import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import { jobsAnswerSchema, policyAnswerSchema, profilesAnswerSchema, type JobSummary } from '@estuarine/contract';
import { JOB_KIND_NAMES, KIND_RULES, NO_HASH, type Act, type JobKind, type Profile } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { v7 as uuid } from 'uuid';
import { KnownAnswers } from '../transport/known-answers.ts';
import { Outbox } from '../transport/outbox.ts';
import { PackCard } from '../profiles/pack-card.ts';
import { PackFilter } from '../profiles/pack-filter.ts';
import { ChoiceField, choicesOf } from '../ui/choice-field.ts';
import { Notice } from '../ui/notice.ts';
import { StageWords } from '../ui/stage-words.ts';
import { TextField } from '../ui/text-field.ts';

/** A new job: the vehicle, the profile of its pack, and the labels of its modules. */
@Component({
  selector: 'app-new-job-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormsModule, RouterLink, ChoiceField, PackCard, PackFilter, TextField, Notice, NzButtonModule],
  templateUrl: './new-job-page.html',
  styleUrl: './new-job-page.less',
})
export class NewJobPage {
  readonly #known = inject(KnownAnswers);
  readonly #outbox = inject(Outbox);
  readonly #router = inject(Router);
  readonly #words = inject(StageWords);

  protected readonly profiles = signal<readonly Profile[] | null>(null);
  protected readonly policyVersion = signal(0);
  protected readonly hasFailed = signal(false);
  protected readonly profileId = signal('');
  protected readonly kinds = choicesOf(JOB_KIND_NAMES);
  protected readonly kind = signal<JobKind>('wholeRepair');
  protected readonly namesModules = computed(() => KIND_RULES[this.kind()].namesModules);
  /** Earlier jobs that this one may come back from. */
  protected readonly earlier = signal<readonly JobSummary[]>([]);
  protected readonly comebackOf = signal('');
  protected readonly comebacks = computed(() => [
    { value: '', name: 'no earlier job' },
    ...this.earlier().map((j) => ({ value: j.jobId, name: `Job ${j.number}, ${j.vehicleName} ${j.plate}` })),
  ]);
  protected readonly customerName = signal('');
  protected readonly contact = signal('');
  protected readonly name = signal('');
  protected readonly plate = signal('');
  protected readonly odometer = signal('');
  protected readonly note = signal('');
  /** Begins the labels of the modules: the pack's own label, or what the shop writes on it. */
  protected readonly prefix = signal('');
  protected readonly wasTried = signal(false);

  protected readonly profile = computed(() => this.profiles()?.find((p) => p.id === this.profileId()) ?? null);
  /** As the filter finds them; null before it was used. */
  protected readonly found = signal<readonly Profile[] | null>(null);
  protected readonly faults = computed(() => {
    const faults: Record<string, string> = {};
    if (this.name().trim() === '') faults.name = 'Say which vehicle it is.';
    if (!this.profile()) faults.profile = 'Choose which pack it is.';
    if (this.namesModules() && !/^[A-Za-z0-9][A-Za-z0-9._-]{0,39}$/.test(this.prefix().trim()))
      faults.prefix = 'Letters, digits, point or dash, for instance P7.';
    if (this.odometer().trim() !== '' && !/^\d{1,7}$/.test(this.odometer().trim())) faults.odometer = 'Whole kilometres, digits only.';
    return faults;
  });

  constructor() {
    void this.load();
  }

  protected async load(): Promise<void> {
    const [profiles, policy, jobs] = await Promise.all([
      this.#known.ask('/api/profiles', profilesAnswerSchema),
      this.#known.ask('/api/policy', policyAnswerSchema),
      this.#known.ask('/api/jobs', jobsAnswerSchema),
    ]);
    this.earlier.set(jobs.value?.jobs ?? []);
    if (this.prefix() === '') this.prefix.set(labelFor(this.earlier()));
    this.hasFailed.set(!profiles.value || !policy.value);
    if (!profiles.value || !policy.value) return;
    this.profiles.set(profiles.value.profiles);
    this.policyVersion.set(policy.value.version);
    if (profiles.value.profiles.length === 1) this.profileId.set(profiles.value.profiles[0]?.id ?? '');
    // a job opened while the server is away is worked on from these
    await this.#known.keep(`/api/policies/${policy.value.version}`, policy.value);
    for (const profile of profiles.value.profiles) await this.#known.keep(`/api/profiles/${profile.id}/${profile.version}`, { profile });
  }

  /** The pack is known; its vehicle is asked for next. */
  protected pick(packId: string): void {
    this.profileId.set(packId);
    setTimeout(() => document.querySelector<HTMLElement>('app-text-field[label="Vehicle"] input')?.focus());
  }

  protected stagesOf(kind: JobKind): string {
    return KIND_RULES[kind].stages.map((s) => this.#words.names()[s]).join(', ');
  }

  /** Nothing is said to be wrong before somebody tried. */
  protected faultOf(field: string): string | undefined {
    return this.wasTried() ? this.faults()[field] : undefined;
  }

  protected async open(): Promise<void> {
    this.wasTried.set(true);
    const profile = this.profile();
    if (!profile || Object.keys(this.faults()).length > 0) return;
    const jobId = uuid();
    const odometer = this.odometer().trim();
    const customerName = this.customerName().trim();
    const vehicle = {
      name: this.name().trim(),
      plate: this.plate().trim(),
      odometerKilometre: odometer === '' ? null : Number(odometer),
      note: this.note().trim(),
    };
    const customer = customerName === '' ? null : { name: customerName, contact: this.contact().trim() };
    const act: Act = {
      type: 'job.opened',
      body: {
        // the server gives the number that is next when the job arrives, and the hashes of the rows
        ...{ number: 1, kind: this.kind(), policyVersion: this.policyVersion() },
        ...{ profileId: profile.id, profileVersion: profile.version },
        vehicle: { id: uuid(), hash: NO_HASH },
        customer: customer && { id: uuid(), hash: NO_HASH },
        comebackOf: this.comebackOf() || null,
        moduleIds: this.namesModules() ? nameModules(this.prefix().trim(), profile.moduleCount) : [],
      },
    };
    const kept = await this.#outbox.put(jobId, act, { papers: { vehicle, customer } });
    if (kept !== null) await this.#router.navigate(['/job', jobId, 'intake']);
  }
}

/** A label that nobody has: the number that comes next, and a letter, since another device may be opening a job too. */
function labelFor(jobs: readonly JobSummary[]): string {
  const next = Math.max(0, ...jobs.map((j) => j.number)) + 1;
  return `J${next}${String.fromCharCode(97 + Math.floor(Math.random() * 26))}`;
}

/** Labels of the modules, place 1 first: label-01, label-02 … */
function nameModules(prefix: string, count: number): string[] {
  const width = String(count).length;
  return Array.from({ length: count }, (_, i) => `${prefix}-${String(i + 1).padStart(width, '0')}`);
}

import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Router } from '@angular/router';
import type { PolicyAnswer } from '@estuarine/contract';
import type { Profile } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { v7 as uuid } from 'uuid';
import { Api } from '../log/api.ts';
import { DeviceStore } from '../log/device-store.ts';
import { Outbox } from '../log/outbox.ts';
import { Notice } from '../ui/notice.ts';

/** A new job: the vehicle, the profile of its pack, and the labels of its modules. */
@Component({
  selector: 'app-new-job-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormsModule, Notice, NzButtonModule],
  templateUrl: './new-job-page.html',
})
export class NewJobPage {
  readonly #api = inject(Api);
  readonly #store = inject(DeviceStore);
  readonly #outbox = inject(Outbox);
  readonly #router = inject(Router);

  protected readonly profiles = signal<readonly Profile[] | null>(null);
  protected readonly policyVersion = signal(0);
  protected readonly hasFailed = signal(false);
  protected readonly profileId = signal('');
  protected readonly name = signal('');
  protected readonly plate = signal('');
  protected readonly odometer = signal('');
  protected readonly note = signal('');
  /** Begins the labels of the modules: the pack's own label, or what the shop writes on it. */
  protected readonly prefix = signal('');
  protected readonly wasTried = signal(false);

  protected readonly profile = computed(() => this.profiles()?.find((p) => p.id === this.profileId()) ?? null);
  protected readonly faults = computed(() => {
    const faults: Record<string, string> = {};
    if (this.name().trim() === '') faults.name = 'Say which vehicle it is.';
    if (!this.profile()) faults.profile = 'Choose the profile of its pack.';
    if (!/^[A-Za-z0-9][A-Za-z0-9._-]{0,39}$/.test(this.prefix().trim())) faults.prefix = 'Letters, digits, point or dash, for instance P7.';
    if (this.odometer().trim() !== '' && !/^\d{1,7}$/.test(this.odometer().trim())) faults.odometer = 'Whole kilometres, digits only.';
    return faults;
  });

  constructor() {
    void this.load();
  }

  protected async load(): Promise<void> {
    const [profiles, policy] = await Promise.all([
      this.#lookUp<{ profiles: Profile[] }>('/api/profiles'),
      this.#lookUp<PolicyAnswer>('/api/policy'),
    ]);
    this.hasFailed.set(!profiles || !policy);
    if (!profiles || !policy) return;
    this.profiles.set(profiles.profiles);
    this.policyVersion.set(policy.version);
    if (profiles.profiles.length === 1) this.profileId.set(profiles.profiles[0]?.id ?? '');
    // a job opened while the server is away is worked on from these
    await this.#store.saveAnswer(`/api/policies/${policy.version}`, policy).catch(() => undefined);
    for (const profile of profiles.profiles)
      await this.#store.saveAnswer(`/api/profiles/${profile.id}/${profile.version}`, { profile }).catch(() => undefined);
  }

  /** From the server, else as this device saw it last. */
  async #lookUp<T>(path: string): Promise<T | undefined> {
    const reply = await this.#api.get<T>(path);
    if (reply.kind !== 'answer') return this.#store.findAnswer<T>(path).catch(() => undefined);
    await this.#store.saveAnswer(path, reply.value).catch(() => undefined);
    return reply.value;
  }

  protected async open(): Promise<void> {
    this.wasTried.set(true);
    const profile = this.profile();
    if (!profile || Object.keys(this.faults()).length > 0) return;
    const jobId = uuid();
    const width = String(profile.moduleCount).length;
    const moduleIds = Array.from(
      { length: profile.moduleCount },
      (_, i) => `${this.prefix().trim()}-${String(i + 1).padStart(width, '0')}`,
    );
    const odometer = this.odometer().trim();
    const kept = await this.#outbox.put(jobId, {
      type: 'job.opened',
      body: {
        // the server gives the number that is next when the job arrives
        number: 1,
        profileId: profile.id,
        profileVersion: profile.version,
        policyVersion: this.policyVersion(),
        vehicle: {
          name: this.name().trim(),
          plate: this.plate().trim(),
          odometerKilometre: odometer === '' ? null : Number(odometer),
          note: this.note().trim(),
        },
        moduleIds,
      },
    });
    if (kept !== null) await this.#router.navigate(['/job', jobId, 'intake']);
  }
}

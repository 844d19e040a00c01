import { computed, effect, inject, Injectable, signal, untracked, type Signal } from '@angular/core';
import { memoriesAnswerSchema } from '@estuarine/contract';
import { recallJobs, type Profile, type ShopMemory } from '@estuarine/core';
import { KnownAnswers } from '../../transport/known-answers.ts';
import { JobLog } from '../../transport/job-log.ts';

/** What the shop remembers of a profile; the last known where the server is away. */
@Injectable({ providedIn: 'root' })
export class Memory {
  readonly #known = inject(KnownAnswers);
  readonly #memory = signal<ShopMemory | null>(null);
  #jobId = '';

  readonly memory = this.#memory.asReadonly();

  /** @param job that is looked at: what it has met itself is no memory, what its vehicle met before is its own */
  async load(profile: Profile, jobId: string, jobNumber: number): Promise<void> {
    // what was remembered for another job is about another vehicle
    if (this.#jobId !== jobId) this.#memory.set(null);
    this.#jobId = jobId;
    const path = `/api/profiles/${profile.id}/memory?job=${encodeURIComponent(jobId)}`;
    const known = await this.#known.ask(path, memoriesAnswerSchema);
    if (this.#jobId !== jobId) return;
    const others = known.value?.memories.filter((m) => m.number !== jobNumber);
    this.#memory.set(others ? recallJobs(others, profile) : null);
  }
}

/** What the shop remembers for the job that is open; fetched for the screen that asks, in whose injection context it is called. */
export function recallForJob(): Signal<ShopMemory | null> {
  const [log, memory] = [inject(JobLog), inject(Memory)];
  const number = computed(() => log.state()?.intake.opened?.number ?? null);
  effect(() => {
    const [profile, jobNumber] = [log.profile(), number()];
    if (profile && jobNumber !== null) untracked(() => void memory.load(profile, log.jobId(), jobNumber));
  });
  return memory.memory;
}

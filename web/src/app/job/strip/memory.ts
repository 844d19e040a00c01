import { inject, Injectable, signal } from '@angular/core';
import { recallJobs, type JobMemory, type Profile, type ShopMemory } from '@estuarine/core';
import { Api } from '../../log/api.ts';
import { DeviceStore } from '../../log/device-store.ts';

/** What the shop remembers of a profile; the last known where the server is away. */
@Injectable({ providedIn: 'root' })
export class Memory {
  readonly #api = inject(Api);
  readonly #store = inject(DeviceStore);
  readonly #memory = signal<ShopMemory | null>(null);

  readonly memory = this.#memory.asReadonly();

  /** @param jobNumber the job that is looked at: what it has met itself is no memory */
  async load(profile: Profile, jobNumber: number): Promise<void> {
    const path = `/api/profiles/${profile.id}/memory`;
    const reply = await this.#api.get<{ memories: JobMemory[] }>(path);
    if (reply.kind === 'answer') await this.#store.saveAnswer(path, reply.value).catch(() => undefined);
    const known =
      reply.kind === 'answer' ? reply.value : await this.#store.findAnswer<{ memories: JobMemory[] }>(path).catch(() => undefined);
    const others = known?.memories.filter((m) => m.number !== jobNumber);
    this.#memory.set(others ? recallJobs(others, profile) : null);
  }
}

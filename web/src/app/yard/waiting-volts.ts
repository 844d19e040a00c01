import { effect, inject, Injectable, signal, untracked } from '@angular/core';
import { viewJob } from '@estuarine/core';
import { DeviceStore } from '../transport/store.ts';
import { Outbox } from '../transport/outbox.ts';
import { eventOf } from '../transport/waiting-event.ts';

/** What a job may stand at by the acts that wait on this device; a number that nobody else can know. */
export interface WaitingVolt {
  readonly count: number;
  /** Within reach in the worst state that they pass through; null where this device has not seen the job. */
  readonly volt: number | null;
}

/** The jobs that acts wait for on this device, each with what they raise its number to. */
@Injectable({ providedIn: 'root' })
export class WaitingVolts {
  readonly #store = inject(DeviceStore);
  readonly #outbox = inject(Outbox);
  readonly #volts = signal<ReadonlyMap<string, WaitingVolt>>(new Map());
  #turn = 0;

  readonly volts = this.#volts.asReadonly();

  constructor() {
    effect(() => {
      const waiting = this.#outbox.waiting();
      untracked(() => void this.#compute(waiting));
    });
  }

  async #compute(waiting: ReturnType<Outbox['waiting']>): Promise<void> {
    const turn = ++this.#turn;
    const found = new Map<string, WaitingVolt>();
    for (const jobId of new Set(waiting.map((a) => a.jobId))) {
      const acts = waiting.filter((a) => a.jobId === jobId);
      const known = await this.#store.findJob(jobId).catch(() => undefined);
      const events = acts.flatMap(({ sent }) => eventOf(sent, 0, sent.deviceAt, jobId) ?? []);
      // without a time no proof counts: what waits may have ended it
      const volt = known ? viewJob(known.state, events, known.profile, known.policy, Infinity).exposure.reachable.volt : null;
      found.set(jobId, { count: acts.length, volt });
    }
    if (turn === this.#turn) this.#volts.set(found);
  }
}

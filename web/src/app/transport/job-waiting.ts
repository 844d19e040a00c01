import { computed, inject, Injectable } from '@angular/core';
import { ACT_TRAITS, isActType } from '@estuarine/core';
import { JobFollow } from './job-follow.ts';
import { isAside, Outbox } from './outbox.ts';
import type { WaitingAct } from './store.ts';

/** What this device said of the open job and the server has not kept, or not told of yet. */
@Injectable()
export class JobWaiting {
  readonly #follow = inject(JobFollow);
  readonly #outbox = inject(Outbox);

  /**
   * Waiting acts whose events are not in the state already: the stream may be quicker than the answer to their sender. One that is only
   * heard there, in its author's name, waits as well.
   */
  readonly #pending = computed(() => {
    const state = this.#follow.kept()?.state;
    const recentIds = new Set(state?.recentIds);
    for (const { said } of state?.passed ?? []) recentIds.delete(said.commandId);
    const waits = (a: WaitingAct): boolean => a.jobId === this.#follow.jobId() && (a.refused === null || isAside(a));
    return this.#outbox.acts().filter((a) => waits(a) && !recentIds.has(a.sent.commandId));
  });
  /** Acts that are not folded yet, kept or not, as the events they would be. One of a later release is left to the server. */
  readonly events = computed(() => {
    const pending = this.#pending();
    const left = new Set(pending.map((a) => a.seq));
    const head = this.#follow.kept()?.state.head ?? 0;
    const coming = this.#follow.coming().flatMap(({ act, kept }) => (kept.last > head && !left.has(act.seq) ? [act] : []));
    return [...coming, ...pending].sort((one, other) => one.seq - other.seq).flatMap((act) => this.#follow.eventOf(act) ?? []);
  });
  readonly #unseen = computed(() => this.#outbox.refused().filter((a) => a.jobId === this.#follow.jobId()));
  /** Acts that were not taken, until somebody has seen why. */
  readonly refused = computed(() => this.#unseen().filter((a) => !isAside(a)));
  /** Acts that the server failed on: they are shown as done, hold nothing up, and go again. */
  readonly aside = computed(() => this.#unseen().filter(isAside));
  /** A refused permit holds those behind it. */
  readonly isHeld = computed(() =>
    this.refused().some((a) => isActType(a.sent.act.type) && ACT_TRAITS[a.sent.act.type].nature === 'permit'),
  );
  readonly count = computed(() => this.#pending().length);
  /** Command ids of what the server has not kept. */
  readonly ids = computed(() => new Set(this.#pending().map((a) => a.sent.commandId)));
}

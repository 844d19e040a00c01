import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { doneSchema } from '@estuarine/contract';
import { Session } from '../session/session.ts';
import { Api } from './api.ts';
import { Link } from './link.ts';
import { isAside, Outbox } from './outbox.ts';
import { DeviceStore } from './store.ts';
import { Tabs } from './tabs.ts';

const OWED_KEY = 'estuarine-owed-leaving';

/**
 * Tells the server which job is open on this device, so that others know when the device is cut off: what it did since, nobody else knows.
 * A device that holds nothing of a job any more has left it, also where its last act went later than its screen.
 */
@Injectable({ providedIn: 'root' })
export class JobPresence {
  readonly #api = inject(Api);
  readonly #tabs = inject(Tabs);
  readonly #outbox = inject(Outbox);
  readonly #store = inject(DeviceStore);
  readonly #session = inject(Session);
  /** The job on the screen of this tab; empty while there is none. */
  readonly #open = signal('');
  readonly #waiting = computed(() => new Set(this.#outbox.acts().flatMap((a) => (a.refused === null || isAside(a) ? [a.jobId] : []))), {
    equal: (one, other) => one.size === other.size && [...one].every((id) => other.has(id)),
  });

  constructor() {
    // told again at each new stream
    inject(Link)
      .behind$.pipe(takeUntilDestroyed())
      .subscribe(() => {
        if (this.#open() !== '') void this.#tell(this.#open(), true);
        void this.#settle();
      });
    this.#tabs.messages$.pipe(takeUntilDestroyed()).subscribe((m) => {
      // another tab closed the job that is still open in this one
      if (m.kind === 'left' && m.jobId === this.#open()) void this.#tell(m.jobId, true);
    });
    // a page that goes away may be shown again as it was
    let hidden = '';
    window.addEventListener('pagehide', () => {
      hidden = this.#open();
      this.leave();
    });
    window.addEventListener('pageshow', ({ persisted }) => {
      if (persisted && hidden !== '') this.enter(hidden);
    });
    // left while acts of it waited, perhaps before this page was loaded: those have gone by now
    void this.#outbox.loaded.then(() => this.#settle());
    effect(() => {
      this.#waiting();
      untracked(() => void this.#outbox.loaded.then(() => this.#settle()));
    });
    // a locked screen is not cut off; nobody does anything on it
    let wasLocked = this.#session.isLocked();
    effect(() => {
      const isLocked = this.#session.isLocked();
      untracked(() => {
        if (isLocked === wasLocked) return;
        wasLocked = isLocked;
        const jobId = this.#open();
        if (jobId !== '' && (!isLocked || !this.#waiting().has(jobId))) void this.#tell(jobId, !isLocked);
      });
    });
    // whoever signs out can say nothing any more
    this.#session.whenLeaving(async () => {
      const jobId = this.#open();
      if (jobId !== '' && !this.#waiting().has(jobId)) await this.#tell(jobId, false);
    });
  }

  /** The job came to the screen. */
  enter(jobId: string): void {
    if (this.#open() !== jobId) this.leave();
    this.#open.set(jobId);
    this.#owe((owed) => owed.filter((id) => id !== jobId));
    void this.#tell(jobId, true);
  }

  /** The job left the screen, perhaps with its page. */
  leave(): void {
    const jobId = this.#open();
    if (jobId === '') return;
    this.#open.set('');
    if (this.#waiting().has(jobId)) {
      this.#owe((owed) => [...owed.filter((id) => id !== jobId), jobId]);
      return;
    }
    this.#api.sendLast(this.#path(), { jobId, isOpen: false });
    this.#tabs.tell({ kind: 'left', jobId });
  }

  async #settle(): Promise<void> {
    for (const jobId of owedJobs()) {
      if (this.#waiting().has(jobId) || jobId === this.#open()) continue;
      // owed until the server heard it: told again at the next stream
      if (!(await this.#tell(jobId, false))) return;
      this.#owe((owed) => owed.filter((id) => id !== jobId));
      this.#tabs.tell({ kind: 'left', jobId });
    }
  }

  #owe(change: (owed: readonly string[]) => readonly string[]): void {
    try {
      const owed = owedJobs();
      const next = change(owed);
      if (next.length !== owed.length || next.some((id, i) => id !== owed[i])) localStorage.setItem(OWED_KEY, JSON.stringify(next));
    } catch {
      // a full disk: the device counts as cut off for longer than it is, never for shorter
    }
  }

  /** Whether the server heard it. */
  async #tell(jobId: string, isOpen: boolean): Promise<boolean> {
    return (await this.#api.post(this.#path(), doneSchema, { jobId, isOpen })).kind === 'answer';
  }

  #path(): string {
    return `/api/devices/${encodeURIComponent(this.#store.deviceId)}`;
  }
}

/** Jobs that left the screen while acts of them waited. */
function owedJobs(): readonly string[] {
  try {
    const owed: unknown = JSON.parse(localStorage.getItem(OWED_KEY) ?? '[]');
    return Array.isArray(owed) ? owed.filter((id) => typeof id === 'string') : [];
  } catch {
    return [];
  }
}

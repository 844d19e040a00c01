import { inject, Injectable, signal } from '@angular/core';
import { reportStandingSchema, type ReportStanding } from '@estuarine/contract';
import { EMPTY, expand, from, Subject, switchMap, takeUntil, takeWhile, timer, type Observable } from 'rxjs';
import { Api, type Reply } from '../../transport/api.ts';

const LOOK_MILLISECOND = 400;

export type ReportRunState =
  | { readonly kind: 'idle' }
  | { readonly kind: 'running'; readonly share: number }
  /** `head`: the last entry of the job that it tells of. */
  | { readonly kind: 'ready'; readonly address: string; readonly byte: number; readonly head: number }
  | { readonly kind: 'failed'; readonly reason: string };

/** A report being written by the server: begun, watched, cancelled. */
@Injectable()
export class ReportRun {
  readonly #api = inject(Api);
  readonly #state = signal<ReportRunState>({ kind: 'idle' });
  readonly #stop$ = new Subject<void>();
  #running: { readonly path: string; readonly reportId: string } | null = null;

  readonly state = this.#state.asReadonly();

  /** Begins one, or goes on with the one that is under way for the same state of the job. */
  begin(jobId: string): void {
    if (this.#state().kind === 'running') return;
    const path = `/api/jobs/${encodeURIComponent(jobId)}/reports`;
    this.#state.set({ kind: 'running', share: 0 });
    from(this.#api.post(path, reportStandingSchema, {}))
      .pipe(
        // asked again only once the one before has answered
        expand((reply) => this.#again(path, reply)),
        takeWhile((reply) => isRunning(reply), true),
        takeUntil(this.#stop$),
      )
      .subscribe((reply) => this.#take(path, reply));
  }

  cancel(): void {
    this.#stop$.next();
    if (this.#running) void this.#api.delete(`${this.#running.path}/${this.#running.reportId}`, reportStandingSchema);
    this.#running = null;
    this.#state.set({ kind: 'idle' });
  }

  /** What was written is of a state that is no more. */
  forget(): void {
    if (this.#state().kind !== 'running') this.#state.set({ kind: 'idle' });
  }

  #again(path: string, reply: Reply<ReportStanding>): Observable<Reply<ReportStanding>> {
    if (!isRunning(reply) || reply.kind !== 'answer') return EMPTY;
    const { reportId } = reply.value;
    return timer(LOOK_MILLISECOND).pipe(switchMap(() => this.#api.get(`${path}/${reportId}`, reportStandingSchema)));
  }

  #take(path: string, reply: Reply<ReportStanding>): void {
    if (reply.kind !== 'answer') {
      const reason =
        reply.kind === 'problem'
          ? reply.problem.detail
          : 'The server cannot be reached. The report is written there: ask again when it answers.';
      this.#state.set({ kind: 'failed', reason });
      return;
    }
    const { reportId, standing, share, byte } = reply.value;
    this.#running = standing === 'running' ? { path, reportId } : null;
    if (standing === 'running') this.#state.set({ kind: 'running', share });
    else if (standing === 'ready')
      this.#state.set({ kind: 'ready', address: `${path}/${reportId}/report.pdf`, byte: byte ?? 0, head: Number.parseInt(reportId, 10) });
    else if (standing === 'failed')
      this.#state.set({ kind: 'failed', reason: 'The server failed on this report; the reason is in its log.' });
    else this.#state.set({ kind: 'idle' });
  }
}

function isRunning(reply: Reply<ReportStanding>): boolean {
  return reply.kind === 'answer' && reply.value.standing === 'running';
}

import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import {
  keysAnswerSchema,
  recordRowSchema,
  recordsAnswerSchema,
  sayFingerprint,
  type KeysAnswer,
  type RecordRow,
} from '@estuarine/contract';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { Api } from '../../transport/api.ts';
import { JobLog } from '../../transport/job-log.ts';
import { Session } from '../../session/session.ts';

/** The sealed record of a closed job: made, fetched, and how anybody checks it. */
@Component({
  selector: 'app-record-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DatePipe, NzButtonModule],
  template: `
    <div class="body">
      <section class="view" aria-label="Sealed records">
        <h2>Sealed records of this job</h2>
        @for (row of records(); track row.head) {
          <p class="answer" [class.is-bad]="row.byte === null">
            <b>Sealed {{ row.sealedAt | date: 'd MMM y, HH:mm' }}</b> by {{ row.sealedBy.toUpperCase() }}, entries 1 to {{ row.head }}.
            @if (row.byte !== null) {
              <a [href]="address(row)" download>Fetch it, {{ (row.byte / 1024).toFixed(0) }} kB</a>
            } @else {
              Its bytes were erased with what it named or showed. Sealed again, the record stands without.
            }
            <span class="muted hash">list {{ row.manifestSha256 }}</span>
          </p>
        } @empty {
          <p class="muted">{{ hasFailed() ? 'The records cannot be listed: the server is away.' : 'None was sealed yet.' }}</p>
        }
        <h3>What is in it</h3>
        <p>
          The report, the whole job with every entry and its hash, readings and torque for any spreadsheet, and the photographs. The owner’s
          name stays out: the warranty follows pack and vehicle.
        </p>
        <h3>How anybody checks it</h3>
        <p>
          With the shop’s checking page, in any browser and without a network. Hand it out apart from the record, with the fingerprint of
          the key read aloud or printed on the invoice: a page inside a forged record would call it good.
        </p>
        <p><a href="/api/seal/check.html" download>Fetch the checking page</a></p>
      </section>
      <section class="panel" aria-label="Seal">
        @if (isClosed()) {
          @if (maySeal()) {
            <button
              nz-button
              nzType="primary"
              type="button"
              class="tall"
              [nzLoading]="isSealing()"
              [disabled]="isSealing() || isSealed() || log.pendingCount() > 0"
              (click)="seal()"
            >
              {{ isSealed() ? 'It is sealed as it stands' : 'Seal the record' }}
            </button>
            @if (log.pendingCount() > 0) {
              <p class="muted">
                {{ log.pendingCount() }} acts wait on this device: what the server has kept is sealed once they are there.
              </p>
            }
          } @else {
            <p class="muted">A technician or the lead seals a record.</p>
          }
        } @else {
          <p class="next">A record is sealed once its job is closed.</p>
        }
        @if (fault()) {
          <p class="fault" role="alert">{{ fault() }}</p>
        }
        @if (signing(); as key) {
          <h3>Key of the shop</h3>
          <p class="figure hash">{{ say(key.fingerprint) }}</p>
          <p class="muted">Begun {{ key.madeAt | date: 'd MMM y' }}. Backed up, replaced and revoked under Limits.</p>
        } @else {
          <p class="muted">The key of the shop is made when the first record is sealed.</p>
        }
      </section>
    </div>
  `,
  styleUrls: ['../two-panes.less', '../room.less'],
  styles: `
    .hash {
      display: block;
      overflow-wrap: anywhere;
    }
  `,
})
export class RecordPanel {
  protected readonly log = inject(JobLog);
  readonly #api = inject(Api);
  readonly #session = inject(Session);
  protected readonly say = sayFingerprint;
  protected readonly records = signal<readonly RecordRow[]>([]);
  protected readonly hasFailed = signal(false);
  protected readonly isSealing = signal(false);
  protected readonly fault = signal('');
  readonly #keys = signal<KeysAnswer | null>(null);

  protected readonly isClosed = computed(() => this.log.kept()?.state.intake.closed != null);
  protected readonly isSealed = computed(() => this.records().some((r) => r.head === this.log.kept()?.state.head && r.byte !== null));
  protected readonly maySeal = computed(() => (this.#session.person()?.role ?? 'apprentice') !== 'apprentice');
  protected readonly signing = computed(() => this.#keys()?.keys.find((k) => k.retiredAt === null && k.revokedAt === null) ?? null);
  readonly #path = computed(() => `/api/jobs/${encodeURIComponent(this.log.jobId())}/records`);

  constructor() {
    effect(() => {
      this.#path();
      untracked(() => void this.#load());
    });
  }

  protected address({ head }: RecordRow): string {
    return `${this.#path()}/${head}/record.zip`;
  }

  protected async seal(): Promise<void> {
    this.isSealing.set(true);
    const reply = await this.#api.post(this.#path(), recordRowSchema, {});
    this.isSealing.set(false);
    this.fault.set(reply.kind === 'answer' ? '' : reply.kind === 'problem' ? reply.problem.detail : 'The server cannot be reached. Ask again when it answers: a record is never sealed twice for the same state.'); // prettier-ignore
    await this.#load();
  }

  async #load(): Promise<void> {
    const [records, keys] = await Promise.all([
      this.#api.get(this.#path(), recordsAnswerSchema),
      this.#api.get('/api/seal/keys', keysAnswerSchema),
    ]);
    this.hasFailed.set(records.kind !== 'answer');
    if (records.kind === 'answer') this.records.set(records.value.records);
    if (keys.kind === 'answer') this.#keys.set(keys.value);
  }
}

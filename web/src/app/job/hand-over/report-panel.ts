import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, effect, inject, linkedSignal, signal, untracked } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { stockAnswerSchema } from '@estuarine/contract';
import { composeReport, MOST_PHOTOS } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { debounceTime } from 'rxjs';
import { JobLog } from '../../transport/job-log.ts';
import { KnownAnswers } from '../../transport/known-answers.ts';
import { Link } from '../../transport/link.ts';
import { Session } from '../../session/session.ts';
import { TextField } from '../../ui/text-field.ts';
import { PhotoDesk } from '../../transport/photo-desk.ts';
import { chosenTerms } from './chosen-terms.ts';
import { ReportRun } from './report-run.ts';
import { ReportView } from './report-view.ts';

const REST_MILLISECOND = 250;

/** What the report shows, as it will be written, and the PDF of it. */
@Component({
  selector: 'app-report-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  providers: [ReportRun],
  imports: [DatePipe, NzButtonModule, ReportView, TextField],
  template: `
    <div class="body">
      <section class="view" aria-label="Preview">
        @if (report(); as shown) {
          <app-report-view [report]="shown" />
        }
      </section>
      <section class="panel" aria-label="What it shows">
        @if (run.state(); as writing) {
          @switch (writing.kind) {
            @case ('running') {
              <p role="status">
                <progress [value]="writing.share" max="1" aria-label="Report being written"></progress>
                {{ (writing.share * 100).toFixed(0) }} %
              </p>
              <button nz-button type="button" class="tall" (click)="run.cancel()">Cancel</button>
            }
            @case ('ready') {
              <p class="answer">
                <b>The report is written</b>, entries 1 to {{ writing.head }}, {{ (writing.byte / 1024).toFixed(0) }} kB.
                <a [href]="writing.address" target="_blank" rel="noopener">Open the PDF</a>
              </p>
            }
            @default {
              @if (writing.kind === 'failed') {
                <p class="fault" role="alert">{{ writing.reason }}</p>
              }
              <button
                nz-button
                nzType="primary"
                type="button"
                class="tall"
                [disabled]="log.pendingCount() > 0"
                (click)="run.begin(log.jobId())"
              >
                Write the report as PDF
              </button>
              @if (log.pendingCount() > 0) {
                <p class="muted">{{ log.pendingCount() }} acts wait on this device: the server writes what it has kept.</p>
              }
            }
          }
        }
        <app-text-field label="What the customer reads first" isWide [rows]="4" [most]="2000" [(value)]="words" />
        @if (photos().length > 0) {
          <h3>Photographs, {{ chosen().size }} of {{ photos().length }}</h3>
          <div class="choice">
            <button type="button" (click)="chooseAll()">All of them</button>
            <button type="button" (click)="choosePairs()">Pairs before and after</button>
            <button type="button" (click)="draft.set([])">None</button>
          </div>
          <ul class="photos" aria-label="Photographs to choose">
            @for (photo of photos(); track photo.photoId) {
              <li>
                <label>
                  <input type="checkbox" [checked]="chosen().has(photo.photoId)" (change)="toggle(photo.photoId)" />
                  <img loading="lazy" alt="" [src]="desk.address(log.jobId(), photo.photoId, 'small')" />
                  <span>{{ photo.caption || (photo.at | date: 'd MMM HH:mm') }}</span>
                </label>
              </li>
            }
          </ul>
        } @else {
          <p class="muted">No photograph was taken on this job.</p>
        }
        <button nz-button type="button" class="tall" [disabled]="!isChanged()" (click)="keep()">Keep what the report shows</button>
        <p class="caution">The report names the owner and the vehicle: local rules govern who may see it, and for how long it is kept.</p>
      </section>
    </div>
  `,
  styleUrls: ['../two-panes.less', '../room.less'],
  styles: `
    @media (max-width: 1099px) {
      .panel {
        order: -1;
      }
    }
    .photos {
      display: grid;
      grid-template-columns: repeat(2, minmax(0, 1fr));
      gap: 8px;
      max-height: 420px;
      margin: 0;
      padding: 0;
      overflow-y: auto;
      list-style: none;
    }
    label {
      display: grid;
      grid-template-columns: 28px minmax(0, 1fr);
      align-items: center;
      min-height: 44px;
      cursor: pointer;
    }
    input {
      width: 22px;
      height: 22px;
    }
    img {
      width: 100%;
      aspect-ratio: 4 / 3;
      object-fit: cover;
    }
    label span {
      grid-column: 1 / -1;
      font-size: 14px;
    }
  `,
})
export class ReportPanel {
  protected readonly log = inject(JobLog);
  protected readonly desk = inject(PhotoDesk);
  protected readonly run = inject(ReportRun);
  readonly #known = inject(KnownAnswers);
  readonly #link = inject(Link);
  readonly #session = inject(Session);

  /** Chosen and not kept yet; null while nobody touched it. */
  protected readonly draft = signal<readonly string[] | null>(null);
  readonly #shelf = signal<ReadonlyMap<string, { capacityAh: number | null; resistanceMilliohm: number | null }>>(new Map());
  readonly #terms = chosenTerms();

  protected readonly prepared = computed(() => this.log.state()?.handOver.prepared.at(-1) ?? null);
  // by way of its value: what is being typed stays when something else comes in
  protected readonly words = linkedSignal(computed(() => this.prepared()?.toCustomer ?? ''));
  /** The preview follows the hand once it rests. */
  readonly #settled = toSignal(toObservable(this.words).pipe(debounceTime(REST_MILLISECOND)), { initialValue: '' });
  protected readonly photos = computed(() => (this.log.state()?.finding.photos ?? []).filter((p) => p.erased === null));
  protected readonly chosen = computed(() => new Set(this.draft() ?? this.prepared()?.photoIds ?? []));
  protected readonly isChanged = computed(() => {
    const kept = this.prepared();
    return this.words().trim() !== (kept?.toCustomer ?? '') || this.draft() !== null || kept === null;
  });
  /** As it would be written now, with what is chosen and typed. */
  protected readonly report = computed(() => {
    const [state, profile] = [this.log.state(), this.log.profile()];
    if (!state || !profile) return null;
    const { vehicle, customer } = this.log.papers();
    const before = this.prepared();
    const asTyped = {
      by: '',
      at: '',
      number: 0,
      commandId: '',
      ...before,
      photoIds: [...this.chosen()],
      toCustomer: this.#settled().trim(),
    };
    return composeReport({
      ...{
        profile,
        policy: this.log.policy(),
        vehicle,
        customer,
        shelf: this.#shelf(),
        terms: this.#terms(),
        isDemo: this.#session.isDemo(),
      },
      state: { ...state, handOver: { ...state.handOver, prepared: [asTyped] } },
      ...{ comebackOf: null, chainHash: 'written by the server', fingerprint: null, fingerprintCode: null, now: this.#link.serverNow() },
    });
  });

  constructor() {
    void this.#known
      .ask('/api/stock', stockAnswerSchema)
      .then(({ value }) => this.#shelf.set(new Map((value?.rows ?? []).map((r) => [r.moduleId, r]))));
    effect(() => {
      // whatever was kept since is not in what was written
      this.log.kept();
      untracked(() => this.run.forget());
    });
  }

  protected toggle(photoId: string): void {
    const chosen = this.chosen();
    this.draft.set(chosen.has(photoId) ? [...chosen].filter((id) => id !== photoId) : [...chosen, photoId].slice(0, MOST_PHOTOS));
  }

  protected chooseAll(): void {
    this.draft.set(this.photos().slice(0, MOST_PHOTOS).map((p) => p.photoId)); // prettier-ignore
  }

  protected choosePairs(): void {
    const photos = this.photos();
    const paired = photos.flatMap((p) => (p.pairOf === null ? [] : [p.pairOf, p.photoId]));
    this.draft.set([...new Set(paired)].filter((id) => photos.some((p) => p.photoId === id)).slice(0, MOST_PHOTOS));
  }

  protected keep(): void {
    void this.log.act({ type: 'report.prepared', body: { photoIds: [...this.chosen()], toCustomer: this.words().trim() } });
    this.draft.set(null);
  }
}

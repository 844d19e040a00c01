import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { ActivatedRoute, Router, RouterLink } from '@angular/router';
import { refitOf } from '@estuarine/core';
import { map } from 'rxjs';
import { JobLog } from '../../transport/job-log.ts';
import { Session } from '../../session/session.ts';
import { StageParts, type StagePart } from '../../ui/stage-parts.ts';
import { FindingBoard } from '../finding/finding-board.ts';
import { PhotoBoard } from '../finding/photo-board.ts';
import { ScanPanel } from '../refit/scan-panel.ts';
import { JobClosing } from './job-closing.ts';
import { PackFacts } from './pack-facts.ts';
import { PaperErasing } from './paper-erasing.ts';
import { VehiclePanel } from './vehicle-panel.ts';

/** What comes in: the vehicle and its customer's words, the car scanned as it came, its photographs, what an earlier hand left, the pack. */
@Component({
  selector: 'app-intake-stage',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink, FindingBoard, JobClosing, PackFacts, PaperErasing, PhotoBoard, ScanPanel, StageParts, VehiclePanel],
  template: `
    <app-stage-parts [parts]="parts()" [shown]="part()" (shownChange)="show($event)" />
    @switch (part()) {
      @case ('scan') {
        @if (refit(); as refit) {
          <app-scan-panel [refit]="refit" />
        }
      }
      @case ('photos') {
        <app-photo-board stage="intake" />
      }
      @case ('findings') {
        <app-finding-board stage="intake" />
      }
      @case ('pack') {
        @if (log.profile(); as profile) {
          <app-pack-facts [pack]="profile" />
        }
      }
      @case ('files') {
        <div class="page columns">
          <section>
            <h2>Take out, look at</h2>
            <ul class="files">
              <li><a [href]="'/api/jobs/' + log.jobId() + '/job.json'" download>Whole job as JSON</a></li>
              <li><a [href]="'/api/jobs/' + log.jobId() + '/sweeps.csv'" download>Sweeps as CSV</a></li>
              <li><a [href]="'/api/jobs/' + log.jobId() + '/sweeps.xlsx'" download>Sweeps as a workbook</a></li>
              @if (log.kept()?.state?.plan?.chosen) {
                <li><a [href]="'/api/jobs/' + log.jobId() + '/plan.csv'" download>Plan as CSV</a></li>
              }
              <li><a [routerLink]="['/job', log.jobId(), 'sheet']">Stack sheet to print</a></li>
              <li>
                <a [routerLink]="[]" [queryParams]="{ part: 'findings' }">Arrival audit: what an earlier hand left</a>
              </li>
              @if (hasCar()) {
                <li>
                  <a [routerLink]="['/job', log.jobId(), 'refit']" [queryParams]="{ part: 'scan' }"
                    >Scan as found: codes, blocks, and bad bars before the lid comes off</a
                  >
                </li>
                <li>
                  <a [routerLink]="['/job', log.jobId(), 'refit']" [queryParams]="{ part: 'drain' }"
                    >Capacity in the car, before the repair</a
                  >
                </li>
              }
            </ul>
          </section>
          <section>
            <app-job-closing />
            @if (isLead()) {
              <app-paper-erasing />
            }
          </section>
        </div>
      }
      @default {
        <app-vehicle-panel />
      }
    }
    <p class="caution page-foot">
      The maker's service information and local rules govern every step. High voltage work is for qualified people only.
    </p>
  `,
  styles: `
    .columns {
      grid-template-columns: repeat(auto-fit, minmax(min(320px, 100%), 1fr));
      gap: 24px 32px;
    }
    .files {
      display: grid;
      margin: 0;
      padding: 0;
      list-style: none;
    }
    .files a {
      display: inline-flex;
      align-items: center;
      min-height: 44px;
    }
    .page-foot {
      margin: 8px 24px 16px;
    }
    @media (max-width: 699px) {
      .page-foot {
        margin-inline: 12px;
      }
    }
  `,
})
export class IntakeStage {
  protected readonly log = inject(JobLog);
  readonly #session = inject(Session);
  readonly #router = inject(Router);
  readonly #route = inject(ActivatedRoute);

  readonly #part = toSignal(this.#route.queryParamMap.pipe(map((q) => q.get('part'))), { initialValue: null });
  protected readonly part = computed(() => this.#part() ?? 'vehicle');
  protected readonly hasCar = computed(() => this.log.state()?.intake.opened?.kind !== 'benchOnly');
  protected readonly parts = computed((): StagePart[] => {
    const state = this.log.state();
    const seen = state?.finding;
    return [
      { id: 'vehicle', name: 'Vehicle' },
      ...(this.hasCar()
        ? [{ id: 'scan', name: 'Scan as found', count: state?.refit.scanned.filter((s) => s.moment === 'asFound').length ?? 0 }]
        : []),
      { id: 'photos', name: 'Photographs', count: seen?.photos.filter((p) => !p.erased && p.stage === 'intake').length ?? 0 },
      { id: 'findings', name: 'Arrival audit', count: seen?.findings.filter((f) => f.isOnArrival).length ?? 0 },
      { id: 'pack', name: 'The pack' },
      { id: 'files', name: 'Files, closing' },
    ];
  });
  protected readonly refit = computed(() => {
    const [state, profile, ledger] = [this.log.state(), this.log.profile(), this.log.ledger()];
    return state && profile && ledger ? refitOf(state, profile, ledger, this.log.policy().isolation.back) : null;
  });
  protected readonly isLead = computed(() => this.#session.person()?.role === 'lead');

  protected show(part: string): void {
    void this.#router.navigate([], { queryParams: { part: part === 'vehicle' ? null : part }, replaceUrl: true });
  }
}

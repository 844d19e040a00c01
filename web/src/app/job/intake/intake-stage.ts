import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { JOB_KIND_NAMES } from '@estuarine/core';
import { memoriesAnswerSchema, type MemoriesAnswer } from '@estuarine/contract';
import { JobLog } from '../../line/job-log.ts';
import { KnownAnswers } from '../../line/known-answers.ts';
import { Link } from '../../line/link.ts';
import { Session } from '../../session/session.ts';
import { JobClosing } from './job-closing.ts';
import { PaperErasing } from './paper-erasing.ts';

/** What is known of the vehicle, the pack and the job, and the files that can be taken out. */
@Component({
  selector: 'app-intake-stage',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DatePipe, RouterLink, JobClosing, PaperErasing],
  template: `
    <div class="page">
      @if (log.state()?.intake?.opened; as opened) {
        <div class="columns">
          <section>
            <h2>Vehicle</h2>
            <dl>
              <dt>Kind of job</dt>
              <dd>{{ kinds[opened.kind] }}</dd>
              @if (opened.comebackOf; as earlier) {
                <dt>Comes back from</dt>
                <dd><a [routerLink]="['/job', earlier, 'intake']">an earlier job</a></dd>
              }
              <dt>Vehicle</dt>
              <dd>{{ log.vehicle().name }}</dd>
              <dt>Plate</dt>
              <dd class="figure">{{ log.vehicle().plate }}</dd>
              @if (log.papers(); as papers) {
                <dt>Odometer</dt>
                <dd class="figure">
                  {{ papers.vehicle?.odometerKilometre ? papers.vehicle?.odometerKilometre + ' km' : 'not noted' }}
                </dd>
                <dt>Customer</dt>
                <dd>
                  @if (papers.customer; as customer) {
                    {{ customer.name }}{{ customer.contact ? ', ' + customer.contact : '' }}
                  } @else {
                    {{ opened.customer ? 'erased' : 'not noted' }}
                  }
                </dd>
                <dt>Customer says</dt>
                <dd>{{ papers.vehicle?.note || 'nothing noted' }}</dd>
              }
              @for (held of warranties(); track held.number) {
                <dt>Under warranty</dt>
                <dd>
                  from job {{ held.number }} until {{ held.until }}{{ held.kilometre === null ? '' : ', or ' + held.kilometre + ' km' }}
                </dd>
              }
              <dt>Opened</dt>
              <dd>{{ opened.at | date: 'd MMM y, HH:mm' }} by {{ opened.by.toUpperCase() }}</dd>
            </dl>
            <app-job-closing />
            @if (isLead()) {
              <app-paper-erasing />
            }
          </section>
          @if (log.profile(); as profile) {
            <section>
              <h2>Pack: {{ profile.name }}, version {{ profile.version }}</h2>
              <dl>
                <dt>String</dt>
                <dd>{{ profile.moduleCount }} modules in series, {{ profile.blocks.length }} blocks</dd>
                <dt>Module</dt>
                <dd>
                  {{ profile.moduleType.name }}, {{ profile.moduleType.nominalVolt }} V, {{ profile.moduleType.nominalCapacityAh }} Ah
                </dd>
                <dt>{{ profile.plug.name }}</dt>
                <dd>{{ profile.plug.note }}</dd>
                <dt>Mass</dt>
                <dd class="figure">{{ profile.massKilogram }} kg pack, {{ profile.moduleType.massKilogram }} kg module</dd>
                <dt>Waits</dt>
                <dd>{{ profile.waits.capacitorMinute }} min for the capacitors, {{ profile.waits.restHour }} h rest</dd>
                @for (part of profile.parts; track part.id) {
                  @if (part.torque; as torque) {
                    <dt>{{ part.name }}</dt>
                    <dd>
                      <span class="figure">{{ torque.newtonMetre }} N·m ± {{ torque.tolerancePercent }} %</span>
                      <span class="muted"> ({{ torque.source }})</span>
                      {{ part.where }}
                    </dd>
                  }
                }
              </dl>
              <h3>What hurts on this pack</h3>
              <ul class="hazards">
                @for (hazard of profile.hazards; track hazard.text) {
                  <li>{{ hazard.text }}</li>
                }
              </ul>
              <p class="muted">{{ profile.provenance }}</p>
            </section>
          }
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
                <a [routerLink]="['/job', log.jobId(), 'strip']" [queryParams]="{ part: 'findings' }"
                  >Arrival audit: what an earlier hand left</a
                >
              </li>
              @if (opened.kind !== 'benchOnly') {
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
        </div>
      }
      <p class="caution">
        The maker's service information and local rules govern every step. High voltage work is for qualified people only.
      </p>
    </div>
  `,
  styles: `
    .columns {
      display: grid;
      grid-template-columns: repeat(auto-fit, minmax(300px, 1fr));
      gap: 24px 32px;
    }
    dl {
      display: grid;
      grid-template-columns: max-content 1fr;
      gap: 8px 16px;
      margin: 12px 0 0;
    }
    dt {
      color: var(--fog);
    }
    dd {
      margin: 0;
    }
    .files {
      display: grid;
      padding: 0;
      list-style: none;
    }
    .files a {
      display: inline-flex;
      align-items: center;
      min-height: 44px;
    }
  `,
})
export class IntakeStage {
  protected readonly log = inject(JobLog);
  readonly #session = inject(Session);
  protected readonly kinds = JOB_KIND_NAMES;
  readonly #known = inject(KnownAnswers);
  readonly #link = inject(Link);
  readonly #memories = signal<MemoriesAnswer['memories']>([]);
  /** Of earlier jobs on this vehicle: the warranty follows it, whoever owns it. */
  protected readonly warranties = computed(() => {
    const own = this.log.state()?.intake.opened?.number ?? 0;
    const today = new Date(this.#link.serverNow()).toISOString().slice(0, 10);
    return this.#memories().flatMap((m) =>
      m.isSameVehicle && m.number !== own && m.warranty && m.warranty.until >= today ? [{ number: m.number, ...m.warranty }] : [],
    );
  });

  constructor() {
    effect(() => {
      const [profile, jobId] = [this.log.profile(), this.log.jobId()];
      if (!profile) return;
      const path = `/api/profiles/${profile.id}/memory?job=${encodeURIComponent(jobId)}`;
      untracked(() => void this.#known.ask(path, memoriesAnswerSchema).then(({ value }) => this.#memories.set(value?.memories ?? [])));
    });
  }

  protected readonly isLead = computed(() => this.#session.person()?.role === 'lead');
}

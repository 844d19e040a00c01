import { ChangeDetectionStrategy, Component, computed, inject, resource } from '@angular/core';
import { RouterLink } from '@angular/router';
import { blockPlaces } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { toString as drawCode } from 'qrcode';
import { JobLog } from '../../transport/job-log.ts';
import { writeModuleLabel } from '../../labels/module-label.ts';

/** One label a module to cut out: place, id, block, and a code that selects it on any screen. */
@Component({
  selector: 'app-labels-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzButtonModule, RouterLink],
  template: `
    <div class="screen-only head">
      <h2>Module labels, job {{ log.state()?.intake?.opened?.number }}</h2>
      <div class="row">
        <a class="alone" [routerLink]="['/job', log.jobId(), 'open']">Back to Open</a>
        <button nz-button nzType="primary" type="button" (click)="print()">Print the labels</button>
      </div>
      @if (!log.state()?.open?.orientation) {
        <p class="odd">How the pack lies is not recorded yet: a label belongs on a module before it moves, and that record first.</p>
      }
    </div>
    <ul class="labels">
      @for (label of labels(); track label.moduleId) {
        <li>
          <img [src]="codes.value()?.get(label.moduleId) ?? ''" [alt]="'Code of module ' + label.moduleId" width="88" height="88" />
          <span class="place figure">{{ label.place }}</span>
          <span class="what">
            <b class="figure">{{ label.moduleId }}</b>
            <span>block {{ label.block }}</span>
            <span>job {{ log.state()?.intake?.opened?.number }}</span>
          </span>
        </li>
      }
    </ul>
  `,
  styles: `
    :host {
      display: grid;
      gap: 16px;
      padding: 18px 24px 24px;
    }
    .head {
      display: grid;
      gap: 10px;
    }
    .odd {
      padding: 4px 12px;
      border-left: 4px solid var(--sedge);
    }
    .labels {
      display: grid;
      grid-template-columns: repeat(auto-fill, 62mm);
      gap: 2mm;
      margin: 0;
      padding: 0;
      list-style: none;
    }
    li {
      display: grid;
      grid-template-columns: 24mm 1fr;
      grid-template-rows: auto auto;
      gap: 0 2mm;
      height: 28mm;
      padding: 2mm;
      color: #000;
      background: #fff;
      border: 0.3mm dashed #777;
      break-inside: avoid;
    }
    img {
      grid-row: 1 / -1;
      width: 24mm;
      height: 24mm;
    }
    .place {
      font-size: 30px;
      line-height: 1;
      font-weight: 700;
    }
    .what {
      display: grid;
      font-size: 13px;
      line-height: 1.2;
    }
    @media print {
      .screen-only {
        display: none;
      }
      :host {
        padding: 0;
      }
    }
  `,
})
export class LabelsPage {
  protected readonly log = inject(JobLog);
  protected readonly labels = computed(() => {
    const profile = this.log.profile();
    if (!profile) return [];
    const blocks = blockPlaces(profile.blocks);
    return this.log.moduleIds().map((moduleId, i) => ({
      ...{ moduleId, place: i + 1 },
      block: blocks.findIndex(({ from, to }) => i + 1 >= from && i + 1 <= to) + 1,
    }));
  });
  protected readonly codes = resource({
    params: () => this.labels().map((l) => l.moduleId),
    loader: async ({ params }) => {
      const drawn = await Promise.all(
        params.map(async (id): Promise<[string, string]> => {
          const svg = await drawCode(writeModuleLabel(id), { type: 'svg', margin: 1, errorCorrectionLevel: 'M' });
          return [id, `data:image/svg+xml,${encodeURIComponent(svg)}`];
        }),
      );
      return new Map(drawn);
    },
  });

  protected print(): void {
    window.print();
  }
}

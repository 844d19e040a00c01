import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import type { Report } from '@estuarine/core';
import { JobLog } from '../../transport/job-log.ts';
import { PictureView } from '../../ui/picture-view.ts';
import { PhotoDesk } from '../../transport/photo-desk.ts';

/** The report on the screen, block by block, as the PDF prints it. */
@Component({
  selector: 'app-report-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [PictureView],
  template: `
    <article aria-label="Report as it will be written">
      @for (block of report().blocks; track $index) {
        @switch (block.kind) {
          @case ('page') {
            <hr />
          }
          @case ('heading') {
            @if (block.level === 1) {
              <h2>{{ block.text }}</h2>
            } @else if (block.level === 2) {
              <h3>{{ block.text }}</h3>
            } @else {
              <h4>{{ block.text }}</h4>
            }
          }
          @case ('text') {
            <p [class]="block.tone ?? 'plain'">{{ block.text }}</p>
          }
          @case ('facts') {
            <dl>
              @for (row of block.rows; track $index) {
                <dt>{{ row.name }}</dt>
                <dd>{{ row.value }}</dd>
              }
            </dl>
          }
          @case ('table') {
            <div class="scroll" tabindex="0" role="region" aria-label="Table">
              <table>
                <thead>
                  <tr>
                    @for (column of block.columns; track $index) {
                      <th scope="col" [class.figure]="column.isFigure">{{ column.name }}</th>
                    }
                  </tr>
                </thead>
                <tbody>
                  @for (row of block.rows; track $index) {
                    <tr>
                      @for (cell of row; track $index) {
                        <td [class.figure]="block.columns[$index]?.isFigure">{{ cell }}</td>
                      }
                    </tr>
                  }
                </tbody>
              </table>
            </div>
          }
          @case ('picture') {
            <figure>
              <app-picture-view [picture]="block.picture" [says]="block.says" />
              <figcaption>{{ block.says }}</figcaption>
            </figure>
          }
          @case ('photos') {
            <div class="photos">
              @for (photo of block.photos; track photo.photoId) {
                <figure>
                  <img loading="lazy" [src]="desk.address(log.jobId(), photo.photoId, 'picture')" [alt]="photo.caption" />
                  <figcaption>{{ photo.caption }}</figcaption>
                </figure>
              }
            </div>
          }
        }
      }
    </article>
  `,
  styles: `
    article {
      max-width: 820px;
      padding: 24px clamp(12px, 4vw, 40px);
      background: var(--paper);
      border: 1px solid var(--line);
      overflow-wrap: anywhere;
    }
    h2 {
      margin: 0 0 4px;
      font-size: 26px;
    }
    h3 {
      margin: 20px 0 4px;
      font-size: 19px;
    }
    h4 {
      margin: 14px 0 2px;
    }
    p {
      margin: 0 0 6px;
    }
    hr {
      margin: 28px 0;
      border: 0;
      border-top: 2px dashed var(--line);
    }
    .quiet,
    figcaption {
      font-size: 14px;
      color: var(--fog);
    }
    .caution {
      padding-left: 10px;
      border-left: 4px solid var(--ink);
    }
    dl {
      display: grid;
      grid-template-columns: minmax(110px, 1fr) 3fr;
      margin: 4px 0 8px;
    }
    dt,
    dd {
      margin: 0;
      padding: 3px 0;
      border-bottom: 1px solid var(--line);
    }
    dt {
      font-weight: 650;
    }
    figure {
      margin: 10px 0;
    }
    .scroll {
      overflow-x: auto;
    }
    table {
      width: 100%;
      border-collapse: collapse;
      font-size: 14px;
    }
    th,
    td {
      padding: 2px 8px;
      text-align: left;
      vertical-align: top;
      border-bottom: 1px solid var(--line);
    }
    th.figure,
    td.figure {
      text-align: right;
    }
    .photos {
      display: grid;
      grid-template-columns: repeat(auto-fill, minmax(220px, 1fr));
      gap: 8px 14px;
    }
    img {
      width: 100%;
      aspect-ratio: 4 / 3;
      object-fit: contain;
      background: var(--silt);
    }
  `,
})
export class ReportView {
  readonly report = input.required<Report>();
  protected readonly log = inject(JobLog);
  protected readonly desk = inject(PhotoDesk);
}

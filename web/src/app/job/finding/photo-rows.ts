import { ChangeDetectionStrategy, Component, inject, input, signal } from '@angular/core';
import type { Stage } from '@estuarine/core';
import { JobLog } from '../../transport/job-log.ts';
import { PhotoDesk } from '../../transport/photo-desk.ts';
import { injectPhotoTaking, type Shown } from './photo-taking.ts';

/** Something that is to be photographed, with the pictures that show it. */
export interface PhotoRow {
  readonly key: string;
  readonly name: string;
  readonly photoIds: readonly string[];
  /** What the next picture of it is kept as. */
  readonly next: Omit<Shown, 'stage'>;
  /** On the button, such as `Photograph`. */
  readonly word: string;
}

/** What is to be photographed, one press each, with the pictures taken so far. */
@Component({
  selector: 'app-photo-rows',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <ul>
      @for (row of rows(); track row.key) {
        <li>
          <span>{{ row.name }}</span>
          @for (id of row.photoIds; track id) {
            <img [src]="desk.address(log.jobId(), id, 'small')" [alt]="row.name + ', photographed'" />
          }
          <label class="button" [class.is-quiet]="row.photoIds.length > 0">
            {{ row.word }}<span class="visually-hidden">: {{ row.name }}</span>
            <input #camera type="file" accept="image/*" capture="environment" class="visually-hidden" (change)="take(camera, row)" />
          </label>
        </li>
      }
    </ul>
    @if (fault()) {
      <p class="fault" role="alert">{{ fault() }}</p>
    }
  `,
  styles: `
    ul {
      display: grid;
      gap: 8px;
      margin: 0;
      padding: 0;
      list-style: none;
    }
    li {
      display: flex;
      flex-wrap: wrap;
      gap: 8px;
      align-items: center;
    }
    li > span {
      flex: 1 1 130px;
    }
    img {
      width: 60px;
      height: 44px;
      object-fit: cover;
      border: 1px solid var(--edge);
    }
    .fault {
      color: var(--madder);
    }
  `,
})
export class PhotoRows {
  readonly rows = input.required<readonly PhotoRow[]>();
  readonly stage = input.required<Stage>();

  protected readonly log = inject(JobLog);
  protected readonly desk = inject(PhotoDesk);
  readonly #take = injectPhotoTaking();
  protected readonly fault = signal('');

  protected async take(box: HTMLInputElement, { name, next }: PhotoRow): Promise<void> {
    const [file] = box.files ?? [];
    box.value = '';
    if (!file) return;
    const fault = await this.#take(file, { stage: this.stage(), ...next });
    this.fault.set(fault === null ? '' : `${name}: ${fault}`);
  }
}

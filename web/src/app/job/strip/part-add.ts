import { ChangeDetectionStrategy, Component, input, output, signal } from '@angular/core';
import { PART_KINDS, type ActBody, type PartKind, type Stage } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { TextField } from '../../ui/text-field.ts';

/** A part that the profile does not know, found in the middle of the work. */
@Component({
  selector: 'app-part-add',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzButtonModule, TextField],
  template: `
    <form class="form" (submit)="$event.preventDefault(); add()" aria-label="A part that the profile does not know">
      <label class="field">
        <span>Kind</span>
        <select #kindBox class="plain" (change)="kind.set(kinds[kindBox.selectedIndex] ?? 'fastener')">
          @for (name of kinds; track name) {
            <option [selected]="name === kind()">{{ name }}</option>
          }
        </select>
      </label>
      <app-text-field label="What it is" [most]="120" [(value)]="name" />
      <app-text-field label="Where it sits" [most]="120" [(value)]="where" />
      <app-text-field label="Size" [most]="40" [(value)]="size" />
      <app-text-field label="Pieces there" isFigure mode="numeric" [most]="3" [(value)]="count" />
      <div class="field">
        <label><input #hiddenBox type="checkbox" [checked]="isHidden()" (change)="isHidden.set(hiddenBox.checked)" /> out of sight</label>
        <label
          ><input #foreignBox type="checkbox" [checked]="isForeign()" (change)="isForeign.set(foreignBox.checked)" /> put in by an earlier
          hand</label
        >
        <label
          ><input #proposeBox type="checkbox" [checked]="isProposed()" (change)="isProposed.set(proposeBox.checked)" /> propose it to the
          profile</label
        >
      </div>
      @if (fault(); as reason) {
        <em class="wide" role="alert">{{ reason }}</em>
      }
      <div class="row wide">
        <button nz-button nzType="primary" type="submit">Add the part</button>
        <button nz-button type="button" (click)="closed.emit()">Close</button>
      </div>
    </form>
  `,
  styles: `
    :host {
      display: block;
      padding: 14px;
      background: var(--shell);
      border: 1.5px dashed var(--channel);
      border-radius: 3px;
    }
    .field label {
      display: flex;
      gap: 8px;
      align-items: center;
      min-height: 32px;
    }
  `,
})
export class PartAdd {
  readonly stage = input.required<Stage>();
  readonly place = input.required<string>();
  readonly added = output<ActBody<'part.added'>>();
  readonly closed = output();

  protected readonly kinds = PART_KINDS;
  protected readonly kind = signal<PartKind>('fastener');
  protected readonly name = signal('');
  protected readonly where = signal('');
  protected readonly size = signal('');
  protected readonly count = signal('1');
  protected readonly isHidden = signal(true);
  protected readonly isForeign = signal(false);
  protected readonly isProposed = signal(true);
  protected readonly fault = signal<string | null>(null);

  protected add(): void {
    const text = this.count().trim();
    const [name, where] = [this.name().trim(), this.where().trim()];
    if (name === '' || where === '') this.fault.set('Say what it is and where it sits.');
    else if (!/^[1-9]\d{0,2}$/.test(text)) this.fault.set('Pieces there: a whole number from 1 to 999.');
    else
      this.added.emit({
        ...{ stage: this.stage(), kind: this.kind(), name, place: this.place(), where, size: this.size().trim(), count: Number(text) },
        ...{ isHidden: this.isHidden(), isForeign: this.isForeign(), isProposed: this.isProposed() && !this.isForeign() },
      });
  }
}

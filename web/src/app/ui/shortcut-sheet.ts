import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { NzModalModule } from 'ng-zorro-antd/modal';
import { Shortcuts } from './shortcuts.ts';

/** What `?` shows: the keys that work on this screen. */
@Component({
  selector: 'app-shortcut-sheet',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzModalModule],
  template: `
    <nz-modal [nzVisible]="shortcuts.isShown()" nzTitle="Keys on this screen" [nzFooter]="null" (nzOnCancel)="shortcuts.isShown.set(false)">
      <ng-container *nzModalContent>
        <dl>
          <dt><kbd>?</kbd></dt>
          <dd>show or hide this list</dd>
          @for (shortcut of shortcuts.list(); track shortcut) {
            <dt>
              <kbd>{{ (shortcut.ctrl ? 'Ctrl ' : '') + shortcut.key }}</kbd>
            </dt>
            <dd>{{ shortcut.what }}</dd>
          }
        </dl>
      </ng-container>
    </nz-modal>
  `,
  styles: `
    dl {
      display: grid;
      grid-template-columns: 120px 1fr;
      gap: 10px;
      margin: 0;
    }
    dd {
      margin: 0;
    }
    kbd {
      padding: 2px 8px;
      font-family: var(--mono);
      border: 1px solid var(--edge);
      border-radius: 3px;
    }
  `,
})
export class ShortcutSheet {
  protected readonly shortcuts = inject(Shortcuts);
}

import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { Outbox } from '../transport/outbox.ts';
import { Session } from './session.ts';

/** The door: name and passphrase; the accounts of a demonstration; the first lead of a new shop. */
@Component({
  selector: 'app-sign-in',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormsModule, NzButtonModule],
  templateUrl: './sign-in.html',
  styleUrl: './sign-in.less',
})
export class SignIn {
  protected readonly session = inject(Session);
  readonly #outbox = inject(Outbox);

  protected readonly personId = signal('');
  protected readonly passphrase = signal('');
  protected readonly name = signal('');
  protected readonly code = signal('');
  protected readonly fault = signal<string | null>(null);
  protected readonly isBusy = signal(false);

  /** Acts on this device that wait for their author. */
  protected readonly waiting = computed(() => {
    const authors = new Map<string, number>();
    for (const { sent } of this.#outbox.waiting()) authors.set(sent.by, (authors.get(sent.by) ?? 0) + 1);
    return [...authors].map(([by, count]) => `${count} ${count === 1 ? 'act' : 'acts'} of ${by.toUpperCase()}`).join(', ');
  });

  protected signIn(personId = this.personId().trim().toLowerCase(), passphrase = this.passphrase()): Promise<void> {
    return this.#try(() => this.session.signIn(personId, passphrase));
  }

  protected makeFirstLead(): Promise<void> {
    const [personId, name, passphrase, code] = [this.personId().trim().toLowerCase(), this.name(), this.passphrase(), this.code()];
    return this.#try(() => this.session.makeFirstLead({ personId, name, passphrase, code }));
  }

  async #try(act: () => Promise<string | null>): Promise<void> {
    if (this.isBusy()) return;
    this.isBusy.set(true);
    this.fault.set(await act());
    this.isBusy.set(false);
    this.passphrase.set('');
  }
}

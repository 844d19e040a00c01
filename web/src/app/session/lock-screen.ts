import { A11yModule } from '@angular/cdk/a11y';
import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { Session } from './session.ts';

/** Over everything while the screen is locked: the same person comes back, or another takes over, by PIN or passphrase. */
@Component({
  selector: 'app-lock-screen',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [A11yModule, FormsModule, NzButtonModule],
  template: `
    <div class="shade" role="dialog" aria-modal="true" aria-labelledby="locked" cdkTrapFocus cdkTrapFocusAutoCapture>
      <form class="card" (submit)="$event.preventDefault(); unlock()">
        <h1 id="locked">Locked</h1>
        <p class="muted">What was being done stays as it is. Waits and charges run on.</p>
        <fieldset>
          <legend>Who is at the bench?</legend>
          @for (person of session.persons(); track person.id) {
            <label class="person" [class.is-on]="personId() === person.id">
              <input type="radio" name="person" [value]="person.id" [ngModel]="personId()" (ngModelChange)="personId.set($event)" />
              <b class="figure">{{ person.id.toUpperCase() }}</b> {{ person.name }}
            </label>
          }
        </fieldset>
        <label class="field">
          <span>Six-digit PIN, or passphrase</span>
          <input
            class="plain"
            type="password"
            name="secret"
            autocomplete="current-password"
            [ngModel]="secret()"
            (ngModelChange)="secret.set($event)"
          />
        </label>
        @if (fault(); as reason) {
          <p role="alert" class="fault">{{ reason }}</p>
        }
        <div class="row">
          <button nz-button nzType="primary" type="submit" [disabled]="secret() === ''">Unlock</button>
          <button nz-button type="button" (click)="signOut()">Sign out</button>
        </div>
      </form>
    </div>
  `,
  styles: `
    .shade {
      position: fixed;
      inset: 0;
      z-index: 20;
      display: grid;
      place-items: center;
      padding: 16px;
      background: var(--silt);
      overflow: auto;
    }
    .card {
      display: grid;
      gap: 14px;
      width: min(440px, 100%);
      padding: 24px;
      background: var(--shell);
      border: 1.5px solid var(--edge);
      border-radius: 3px;
    }
    fieldset {
      display: grid;
      gap: 6px;
      margin: 0;
      padding: 0;
      border: 0;
    }
    .person {
      display: flex;
      gap: 10px;
      align-items: center;
      min-height: 44px;
      padding: 0 10px;
      border: 1.5px solid var(--line);
      border-radius: 3px;
    }
    .person.is-on {
      border-color: var(--channel);
    }
    .fault {
      color: var(--madder);
    }
  `,
})
export class LockScreen {
  protected readonly session = inject(Session);
  protected readonly personId = linkedSignal(computed(() => this.session.person()?.id ?? ''));
  protected readonly secret = signal('');
  protected readonly fault = signal<string | null>(null);

  protected async unlock(): Promise<void> {
    const secret = this.secret();
    this.fault.set(await this.session.unlock(this.personId(), /^\d{6}$/.test(secret) ? { pin: secret } : { passphrase: secret }));
    this.secret.set('');
  }

  protected async signOut(): Promise<void> {
    this.fault.set(await this.session.signOut());
  }
}

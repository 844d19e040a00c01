import { ChangeDetectionStrategy, Component, DestroyRef, ElementRef, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Shortcuts } from '../ui/shortcuts.ts';
import { Session } from './session.ts';

/** Who is signed in, with the ways to lock, hand over and leave. */
@Component({
  selector: 'app-person-menu',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink],
  template: `
    @if (session.person(); as person) {
      <button type="button" class="who" aria-haspopup="true" [attr.aria-expanded]="isOpen()" (click)="isOpen.set(!isOpen())">
        <b class="figure">{{ person.id.toUpperCase() }}</b>
        <span>{{ person.name }}, {{ person.role }}</span>
      </button>
      @if (isOpen()) {
        <div class="list">
          <a routerLink="/people" (click)="isOpen.set(false)">People and training</a>
          <a routerLink="/limits" (click)="isOpen.set(false)">Limits of the shop</a>
          <button type="button" (click)="lock()">Lock or hand over</button>
          <button type="button" (click)="signOut()">Sign out</button>
          @if (fault()) {
            <span role="alert">{{ fault() }}</span>
          }
        </div>
      }
    }
  `,
  styleUrl: './person-menu.less',
  host: { '(document:pointerdown)': 'closeOutside($event)', '(keydown.escape)': 'isOpen.set(false)' },
})
export class PersonMenu {
  protected readonly session = inject(Session);
  readonly #host = inject<ElementRef<HTMLElement>>(ElementRef);
  protected readonly isOpen = signal(false);
  protected readonly fault = signal<string | null>(null);

  constructor() {
    const off = inject(Shortcuts).register({ key: 'l', what: 'lock the screen, or hand it over', run: () => void this.lock() });
    inject(DestroyRef).onDestroy(off);
  }

  protected async lock(): Promise<void> {
    if (!this.session.person()) return;
    this.fault.set(await this.session.lock());
    if (this.fault() === null) this.isOpen.set(false);
  }

  protected async signOut(): Promise<void> {
    this.fault.set(await this.session.signOut());
    if (this.fault() === null) this.isOpen.set(false);
  }

  protected closeOutside(event: Event): void {
    if (!this.#host.nativeElement.contains(event.target as Node)) this.isOpen.set(false);
  }
}

import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { RouterLink, RouterLinkActive } from '@angular/router';
import { Night } from '../ui/night.ts';
import { Shortcuts } from '../ui/shortcuts.ts';

/** The way to every screen: at the side of a bench, below on a tablet. */
@Component({
  selector: 'app-side-nav',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink, RouterLinkActive],
  templateUrl: './side-nav.html',
  styleUrl: './side-nav.less',
})
export class SideNav {
  /** A job is reached through the yard. */
  readonly isInJob = input.required<boolean>();

  readonly #night = inject(Night);
  readonly #shortcuts = inject(Shortcuts);
  protected readonly isNight = this.#night.isOn;

  protected toggleNight(): void {
    this.#night.toggle();
  }

  protected showShortcuts(): void {
    this.#shortcuts.isShown.set(true);
  }
}

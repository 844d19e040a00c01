import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { NavigationEnd, Router, RouterOutlet } from '@angular/router';
import { policyAnswerSchema } from '@estuarine/contract';
import { filter } from 'rxjs';
import { ErasedNames } from './transport/erased-names.ts';
import { JobPresence } from './transport/job-presence.ts';
import { KnownAnswers } from './transport/known-answers.ts';
import { Link } from './transport/link.ts';
import { Outbox } from './transport/outbox.ts';
import { LockScreen } from './session/lock-screen.ts';
import { PersonMenu } from './session/person-menu.ts';
import { PhotoDesk } from './transport/photo-desk.ts';
import { LabelDialog } from './labels/label-dialog.ts';
import { LabelReader } from './labels/label-reader.ts';
import { Session } from './session/session.ts';
import { SignIn } from './session/sign-in.ts';
import { AlertLine } from './shell/alert-line.ts';
import { FirstHour } from './shell/first-hour.ts';
import { FirstHourLine } from './shell/first-hour-line.ts';
import { KeptLine } from './shell/kept-line.ts';
import { SideNav } from './shell/side-nav.ts';
import { StageWords } from './ui/stage-words.ts';
import { Night } from './ui/night.ts';
import { Notice } from './ui/notice.ts';
import { Shortcuts } from './ui/shortcuts.ts';
import { ShortcutSheet } from './ui/shortcut-sheet.ts';

/** The frame around every screen: navigation, who is here, and whether all is kept. */
@Component({
  selector: 'app-root',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterOutlet, SideNav, AlertLine, FirstHourLine, KeptLine, PersonMenu, SignIn, LockScreen, Notice, ShortcutSheet, LabelDialog],
  templateUrl: './app.html',
  styleUrl: './app.less',
})
export class App {
  readonly #outbox = inject(Outbox);
  readonly #session = inject(Session);
  readonly #link = inject(Link);
  readonly #shortcuts = inject(Shortcuts);
  readonly #router = inject(Router);

  protected readonly labels = inject(LabelReader);
  protected readonly hour = inject(FirstHour);
  readonly #night = inject(Night);

  protected readonly isDemo = this.#session.isDemo;
  protected readonly isLocked = this.#session.isLocked;
  protected readonly isInside = computed(() => this.#session.person() !== null);
  protected readonly isUnreachable = this.#session.isUnreachable;
  /** The server says that nobody is signed in here. */
  protected readonly isOutside = computed(() => this.#session.isKnown() && this.#session.person() === null);
  /** A job is reached through the yard. */
  protected readonly isInJob = signal(location.pathname.startsWith('/job/'));
  protected readonly failure = this.#outbox.failure;
  protected readonly isTooOld = this.#link.isTooOld;
  constructor() {
    // from the beginning: what was left while acts waited is told as left once they have gone
    inject(JobPresence);
    inject(ErasedNames);
    const [known, words] = [inject(KnownAnswers), inject(StageWords)];
    effect(() => {
      if (!this.isInside()) return;
      untracked(() => void known.ask('/api/policy', policyAnswerSchema).then(({ value }) => value && words.set(value.policy.wording)));
    });
    // photographs that wait on this device go on their way whatever screen is shown
    inject(PhotoDesk);
    this.#shortcuts.register({ key: 'c', what: 'read a module’s label with the camera', run: () => this.labels.isCameraOpen.set(true) });
    this.#shortcuts.register({ key: 'n', what: 'night view on or off', run: () => this.#night.toggle() });
    this.#shortcuts.register({ key: 'y', what: 'go to the yard', run: () => void this.#router.navigate(['/yard']) });
    this.#shortcuts.register({ key: 's', what: 'go to the stock', run: () => void this.#router.navigate(['/stock']) });
    this.#shortcuts.register({ key: 'g', what: 'go to the gear', run: () => void this.#router.navigate(['/gear']) });
    this.#shortcuts.register({ key: 'r', what: 'go to the reckoner', run: () => void this.#router.navigate(['/reckoner']) });
    this.#router.events.pipe(filter((e) => e instanceof NavigationEnd)).subscribe((e) => {
      this.isInJob.set(e.urlAfterRedirects.startsWith('/job/'));
      document.querySelector<HTMLElement>('main')?.scrollTo({ top: 0 });
    });
  }

  protected reload(): void {
    void this.#session.load();
  }

  /** The page is fetched anew: a newer application comes with it. */
  protected reloadPage(): void {
    location.reload();
  }

  protected clearFailure(): void {
    this.#outbox.clearFailure();
  }
}

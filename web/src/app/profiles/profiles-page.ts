import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { profilesAnswerSchema } from '@estuarine/contract';
import { Router, RouterLink } from '@angular/router';
import { readProfile, type Profile } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { KnownAnswers, listStateOf } from '../transport/known-answers.ts';
import { ListPage, type ListState } from '../ui/list-page.ts';
import { sayPath } from '../ui/schema-form/schema.ts';
import { Notice } from '../ui/notice.ts';
import { PackCard } from './pack-card.ts';
import { PackFilter } from './pack-filter.ts';
import { ProfileDraft } from './profile-draft.ts';

const PATH = '/api/profiles';
const LARGEST_FILE = 2_000_000;

/** The pack profiles of the shop: one card each, and the way in for a file. */
@Component({
  selector: 'app-profiles-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink, NzButtonModule, ListPage, Notice, PackCard, PackFilter],
  template: `
    <app-list-page
      heading="Profiles"
      what="the profiles"
      about="What each kind of pack is; a job keeps the version it began with"
      [state]="state()"
      (retry)="load()"
    >
      <a head nz-button nzType="primary" routerLink="/profiles/new">Begin a profile</a>
      <label head class="file">
        <span>Bring in a file</span>
        <input #file type="file" accept=".json,application/json" (change)="bringIn(file)" />
      </label>
      @if (fault(); as reason) {
        <app-notice kind="fault" title="The file was not taken">{{ reason }}</app-notice>
      }
      <app-pack-filter [profiles]="profiles()" (found)="found.set($event)" />
      <div class="cards">
        @for (profile of found() ?? profiles(); track profile.id) {
          <a class="card" [routerLink]="['/profiles', profile.id]">
            <app-pack-card [pack]="profile" />
            <p class="muted">{{ profile.hazards[0]?.text }}</p>
          </a>
        }
      </div>
      <p class="muted">
        The form of a profile is published as JSON Schema at <a href="/api/profile.schema.json">/api/profile.schema.json</a>.
      </p>
    </app-list-page>
  `,
  styles: `
    .cards {
      display: grid;
      grid-template-columns: repeat(auto-fill, minmax(290px, 1fr));
      gap: 16px;
    }
    .card {
      display: grid;
      gap: 6px;
      align-content: start;
      padding: 16px 18px;
      color: var(--ink);
      text-decoration: none;
      background: var(--shell);
      border: 1.5px solid var(--line);
      border-radius: 3px;
    }
    .file {
      display: inline-flex;
      align-items: center;
      min-height: 44px;
      padding: 0 16px;
      color: var(--channel);
      border: 1.5px solid var(--channel);
      border-radius: 3px;
      cursor: pointer;
    }
    .file:focus-within {
      outline: 3px solid var(--tide);
      outline-offset: 2px;
    }
    .file input {
      position: absolute;
      width: 1px;
      opacity: 0;
    }
  `,
})
export class ProfilesPage {
  readonly #known = inject(KnownAnswers);
  readonly #router = inject(Router);
  readonly #draft = inject(ProfileDraft);

  protected readonly profiles = signal<readonly Profile[]>([]);
  protected readonly found = signal<readonly Profile[] | null>(null);
  protected readonly state = signal<ListState>('loading');
  protected readonly fault = signal<string | null>(null);

  constructor() {
    void this.load();
  }

  protected async load(): Promise<void> {
    const known = await this.#known.ask(PATH, profilesAnswerSchema);
    this.state.set(listStateOf(known));
    this.profiles.set(known.value?.profiles ?? []);
  }

  /** A file is read whole or not at all; what comes of it is a draft that nobody has kept yet. */
  protected async bringIn(input: HTMLInputElement): Promise<void> {
    const file = input.files?.[0];
    input.value = '';
    if (!file) return;
    this.fault.set(await this.#readFile(file));
  }

  async #readFile(file: File): Promise<string | null> {
    if (file.size > LARGEST_FILE) return `${file.name} is larger than a profile can be.`;
    let raw: unknown;
    try {
      raw = JSON.parse(await file.text());
    } catch {
      return `${file.name} is not JSON.`;
    }
    const read = readProfile(raw);
    if (read.kind === 'refused') return `${file.name}: ${read.path.length > 0 ? `${sayPath(read.path)}: ` : ''}${read.message}`;
    this.#draft.hold(read.value);
    await this.#router.navigate(['/profiles', read.value.id]);
    return null;
  }
}

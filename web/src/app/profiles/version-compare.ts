import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, resource } from '@angular/core';
import { profileAnswerSchema, profileVersionsSchema } from '@estuarine/contract';
import { compareProfiles, type Profile } from '@estuarine/core';
import { Api } from '../transport/api.ts';
import { ChoiceField } from '../ui/choice-field.ts';
import { sayPath } from '../ui/schema-form/schema.ts';

const LONGEST = 160;

/** A profile held against an earlier version of itself, field by field. */
@Component({
  selector: 'app-version-compare',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField],
  template: `
    @if (choices().length > 0) {
      <app-choice-field label="Held against" [choices]="choices()" [(value)]="version" />
    }
    @if (versions.isLoading() || other.isLoading()) {
      <p class="muted" role="status">Fetching what was before…</p>
    } @else if (choices().length === 0) {
      <p role="status">This shop has no earlier version of it, or the server is away.</p>
    } @else if (other.value() === null) {
      <p role="status">Version {{ version() }} cannot be fetched: the server is away.</p>
    } @else if (changes(); as found) {
      @if (found.length === 0) {
        <p role="status">Nothing differs but the version.</p>
      } @else {
        <table class="sheet">
          <thead>
            <tr>
              <th scope="col">What</th>
              <th scope="col">version {{ version() }}</th>
              <th scope="col">version {{ profile().version }}</th>
            </tr>
          </thead>
          <tbody>
            @for (change of found; track change.where) {
              <tr>
                <th scope="row">{{ change.where }}</th>
                <td class="figure">{{ change.before }}</td>
                <td class="figure">{{ change.after }}</td>
              </tr>
            }
          </tbody>
        </table>
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 10px;
      justify-items: start;
      overflow-x: auto;
    }
  `,
})
export class VersionCompare {
  readonly profile = input.required<Profile>();

  readonly #api = inject(Api);

  protected readonly versions = resource({
    params: () => this.profile().id,
    loader: async ({ params: id }): Promise<readonly number[]> => {
      const reply = await this.#api.get(`/api/profiles/${encodeURIComponent(id)}/versions`, profileVersionsSchema);
      return reply.kind === 'answer' ? reply.value.versions : [];
    },
  });
  /** From the latest before it back to the first. */
  protected readonly choices = computed(() =>
    (this.versions.value() ?? [])
      .filter((v) => v < this.profile().version)
      .toReversed()
      .map((v) => ({ value: String(v), name: `version ${v}` })),
  );
  protected readonly version = linkedSignal(() => this.choices()[0]?.value ?? '');
  protected readonly other = resource({
    params: () => (this.version() === '' ? undefined : { id: this.profile().id, version: this.version() }),
    loader: async ({ params: { id, version } }): Promise<Profile | null> => {
      const reply = await this.#api.get(`/api/profiles/${encodeURIComponent(id)}/${version}`, profileAnswerSchema);
      return reply.kind === 'answer' ? reply.value.profile : null;
    },
  });
  protected readonly changes = computed(() => {
    const before = this.other.value();
    if (!before) return null;
    return compareProfiles(before, this.profile()).map((change) => ({
      where: sayPath(change.path),
      before: say(change.before),
      after: say(change.after),
    }));
  });
}

function say(value: unknown): string {
  if (value === undefined) return 'not there';
  if (value === null) return 'none';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'object' && !Array.isArray(value) && 'name' in value && typeof value.name === 'string') return value.name;
  const text = typeof value === 'string' || typeof value === 'number' ? String(value) : JSON.stringify(value);
  return text.length > LONGEST ? `${text.slice(0, LONGEST)}…` : text;
}

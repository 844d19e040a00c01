import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { Profile, RebuildScene } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../transport/job-log.ts';

/** Temperature sensors: where the maker had them, or gathered to the hot middle, which is a school and is recorded as one. */
@Component({
  selector: 'app-sensors-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzButtonModule],
  template: `
    <button nz-button nzType="primary" type="button" class="tall" (click)="keep('asMade')">Where the maker had them: {{ made() }}</button>
    <button nz-button type="button" class="tall" (click)="keep('gathered')">Gathered to the middle: {{ gathered() }}</button>
    <p class="muted">
      Gathered, the fan starts earlier and runs longer; the car then reads the middle as the whole pack. Where they went is kept with the
      job and stands in its report.
    </p>
    @if (last(); as kept) {
      <p role="status">
        {{ kept.school === 'asMade' ? 'Where the maker had them' : 'Gathered to the middle' }}, said by {{ kept.by.toUpperCase() }}.
      </p>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 10px;
    }
    .tall {
      min-height: 56px;
      white-space: normal;
      height: auto;
    }
  `,
})
export class SensorsPanel {
  readonly profile = input.required<Profile>();
  readonly scene = input.required<RebuildScene>();

  readonly #log = inject(JobLog);
  protected readonly last = computed(() => this.scene().rebuild.sensors.at(-1) ?? null);
  protected readonly made = computed(() => sayPlaces(this.profile().sensors.map((s) => s.place)));
  protected readonly gathered = computed(() => sayPlaces(this.#sites('gathered').map((s) => s.place)));

  protected keep(school: 'asMade' | 'gathered'): void {
    void this.#log.act({ type: 'sensors.sited', body: { school, sites: this.#sites(school) } });
  }

  /** Gathered: on the hottest places by the profile, in string order. */
  #sites(school: 'asMade' | 'gathered'): { sensorId: string; place: number }[] {
    const { sensors, heatWeights } = this.profile();
    const hottest = heatWeights
      .map((weight, i) => ({ weight, place: i + 1 }))
      .sort((a, b) => b.weight - a.weight || a.place - b.place)
      .slice(0, sensors.length)
      .map((h) => h.place)
      .sort((a, b) => a - b);
    return sensors.map((s, i) => ({ sensorId: s.id, place: school === 'asMade' ? s.place : (hottest[i] ?? s.place) }));
  }
}

function sayPlaces(places: readonly number[]): string {
  return places.length > 6 ? 'one a module' : `at ${places.join(', ')}`;
}

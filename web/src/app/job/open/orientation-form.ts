import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { compareOrientation, cornerName, CORNERS, expectedCorner, type Corner, type Orientation } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../transport/job-log.ts';
import { Session } from '../../session/session.ts';

/** How the pack lies, written down before the first module moves: the only moment at which it can be. */
@Component({
  selector: 'app-orientation-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DatePipe, RouterLink, NzButtonModule],
  templateUrl: './orientation-form.html',
  styleUrl: './orientation-form.less',
})
export class OrientationForm {
  protected readonly log = inject(JobLog);
  readonly #session = inject(Session);

  protected readonly corners = CORNERS;
  protected readonly cornerName = cornerName;
  /** Nothing is filled in beforehand: it is read off the pack, not off the profile. */
  protected readonly corner = signal<Corner | null>(null);
  protected readonly firstAt = signal<Orientation['firstAt'] | null>(null);
  protected readonly threaded = signal<Orientation['threaded'] | null>(null);
  protected readonly vents = signal<Orientation['vents'] | null>(null);
  /** Text of each sensor's place; empty: not found. */
  protected readonly places = signal<Record<string, string>>({});
  protected readonly note = signal('');
  protected readonly fault = signal<string | null>(null);
  protected readonly wantsNew = signal(false);

  protected readonly record = computed(() => this.log.state()?.open.orientation ?? null);
  protected readonly released = computed(() => this.log.state()?.open.released ?? null);
  protected readonly differences = computed(() => {
    const [record, profile] = [this.record(), this.log.profile()];
    return record && profile ? compareOrientation(profile, record) : [];
  });
  protected readonly expected = computed(() => {
    const profile = this.log.profile();
    return profile ? cornerName(profile, expectedCorner(profile)) : '';
  });
  protected readonly mayRelease = computed(() => (this.#session.person()?.role ?? 'apprentice') !== 'apprentice');

  protected sideName(side: Orientation['vents']): string {
    const layout = this.log.profile()?.layout;
    const words = {
      near: layout?.nearSide ?? 'near',
      far: layout?.farSide ?? 'far',
      alternating: 'alternating',
      top: 'on top',
      none: 'none',
    };
    return words[side];
  }

  protected setPlace(sensorId: string, text: string): void {
    this.places.update((all) => ({ ...all, [sensorId]: text }));
  }

  protected keep(): void {
    const profile = this.log.profile();
    const [positiveCorner, firstAt, threaded, vents] = [this.corner(), this.firstAt(), this.threaded(), this.vents()];
    if (!profile) return;
    if (!positiveCorner || !firstAt || !threaded || !vents) {
      this.fault.set('Corner, module 1, threaded posts and vents: each is read off the pack first.');
      return;
    }
    const sensors: Orientation['sensors'] = [];
    for (const { id, name } of profile.sensors) {
      const text = (this.places()[id] ?? '').trim();
      const place = text === '' ? null : Number(text);
      if (place !== null && !(Number.isInteger(place) && place >= 1 && place <= profile.moduleCount)) {
        this.fault.set(`${name}: a module from 1 to ${profile.moduleCount}, or empty where it was not found.`);
        return;
      }
      sensors.push({ sensorId: id, place });
    }
    this.fault.set(null);
    this.wantsNew.set(false);
    const body = { positiveCorner, firstAt, threaded, vents, sensors, note: this.note().trim() };
    void this.log.act({ type: 'orientation.recorded', body });
  }

  protected release(): void {
    void this.log.act({ type: 'modules.released', body: {} });
  }
}

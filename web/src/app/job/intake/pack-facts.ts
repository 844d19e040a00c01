import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import type { Profile } from '@estuarine/core';

/** What the profile says of the pack, and what hurts on it. */
@Component({
  selector: 'app-pack-facts',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @let profile = pack();
    <section>
      <h2>Pack: {{ profile.name }}, version {{ profile.version }}</h2>
      <dl>
        <dt>String</dt>
        <dd>{{ profile.moduleCount }} modules in series, {{ profile.blocks.length }} blocks</dd>
        <dt>Module</dt>
        <dd>{{ profile.moduleType.name }}, {{ profile.moduleType.nominalVolt }} V, {{ profile.moduleType.nominalCapacityAh }} Ah</dd>
        <dt>{{ profile.plug.name }}</dt>
        <dd>{{ profile.plug.note }}</dd>
        <dt>Mass</dt>
        <dd class="figure">{{ profile.massKilogram }} kg pack, {{ profile.moduleType.massKilogram }} kg module</dd>
        <dt>Waits</dt>
        <dd>{{ profile.waits.capacitorMinute }} min for the capacitors, {{ profile.waits.restHour }} h rest</dd>
        @for (part of profile.parts; track part.id) {
          @if (part.torque; as torque) {
            <dt>{{ part.name }}</dt>
            <dd>
              <span class="figure">{{ torque.newtonMetre }} N·m ± {{ torque.tolerancePercent }} %</span>
              <span class="muted"> ({{ torque.source }})</span>
              {{ part.where }}
            </dd>
          }
        }
      </dl>
    </section>
    <section>
      <h3>What hurts on this pack</h3>
      <ul class="hazards">
        @for (hazard of profile.hazards; track hazard.text) {
          <li>{{ hazard.text }}</li>
        }
      </ul>
      <p class="muted">{{ profile.provenance }}</p>
    </section>
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: repeat(auto-fit, minmax(min(340px, 100%), 1fr));
      gap: 20px 32px;
      padding: 16px 24px 24px;
    }
    dl {
      display: grid;
      grid-template-columns: max-content minmax(0, 1fr);
      gap: 8px 16px;
      margin: 12px 0 0;
    }
    dt {
      color: var(--fog);
    }
    dt::first-letter {
      text-transform: uppercase;
    }
    dd {
      margin: 0;
    }
    @media (max-width: 699px) {
      :host {
        padding: 12px;
      }
      dl {
        grid-template-columns: minmax(0, 120px) minmax(0, 1fr);
      }
    }
  `,
})
export class PackFacts {
  readonly pack = input.required<Profile>();
}

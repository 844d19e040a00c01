/** Builds jobs out of events for specs. */
import { readFileSync } from 'node:fs';
import type { Act, JobEvent, SweepKind } from '../src/job/event.ts';
import { fold } from '../src/job/fold.ts';
import type { JobState } from '../src/job/state.ts';
import type { Fact } from '../src/pack/fact.ts';
import { profileSchema } from '../src/pack/profile.ts';
import type { Stage } from '../src/pack/stage.ts';

export const profile = profileSchema.parse(JSON.parse(readFileSync(new URL('../profiles/dunlin-28.json', import.meta.url), 'utf8')));

const HOUR = 3_600_000;

export class Recorder {
  readonly events: JobEvent[] = [];
  #time = Date.UTC(2026, 4, 4, 8);

  open(): this {
    this.add({
      type: 'job.opened',
      body: {
        ...{ number: 1, profileId: profile.id, profileVersion: 1, policyVersion: 1 },
        vehicle: { name: 'Test wagon', plate: 'T 1', odometerKilometre: null, note: '' },
        moduleIds: Array.from({ length: profile.moduleCount }, (_, i) => `m${i + 1}`),
      },
    });
    return this;
  }

  add(act: Act, by = 'om'): string {
    const number = this.events.length + 1;
    const at = new Date((this.#time += 1000)).toISOString();
    this.events.push({ number, commandId: `c${number}`, by, at, deviceAt: at, ...act });
    return `c${number}`;
  }

  fact(stage: Stage, fact: Fact): string {
    return this.add({ type: 'fact.stated', body: { stage, fact } });
  }

  startSweep(kind: SweepKind, by = 'om', how: { restSince?: string; loadAmpere?: number; loadSecond?: number } = {}): string {
    const none = { restSince: null, restHour: null, loadAmpere: null, loadSecond: null, resolution: 0.001 };
    return this.add({ type: 'sweep.started', body: { kind, ...none, ...how } }, by);
  }

  wait(hours: number): void {
    this.#time += hours * HOUR;
  }

  state(): JobState {
    return fold(profile, this.events);
  }
}

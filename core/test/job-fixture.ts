/** Builds jobs out of events for specs. */
import { readdirSync, readFileSync } from 'node:fs';
import { gearPolicySchema } from '../src/gear/due.ts';
import { gearSchema, type Gear } from '../src/gear/gear.ts';
import { isolationPolicySchema } from '../src/isolate/policy.ts';
import type { DecideContext } from '../src/job/chapters/chapter.ts';
import { KIND_RULES, type JobKind } from '../src/job/chapters/intake/kinds.ts';
import type { SweepKind } from '../src/job/chapters/sweep/acts.ts';
import type { Act, JobEvent } from '../src/job/frame/acts.ts';
import { fold } from '../src/job/frame/fold.ts';
import type { JobState } from '../src/job/frame/state.ts';
import type { Fact } from '../src/pack/fact.ts';
import type { Profile } from '../src/pack/profile.ts';
import { readProfile } from '../src/pack/read-profile.ts';
import type { Stage } from '../src/pack/stage.ts';

/** A profile as shipped. */
export function shippedProfile(id: string): Profile {
  const read = readProfile(JSON.parse(readFileSync(new URL(`../profiles/${id}.json`, import.meta.url), 'utf8')));
  if (read.kind === 'refused') throw new Error(`${id}: ${read.message}`);
  return read.value;
}

/** Every profile that is shipped. */
export const SHIPPED = readdirSync(new URL('../profiles/', import.meta.url))
  .filter((name) => name.endsWith('.json') && !name.endsWith('.schema.json'))
  .map((name) => name.replace(/\.json$/, ''));

export const profile = shippedProfile('dunlin-28');

/** What the workshop of the specs has in its cupboard. */
export const GEAR: readonly Gear[] = [
  { kind: 'gloves', gearId: 'G-07', label: 'G-07', gloveClass: '0', size: '10', testedOn: '2026-01-10', issuedOn: '2026-02-01' },
  { kind: 'gloves', gearId: 'G-old', label: 'G-old', gloveClass: '0', size: '9', testedOn: '2025-01-10', issuedOn: '2025-02-01' },
  { kind: 'meter', gearId: 'M-02', label: 'M-02', category: 'III', categoryVolt: 1000, resolutionVolt: 0.1, calibratedOn: '2026-01-05' },
  { kind: 'insulationTester', gearId: 'I-1', label: 'I-1', testVolt: 500, calibratedOn: '2026-01-05' },
  { kind: 'insulationTester', gearId: 'I-old', label: 'I-old', testVolt: 500, calibratedOn: '2024-01-05' },
  { kind: 'torqueTool', gearId: 'T-01', label: 'T-01', minNewtonMetre: 1, maxNewtonMetre: 10, calibratedOn: '2026-01-05', cycles: 100 },
  { kind: 'torqueTool', gearId: 'T-old', label: 'T-old', minNewtonMetre: 1, maxNewtonMetre: 10, calibratedOn: '2024-01-05', cycles: 100 },
  { kind: 'torqueTool', gearId: 'T-60', label: 'T-60', minNewtonMetre: 10, maxNewtonMetre: 60, calibratedOn: '2026-01-05', cycles: 100 },
  { kind: 'provingUnit', gearId: 'P-1', label: 'P-1', outputVolt: 240, checkedOn: '2026-01-05' },
].map((g) => gearSchema.parse(g));

/** The context of a technician who may sign, at the time of the recorder. */
export function contextOf(recorder: Recorder, over: Partial<DecideContext> = {}): DecideContext {
  return {
    ...{ profile, by: 'om', role: 'technician', whyNotFree: () => null, whyNotSign: null },
    ...{ shelfCapacityAh: () => null, provenRange: () => null },
    now: recorder.now,
    isolation: isolationPolicySchema.parse({}),
    gearPolicy: gearPolicySchema.parse({}),
    findGear: (id) => GEAR.find((g) => g.gearId === id) ?? null,
    ...over,
  };
}

const HOUR = 3_600_000;

export class Recorder {
  readonly events: JobEvent[] = [];
  readonly pack: Profile;
  #time = Date.UTC(2026, 4, 4, 8);

  constructor(pack: Profile = profile) {
    this.pack = pack;
  }

  /** Server time of the last event, epoch milliseconds. */
  get now(): number {
    return this.#time;
  }

  /** Opens a job; its modules are named `m1` and on where the kind names them. */
  open(kind: JobKind = 'wholeRepair'): this {
    this.add({
      type: 'job.opened',
      body: {
        ...{ number: 1, profileId: this.pack.id, profileVersion: 1, policyVersion: 1 },
        ...{ kind, vehicle: { id: 'v1', hash: '0'.repeat(64) }, customer: null, comebackOf: null },
        moduleIds: KIND_RULES[kind].namesModules ? Array.from({ length: this.pack.moduleCount }, (_, i) => `m${i + 1}`) : [],
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
    const none = { restSince: null, restHour: null, loadAmpere: null, loadSecond: null, recovered: 'all', resolution: 0.001 } as const;
    return this.add({ type: 'sweep.started', body: { kind, ...none, ...how } }, by);
  }

  wait(hours: number): void {
    this.#time += hours * HOUR;
  }

  waitMinutes(minutes: number): void {
    this.wait(minutes / 60);
  }

  state(): JobState {
    return fold(this.pack, this.events);
  }
}

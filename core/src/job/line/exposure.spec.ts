import fc from 'fast-check';
import { profile, Recorder } from '../../../test/job-fixture.ts';
import { wholePack, type PackState } from '../../pack/effect.ts';
import { applyFact, type Fact } from '../../pack/fact.ts';
import { listOpenBars } from '../../pack/join.ts';
import { postAt } from '../../pack/post.ts';
import { fold } from '../frame/fold.ts';
import { findJobExposure, findWorstExposure } from './exposure.ts';
import { traceExposure } from './trace.ts';

const MAXIMUM = 28 * 9.6;

describe('findJobExposure', () => {
  it('lets nothing be reached in a shut pack, and never hides what is behind the covers', () => {
    const found = findJobExposure(new Recorder().open().state(), profile);
    expect(found.reachable).toMatchObject({ volt: 0, between: null });
    expect(found.behind.volt).toBeCloseTo(MAXIMUM, 9);
    expect(found.basis[0]).toBe('0 of 28 modules measured, the rest at their maximum of 9.6 V.');
    expect(found.next).toMatchObject({ label: 'pull the service plug' });
  });

  it('leads to no cut on a job that leaves the high voltage alone, until somebody parts the string all the same', () => {
    const filter = new Recorder().open('filterService');
    expect(findJobExposure(filter.state(), profile)).toMatchObject({ next: null, behind: { volt: expect.closeTo(MAXIMUM, 9) as number } });
    filter.fact('isolate', { kind: 'twelveVolt', isOff: true });
    expect(findJobExposure(filter.state(), profile).next).toMatchObject({ label: 'pull the service plug' });
    expect(findJobExposure(new Recorder().open('benchOnly').state(), profile).next).not.toBeNull();
  });

  it('counts bare cable ends at the full string while the pack hangs on the car', () => {
    const recorder = new Recorder().open();
    recorder.fact('isolate', { kind: 'plug', isIn: false });
    recorder.fact('isolate', { kind: 'connectors', are: 'open' });
    expect(findJobExposure(recorder.state(), profile).reachable).toMatchObject({
      volt: expect.closeTo(MAXIMUM, 6),
      between: ['28+', '1-'],
    });
    recorder.fact('isolate', { kind: 'connectors', are: 'insulated' });
    expect(findJobExposure(recorder.state(), profile).reachable.volt).toBe(0);
  });

  it('counts the islands as one string until the harness is off, then by the plug', () => {
    const recorder = new Recorder().open();
    recorder.fact('isolate', { kind: 'plug', isIn: false });
    recorder.fact('strip', { kind: 'pack', isOnBench: true });
    recorder.fact('open', { kind: 'case', isOpen: true });
    recorder.fact('open', { kind: 'covers', areOff: true });
    expect(findJobExposure(recorder.state(), profile).reachable.volt).toBeCloseTo(MAXIMUM, 6);
    expect(findJobExposure(recorder.state(), profile).next).toMatchObject({
      label: 'unplug the sense harness',
      volt: expect.closeTo(14 * 9.6, 6),
    });
    recorder.fact('open', { kind: 'harness', isUnplugged: true });
    const found = findJobExposure(recorder.state(), profile);
    expect(found.reachable).toMatchObject({ volt: expect.closeTo(14 * 9.6, 6), between: ['14+', '1-'] });
    expect(found.next).toMatchObject({ fact: { kind: 'frame', frame: 'vent-frame', isOff: true } });
  });

  it('takes the latest open-circuit reading, never below nominal, and forgets it when the pack is charged', () => {
    const recorder = new Recorder().open();
    const sweep = recorder.startSweep('openCircuit');
    for (let place = 1; place <= 28; place++)
      recorder.add({
        type: 'reading.taken',
        body: { sweepId: sweep, place, moduleId: `m${place}`, quantity: 'openCircuitVolt', value: place === 9 ? 6 : 7.8 },
      });
    expect(findJobExposure(recorder.state(), profile).behind.volt).toBeCloseTo(27 * 7.8 + 7.2, 9);
    recorder.fact('test', { kind: 'charged' });
    expect(findJobExposure(recorder.state(), profile).behind.volt).toBeCloseTo(MAXIMUM, 9);
  });

  it('lets waiting acts raise the voltages: a higher reading and a charge do, a lower reading does not', () => {
    const recorder = new Recorder().open();
    const sweep = recorder.startSweep('openCircuit');
    const take = (place: number, value: number): string =>
      recorder.add({ type: 'reading.taken', body: { sweepId: sweep, place, moduleId: `m${place}`, quantity: 'openCircuitVolt', value } });
    for (let place = 1; place <= 28; place++) take(place, 7.8);
    const kept = recorder.state();
    take(1, 8.4);
    take(2, 7.3);
    const behind = (facts: Fact[] = []): number => findWorstExposure(kept, recorder.state(), facts, profile).behind.volt;
    expect(behind()).toBeCloseTo(27 * 7.8 + 8.4, 9);
    expect(behind([{ kind: 'charged' }])).toBeCloseTo(MAXIMUM, 9);
  });

  it('counts a module that came to a place at the most it can have, until it was read itself', () => {
    const job = new Recorder().open();
    const sweepId = job.startSweep('openCircuit');
    const read = (place: number, moduleId: string | null, value: number): string =>
      job.add({ type: 'reading.taken', body: { sweepId, place, moduleId, quantity: 'openCircuitVolt', value } });
    const voltAt = (place: number): number | undefined => findJobExposure(job.state(), profile).modules[place - 1]?.volt;
    read(3, 'm3', 7.5);
    job.fact('rebuild', { kind: 'module', place: 3, moduleId: 'S-1', isTurned: false });
    expect(voltAt(3)).toBe(9.6);
    read(3, 'S-1', 7.9);
    expect(voltAt(3)).toBe(7.9);
    // a reading that comes late from the device that had it belongs to the module that left
    read(3, 'm3', 7.4);
    expect(voltAt(3)).toBe(7.9);
    // the same module cannot be at two places; what is where it was is not known
    job.fact('rebuild', { kind: 'module', place: 5, moduleId: 'S-1', isTurned: false });
    expect([voltAt(3), voltAt(5)]).toEqual([9.6, 7.9]);
    // unnamed readings end with what sat there
    read(3, null, 7.6);
    expect(voltAt(3)).toBe(7.6);
    job.fact('rebuild', { kind: 'module', place: 3, moduleId: null, isTurned: false });
    expect(voltAt(3)).toBe(9.6);
    // and a name that was never in this pack is no module of it: the place counts
    read(3, 'constructor', 7.7);
    expect(voltAt(3)).toBe(7.7);
  });

  it('raises a place while it waits to be kept that another module came to it', () => {
    const job = new Recorder().open();
    const sweepId = job.startSweep('openCircuit');
    job.add({ type: 'reading.taken', body: { sweepId, place: 3, moduleId: 'm3', quantity: 'openCircuitVolt', value: 7.5 } });
    const waiting: Fact = { kind: 'module', place: 3, moduleId: 'S-1', isTurned: false };
    const kept = job.state();
    job.fact('rebuild', waiting);
    expect(findWorstExposure(kept, job.state(), [waiting], profile).modules[2]).toMatchObject({ volt: 9.6, isMeasured: false });
  });

  it('draws the procedure from where the job stands', () => {
    const recorder = new Recorder().open();
    const fresh = traceExposure(recorder.state(), profile);
    expect(fresh.planned.length).toBe(profile.procedure.length);
    // the fields come back from the log in another order than the profile has them
    for (const { stage, fact } of profile.procedure.slice(0, 5))
      recorder.fact(stage, Object.fromEntries(Object.entries(fact).reverse()) as unknown as Fact);
    const later = traceExposure(recorder.state(), profile);
    expect(later.done).toHaveLength(5);
    expect(later.planned).toHaveLength(profile.procedure.length - 5);
    expect(Math.max(...later.planned.map((p) => p.reachableVolt))).toBeGreaterThan(60);
  });
});

const facts: fc.Arbitrary<Fact> = fc.oneof(
  fc.boolean().map((isIn): Fact => ({ kind: 'plug', isIn })),
  fc.constantFrom('closed', 'open', 'insulated').map((are): Fact => ({ kind: 'connectors', are: are as 'open' })),
  fc.boolean().map((isOnBench): Fact => ({ kind: 'pack', isOnBench })),
  fc.boolean().map((isOpen): Fact => ({ kind: 'case', isOpen })),
  fc.boolean().map((areOff): Fact => ({ kind: 'covers', areOff })),
  fc.boolean().map((isUnplugged): Fact => ({ kind: 'harness', isUnplugged })),
  fc.tuple(fc.constantFrom('vent-frame', 'cable-frame'), fc.boolean()).map(([frame, isOff]): Fact => ({ kind: 'frame', frame, isOff })),
  fc.tuple(fc.integer({ min: 1, max: 13 }), fc.boolean()).map(([k, areOpen]): Fact => ({ kind: 'links', links: [k], areOpen })),
  fc
    .tuple(fc.integer({ min: 1, max: 28 }), fc.constantFrom(null, 'm1', 'm2', 'm9', 'S-1', 'S-2'))
    .map(([place, moduleId]): Fact => ({ kind: 'module', place, moduleId, isTurned: false })),
);

/** What stands at each place by a plain look: a module at its reading, and anything unknown at the most it can have. */
class Bays {
  readonly #at: (string | null)[] = Array.from({ length: 28 }, (_, i) => `m${i + 1}`);
  constructor(readonly read: ReadonlyMap<string, number>) {}

  note(fact: Fact): void {
    if (fact.kind !== 'module') return;
    // it cannot be at two places: where it was, nobody knows what is now
    for (const [i, id] of this.#at.entries()) if (fact.moduleId !== null && id === fact.moduleId) this.#at[i] = null;
    this.#at[fact.place - 1] = fact.moduleId;
  }
  volts(): number[] {
    return this.#at.map((id) => (id === null ? 9.6 : (this.read.get(id) ?? 9.6)));
  }
  copy(): Bays {
    const made = new Bays(this.read);
    for (const [i, id] of this.#at.entries()) made.#at[i] = id;
    return made;
  }
}

/** The truth by a plain walk over the posts: which are bare, what joins them, what stands between them. */
function walk(pack: PackState, volts: readonly number[]): number {
  const bare = pack.isCaseOpen && pack.areCoversOff;
  const whole = volts.reduce((a, b) => a + b, 0);
  let truth = !pack.isOnBench && pack.connectors === 'open' ? whole : 0;
  if (!bare) return truth;
  const open = new Set(pack.isHarnessUnplugged ? listOpenBars(pack, profile) : []);
  if (pack.isHarnessUnplugged && !pack.isPlugIn) open.add(14);
  for (let a = 0; a < 2 * volts.length; a++) {
    let volt = 0;
    for (let b = a + 1; b < 2 * volts.length; b++) {
      const isModule = b % 2 === 1;
      if (!isModule && open.has(b / 2)) break;
      if (isModule) volt += volts[(b - 1) / 2] as number;
      if (postAt(a) !== postAt(b)) truth = Math.max(truth, volt);
    }
  }
  return truth;
}

describe('the number shown', () => {
  it('is never below the truth under random acts, delays and corrections on two devices', () => {
    // each act happens at once in the workshop; device A or B states it, and the server keeps A's and B's queues in any interleaving
    const acts = fc.array(fc.record({ fact: facts, device: fc.constantFrom('a', 'b'), isKept: fc.boolean() }), { maxLength: 25 });
    const readings = fc.array(fc.tuple(fc.integer({ min: 1, max: 28 }), fc.integer({ min: 60, max: 96 })), { maxLength: 12 });
    fc.assert(
      fc.property(acts, readings, (steps, measured) => {
        const recorder = new Recorder().open();
        const sweep = recorder.startSweep('openCircuit');
        const read = new Map<string, number>();
        const bays = new Bays(read);
        for (const [place, tenth] of measured) {
          recorder.add({
            type: 'reading.taken',
            body: { sweepId: sweep, place, moduleId: `m${place}`, quantity: 'openCircuitVolt', value: tenth / 10 },
          });
          read.set(`m${place}`, Math.max(tenth / 10, 7.2));
        }
        let keptTruth = wholePack(profile);
        const pending: Record<string, Fact[]> = { a: [], b: [] };
        for (const { fact, device, isKept } of steps) {
          pending[device]?.push(fact);
          if (isKept)
            for (const queued of pending[device]?.splice(0) ?? []) {
              recorder.fact('open', queued);
              keptTruth = applyFact(keptTruth, queued, profile);
              bays.note(queued);
            }
          const state = fold(profile, recorder.events);
          for (const own of Object.values(pending)) {
            const shown = findWorstExposure(state, state, own, profile).reachable.volt;
            // waiting acts may raise the number, never lower it: not below the kept state, nor below any state on the way
            let now = keptTruth;
            const moved = bays.copy();
            expect(shown).toBeGreaterThanOrEqual(walk(now, moved.volts()) - 1e-6);
            for (const queued of own) {
              now = applyFact(now, queued, profile);
              moved.note(queued);
              expect(shown).toBeGreaterThanOrEqual(walk(now, moved.volts()) - 1e-6);
            }
            if (own.length === 0) expect(shown).toBeCloseTo(walk(keptTruth, bays.volts()), 6);
          }
        }
      }),
      { numRuns: 120 },
    );
  });
});

/** A job that is made dead act by act, each decided as the server does. */
import { isolationPolicySchema, type IsolationPolicy } from '../src/isolate/policy.ts';
import { PROOF_ENTRIES, type ProofEntry } from '../src/isolate/proof.ts';
import type { DecideContext } from '../src/job/chapters/chapter.ts';
import { findIsolation } from '../src/job/chapters/isolate/view.ts';
import type { Act } from '../src/job/frame/acts.ts';
import { decide } from '../src/job/frame/decide.ts';
import { findJobExposure } from '../src/job/line/exposure.ts';
import type { Fact } from '../src/pack/fact.ts';
import type { Point } from '../src/pack/point.ts';
import { contextOf, profile, Recorder } from './job-fixture.ts';

const policy = isolationPolicySchema.parse({});
/** What a meter reads on the way to dead. */
export const VOLTS: Record<ProofEntry, number> = {
  knownBefore: 12.4,
  plusMinus: 0.3,
  minusPlus: -0.3,
  plusChassis: 0.1,
  minusChassis: 0,
  knownAfter: 12.4,
};

/** A job that is made dead act by act, each decided as the server does. */
export class Isolating extends Recorder {
  policy: IsolationPolicy = policy;

  /** Keeps what `decide` makes of an act; gives the refusal's sentence, or null. */
  do(act: Act, over: Partial<DecideContext> = {}): string | null {
    const outcome = decide(this.state(), act, contextOf(this, { isolation: this.policy, ...over }));
    if (outcome.kind === 'refused') return outcome.message;
    for (const event of outcome.value) this.add(event, over.by ?? 'om');
    return null;
  }
  say(fact: Fact): void {
    this.do({ type: 'fact.stated', body: { stage: 'isolate', fact } });
  }
  down(order: readonly ('twelveVolt' | 'plug')[] = ['twelveVolt', 'plug']): this {
    this.open();
    this.say({ kind: 'key', isAway: true, custody: 'lock box 2' });
    this.do({ type: 'gear.picked', body: { use: 'gloves', gearId: 'G-07', isAirTested: true } });
    for (const part of order)
      this.say(part === 'plug' ? { kind: 'plug', isIn: false, custody: 'OM' } : { kind: 'twelveVolt', isOff: true });
    return this;
  }
  begin(point: Point = { at: 'inverterPosts', label: 'inverter posts' }): string {
    const refusal = this.do({
      type: 'proof.started',
      body: {
        meterId: 'M-02',
        source: 'battery',
        sourceId: null,
        point,
        known: { lowVolt: 1, highVolt: 999 },
        limitVolt: 60,
        resolutionVolt: 1,
      },
    });
    if (refusal) throw new Error(refusal);
    return this.events[this.events.length - 1]?.commandId ?? '';
  }
  read(proofId: string, entry: ProofEntry, volt = VOLTS[entry]): void {
    this.do({ type: 'proof.read', body: { proofId, entry, volt, isFromMeter: false } });
  }
  prove(point?: Point): string {
    this.waitMinutes(10);
    const proofId = this.begin(point);
    for (const entry of PROOF_ENTRIES) this.read(proofId, entry);
    return proofId;
  }
  sign(proofId: string, over: Partial<DecideContext> = {}): string | null {
    return this.do({ type: 'proof.signed', body: { proofId, until: null, breakMinute: 1 } }, over);
  }
  proven(): this {
    this.down();
    const refusal = this.sign(this.prove());
    if (refusal) throw new Error(refusal);
    return this;
  }
  isolation(now = this.now) {
    return findIsolation(this.state(), profile, this.policy, now);
  }
  reach(now = this.now): number {
    return findJobExposure(this.state(), profile, now).reachable.volt;
  }
}

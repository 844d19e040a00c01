/**
 * What becomes of an act: events, or a refusal with its reason. Facts are accepted whatever the order; only permits (choosing a
 * plan) can be refused on their conditions. A name that does not exist is refused in both.
 */
import type { GearPolicy } from '../gear/due.ts';
import { whyNotPick } from '../gear/due.ts';
import type { Gear } from '../gear/gear.ts';
import type { IsolationPolicy } from '../isolate/policy.ts';
import { planSteps } from '../isolate/procedure.ts';
import { localTime, nextTimeOfDay } from '../quantity/calendar.ts';
import { postIndex } from '../pack/post.ts';
import type { Profile } from '../pack/profile.ts';
import { answer, refuse, type Refusal, type Result } from '../result.ts';
import type { Act, ActBody } from './event.ts';
import { SWEEP_QUANTITIES } from './event.ts';
import { findSweep } from './fold.ts';
import { findIsolation } from './isolation.ts';
import type { JobState } from './state.ts';
import { refuseStrip } from './strip-decide.ts';

/** May look and measure; may also choose plans; may also sign and override. */
export const ROLES = ['apprentice', 'technician', 'lead'] as const;
export type Role = (typeof ROLES)[number];

/** What deciding needs beyond the job itself. */
export interface DecideContext {
  readonly profile: Profile;
  readonly by: string;
  readonly role: Role;
  /** Why a shelf module cannot be had, as a sentence; null when it can. */
  readonly whyNotFree: (moduleId: string) => string | null;
  /** Server time, epoch milliseconds. */
  readonly now: number;
  readonly isolation: IsolationPolicy;
  readonly gearPolicy: GearPolicy;
  readonly findGear: (gearId: string) => Gear | null;
  /** Why this person may not sign hazards today, as a sentence; null where they may. */
  readonly whyNotSign: string | null;
}

/** Gives the acts to be kept as events, in order. Refusals name the part of the act's body that is at fault. */
export function decide(state: JobState, act: Act, context: DecideContext): Result<readonly Act[]> {
  if (act.type === 'job.opened') {
    if (state.opened) return refuse('notPermitted', 'This job is open already.');
    const wanted = context.profile.moduleCount;
    if (act.body.moduleIds.length !== wanted)
      return refuse('mismatch', `${act.body.moduleIds.length} modules do not fill the ${wanted} places.`, ['body', 'moduleIds']);
    return keep(act);
  }
  if (!state.opened) return refuse('gone', 'This job was never opened.');
  const refusal = refuseStrip(state, act, context);
  if (refusal) return refusal;
  switch (act.type) {
    case 'fact.stated':
      return decideFact(act, context.profile);
    case 'sweep.started':
      if (act.body.restSince !== null && !findSweep(state, act.body.restSince))
        return refuse('gone', 'The sweep that the rest began with is not on this job.', ['body', 'restSince']);
      return keep(act);
    case 'sweep.ended':
      return findSweep(state, act.body.sweepId) ? keep(act) : noSweep();
    case 'reading.taken':
      return decideReading(state, act, act.body);
    case 'readings.imported': {
      const { moduleCount } = context.profile;
      for (const [i, sweep] of act.body.sweeps.entries())
        for (const [j, { place, quantity }] of sweep.readings.entries()) {
          const path = ['body', 'sweeps', i, 'readings', j];
          if (place > moduleCount) return refuse('unknownName', `There is no place ${place}.`, [...path, 'place']);
          if (!SWEEP_QUANTITIES[sweep.kind].includes(quantity))
            return refuse('mismatch', `A ${sweep.kind} sweep takes no ${quantity}.`, [...path, 'quantity']);
        }
      return keep(act);
    }
    case 'reading.chosen': {
      const sweep = findSweep(state, act.body.sweepId);
      if (!sweep) return noSweep();
      const list = sweep.readings[act.body.quantity]?.[act.body.place] ?? [];
      if (!list.some((r) => r.commandId === act.body.commandId))
        return refuse('gone', 'That reading is not there any more.', ['body', 'commandId']);
      return keep(act);
    }
    case 'act.withdrawn': {
      const isMine = (state.undoable[context.by] ?? []).some((u) => u.commandId === act.body.commandId);
      return isMine ? keep(act) : refuse('gone', 'Only your own recent acts on this job can be taken back.', ['body', 'commandId']);
    }
    case 'plan.chosen':
      return decidePlan(state, act, context);
    case 'plan.withdrawn':
      if (context.role === 'apprentice') return refuse('notPermitted', 'A technician or the lead withdraws a plan.');
      return state.plan?.planId === act.body.planId ? keep(act) : refuse('gone', 'That plan does not stand any more.', ['body', 'planId']);
    case 'policy.adopted':
      return context.role === 'apprentice' ? refuse('notPermitted', 'A technician or the lead changes the limits of a job.') : keep(act);
    case 'step.done':
    case 'step.reopened':
      return hasStep(act.body.stepId, context) ? keep(act) : noStep(act.body.stepId);
    case 'gear.picked':
      return decidePick(act, context);
    case 'wait.lengthened':
    case 'shift.ended':
    case 'insulation.read':
      return keep(act);
    case 'insulation.tested': {
      const tester = findPickRefusal(act.body.testerId, 'insulation', context, 'testerId');
      return tester.kind === 'refused' ? tester : keep(act);
    }
    case 'proof.started':
      return decideProofStart(act, context);
    case 'proof.read':
    case 'cosign.asked':
      return state.isolation.proofs.some((p) => p.proofId === act.body.proofId) ? keep(act) : noProof();
    case 'proof.signed':
      return decideSignature(state, act, context);
    case 'step.overridden':
      return decideOverride(act, context);
    default:
      return keep(act);
  }
}

function keep(act: Act): Result<readonly Act[]> {
  return answer([act]);
}

function noSweep(): Refusal {
  return refuse('gone', 'That sweep is not on this job; it may have been taken back.', ['body', 'sweepId']);
}

function decideFact(act: Extract<Act, { type: 'fact.stated' }>, profile: Profile): Result<readonly Act[]> {
  const { fact } = act.body;
  if (fact.kind === 'frame' && !profile.frames.some((f) => f.id === fact.frame))
    return refuse('unknownName', `The pack has no frame "${fact.frame}".`, ['body', 'fact', 'frame']);
  if (fact.kind === 'links') {
    const odd = fact.links.findIndex((k) => k >= profile.moduleCount || k === profile.plug.opensLink);
    if (odd >= 0) return refuse('unknownName', `Link ${fact.links[odd]} is not one that a hand opens.`, ['body', 'fact', 'links', odd]);
  }
  return keep(act);
}

function decideReading(state: JobState, act: Act, body: ActBody<'reading.taken'>): Result<readonly Act[]> {
  const sweep = findSweep(state, body.sweepId);
  if (!sweep) return noSweep();
  if (postIndex(body.place, '-') >= 2 * state.moduleIds.length)
    return refuse('unknownName', `There is no place ${body.place}.`, ['body', 'place']);
  if (!SWEEP_QUANTITIES[sweep.kind].includes(body.quantity))
    return refuse('mismatch', `A ${sweep.kind} sweep takes no ${body.quantity}.`, ['body', 'quantity']);
  return keep(act);
}

function decidePlan(state: JobState, act: Extract<Act, { type: 'plan.chosen' }>, context: DecideContext): Result<readonly Act[]> {
  const { school, moduleIds, fromShelf } = act.body;
  if (context.role === 'apprentice') return refuse('notPermitted', 'A technician or the lead chooses the plan.');
  if (state.plan) return refuse('notPermitted', 'A plan stands already. Withdraw it before choosing another.');
  if (school === 'exchangePack') {
    return moduleIds.length + fromShelf.length === 0
      ? keep(act)
      : refuse('mismatch', 'An exchange pack takes no modules.', ['body', 'moduleIds']);
  }
  if (moduleIds.length !== context.profile.moduleCount)
    return refuse('mismatch', `${moduleIds.length} modules do not fill ${context.profile.moduleCount} places.`, ['body', 'moduleIds']);
  const isShelf = new Set(fromShelf);
  const isMine = new Set(state.moduleIds);
  const seen = new Set<string>();
  for (const [i, id] of moduleIds.entries()) {
    if (seen.has(id)) return refuse('mismatch', `Module ${id} stands twice in the plan.`, ['body', 'moduleIds', i]);
    seen.add(id);
    if (isShelf.has(id) === isMine.has(id))
      return refuse('unknownName', `Module ${id} is ${isMine.has(id) ? 'in this pack, not on the shelf' : 'not in this pack'}.`, [
        'body',
        'moduleIds',
        i,
      ]);
  }
  for (const [i, id] of fromShelf.entries()) {
    if (!seen.has(id)) return refuse('mismatch', `Module ${id} is taken from the shelf and used nowhere.`, ['body', 'fromShelf', i]);
    const why = context.whyNotFree(id);
    if (why !== null) return refuse('taken', why, ['body', 'fromShelf', i]);
  }
  return keep(act);
}

function noProof(): Refusal {
  return refuse('gone', 'That proof is not on this job.', ['body', 'proofId']);
}

function noStep(stepId: string): Refusal {
  return refuse('unknownName', `This procedure has no step "${stepId}".`, ['body', 'stepId']);
}

function hasStep(stepId: string, { profile, isolation }: DecideContext): boolean {
  return planSteps(profile, isolation).some((s) => s.id === stepId);
}

/** Highest voltage that gear may meet on this pack. */
function stringVolt({ moduleCount, moduleType }: Profile): number {
  return moduleCount * moduleType.maximumModuleVolt;
}

function findPickRefusal(gearId: string, use: ActBody<'gear.picked'>['use'], context: DecideContext, path: string): Refusal | Gear {
  const gear = context.findGear(gearId);
  if (!gear) return refuse('unknownName', `The shop has no gear "${gearId}".`, ['body', path]);
  const today = localTime(context.now, context.isolation.timeZone).date;
  const why = whyNotPick(gear, use, stringVolt(context.profile), context.gearPolicy, today);
  return why === null ? gear : refuse('notPermitted', `${gear.label} cannot be picked. ${why}`, ['body', path]);
}

function decidePick(act: Extract<Act, { type: 'gear.picked' }>, context: DecideContext): Result<readonly Act[]> {
  const found = findPickRefusal(act.body.gearId, act.body.use, context, 'gearId');
  return found.kind === 'refused' ? found : keep(act);
}

/** A proving unit reads within this share of what is written on it (common practice, no source). */
const PROVING_SHARE = 0.1;

function decideProofStart(act: Extract<Act, { type: 'proof.started' }>, context: DecideContext): Result<readonly Act[]> {
  const { body } = act;
  const { isolation } = context;
  const meter = findPickRefusal(body.meterId, 'meter', context, 'meterId');
  if (meter.kind === 'refused') return meter;
  const filled = { limitVolt: isolation.limitVolt, resolutionVolt: meter.kind === 'meter' ? meter.resolutionVolt : body.resolutionVolt };
  if (body.source === 'battery') {
    if (body.sourceId !== null) return refuse('mismatch', 'The 12 V battery has no number in the register.', ['body', 'sourceId']);
    const known = { lowVolt: isolation.batteryLowVolt, highVolt: isolation.batteryHighVolt };
    return keep({ ...act, body: { ...body, ...filled, known } });
  }
  if (body.sourceId === null) return refuse('mismatch', 'Say which proving unit.', ['body', 'sourceId']);
  const unit = findPickRefusal(body.sourceId, 'knownSource', context, 'sourceId');
  if (unit.kind === 'refused') return unit;
  const volt = unit.kind === 'provingUnit' ? unit.outputVolt : body.known.highVolt;
  return keep({
    ...act,
    body: { ...body, ...filled, known: { lowVolt: volt * (1 - PROVING_SHARE), highVolt: volt * (1 + PROVING_SHARE) } },
  });
}

function decideSignature(state: JobState, act: Extract<Act, { type: 'proof.signed' }>, context: DecideContext): Result<readonly Act[]> {
  const { isolation, profile, now } = context;
  const proof = state.isolation.proofs.find((p) => p.proofId === act.body.proofId);
  if (!proof) return noProof();
  if (proof.signed) return refuse('notPermitted', 'This proof is signed already.');
  if (context.whyNotSign !== null) return refuse('notPermitted', context.whyNotSign);
  const found = findIsolation(state, profile, isolation, now);
  if (found.proof?.proofId !== proof.proofId) return refuse('gone', 'A later proof was begun; sign that one.', ['body', 'proofId']);
  const [first] = found.blockers;
  if (first !== undefined)
    return refuse('notPermitted', found.blockers.length > 1 ? `${first} And ${found.blockers.length - 1} more.` : first);
  const until = isolation.shiftEnd === null ? null : new Date(nextTimeOfDay(now, isolation.shiftEnd, isolation.timeZone)).toISOString();
  return keep({ ...act, body: { proofId: proof.proofId, until, breakMinute: isolation.breakMinute } });
}

function decideOverride(act: Extract<Act, { type: 'step.overridden' }>, context: DecideContext): Result<readonly Act[]> {
  const step = planSteps(context.profile, context.isolation).find((s) => s.id === act.body.stepId);
  if (!step) return noStep(act.body.stepId);
  if (context.role !== 'lead') return refuse('notPermitted', 'Only the lead overrides a step.');
  if (context.whyNotSign !== null) return refuse('notPermitted', context.whyNotSign);
  return step.canBeOverridden ? keep(act) : refuse('notPermitted', `"${step.title}" cannot be overridden by anybody.`, ['body', 'stepId']);
}

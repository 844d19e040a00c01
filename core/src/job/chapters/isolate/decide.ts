/** What becomes of acts of isolation: readings and steps are kept, gear, proofs and overrides are permits. */
import { whyNotPick, type GearUse } from '../../../gear/due.ts';
import type { Gear } from '../../../gear/gear.ts';
import { planSteps } from '../../../isolate/procedure.ts';
import { knownRange } from '../../../isolate/known-source.ts';
import { stringVolt } from '../../../pack/profile.ts';
import { localTime, nextTimeOfDay } from '../../../quantity/calendar.ts';
import { refuse, type Refusal } from '../../../result.ts';
import type { DecideContext } from '../chapter.ts';
import type { Chapter } from '../table.ts';
import type { ISOLATE, IsolateAct } from './acts.ts';
import type { IsolateState } from './state.ts';
import { findIsolation } from './view.ts';

export const decideIsolate = {
  'step.done': (_slice, act, context) => refuseStep(act.body.stepId, context),
  'step.reopened': (_slice, act, context) => refuseStep(act.body.stepId, context),
  'gear.picked': (_slice, act, context) => asRefusal(findGear(act.body.gearId, act.body.use, context, 'gearId')),
  'insulation.tested': (_slice, act, context) => asRefusal(findGear(act.body.testerId, 'insulation', context, 'testerId')),
  'proof.started': (_slice, act, context) => decideStart(act, context),
  'proof.signed': (slice, act, context, { pack, late, lastAt }) => {
    const { isolation, profile, now } = context;
    const proof = slice.proofs.find((p) => p.proofId === act.body.proofId);
    if (!proof) return noProof();
    if (proof.signed) return refuse('notPermitted', 'This proof is signed already.');
    if (context.whyNotSign !== null) return refuse('notPermitted', context.whyNotSign);
    const found = findIsolation({ isolate: slice, pack, late, lastAt }, profile, isolation, now);
    if (found.proof?.proofId !== proof.proofId) return refuse('gone', 'A later proof was begun; sign that one.', ['body', 'proofId']);
    const [first] = found.blockers;
    if (first !== undefined)
      return refuse('notPermitted', found.blockers.length > 1 ? `${first} And ${found.blockers.length - 1} more.` : first);
    const { shiftEnd, timeZone, breakMinute } = isolation;
    const until = shiftEnd === null ? null : new Date(nextTimeOfDay(now, shiftEnd, timeZone)).toISOString();
    return { ...act, body: { proofId: proof.proofId, until, breakMinute } };
  },
  'step.overridden': (_slice, act, context) => {
    const step = planSteps(context.profile, context.isolation).find((s) => s.id === act.body.stepId);
    if (!step) return noStep(act.body.stepId);
    if (context.whyNotSign !== null) return refuse('notPermitted', context.whyNotSign);
    return step.canBeOverridden ? null : refuse('notPermitted', `"${step.title}" cannot be overridden by anybody.`, ['body', 'stepId']);
  },
} satisfies Chapter<IsolateState, typeof ISOLATE>['decide'];

function refuseStep(stepId: string, { profile, isolation }: DecideContext): Refusal | null {
  return planSteps(profile, isolation).some((s) => s.id === stepId) ? null : noStep(stepId);
}

function noStep(stepId: string): Refusal {
  return refuse('unknownName', `This procedure has no step "${stepId}".`, ['body', 'stepId']);
}

function noProof(): Refusal {
  return refuse('gone', 'That proof is not on this job.', ['body', 'proofId']);
}

function findGear(gearId: string, use: GearUse, context: DecideContext, path: string): Refusal | Gear {
  const gear = context.findGear(gearId);
  if (!gear) return refuse('unknownName', `The shop has no gear "${gearId}".`, ['body', path]);
  const today = localTime(context.now, context.isolation.timeZone).date;
  const why = whyNotPick(gear, use, stringVolt(context.profile), context.gearPolicy, today);
  return why === null ? gear : refuse('notPermitted', `${gear.label} cannot be picked. ${why}`, ['body', path]);
}

function asRefusal(found: Refusal | Gear): Refusal | null {
  return found.kind === 'refused' ? found : null;
}

type ProofStart = Extract<IsolateAct, { type: 'proof.started' }>;

function decideStart(act: ProofStart, context: DecideContext): Refusal | ProofStart {
  const { body } = act;
  const { isolation } = context;
  const meter = findGear(body.meterId, 'meter', context, 'meterId');
  if (meter.kind === 'refused') return meter;
  const filled = { limitVolt: isolation.limitVolt, resolutionVolt: meter.kind === 'meter' ? meter.resolutionVolt : body.resolutionVolt };
  if (body.source === 'battery') {
    if (body.sourceId !== null) return refuse('mismatch', 'The 12 V battery has no number in the register.', ['body', 'sourceId']);
    return { ...act, body: { ...body, ...filled, known: knownRange(null, isolation) } };
  }
  if (body.sourceId === null) return refuse('mismatch', 'Say which proving unit.', ['body', 'sourceId']);
  const unit = findGear(body.sourceId, 'knownSource', context, 'sourceId');
  if (unit.kind === 'refused') return unit;
  const known = unit.kind === 'provingUnit' ? knownRange(unit.outputVolt, isolation) : body.known;
  return { ...act, body: { ...body, ...filled, known } };
}

/**
 * What becomes of an act: events, or a refusal with its reason. Facts are accepted whatever the order; only permits can be refused on
 * their conditions, and a permit without a case is refused. A name that does not exist is refused in both.
 */
import type { Profile } from '../../pack/profile.ts';
import { answer, refuse, type Refusal, type Result } from '../../result.ts';
import { ROLES, type DecideContext, type JobScene, type Role, type Trait } from '../chapters/chapter.ts';
import { capacityOf } from '../chapters/sweep/view.ts';
import { stampOf } from '../chapters/stamp.ts';
import { ACT_TRAITS, type Act, type FrameAct, type Said } from './acts.ts';
import { findUnmet } from './closing.ts';
import { meansBesides } from './means-besides.ts';
import { chapterOf, inTimeOf } from './fold.ts';
import { actOfSaid, findAnswered, whyNotPassed } from './passed.ts';
import { CHAPTERS, type ChapterName, type JobState } from './state.ts';

/** Null keeps the act as it is; another act is kept in its place. */
type Decision = Act | Refusal | null;
type AnyDecider = (slice: unknown, act: Act, context: DecideContext, scene: JobScene) => Decision;
const DECIDERS = CHAPTERS as unknown as Readonly<Record<ChapterName, { readonly decide: Readonly<Record<string, AnyDecider>> }>>;

/** An act to be kept; one that was passed on before keeps its own id and time. */
export type DecidedAct = Act & { readonly asSaid?: Pick<Said, 'commandId' | 'deviceAt' | 'device'> };

/** Gives the acts to be kept as events, in order. Refusals name the part of the act's body that is at fault. */
export function decide(state: JobState, act: Act, context: DecideContext): Result<readonly DecidedAct[]> {
  const trait = ACT_TRAITS[act.type];
  if (act.type !== 'job.opened' && !state.intake.opened) return refuse('gone', 'This job was never opened.');
  const refusal = refuseByRole(trait, context.role) ?? refuseClosed(state, act, trait);
  if (refusal) return refusal;
  if (act.type === 'word.passed') return decidePassed(state, act, context);
  if (act.type === 'word.confirmed') return decideConfirmed(state, act, context);
  const decided = decideByOwner(state, act, trait, context);
  if (decided !== null && 'kind' in decided) return decided;
  const kept = decided ?? act;
  return answer([kept, ...meansBesides(state, kept, context.profile, context.stamp ?? null)]);
}

/** A word passed on is kept if it could be kept as said by whoever passes it on. */
function decidePassed(state: JobState, act: Extract<Act, { type: 'word.passed' }>, context: DecideContext): Result<readonly Act[]> {
  const refusal = whyNotPassed(act.body);
  if (refusal) return refusal;
  const said = decide(state, actOfSaid(act.body.said), { ...context, by: act.body.of });
  return said.kind === 'refused' ? said : answer([act]);
}

/** What is so after all becomes events now, each as of the time at which it was said: as if it had come late. */
function decideConfirmed(
  state: JobState,
  act: Extract<Act, { type: 'word.confirmed' }>,
  context: DecideContext,
): Result<readonly DecidedAct[]> {
  const { by, role, now } = context;
  const words = findAnswered(state, act.body, { by, isLead: role === 'lead' });
  if (words.kind === 'refused') return words;
  const kept: DecidedAct[] = [act];
  for (const { said } of act.body.areSo ? words.value : []) {
    const { commandId, deviceAt, device } = said;
    const header = { number: state.head + 1 + kept.length, by, at: new Date(now).toISOString(), deviceAt, device };
    const decided = decide(state, actOfSaid(said), { ...context, stamp: stampOf(inTimeOf(state, header)) });
    if (decided.kind === 'refused') return decided;
    kept.push(...decided.value.map((one) => ({ ...one, asSaid: { commandId, deviceAt, device } })));
  }
  return answer(kept);
}

const WHO: Record<Role, string> = { apprentice: 'Anybody', technician: 'A technician or the lead', lead: 'Only the lead' };

/** Whether a role may do what is asked of at least another. */
export function isAtLeast(role: Role, least: Role): boolean {
  return ROLES.indexOf(role) >= ROLES.indexOf(least);
}

function refuseByRole({ least, does }: Trait, role: Role): Refusal | null {
  return isAtLeast(role, least) ? null : refuse('notPermitted', `${WHO[least]} ${does}.`);
}

/** Permits that a closed job still gives. */
const AFTER_CLOSING: ReadonlySet<Act['type']> = new Set(['job.closed', 'job.reopened', 'photo.erased']);

function refuseClosed({ intake }: JobState, { type }: Act, { nature }: Trait): Refusal | null {
  return intake.closed && nature === 'permit' && !AFTER_CLOSING.has(type)
    ? refuse('notPermitted', 'This job is closed. Open it again first, with a reason.')
    : null;
}

function decideByOwner(state: JobState, act: Act, trait: Trait, context: DecideContext): Decision {
  const owner = chapterOf(act.type);
  if (owner === null) return decideFrame(state, act as FrameAct, context);
  const decider = DECIDERS[owner].decide[act.type];
  if (decider) return decider(state[owner], act, context, sceneOf(state, context.profile));
  return trait.nature === 'fact' ? null : refuse('notPermitted', `Nothing here decides whether somebody ${trait.does}.`);
}

function sceneOf(state: JobState, profile: Profile): JobScene {
  return {
    pack: state.pack,
    late: state.late,
    lastAt: state.lastAt,
    capacityAh: (moduleId) => capacityOf(state.sweep, moduleId),
    unmet: () => findUnmet(state, profile),
  };
}

function decideFrame(state: JobState, act: FrameAct, { profile, by }: DecideContext): Decision {
  switch (act.type) {
    case 'fact.stated':
      return refuseFact(act.body.fact, profile);
    case 'act.withdrawn': {
      const isMine = (state.undoable.get(by) ?? []).some((u) => u.commandId === act.body.commandId);
      return isMine ? null : refuse('gone', 'Only your own recent acts on this job can be taken back.', ['body', 'commandId']);
    }
    case 'policy.adopted':
    case 'word.passed':
    case 'word.confirmed':
      return null;
  }
}

function refuseFact(fact: Extract<FrameAct, { type: 'fact.stated' }>['body']['fact'], profile: Profile): Refusal | null {
  if (fact.kind === 'frame' && !profile.frames.some((f) => f.id === fact.frame))
    return refuse('unknownName', `The pack has no frame "${fact.frame}".`, ['body', 'fact', 'frame']);
  if (fact.kind === 'module' && fact.place > profile.moduleCount)
    return refuse('unknownName', `There is no place ${fact.place}.`, ['body', 'fact', 'place']);
  if (fact.kind === 'links') {
    const odd = fact.links.findIndex((k) => k >= profile.moduleCount || k === profile.plug.opensLink);
    if (odd >= 0) return refuse('unknownName', `Link ${fact.links[odd]} is not one that a hand opens.`, ['body', 'fact', 'links', odd]);
  }
  return null;
}

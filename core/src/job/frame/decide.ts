/**
 * What becomes of an act: events, or a refusal with its reason. Facts are accepted whatever the order; only permits can be refused on
 * their conditions, and a permit without a case is refused. A name that does not exist is refused in both.
 */
import type { Profile } from '../../pack/profile.ts';
import { answer, refuse, type Refusal, type Result } from '../../result.ts';
import { ROLES, type DecideContext, type Decision, type JobScene, type Role, type Trait } from '../chapters/chapter.ts';
import { capacityOf } from '../chapters/sweep/view.ts';
import { ACT_TRAITS, type Act, type FrameAct } from './acts.ts';
import { findUnmet } from './closing.ts';
import { meansBesides } from './counts.ts';
import { chapterOf } from './fold.ts';
import { CHAPTERS, type ChapterName, type JobState } from './state.ts';

type AnyDecider = (slice: unknown, act: Act, context: DecideContext, scene: JobScene) => Decision<Act>;
const DECIDERS = CHAPTERS as unknown as Readonly<Record<ChapterName, { readonly decide: Readonly<Record<string, AnyDecider>> }>>;

/** Gives the acts to be kept as events, in order. Refusals name the part of the act's body that is at fault. */
export function decide(state: JobState, act: Act, context: DecideContext): Result<readonly Act[]> {
  const trait = ACT_TRAITS[act.type];
  if (act.type !== 'job.opened' && !state.intake.opened) return refuse('gone', 'This job was never opened.');
  const refusal = refuseByRole(trait, context.role) ?? refuseClosed(state, act, trait);
  if (refusal) return refusal;
  const decided = decideByOwner(state, act, trait, context);
  if (decided !== null && 'kind' in decided) return decided;
  const kept = decided ?? act;
  return answer([kept, ...meansBesides(state, kept, context.profile, context.stamp ?? null)]);
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

function decideByOwner(state: JobState, act: Act, trait: Trait, context: DecideContext): Decision<Act> {
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

function decideFrame(state: JobState, act: FrameAct, { profile, by }: DecideContext): Decision<Act> {
  switch (act.type) {
    case 'fact.stated':
      return refuseFact(act.body.fact, profile);
    case 'act.withdrawn': {
      const isMine = (state.undoable.get(by) ?? []).some((u) => u.commandId === act.body.commandId);
      return isMine ? null : refuse('gone', 'Only your own recent acts on this job can be taken back.', ['body', 'commandId']);
    }
    case 'policy.adopted':
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

/**
 * Words passed on: what somebody sends in another's name, and nothing proves that the other said it. It may have happened, so it raises
 * the line and ends a proof; it may not, so it lowers nothing and satisfies nothing, until the person in whose name it is says it too.
 */
import type { Effect } from '../../pack/effect.ts';
import type { Fact } from '../../pack/fact.ts';
import type { Profile } from '../../pack/profile.ts';
import { answer, refuse, type Refusal, type Result } from '../../result.ts';
import type { EventHeader } from '../chapters/chapter.ts';
import { stampOf } from '../chapters/stamp.ts';
import { ACT_TRAITS, isActType, type Act, type ActBody, type Said } from './acts.ts';
import { possiblyCounted } from './counted-hazards.ts';
import type { JobState, PassedWord } from './state.ts';
import { doubtStatement } from './statements.ts';

/** The act that was passed on; the event that says so was brought up with it. */
export function actOfSaid({ type, body }: Said): Act {
  return { type, body } as unknown as Act;
}

/** Why an act may not be kept as a word passed on; null where it may. */
export function whyNotPassed({ of, said: { type } }: ActBody<'word.passed'>): Refusal | null {
  if (isActType(type) && ACT_TRAITS[type].isPassedOn) return null;
  const does = isActType(type) ? ACT_TRAITS[type].does : `does "${type}"`;
  return refuse('notPermitted', `Nobody ${does} for ${of}: it waits for ${of}.`, ['body', 'said', 'type']);
}

/** What of the pack an act may have changed. */
function factsMeant(act: Act, profile: Profile): Fact[] {
  if (act.type === 'fact.stated') return [act.body.fact];
  return act.type === 'part.moved' ? possiblyCounted(act.body, profile) : [];
}

/** Takes a word passed on into the state. @param hear tells who listens what may have happened */
export function takePassed(
  state: JobState,
  profile: Profile,
  event: EventHeader & { readonly body: ActBody<'word.passed'> },
  act: Act,
  hear: (effect: Effect) => void,
): void {
  const { number, by, at, body } = event;
  const stamp = stampOf(headerOf(event));
  const facts = factsMeant(act, profile);
  for (const fact of facts) doubtStatement(state, fact, stamp, profile, hear);
  state.passed.push({ number, by, at, ...body, facts, stamp });
}

/** By whom and when it was said, if it was. */
export function headerOf({ number, at, setBackFrom, body }: EventHeader & { readonly body: ActBody<'word.passed'> }): EventHeader {
  const { commandId, deviceAt, device } = body.said;
  return { number, commandId, by: body.of, at, deviceAt, device, ...(setBackFrom === undefined ? {} : { setBackFrom }) };
}

/** The words that an answer is for, or why it cannot be given. The lead may set aside what nobody answers for any more. */
export function findAnswered(
  { passed }: Pick<JobState, 'passed'>,
  { commandIds, areSo }: ActBody<'word.confirmed'>,
  { by, isLead }: { readonly by: string; readonly isLead: boolean },
): Result<readonly PassedWord[]> {
  const found: PassedWord[] = [];
  for (const [i, id] of commandIds.entries()) {
    const word = passed.find((p) => p.said.commandId === id);
    if (!word) return refuse('gone', 'This word was answered for already, or never passed on.', ['body', 'commandIds', i]);
    if (word.of !== by && (areSo || !isLead))
      return refuse('notPermitted', `Only ${word.of} answers for this word; the lead may set it aside.`, ['body', 'commandIds', i]);
    found.push(word);
  }
  return answer(found);
}

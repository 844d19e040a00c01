import { everyAct } from '../../../test/every-act.ts';
import { contextOf } from '../../../test/job-fixture.ts';
import { ROLES, type Role } from '../chapters/chapter.ts';
import { ACT_TRAITS, ACT_TYPES, actSchema, type Act } from './acts.ts';
import { decide, isAtLeast } from './decide.ts';
import { chapterOf, fold } from './fold.ts';
import { CHAPTERS, jobStateSchema, moduleIdsOf, writeState, type JobState } from './state.ts';

const { job, acts } = everyAct();
const state = job.state();
const ask = (act: Act, role: Role, over: Partial<JobState> = {}) => decide({ ...state, ...over }, act, contextOf(job, { role }));

describe.each(ACT_TYPES)('%s', (type) => {
  const act: Act = acts[type];
  const trait = ACT_TRAITS[type];

  it('fits its schema', () => {
    expect(actSchema.safeParse(act).error).toBeUndefined();
  });

  it.each(ROLES)('is refused to a %s by its trait, or not for the role', (role) => {
    const decided = ask(act, role);
    const isRoleAtFault = decided.kind === 'refused' && decided.message.endsWith(`${trait.does}.`);
    expect(isRoleAtFault).toBe(!isAtLeast(role, trait.least));
  });

  it('can be taken back by its author exactly if its trait says so', () => {
    const number = job.events.length + 1;
    const at = new Date(job.now + 1000).toISOString();
    const after = fold(contextOf(job).profile, [...job.events, { number, commandId: 'mine', by: 'zz', at, deviceAt: at, ...act }]);
    expect(after.undoable.has('zz')).toBe(trait.isTakenBack);
  });

  it('leaves the job at the stage that its trait names', () => {
    const number = job.events.length + 1;
    const at = new Date(job.now + 1000).toISOString();
    const after = fold(contextOf(job).profile, [...job.events, { number, commandId: 'mine', by: 'zz', at, deviceAt: at, ...act }]);
    const named = trait.stage === 'body' ? (act.body as { stage: string }).stage : (trait.stage ?? state.stage);
    expect(after.stage).toBe(named);
  });
});

const CLOSED = { ...state.intake, closed: { by: 'ts', at: '', number: 1, outcome: 'finished' as const, note: '', unmet: [] } };
const facts = ACT_TYPES.filter((t) => ACT_TRAITS[t].nature === 'fact' && t !== 'job.opened');
const permits = ACT_TYPES.filter((t) => ACT_TRAITS[t].nature === 'permit');

it.each(facts)('the fact %s is kept from every role, also on a closed job', (type) => {
  for (const role of ROLES) expect(ask(acts[type], role, { intake: CLOSED })).toEqual({ kind: 'answer', value: [acts[type]] });
});

it.each(permits)('the permit %s is refused on a closed job, but for those that closing leaves', (type) => {
  const decided = ask(acts[type], 'lead', { intake: CLOSED });
  const isRefused = decided.kind === 'refused' && decided.message.startsWith('This job is closed.');
  expect(isRefused).toBe(!['job.closed', 'job.reopened', 'photo.erased'].includes(type));
});

it('has a case of deciding for every permit, so that none is granted by silence', () => {
  const decided = Object.values(CHAPTERS).flatMap((c) => Object.keys(c.decide));
  expect(permits.filter((t) => chapterOf(t) !== null && !decided.includes(t))).toEqual([]);
});

it('crosses a wall as text and comes back the same, whatever people and steps are called', () => {
  job.add({ type: 'step.done', body: { stepId: 'constructor', note: '' } }, 'constructor');
  job.add(acts['part.added'], '__proto__');
  job.add(acts['transfer.stated']);
  const whole = job.state();
  const back = jobStateSchema.parse(JSON.parse(writeState(whole)));
  expect(back).toEqual(whole);
  expect(back.undoable.get('__proto__')).toHaveLength(1);
  expect(back.isolate.steps.get('constructor')).toMatchObject({ by: 'constructor' });
  expect(moduleIdsOf(back)).toHaveLength(28);
});

import fc from 'fast-check';
import { everyAct } from '../../../test/every-act.ts';
import { Isolating } from '../../../test/isolating.ts';
import { contextOf, profile, Recorder } from '../../../test/job-fixture.ts';
import type { Fact } from '../../pack/fact.ts';
import { standingProof } from '../chapters/isolate/proofs.ts';
import type { DecideContext } from '../chapters/chapter.ts';
import { findJobExposure } from '../line/exposure.ts';
import { ACT_TRAITS, ACT_TYPES, type Act, type ActBody } from './acts.ts';
import { findUnmet } from './closing.ts';
import { decide, type DecidedAct } from './decide.ts';
import { fold } from './fold.ts';
import { readEvent } from './read-event.ts';
import { jobStateSchema, writeState, type JobState } from './state.ts';

const reachable = (state: JobState): number => findJobExposure(state, profile).reachable.volt;
const stated = (fact: Fact): Act => ({ type: 'fact.stated', body: { stage: 'isolate', fact } });

function passedOf(job: Recorder, act: Act, over: Partial<ActBody<'word.passed'>['said']> = {}): Extract<Act, { type: 'word.passed' }> {
  const deviceAt = new Date(job.now).toISOString();
  const device = { id: 'd-om', isClockSure: true, turn: job.events.length };
  const body = act.body as Record<string, unknown>;
  const said = {
    commandId: `p${job.events.length}`,
    deviceAt,
    device,
    type: act.type,
    version: ACT_TRAITS[act.type].version,
    body,
    ...over,
  };
  return { type: 'word.passed', body: { of: 'om', said } };
}

/** TS passes on what is said to be OM's. */
function pass(job: Recorder, act: Act): string {
  const passed = passedOf(job, act);
  const outcome = decide(job.state(), passed, contextOf(job, { by: 'ts', role: 'apprentice' }));
  if (outcome.kind === 'refused') throw new Error(outcome.message);
  for (const one of outcome.value) job.add(one, 'ts');
  return passed.body.said.commandId;
}

const answerFor = (job: Recorder, commandIds: readonly string[], areSo: boolean, over: Partial<DecideContext> = {}) =>
  decide(job.state(), { type: 'word.confirmed', body: { commandIds: [...commandIds], areSo } }, contextOf(job, over));

/** Keeps as the server does: what was passed on keeps its own id and time. */
function keep(job: Recorder, acts: readonly DecidedAct[], by = 'om'): void {
  for (const { asSaid, ...act } of acts) {
    job.add(act, by);
    const last = job.events.at(-1);
    if (asSaid && last) job.events.splice(-1, 1, { ...last, ...asSaid });
  }
}

const passable = ACT_TYPES.filter((type) => ACT_TRAITS[type].isPassedOn);

it('passes on facts alone, and of them none that takes back, ends a shift, opens a job, or has a part beside the log', () => {
  const waiting = ACT_TYPES.filter((type) => !ACT_TRAITS[type].isPassedOn && ACT_TRAITS[type].nature === 'fact');
  expect(waiting).toEqual([
    'job.opened',
    'papers.corrected',
    'act.withdrawn',
    'word.passed',
    'word.confirmed',
    'shift.ended',
    'photo.taken',
  ]);
  expect(passable.filter((type) => ACT_TRAITS[type].nature === 'permit')).toEqual([]);
});

it('is answered for with the job locked for every table that what was said may write', () => {
  const writes = new Set(passable.flatMap((type) => ACT_TRAITS[type].writes));
  expect(ACT_TRAITS['word.confirmed'].writes).toEqual([...writes]);
});

describe.each(passable)('%s, in the name of another', (type) => {
  const { job, acts } = everyAct();
  const before = job.state();
  job.add(passedOf(job, acts[type]), 'ts');
  const after = job.state();

  it('lowers nothing, meets no need, and is nothing its author did', () => {
    expect(reachable(after)).toBeGreaterThanOrEqual(reachable(before));
    expect(after.pack).toEqual(before.pack);
    const waits = '2 words passed on for OM wait for OM’s answer.';
    expect(findUnmet(after, profile)).toEqual(expect.arrayContaining([...findUnmet(before, profile).slice(0, -1), waits]));
    expect(after.undoable).toEqual(before.undoable);
    expect(after.stage).toBe(before.stage);
    expect(after.facts).toEqual(before.facts);
    // no chapter but those that grow more careful by it knows of it
    for (const name of ['intake', 'strip', 'finding', 'open', 'plan', 'rebuild', 'cool', 'handOver'] as const)
      expect(after[name]).toEqual(before[name]);
  });

  it('crosses a wall as text', () => {
    expect(jobStateSchema.parse(JSON.parse(writeState(after)))).toEqual(after);
  });
});

describe('what may have happened is counted on', () => {
  const dead = (): { readonly job: Isolating; readonly proofId: string } => {
    const job = new Isolating().down();
    const proofId = job.prove();
    expect(job.sign(proofId)).toBeNull();
    expect(standingProof(job.state().isolate)).not.toBeNull();
    return { job, proofId };
  };

  it.each<[string, Act]>([
    ['the plug is in again', stated({ kind: 'plug', isIn: true })],
    ['the key was touched', stated({ kind: 'key', isAway: false, custody: '' })],
    ['the car was woken', { type: 'wake.tried', body: { readyLight: true, lampsOut: true, engine: 'none', charging: 'none', chargePercent: null, note: '' } as never }], // prettier-ignore
    ['210 V at the posts', { type: 'proof.read', body: { proofId: '', entry: 'plusMinus', volt: 210, isFromMeter: false } }],
  ])('%s: no proof of dead stands', (_what, act) => {
    const { job, proofId } = dead();
    pass(job, act.type === 'proof.read' ? { ...act, body: { ...act.body, proofId } } : act);
    expect(standingProof(job.state().isolate)).toBeNull();
  });

  it('a part said to be out begins no wait and was moved by nobody', () => {
    const job = new Recorder().open();
    const before = job.state().isolate;
    pass(job, stated({ kind: 'plug', isIn: false }));
    pass(job, stated({ kind: 'twelveVolt', isOff: true }));
    const { plugOutAt, twelveVoltOffAt, touches } = job.state().isolate;
    expect({ plugOutAt, twelveVoltOffAt, touches }).toEqual({ plugOutAt: null, twelveVoltOffAt: null, touches: before.touches });
  });

  it('a reading that is good lays nothing to the proof', () => {
    const { job, proofId } = dead();
    const proofs = job.state().isolate.proofs;
    pass(job, { type: 'proof.read', body: { proofId, entry: 'plusMinus', volt: 0, isFromMeter: false } });
    expect(job.state().isolate.proofs).toEqual(proofs);
  });

  it('posts said to be bare are bare until they are stated after it', () => {
    const job = new Recorder().open();
    const before = reachable(job.state());
    pass(job, stated({ kind: 'connectors', are: 'open' }));
    expect(reachable(job.state())).toBeGreaterThan(before);
    expect(findJobExposure(job.state(), profile).basis.join()).toContain('passed on in another’s name, unproven');
    job.wait(0.1);
    job.fact('isolate', { kind: 'connectors', are: 'closed' });
    expect(reachable(job.state())).toBe(before);
  });

  it('what cleared it taken back, it holds again', () => {
    const job = new Recorder().open();
    const part = profile.parts.find((p) => p.effects.some((e) => e.kind === 'bares' && e.what === 'carSide'))?.id ?? '';
    pass(job, stated({ kind: 'connectors', are: 'open' }));
    const raised = reachable(job.state());
    job.wait(0.1);
    const move = { stage: 'refit', partId: part, count: 1, from: { kind: 'stud' }, to: { kind: 'inPlace' }, condition: 'good' };
    const outcome = decide(job.state(), { type: 'part.moved', body: move } as Act, contextOf(job));
    if (outcome.kind === 'refused') throw new Error(outcome.message);
    const first = job.events.length;
    keep(job, outcome.value);
    const commandId = job.events[first]?.commandId ?? '';
    for (let i = first; i < job.events.length; i++)
      job.events.splice(i, 1, { ...(job.events[i] as (typeof job.events)[number]), commandId });
    job.add({ type: 'act.withdrawn', body: { commandId, reason: 'mistyped' } });
    expect(reachable(job.state())).toBeGreaterThanOrEqual(raised);
  });

  it('said again and again it is one doubt, that holds until it is stated after the last time', () => {
    const job = new Recorder().open();
    const before = reachable(job.state());
    for (let i = 0; i < 5; i++) {
      pass(job, stated({ kind: 'connectors', are: 'open' }));
      job.wait(0.1);
    }
    expect(job.state().late.map((l) => l.thing)).toEqual(['carSide', 'outletPosts']);
    const passed = job.state().passed;
    expect(passed).toHaveLength(5);
    // stated between two of them it does not clear the last
    const at = new Date((passed[3]?.stamp.saidAt ?? 0) + 60_000).toISOString();
    job.fact('isolate', { kind: 'connectors', are: 'closed' });
    const last = job.events.at(-1);
    if (last) job.events.splice(-1, 1, { ...last, deviceAt: at, device: { id: 'd-ts', isClockSure: true, turn: 1 } });
    expect(reachable(job.state())).toBeGreaterThan(before);
    job.wait(0.1);
    job.fact('isolate', { kind: 'connectors', are: 'closed' });
    expect(reachable(job.state())).toBe(before);
  });

  it('a count that bares says what it bares', () => {
    const job = new Recorder().open();
    const part = profile.parts.find((p) => p.effects.some((e) => e.kind === 'bares' && e.what === 'carSide'));
    const before = reachable(job.state());
    pass(job, { type: 'part.moved', body: { stage: 'strip', partId: part?.id ?? '', count: 1, from: { kind: 'inPlace' }, to: { kind: 'stud' }, condition: 'good' } as never }); // prettier-ignore
    expect(reachable(job.state())).toBeGreaterThan(before);
    expect(job.state().strip.moved).toEqual([]);
  });
});

describe('an answer', () => {
  it('makes of it what it would be had it come late, by its author, at its own time', () => {
    const job = new Recorder().open();
    const plain = new Recorder().open();
    const first = pass(job, stated({ kind: 'plug', isIn: false }));
    job.wait(1);
    job.fact('isolate', { kind: 'twelveVolt', isOff: true });
    const answer = answerFor(job, [first], true);
    expect(answer).toMatchObject({ kind: 'answer', value: [{ type: 'word.confirmed' }, { type: 'fact.stated', asSaid: { commandId: first } }] }); // prettier-ignore
    if (answer.kind === 'answer') keep(job, answer.value);
    plain.events.push(...job.events.slice(1).filter((e) => e.type === 'fact.stated'));
    const [kept, came] = [job.state(), fold(profile, plain.events)];
    expect(kept.pack).toEqual(came.pack);
    expect(kept.pack.isPlugIn).toBe(false);
    expect(kept.facts.at(-1)).toMatchObject({ by: 'om', commandId: first });
    expect(kept.facts.at(-1)?.stamp.saidAt).toBeLessThan(kept.facts.at(-2)?.stamp.saidAt ?? 0);
    expect(kept.passed).toEqual([]);
  });

  it('leaves those that it is not for', () => {
    const job = new Recorder().open();
    const [first, second] = [pass(job, stated({ kind: 'plug', isIn: false })), pass(job, stated({ kind: 'case', isOpen: true }))];
    const answer = answerFor(job, [first], false);
    if (answer.kind === 'answer') keep(job, answer.value);
    expect(job.state().passed.map((p) => p.said.commandId)).toEqual([second]);
  });

  it('to a count says what the count means as of its time, not over what was stated since', () => {
    const job = new Recorder().open();
    const part = profile.parts.find((p) => p.effects.some((e) => e.kind === 'bares' && e.what === 'carSide'));
    const move = { stage: 'strip', partId: part?.id ?? '', count: 1, from: { kind: 'inPlace' }, to: { kind: 'stud' }, condition: 'good' };
    const word = pass(job, { type: 'part.moved', body: move } as Act);
    const answer = answerFor(job, [word], true);
    expect(answer).toMatchObject({ value: [{ type: 'word.confirmed' }, { type: 'part.moved' }, { type: 'fact.stated' }] });
    job.wait(1);
    job.fact('strip', { kind: 'connectors', are: 'closed' });
    const later = answerFor(job, [word], true);
    if (later.kind === 'answer') keep(job, later.value);
    expect(job.state().strip.moved).toHaveLength(1);
    expect(job.state().pack.connectors).toBe('closed');
  });

  it('does not undo what was stated since', () => {
    const job = new Recorder().open();
    const first = pass(job, stated({ kind: 'connectors', are: 'insulated' }));
    job.wait(1);
    job.fact('isolate', { kind: 'connectors', are: 'open' });
    const answer = answerFor(job, [first], true);
    if (answer.kind === 'answer') keep(job, answer.value);
    expect(job.state().pack.connectors).toBe('open');
  });

  it('is its author’s alone; the lead may set it aside, and nobody twice', () => {
    const job = new Recorder().open();
    const word = pass(job, stated({ kind: 'plug', isIn: false }));
    expect(answerFor(job, [word], true, { by: 'ts' })).toMatchObject({ code: 'notPermitted', path: ['body', 'commandIds', 0] });
    expect(answerFor(job, [word], true, { by: 'mk', role: 'lead' })).toMatchObject({ code: 'notPermitted' });
    expect(answerFor(job, [word], false, { by: 'ts' })).toMatchObject({ code: 'notPermitted' });
    const aside = answerFor(job, [word], false, { by: 'mk', role: 'lead' });
    expect(aside).toMatchObject({ kind: 'answer', value: [{ type: 'word.confirmed' }] });
    if (aside.kind === 'answer') keep(job, aside.value, 'mk');
    expect(job.state().passed).toEqual([]);
    // what may have happened may have happened still
    expect(job.state().late).toMatchObject([{ thing: 'plug', came: 'unproven' }]);
    expect(answerFor(job, [word], false)).toMatchObject({ code: 'gone', path: ['body', 'commandIds', 0] });
  });

  it('lets no word pass that names what is not there', () => {
    const job = new Recorder().open();
    const context = contextOf(job, { by: 'ts' });
    const odd = passedOf(job, stated({ kind: 'frame', frame: 'no-frame', isOff: true }));
    expect(decide(job.state(), odd, context)).toMatchObject({ code: 'unknownName' });
    for (const type of ACT_TYPES.filter((t) => !ACT_TRAITS[t].isPassedOn)) {
      const { acts } = everyAct();
      expect(decide(job.state(), passedOf(job, acts[type]), context)).toMatchObject({ code: 'notPermitted', path: ['body', 'said', 'type'] }); // prettier-ignore
    }
    expect(decide(job.state(), passedOf(job, stated({ kind: 'plug', isIn: true }), { type: 'nothing' }), context)).toMatchObject({ code: 'notPermitted' }); // prettier-ignore
  });
});

it('is counted by name where a job is closed', () => {
  const job = new Recorder().open();
  for (let i = 0; i < 2; i++) pass(job, stated({ kind: 'plug', isIn: false }));
  job.add({ ...passedOf(job, stated({ kind: 'case', isOpen: true })), body: { ...passedOf(job, stated({ kind: 'case', isOpen: true })).body, of: 'mk' } }, 'ts'); // prettier-ignore
  expect(findUnmet(job.state(), profile).slice(-2)).toEqual([
    '2 words passed on for OM wait for OM’s answer.',
    '1 word passed on for MK waits for MK’s answer.',
  ]);
});

it('is read as its own type has it now, and too old where that is', () => {
  const job = new Recorder().open();
  const header = { number: 2, commandId: 'c2', by: 'ts', at: '', deviceAt: '', type: 'word.passed', version: 1 };
  const old = passedOf(job, stated({ kind: 'plug', isIn: false }), { version: 1 });
  expect(readEvent({ ...header, body: old.body }, 'j')).toMatchObject({ value: { body: { said: { version: 3 } } } });
  const late = passedOf(job, stated({ kind: 'plug', isIn: false }), { version: 99 });
  expect(readEvent({ ...header, body: late.body }, 'j')).toMatchObject({ kind: 'refused', code: 'tooOld' });
});

it('never lets the line fall, whatever is passed on between whatever else', () => {
  const facts: Fact[] = [
    { kind: 'plug', isIn: false },
    { kind: 'plug', isIn: true },
    { kind: 'connectors', are: 'open' },
    { kind: 'connectors', are: 'insulated' },
    { kind: 'connectors', are: 'closed' },
    { kind: 'pack', isOnBench: true },
    { kind: 'pack', isOnBench: false },
    { kind: 'case', isOpen: true },
    { kind: 'case', isOpen: false },
    { kind: 'covers', areOff: true },
    { kind: 'covers', areOff: false },
    { kind: 'links', links: [3, 9], areOpen: true },
    { kind: 'links', links: [3, 9], areOpen: false },
    { kind: 'contactors', are: 'takenOut' },
    { kind: 'harness', isUnplugged: true },
  ];
  const step = fc.record({ fact: fc.nat(facts.length - 1), isPassed: fc.boolean() });
  fc.assert(
    fc.property(fc.array(step, { maxLength: 14 }), (steps) => {
      const [all, proven] = [new Recorder().open(), new Recorder().open()];
      for (const { fact, isPassed } of steps) {
        const act = stated(facts[fact] ?? { kind: 'plug', isIn: true });
        if (isPassed) pass(all, act);
        else all.add(act);
        if (isPassed) proven.waitMinutes(1 / 60);
        else proven.add(act);
        // a minute between them: clocks tell which came first
        all.waitMinutes(1);
        proven.waitMinutes(1);
        expect(reachable(all.state())).toBeGreaterThanOrEqual(reachable(proven.state()) - 1e-9);
        // as if the word were so: the line is not below that either
        const so = fold(profile, all.events.map((e) => (e.type === 'word.passed' ? { ...e, by: 'om', ...stated((e.body.said.body as { fact: Fact }).fact) } : e))); // prettier-ignore
        expect(reachable(all.state())).toBeGreaterThanOrEqual(reachable(so) - 1e-9);
      }
    }),
    { numRuns: 150 },
  );
});

describe('an act that was heard before in the name of whoever says it now', () => {
  const plugOut = stated({ kind: 'plug', isIn: false });
  const say = (job: Recorder, act: Act, commandId: string, by = 'om'): void => {
    job.add(act, by);
    const last = job.events.at(-1);
    if (last) job.events.splice(-1, 1, { ...last, commandId });
  };

  it.each([
    ['the same', plugOut, false],
    ['something else', stated({ kind: 'key', isAway: true }), true],
  ])('stands and answers what was heard: %s', (_, act, isPlugIn) => {
    const job = new Recorder().open();
    say(job, act, pass(job, plugOut));
    const { pack, passed } = job.state();
    expect([pack.isPlugIn, pack.isKeyAway, passed]).toEqual([isPlugIn, isPlugIn, []]);
  });

  it('is one thing to take back, also where it comes right after what was heard', () => {
    const job = new Recorder().open();
    const [from, to] = [{ kind: 'inPlace' }, { kind: 'onPart' }] as const;
    const act: Act = { type: 'part.moved', body: { stage: 'open', partId: 'post-cover', count: 1, from, to, condition: 'good' } };
    const heard = pass(job, act);
    // the event of a word that was passed on has the id of what it is of
    const last = job.events.at(-1);
    if (last) job.events.splice(-1, 1, { ...last, commandId: heard });
    say(job, act, heard);
    expect(job.state().undoable.get('om')).toEqual([{ commandId: heard, type: 'part.moved' }]);
    job.add({ type: 'act.withdrawn', body: { commandId: heard, reason: 'mistyped' } });
    expect([job.state().strip.moved, job.state().passed]).toEqual([[], []]);
  });

  it('is told by its id and its author', () => {
    const job = new Recorder().open();
    const heard = pass(job, plugOut);
    say(job, plugOut, 'another');
    say(job, plugOut, heard, 'jf');
    expect(job.state().passed.map((p) => p.said.commandId)).toEqual([heard]);
  });
});

import { profile, Recorder, shippedProfile } from '../../../test/job-fixture.ts';
import type { Fact } from '../../pack/fact.ts';
import type { Excess } from './excess.ts';
import { listQuestions, type Question } from './questions.ts';

let turn = 0;
/** Said by another in OM's name, and nothing proves it: it holds beside what stands. */
function doubt(job: Recorder, ...facts: Fact[]): void {
  for (const fact of facts) {
    const device = { id: 'd', isClockSure: true, turn: ++turn };
    const said = { commandId: `w${turn}`, deviceAt: new Date(job.now).toISOString(), device, type: 'fact.stated', version: 3, body: { stage: 'open', fact } }; // prettier-ignore
    job.add({ type: 'word.passed', body: { of: 'om', said } }, 'ts');
  }
}

function asked(job: Recorder, cause: Excess['cause']): Question[] {
  return listQuestions(job.state(), [{ cause, volt: 1, sentence: '' }], job.pack);
}
const said = (questions: readonly Question[]): [string, string[]][] => questions.map((q) => [q.ask, q.answers.map((a) => a.label)]);
const opened = (): Recorder => new Recorder().open();
const BARS = shippedProfile('spoonbill-16');
const onBench = (...facts: Fact[]): Recorder => {
  const job = new Recorder(facts.some((f) => f.kind === 'links') ? BARS : profile).open();
  for (const fact of [{ kind: 'pack', isOnBench: true }, ...facts] as Fact[]) job.fact('open', fact);
  return job;
};

describe('of words that hold beside what stands', () => {
  it.each<[Fact, string, string[]]>([
    [{ kind: 'connectors', are: 'open' }, 'How are the HV cables?', ['On and covered', 'Off, insulated and tied back', 'Open, posts bare']],
    [{ kind: 'outletPosts', areBare: true }, 'Are the pack’s own HV posts covered?', ['Covered', 'Bare']],
    [{ kind: 'contactors', are: 'shut' }, 'How are the contactors?', ['Relay block off', 'On the pack, not known', 'Shut']],
    [{ kind: 'case', isOpen: true }, 'Is the case shut?', ['Open', 'Shut']],
    [{ kind: 'harness', isUnplugged: true }, 'Is the sense harness plugged in?', ['Unplugged', 'Plugged in']],
    [{ kind: 'charger', volt: 300 }, 'Is a source on the pack?', ['Yes, 300 V', 'No, it is off']],
    [{ kind: 'module', place: 3, moduleId: 'S-1', isTurned: false }, 'What sits at place 3?', ['S-1', 'm3', 'Nothing']],
  ])('%j is asked with every way in which it may stand', (fact, ask, answers) => {
    const job = onBench({ kind: 'contactors', are: 'takenOut' });
    job.fact('open', { kind: 'outletPosts', areBare: fact.kind === 'connectors' });
    if (fact.kind === 'connectors') job.fact('open', { kind: 'pack', isOnBench: false });
    doubt(job, fact);
    expect(said(asked(job, 'lateWord'))).toEqual([[ask, answers]]);
  });

  it('covers are asked for together, and so are links, each of them once', () => {
    const job = onBench({ kind: 'case', isOpen: true }, { kind: 'links', links: [9, 12], areOpen: true });
    doubt(job, { kind: 'covers', areOff: true, over: [7, 2] }, { kind: 'covers', areOff: true, over: [2] });
    doubt(job, { kind: 'links', links: [12], areOpen: false }, { kind: 'links', links: [9, 12], areOpen: false });
    expect(said(asked(job, 'lateWord'))).toEqual([
      ['Are the terminal covers on?', ['Off', 'On']],
      ['Are links 9, 12 joined?', ['Open', 'Joined']],
    ]);
    const [covers, links] = asked(job, 'lateWord');
    expect(covers?.answers[0]?.act.body).toMatchObject({ fact: { over: [2, 7] } });
    expect(links?.answers[0]?.act).toEqual({ type: 'fact.stated', body: { stage: 'open', fact: { kind: 'links', links: [9, 12], areOpen: true } } }); // prettier-ignore
  });

  it('one link is asked for by its number, a module that is turned as it lies', () => {
    const job = onBench({ kind: 'links', links: [9], areOpen: true }, { kind: 'module', place: 4, moduleId: 'm4', isTurned: true });
    doubt(job, { kind: 'links', links: [9], areOpen: false }, { kind: 'module', place: 4, moduleId: 'S-2', isTurned: false });
    const all = asked(job, 'lateWord');
    expect(all.map((q) => q.ask)).toEqual(['Is link 9 joined?', 'What sits at place 4?']);
    expect(all[1]?.answers.map((a) => (a.act.body as { fact: Fact }).fact)).toMatchObject([
      { moduleId: 'S-2', isTurned: false },
      { moduleId: 'm4', isTurned: true },
      { moduleId: null, isTurned: false },
    ]);
  });

  it('an answer settles it', () => {
    const job = onBench();
    doubt(job, { kind: 'case', isOpen: true }, { kind: 'case', isOpen: true });
    expect(asked(job, 'lateWord')).toHaveLength(1);
    job.wait(0.1);
    for (const { answers } of asked(job, 'lateWord')) if (answers[1]) job.add(answers[1].act);
    expect(asked(job, 'lateWord')).toEqual([]);
  });
});

describe('of contactors and sources', () => {
  it('asks for the relay block, and while they are held shut whether anything holds them', () => {
    const job = onBench();
    expect(said(asked(job, 'contactors'))).toEqual([['Is the relay block off the pack?', ['Yes, it is off']]]);
    job.fact('open', { kind: 'contactors', are: 'shut' });
    expect(said(asked(job, 'contactors'))).toEqual([
      ['Is the relay block off the pack?', ['Yes, it is off', 'It is on, and nothing holds them shut']],
    ]);
  });

  it('with the block off asks for a proof at the car; a source first', () => {
    const job = onBench({ kind: 'contactors', are: 'takenOut' }, { kind: 'charger', volt: 240 });
    const [source, capacitors] = asked(job, 'contactors');
    expect(said([source as Question])).toEqual([['Is the source of 240 V off the pack?', ['Yes, it is off']]]);
    expect(source?.hint).toBe('While it is on no proof of dead is signed: take it off, then say so.');
    expect(capacitors).toMatchObject({ answers: [], hint: 'Only a reading there lowers the number: prove dead at the car side.' });
  });
});

it('asks what was counted otherwise for all of its parts', () => {
  const job = onBench({ kind: 'case', isOpen: true });
  const cover = profile.parts.find((p) => p.effects.some((e) => e.kind === 'bares' && e.what === 'covers'));
  const move = { stage: 'open', partId: cover?.id ?? '', count: 1, from: { kind: 'inPlace' }, to: { kind: 'onPart' }, condition: 'good' } as const; // prettier-ignore
  job.add({ type: 'part.moved', body: move });
  const [question] = asked(job, 'counts');
  expect(question?.ask).toBe('Are the terminal covers on?');
  expect(question?.answers.map((a) => (a.act.body as { counts?: string }).counts)).toEqual(['all', 'all']);
  expect(question?.hint).toMatch(/1 of \d+ counted off\.$/);
});

it('says what only work settles, and nothing of what no work does', () => {
  const job = opened();
  expect(said([...asked(job, 'waiting'), ...asked(job, 'readings'), ...asked(job, 'unmeasured')])).toEqual([
    ['Some acts of this device are not kept yet.', []],
    ['Some readings are in question.', []],
    ['Some modules were not measured since the last charge.', []],
  ]);
  expect(asked(job, 'low')).toEqual([]);
  expect(asked(job, 'readings')[0]?.hint).toContain('Choose between two');
});

describe('of readings that fell', () => {
  const read = (job: Recorder, sweepId: string, place: number, value: number): string =>
    job.add({ type: 'reading.taken', body: { sweepId, place, moduleId: `m${place}`, quantity: 'openCircuitVolt', value } });

  it('asks once for a sweep, by the first, and by whether a point slipped', () => {
    const job = opened();
    const [one, two] = [job.startSweep('openCircuit'), job.startSweep('openCircuit')];
    for (const place of [2, 5]) read(job, one, place, 8);
    read(job, two, 2, 4.1);
    expect(asked(job, 'low')).toMatchObject([
      {
        ask: 'Module 2 fell from 8.00 to 4.10 V, further than a module does. Is it so?',
        answers: [{ label: 'They read so', act: { type: 'readings.confirmed', body: { sweepId: two, places: [2] } } }],
      },
    ]);
    read(job, two, 5, 0.8);
    expect(asked(job, 'low')[0]?.ask).toBe('2 modules fell, module 2 from 8.00 to 4.10 V, further than a module does. Is it so?');
    const slipped = opened();
    const [before, after] = [slipped.startSweep('openCircuit'), slipped.startSweep('openCircuit')];
    read(slipped, before, 3, 8);
    read(slipped, after, 3, 0.79);
    expect(asked(slipped, 'low')[0]?.ask).toBe('Module 3 fell from 8.00 to 0.79 V, about a tenth: did a range or a point slip?');
    for (const { answers } of asked(slipped, 'low')) if (answers[0]) slipped.add(answers[0].act);
    expect(asked(slipped, 'low')).toEqual([]);
  });
});

import { contextOf, profile, Recorder } from '../../../../test/job-fixture.ts';
import type { Role } from '../chapter.ts';
import type { Act, ActBody } from '../../frame/acts.ts';
import { findUnmet } from '../../frame/closing.ts';
import { isStageDone } from '../../frame/completeness.ts';
import { decide } from '../../frame/decide.ts';
import { stagesOf } from '../../frame/stages.ts';
import { startState } from '../../frame/state.ts';
import { JOB_KINDS, KIND_RULES, type JobKind } from './kinds.ts';

const WOKEN = {
  type: 'wake.tried',
  body: { readyLight: true, lampsOut: true, engine: 'byItself', charging: 'takes', chargePercent: 60, note: '' },
} as const;
const CLOSE: Act = { type: 'job.closed', body: { outcome: 'finished', note: 'Fetched on Friday.' } };
const BREAK_OFF: Act = { type: 'job.closed', body: { outcome: 'brokenOff', reason: 'The customer declined.', unmet: ['made up'] } };
const REOPEN: Act = { type: 'job.reopened', body: { reason: 'It came back.' } };

const open = (kind: JobKind): Recorder => new Recorder().open(kind);

function say(job: Recorder, act: Act, role: Role = 'technician'): string | null {
  const decided = decide(job.state(), act, contextOf(job, { role }));
  return decided.kind === 'refused' ? decided.message : null;
}

const unmet = (job: Recorder): string[] => findUnmet(job.state(), profile);

/** Every part of the air path seen to be open, the fan tested, and the next look set. */
function answerCooling(job: Recorder): Recorder {
  for (const part of profile.airPath.keys()) job.add({ type: 'air.found', body: { part, when: 'asFound', blockedShare: 0, note: '' } });
  const fan = profile.airPath.findIndex((p) => p.kind === 'fan');
  job.add({ type: 'fan.tested', body: { part: fan, spins: true, noise: 'none', hasPlay: false, startVolt: null } });
  job.add({ type: 'cooling.judged', body: { isAnswered: true, note: '' } });
  job.add({ type: 'look.set', body: { months: 6, stripMonths: null, uses: [] } });
  return job;
}

describe('opening', () => {
  const body = (change: Partial<ActBody<'job.opened'>>): Act => {
    const [first] = new Recorder().open().events;
    if (first?.type !== 'job.opened') throw new Error('not opened');
    return { type: 'job.opened', body: { ...first.body, ...change } };
  };
  const refusalOf = (act: Act) => decide(startState(profile), act, contextOf(new Recorder()));

  it.each(JOB_KINDS)('a %s asks for its modules only where they are handled singly', (kind) => {
    const none = refusalOf(body({ kind, moduleIds: [] }));
    if (KIND_RULES[kind].namesModules) expect(none).toMatchObject({ code: 'mismatch', path: ['body', 'moduleIds'] });
    else expect(none).toMatchObject({ kind: 'answer' });
    // who names them all the same names all of them
    expect(refusalOf(body({ kind, moduleIds: ['a', 'b'] }))).toMatchObject({ code: 'mismatch' });
    expect(refusalOf(body({ kind }))).toMatchObject({ kind: 'answer' });
  });
});

describe('the stages of a kind', () => {
  it('begin at intake and end with handing over', () => {
    for (const kind of JOB_KINDS) {
      const stages = stagesOf(open(kind).state(), profile);
      expect(stages[0]).toBe('intake');
      expect(stages.at(-1)).toBe('handOver');
    }
    expect(stagesOf(open('filterService').state(), profile)).not.toContain('isolate');
    expect(stagesOf(open('benchOnly').state(), profile)).not.toContain('isolate');
    expect(stagesOf(open('wholeRepair').state(), profile)).toEqual(profile.stages);
  });

  it('show one that was worked in all the same', () => {
    const job = open('filterService');
    job.fact('isolate', { kind: 'plug', isIn: false });
    expect(stagesOf(job.state(), profile)).toContain('isolate');
    job.fact('intake', { kind: 'plug', isIn: true });
    expect(stagesOf(job.state(), profile)).toContain('isolate');
  });
});

describe('closing', () => {
  it('a filter service can be closed once its filters were looked at, and closed once', () => {
    const job = open('filterService');
    expect(say(job, CLOSE)).toMatch(/cooling is not answered: look at the grille/);
    // of its path the screen alone is asked for
    job.add({ type: 'air.found', body: { part: 0, when: 'asFound', blockedShare: 0.1, note: '' } });
    expect(unmet(job)).toEqual(['The cooling is not answered: set the next look.']);
    job.add({ type: 'look.set', body: { months: 6, stripMonths: null, uses: [] } });
    expect(say(job, CLOSE)).toBeNull();
    job.add(CLOSE);
    expect(job.state().intake.closed).toMatchObject({ outcome: 'finished', note: 'Fetched on Friday.', by: 'om' });
    expect(say(job, CLOSE)).toMatch(/closed already/);
  });

  it('asks for each thing that its hands left undone, in the order they are put right', () => {
    const job = answerCooling(open('fanCleaning'));
    const undone: [Parameters<Recorder['fact']>[1], RegExp, Parameters<Recorder['fact']>[1]][] = [
      [{ kind: 'twelveVolt', isOff: true }, /12 V/, { kind: 'twelveVolt', isOff: false }],
      [{ kind: 'plug', isIn: false }, /plug/, { kind: 'plug', isIn: true }],
      [{ kind: 'plug', isIn: true, isLatched: false }, /not latched/, { kind: 'plug', isIn: true, isLatched: true }],
      [{ kind: 'connectors', are: 'insulated' }, /cables/, { kind: 'connectors', are: 'closed' }],
      [{ kind: 'pack', isOnBench: true }, /bench/, { kind: 'pack', isOnBench: false }],
      [{ kind: 'case', isOpen: true }, /case/, { kind: 'case', isOpen: false }],
      [{ kind: 'covers', areOff: true }, /covers/, { kind: 'covers', areOff: false }],
      [{ kind: 'harness', isUnplugged: true }, /harness/, { kind: 'harness', isUnplugged: false }],
      [{ kind: 'charger', volt: 200 }, /source/, { kind: 'charger', volt: null }],
    ];
    for (const [off, why, back] of undone) {
      job.fact('strip', off);
      expect(unmet(job)).toEqual([expect.stringMatching(why)]);
      expect(say(job, CLOSE)).toMatch(why);
      job.fact('strip', back);
      // whatever moved 12 V or plug asks for another wake
      expect(unmet(job)).toEqual(back.kind === 'twelveVolt' || back.kind === 'plug' ? [expect.stringMatching(/not woken/)] : []);
      job.add(WOKEN);
      expect(unmet(job)).toEqual([]);
    }
    job.add({ ...WOKEN, body: { ...WOKEN.body, readyLight: false } });
    expect(unmet(job)).toEqual(['The car did not wake well.']);
    job.add(WOKEN);
    job.fact('open', { kind: 'frame', frame: 'cable-frame', isOff: true });
    expect(unmet(job)).toEqual(['12 links are stated open.']);
  });

  it('counts the pieces that are out, and says how many reasons there are', () => {
    const job = answerCooling(open('exchange'));
    job.fact('isolate', { kind: 'twelveVolt', isOff: true });
    job.add({
      type: 'part.moved',
      body: { stage: 'strip', partId: 'pack-bolt', count: 2, from: { kind: 'inPlace' }, to: { kind: 'stud' }, condition: 'good' },
    });
    expect(unmet(job)).toContain('2 pieces are neither back nor accounted for.');
    expect(say(job, CLOSE)).toMatch(/And 2 more\. The lead can break the job off/);
  });

  it('a whole repair asks that modules were rested and a plan chosen; a diagnosis, that something was found', () => {
    expect(unmet(open('wholeRepair')).join(' ')).toMatch(/rest.*plan.*cooling/);
    const diagnosis = open('diagnosis');
    expect(unmet(diagnosis)).toEqual(['Nothing was found or measured yet.']);
    diagnosis.startSweep('openCircuit');
    expect(unmet(diagnosis)).toEqual([]);
  });

  it('by breaking off is the lead’s alone, and writes down what stood against it rather than what was sent', () => {
    const job = open('wholeRepair');
    expect(say(job, BREAK_OFF)).toBe('Only the lead breaks a job off.');
    const decided = decide(job.state(), BREAK_OFF, contextOf(job, { role: 'lead' }));
    expect(decided).toMatchObject({ kind: 'answer', value: [{ body: { unmet: unmet(job), reason: 'The customer declined.' } }] });
    expect(unmet(job).length).toBeGreaterThan(1);
  });

  it('ends permits but keeps facts, until it is opened again with its reason', () => {
    const job = open('wholeRepair');
    const permit: Act = { type: 'modules.released', body: {} };
    const fact: Act = { type: 'fact.stated', body: { stage: 'isolate', fact: { kind: 'plug', isIn: false } } };
    expect(say(job, REOPEN)).toMatch(/is open/);
    job.add(BREAK_OFF);
    expect(say(job, permit)).toMatch(/This job is closed/);
    expect(say(job, fact)).toBeNull();
    expect(say(job, REOPEN, 'apprentice')).toMatch(/technician/);
    expect(say(job, REOPEN)).toBeNull();
    job.add(REOPEN);
    expect(job.state().intake).toMatchObject({ closed: null, reopened: [{ reason: 'It came back.' }] });
    expect(say(job, permit)).not.toMatch(/is closed/);
  });
});

describe('taking a vehicle in', () => {
  const used = (noScan = ''): Act => ({ type: 'use.noted', body: { uses: [], lookedUp: '', noScan } });
  const isDone = (job: Recorder): boolean => isStageDone('intake', job.state(), profile);

  it('is done once its use is known and it was scanned as it came, or it is said why not', () => {
    const job = open('wholeRepair');
    expect(isDone(job)).toBe(false);
    job.add(used());
    expect(isDone(job)).toBe(false);
    job.add(used('No reader at hand.'));
    expect(isDone(job)).toBe(true);
    // a later word takes an earlier one back
    job.add(used());
    expect(isDone(job)).toBe(false);
    const scan = { reader: 'r', readerVersion: '', isSimulated: false, readiness: null, ampere: null, chargePercent: null, codes: [], packVolt: null, blockVolts: [], celsius: [] }; // prettier-ignore
    job.add({ type: 'car.scanned', body: { moment: 'afterRepair', ...scan } });
    expect(isDone(job)).toBe(false);
    job.add({ type: 'car.scanned', body: { moment: 'asFound', ...scan } });
    expect(isDone(job)).toBe(true);
  });

  it('asks no scan where none is made', () => {
    for (const kind of ['benchOnly', 'filterService', 'fanCleaning'] as const) {
      const job = open(kind);
      job.add(used());
      expect([kind, isDone(job)]).toEqual([kind, true]);
    }
  });

  it('keeps the names of all rows that a correction took the place of, so that they can be erased', () => {
    const job = open('diagnosis');
    const row = (id: string) => ({ id, hash: '0'.repeat(64) });
    const first = job.state().intake.opened?.vehicle.id;
    job.add({ type: 'papers.corrected', body: { vehicle: row('v2'), customer: row('c2') } });
    job.add({ type: 'papers.corrected', body: { vehicle: row('v3'), customer: null } });
    const { opened, before } = job.state().intake;
    expect([opened?.vehicle.id, opened?.customer]).toEqual(['v3', null]);
    expect(before.vehicles).toEqual([first, 'v2']);
    expect(before.customers).toContain('c2');
  });
});

import { contextOf, profile as dunlin, Recorder, SHIPPED, shippedProfile } from '../../../test/job-fixture.ts';
import type { Fact } from '../../pack/fact.ts';
import { findLedger } from '../chapters/strip/view.ts';
import { stampOf } from '../chapters/stamp.ts';
import { findJobExposure } from '../line/exposure.ts';
import type { Act } from './acts.ts';
import { listCountsThatDiffer, listDisagreements } from './counted-hazards.ts';
import { decide } from './decide.ts';
import { fold } from './fold.ts';

const STRING = 28 * 9.6;

/** A job whose acts are kept as the server keeps them: each with what it means besides. */
class Hands extends Recorder {
  constructor(pack = dunlin) {
    super(pack);
    this.open();
  }
  do(act: Act): string[] {
    const decided = decide(this.now2(), act, { ...contextOf(this), profile: this.pack });
    if (decided.kind === 'refused') throw new Error(decided.message);
    const commandId = `c${this.events.length + 1}`;
    const from = this.events.length;
    for (const one of decided.value) this.add(one);
    // one command: kept at one moment
    const { at, deviceAt } = this.events[from] ?? { at: '', deviceAt: '' };
    for (const event of this.events.slice(from)) Object.assign(event, { commandId, at, deviceAt });
    return decided.value.map(({ type }) => type);
  }
  count(partId: string, count: number, isOut = true): string[] {
    const [from, to] = isOut ? ([{ kind: 'inPlace' }, { kind: 'onPart' }] as const) : ([{ kind: 'onPart' }, { kind: 'inPlace' }] as const);
    return this.do({ type: 'part.moved', body: { stage: 'strip', partId, count, from, to, condition: 'good' } });
  }
  say(fact: Fact, counts?: 'all' | 'asCounted'): string[] {
    return this.do({ type: 'fact.stated', body: { stage: 'open', fact, ...(counts ? { counts } : {}) } });
  }
  now2() {
    return fold(this.pack, this.events);
  }
  volt(): number {
    return findJobExposure(this.now2(), this.pack).reachable.volt;
  }
  off(partId: string): number {
    const found = findLedger(this.now2(), this.pack).parts.find((b) => b.part.id === partId);
    return (found?.out ?? 0) - (found?.back ?? 0);
  }
  disagreements(): string[] {
    return listDisagreements(this.now2(), this.pack).map((d) => d.sentence);
  }
}

describe('a count states the fact that it means', () => {
  it('HV cables off bare the car side at once, with the wait running and no proof', () => {
    const job = new Hands();
    job.say({ kind: 'twelveVolt', isOff: true });
    job.say({ kind: 'plug', isIn: false });
    expect(job.volt()).toBe(0);
    expect(job.count('hv-cable', 2)).toEqual(['part.moved', 'fact.stated']);
    expect(job.volt()).toBeCloseTo(STRING, 6);
    expect(job.now2().facts.at(-1)).toMatchObject({ fact: { kind: 'connectors', are: 'open' } });
    // both back: on again; the posts are under their cover
    expect(job.count('hv-cable', 2, false)).toEqual(['part.moved', 'fact.stated']);
    expect(job.volt()).toBe(0);
  });

  it('any cover off counts as off, and only the last one back as on', () => {
    const job = new Hands();
    job.say({ kind: 'case', isOpen: true });
    job.count('post-cover', 1);
    expect(job.volt()).toBeCloseTo(STRING, 6);
    expect(job.count('post-cover', 1)).toEqual(['part.moved']);
    expect(job.count('post-cover', 1, false)).toEqual(['part.moved']);
    expect(job.now2().pack.bareJoints).toHaveLength(29);
    job.count('post-cover', 1, false);
    expect(job.now2().pack.bareJoints).toEqual([]);
  });

  it('a harness is unplugged when its last plug is off, and plugged in at the first that is back', () => {
    const job = new Hands(shippedProfile('turnstone-30'));
    job.count('sense-plug', 2);
    expect(job.now2().pack.isHarnessUnplugged).toBe(false);
    job.count('sense-plug', 1);
    expect(job.now2().pack.isHarnessUnplugged).toBe(true);
    job.count('sense-plug', 1, false);
    expect(job.now2().pack.isHarnessUnplugged).toBe(false);
  });

  it('a frame opens its links when it is off, and closes them when it is laid', () => {
    const job = new Hands();
    job.count('vent-frame', 1);
    expect(job.now2().facts.at(-1)).toMatchObject({ fact: { kind: 'frame', frame: 'vent-frame', isOff: true } });
    job.count('vent-frame', 1, false);
    expect(job.now2().facts.at(-1)).toMatchObject({ fact: { kind: 'frame', frame: 'vent-frame', isOff: false } });
  });

  it('bolts that are all out lift no pack, and the first one back hangs it in the car', () => {
    const job = new Hands();
    expect(job.count('pack-bolt', 6)).toEqual(['part.moved']);
    expect(job.now2().pack.isOnBench).toBe(false);
    job.say({ kind: 'pack', isOnBench: true });
    job.count('pack-bolt', 1, false);
    expect(job.now2().pack.isOnBench).toBe(false);
  });

  it('pieces counted twice neither cover nor part anything', () => {
    const job = new Hands(shippedProfile('turnstone-30'));
    job.count('sense-plug', 2);
    job.count('sense-plug', 2);
    expect(job.now2().pack.isHarnessUnplugged).toBe(false);
  });
});

describe('a fact moves the parts that it speaks of', () => {
  it('all of them, and back from where they lie', () => {
    const job = new Hands();
    expect(job.say({ kind: 'connectors', are: 'open' })).toEqual(['fact.stated', 'part.moved']);
    expect(job.off('hv-cable')).toBe(2);
    // off and insulated they are no less off
    expect(job.say({ kind: 'connectors', are: 'insulated' })).toEqual(['fact.stated']);
    expect(job.disagreements()).toEqual([]);
    job.say({ kind: 'connectors', are: 'closed' });
    expect(job.off('hv-cable')).toBe(0);
  });

  it('where some are counted already it is asked once: all, or as counted, and then the more hazardous holds with both named', () => {
    const harness: Fact = { kind: 'harness', isUnplugged: true };
    const counted = (): Hands => {
      const job = new Hands(shippedProfile('turnstone-30'));
      job.count('sense-plug', 2);
      return job;
    };
    const asked = counted();
    expect(listCountsThatDiffer(asked.now2(), harness, asked.pack)).toEqual(['sense connector: 2 of 3 counted off']);
    asked.say(harness, 'all');
    expect(asked.off('sense-plug')).toBe(3);
    expect(asked.disagreements()).toEqual([]);
    expect(listCountsThatDiffer(asked.now2(), { kind: 'harness', isUnplugged: false }, asked.pack)).toEqual([]);

    const other = counted();
    for (const fact of [
      { kind: 'plug', isIn: false },
      { kind: 'pack', isOnBench: true },
    ] as const)
      other.say(fact);
    for (const fact of [
      { kind: 'case', isOpen: true },
      { kind: 'covers', areOff: true },
    ] as const)
      other.say(fact);
    const whole = other.volt();
    other.say(harness, 'asCounted');
    expect(other.now2().pack.isHarnessUnplugged).toBe(true);
    expect(other.disagreements()).toEqual(['sense connector: 2 of 3 counted off']);
    // one plug still ties the halves
    expect(other.volt()).toBeCloseTo(whole, 6);
    expect(findJobExposure(other.now2(), other.pack).basis.join(' ')).toContain('sense connector: 2 of 3 counted off');
    expect(findJobExposure(other.now2(), other.pack).excess.map((e) => e.cause)).toContain('counts');
  });

  it('one piece off that cannot go back is enough to stand against a word that all is covered', () => {
    const job = new Hands();
    const [from, to] = [{ kind: 'inPlace' }, { kind: 'scrapped' }] as const;
    job.do({ type: 'part.moved', body: { stage: 'open', partId: 'post-cover', count: 1, from, to, condition: 'broken' } });
    job.say({ kind: 'covers', areOff: false }, 'asCounted');
    expect(job.disagreements()).toEqual([expect.stringMatching(/: 1 of \d+ counted off$/)]);
  });

  it('but none where it came late: what moved the parts since has moved them', () => {
    const job = new Hands();
    job.say({ kind: 'harness', isUnplugged: false });
    const act: Act = { type: 'fact.stated', body: { stage: 'open', fact: { kind: 'harness', isUnplugged: true } } };
    const at = new Date(job.now).toISOString();
    const said = (minutesAgo: number) =>
      stampOf({ number: 99, by: 'ts', at, deviceAt: new Date(job.now - minutesAgo * 60_000).toISOString() });
    const kept = (minutesAgo: number) => decide(job.now2(), act, contextOf(job, { stamp: said(minutesAgo) }));
    expect(kept(0)).toMatchObject({ value: [{ type: 'fact.stated' }, { type: 'part.moved' }] });
    expect(kept(120)).toMatchObject({ value: [{ type: 'fact.stated' }] });
    expect(kept(120)).toHaveProperty('value.length', 1);
  });

  it('scrapped pieces come back as new ones, where that is what is meant', () => {
    const job = new Hands();
    const [from, to] = [{ kind: 'inPlace' }, { kind: 'scrapped' }] as const;
    job.do({ type: 'part.moved', body: { stage: 'open', partId: 'post-cover', count: 2, from, to, condition: 'broken' } });
    const on: Fact = { kind: 'covers', areOff: false };
    expect(listCountsThatDiffer(job.now2(), on, dunlin)).toHaveLength(1);
    job.say(on, 'all');
    expect(job.off('post-cover')).toBe(0);
    expect(job.disagreements()).toEqual([]);
  });

  it.each(SHIPPED)('down and back up on %s leaves nothing owed, nothing bare and nothing in disagreement', (id) => {
    const pack = shippedProfile(id);
    const job = new Hands(pack);
    const down = pack.procedure.filter(({ stage }) => stage === 'isolate' || stage === 'strip' || stage === 'open').map((p) => p.fact);
    for (const fact of down) job.say(fact);
    expect(job.disagreements()).toEqual([]);
    for (const fact of down.toReversed()) {
      if (fact.kind === 'case') job.say({ kind: 'case', isOpen: false });
      if (fact.kind === 'covers') job.say({ kind: 'covers', areOff: false });
      if (fact.kind === 'harness') job.say({ kind: 'harness', isUnplugged: false });
      if (fact.kind === 'frame') job.say({ ...fact, isOff: false });
      if (fact.kind === 'links') job.say({ ...fact, areOpen: false });
      if (fact.kind === 'connectors') job.say({ kind: 'connectors', are: 'closed' });
      if (fact.kind === 'pack') job.say({ kind: 'pack', isOnBench: false });
    }
    const { parts } = findLedger(job.now2(), pack);
    const owed = parts.filter((b) => b.owed !== 0 && !b.part.effects.some((e) => e.kind === 'partsMounting'));
    expect(owed.map((b) => b.part.id)).toEqual([]);
  });
});

it('a count of what is bare already says so again: a cover put on before it, kept after it, covers nothing', () => {
  const job = new Hands();
  job.say({ kind: 'case', isOpen: true });
  job.say({ kind: 'covers', areOff: true });
  job.waitMinutes(10);
  job.count('post-cover', 1);
  job.waitMinutes(1);
  // the other hand put them on five minutes ago, before that one came off again
  job.add({ type: 'fact.stated', body: { stage: 'open', fact: { kind: 'covers', areOff: false } } }, 'ts');
  Object.assign(job.events.at(-1) ?? {}, { deviceAt: new Date(job.now - 5 * 60_000).toISOString() });
  expect(job.now2().pack.bareJoints).toHaveLength(29);
  expect(job.volt()).toBeCloseTo(STRING, 6);
});

it('a cable counted off while they were insulated opened them, where they were joined in between after all', () => {
  const job = new Hands();
  job.say({ kind: 'connectors', are: 'insulated' });
  job.waitMinutes(10);
  job.count('hv-cable', 1);
  expect(job.now2().pack.connectors).toBe('insulated');
  expect(job.volt()).toBe(0);
  job.waitMinutes(1);
  job.add({ type: 'fact.stated', body: { stage: 'isolate', fact: { kind: 'connectors', are: 'closed' } } }, 'ts');
  Object.assign(job.events.at(-1) ?? {}, { deviceAt: new Date(job.now - 5 * 60_000).toISOString() });
  expect(job.volt()).toBeCloseTo(STRING, 6);
});

it('a cable that goes on again after they were insulated is not off and insulated any more', () => {
  const job = new Hands();
  job.say({ kind: 'connectors', are: 'insulated' });
  expect(job.count('hv-cable', 1, false)).toEqual(['part.moved', 'fact.stated']);
  expect(job.now2().pack.connectors).toBe('open');
  expect(job.volt()).toBeCloseTo(STRING, 6);
  job.count('hv-cable', 1, false);
  expect(job.now2().pack.connectors).toBe('closed');
  // said before they went on and kept only now, "insulated" takes them off no more
  job.waitMinutes(1);
  job.add({ type: 'fact.stated', body: { stage: 'isolate', fact: { kind: 'connectors', are: 'insulated' } } }, 'ts');
  Object.assign(job.events.at(-1) ?? {}, { deviceAt: new Date(job.now - 30 * 60_000).toISOString() });
  expect(job.now2().pack.connectors).toBe('closed');
});

describe('a count that is taken back', () => {
  it('takes what it meant with it', () => {
    const job = new Hands();
    job.say({ kind: 'case', isOpen: true });
    job.count('post-cover', 1);
    const commandId = job.events.at(-1)?.commandId ?? '';
    expect(job.do({ type: 'act.withdrawn', body: { commandId, reason: 'mistyped' } })).toEqual(['act.withdrawn']);
    expect(job.volt()).toBe(0);
    expect(job.off('post-cover')).toBe(0);
    expect(job.now2().facts.map((f) => f.fact.kind)).toEqual(['case']);
  });

  it('leaves what somebody had stated, and what another count still says', () => {
    const job = new Hands();
    const takeBack = (): void => {
      const commandId = job.events.findLast((e) => e.type === 'part.moved')?.commandId ?? '';
      job.do({ type: 'act.withdrawn', body: { commandId, reason: 'mistyped' } });
    };
    job.say({ kind: 'case', isOpen: true });
    // one side was stated open before a cover of both was counted
    job.say({ kind: 'covers', areOff: true, over: [1, 3, 5] }, 'asCounted');
    job.count('post-cover', 1);
    takeBack();
    expect(job.now2().pack.bareJoints).toEqual([1, 3, 5]);
    job.count('post-cover', 1);
    job.count('post-cover', 1);
    // the first count bared them, the second only said so again
    const [first] = job.events.filter((e) => e.type === 'part.moved').slice(-2);
    job.do({ type: 'act.withdrawn', body: { commandId: first?.commandId ?? '', reason: 'mistyped' } });
    expect(job.now2().pack.bareJoints).toHaveLength(29);
  });

  it('plugs no harness in that was out before, whatever was counted of it', () => {
    const job = new Hands(shippedProfile('curlew-42'));
    job.say({ kind: 'harness', isUnplugged: true }, 'asCounted');
    job.count('sense-plug', 1);
    const commandId = job.events.findLast((e) => e.type === 'part.moved')?.commandId ?? '';
    job.do({ type: 'act.withdrawn', body: { commandId, reason: 'mistyped' } });
    expect(job.now2().pack.isHarnessUnplugged).toBe(true);
  });

  it('gives back a word that came late and that the count had overtaken', () => {
    const job = new Hands();
    job.say({ kind: 'case', isOpen: true });
    job.say({ kind: 'covers', areOff: false });
    job.waitMinutes(1);
    // stated open two minutes ago by somebody else, kept only now
    job.add({ type: 'fact.stated', body: { stage: 'open', fact: { kind: 'covers', areOff: true } } }, 'ts');
    Object.assign(job.events.at(-1) ?? {}, { deviceAt: new Date(job.now - 2 * 60_000).toISOString() });
    expect(job.now2().late).toHaveLength(29);
    job.waitMinutes(1);
    job.count('post-cover', 1);
    expect(job.now2().late).toEqual([]);
    const commandId = job.events.findLast((e) => e.type === 'part.moved')?.commandId ?? '';
    job.do({ type: 'act.withdrawn', body: { commandId, reason: 'mistyped' } });
    expect(job.now2().late).toHaveLength(29);
    expect(job.volt()).toBeCloseTo(STRING, 6);
  });

  it('puts back what stood where neither way is the lesser: a pack on the bench stays there', () => {
    const job = new Hands();
    job.say({ kind: 'pack', isOnBench: true });
    job.count('pack-bolt', 6, false);
    const commandId = job.events.at(-1)?.commandId ?? '';
    expect(job.now2().pack.isOnBench).toBe(false);
    job.do({ type: 'act.withdrawn', body: { commandId, reason: 'mistyped' } });
    expect(job.now2().pack.isOnBench).toBe(true);
  });

  it('covers no posts again that were bare for another reason', () => {
    const job = new Hands(shippedProfile('turnstone-30'));
    job.say({ kind: 'outletPosts', areBare: true });
    job.count('hv-cable', 2);
    const commandId = job.events.findLast((e) => e.type === 'part.moved')?.commandId ?? '';
    job.do({ type: 'act.withdrawn', body: { commandId, reason: 'mistyped' } });
    expect(job.now2().pack).toMatchObject({ connectors: 'closed', outletPosts: 'bare' });
  });

  it('opens no link again that was joined by itself before a whole frame was counted back', () => {
    const job = new Hands(shippedProfile('turnstone-30'));
    const isJoined = (link: number) => job.now2().pack.joins.some((j) => j.a === `${link}+`);
    job.say({ kind: 'frame', frame: 'front-frames', isOff: true });
    expect(isJoined(7)).toBe(false);
    job.say({ kind: 'links', links: [7], areOpen: false });
    job.count('front-frames', 1, false);
    const commandId = job.events.findLast((e) => e.type === 'part.moved')?.commandId ?? '';
    job.do({ type: 'act.withdrawn', body: { commandId, reason: 'mistyped' } });
    expect([isJoined(7), isJoined(5)]).toEqual([true, false]);
  });

  it('caps no posts that were only covered: on the bench they stay bare', () => {
    const job = new Hands(shippedProfile('whimbrel-34'));
    for (const fact of [
      { kind: 'connectors', are: 'insulated' },
      { kind: 'pack', isOnBench: true },
    ] as const)
      job.say(fact);
    const before = job.volt();
    expect(before).toBeGreaterThan(200);
    const count = (): void => {
      job.count('cable-cover', 1);
      job.do({ type: 'act.withdrawn', body: { commandId: job.events.findLast((e) => e.type === 'part.moved')?.commandId ?? '', reason: 'mistyped' } }); // prettier-ignore
    };
    count();
    expect(job.volt()).toBeCloseTo(before, 6);
    job.say({ kind: 'outletPosts', areBare: false });
    expect(job.volt()).toBe(0);
    count();
    expect(job.volt()).toBe(0);
  });

  it('is one thing to take back: a fact that moved parts is stated anew, not taken back', () => {
    const job = new Hands();
    job.say({ kind: 'covers', areOff: true });
    expect(job.now2().undoable.get('om') ?? []).toEqual([]);
    job.count('hv-cable', 2);
    expect(job.now2().undoable.get('om')).toHaveLength(1);
  });
});

describe('movements of a stream from before', () => {
  it('raise the line in the view and change nothing that was recorded', () => {
    const job = new Recorder().open();
    const moved = {
      stage: 'strip',
      partId: 'hv-cable',
      count: 2,
      from: { kind: 'inPlace' },
      to: { kind: 'onPart' },
      condition: 'good',
    } as const;
    job.add({ type: 'part.moved', body: moved });
    const state = job.state();
    expect(state.pack.connectors).toBe('closed');
    expect(state.facts).toEqual([]);
    expect(findJobExposure(state, dunlin).reachable.volt).toBeCloseTo(STRING, 6);
    expect(listDisagreements(state, dunlin)).toMatchObject([{ thing: 'carSide', sentence: 'HV cable: 2 of 2 counted off' }]);
  });

  it('lower nothing: a part that nobody counted says nothing against a fact', () => {
    const job = new Recorder().open();
    job.fact('open', { kind: 'frame', frame: 'vent-frame', isOff: true });
    expect(listDisagreements(job.state(), dunlin)).toEqual([]);
  });
});

/** Facts and what they do: the plain sense of the words that people say; common practice, no source. */
import { applyEffect, wholePack } from './effect.ts';
import { applyFact, effectsOfFact, factSchema, isSameFact, isTouch, openableLinks, type Fact } from './fact.ts';
import { hazardsOf, isSameHazard, joinHazards, type Hazards } from './hazard.ts';
import type { StringPlan } from './join.ts';
import { isSamePoint, provesCarSide, type Point } from './point.ts';

/** Six modules: a frame of one piece over links 1 and 2, one of single bars over 3 and 4, a plug in link 5. */
const plan: StringPlan = {
  moduleCount: 6,
  frames: [
    { id: 'one', links: [1, 2], opensAsOne: true },
    { id: 'loose', links: [3, 4], opensAsOne: false },
  ],
  bars: [],
  plug: { name: 'plug', opensLink: 5 },
};
const effectOf = (fact: Fact, of: StringPlan = plan) => effectsOfFact(fact, of);
const join = (link: number, by: object) => ({ a: `${link}+`, b: `${link + 1}-`, by });

describe('what a fact does', () => {
  const cases: [Fact, object[]][] = [
    [{ kind: 'key', isAway: true, custody: 'pocket' }, [{ kind: 'touched', what: 'key', isAway: true, custody: 'pocket' }]],
    [{ kind: 'key', isAway: true }, [{ kind: 'touched', what: 'key', isAway: true, custody: null }]],
    [{ kind: 'key', isAway: false, custody: 'pocket' }, [{ kind: 'touched', what: 'key', isAway: false, custody: null }]],
    [{ kind: 'twelveVolt', isOff: true }, [{ kind: 'touched', what: 'twelveVolt', isOff: true }]],
    [{ kind: 'custody', of: 'plug', custody: 'lock box' }, [{ kind: 'stowed', what: 'plug', custody: 'lock box' }]],
    [
      { kind: 'connectors', are: 'open' },
      [
        { kind: 'bared', what: 'carSide', how: 'open' },
        { kind: 'bared', what: 'outletPosts', are: 'bare' },
      ],
    ],
    [
      { kind: 'connectors', are: 'insulated' },
      [
        { kind: 'bared', what: 'carSide', how: 'insulated' },
        { kind: 'bared', what: 'outletPosts', are: 'covered' },
      ],
    ],
    [{ kind: 'outletPosts', areBare: true }, [{ kind: 'bared', what: 'outletPosts', are: 'bare' }]],
    [{ kind: 'outletPosts', areBare: false }, [{ kind: 'bared', what: 'outletPosts', are: 'capped' }]],
    [{ kind: 'contactors', are: 'shut' }, [{ kind: 'joined', what: 'contactors', are: 'shut' }]],
    [{ kind: 'contactors', are: 'unknown' }, [{ kind: 'joined', what: 'contactors', are: 'unknown' }]],
    [{ kind: 'contactors', are: 'open' }, [{ kind: 'parted', what: 'contactors', are: 'open' }]],
    [{ kind: 'contactors', are: 'takenOut' }, [{ kind: 'parted', what: 'contactors', are: 'takenOut' }]],
    [{ kind: 'pack', isOnBench: true }, [{ kind: 'moved', what: 'pack', isOnBench: true }]],
    [{ kind: 'case', isOpen: true }, [{ kind: 'bared', what: 'case', isBare: true }]],
    [{ kind: 'covers', areOff: true }, [{ kind: 'bared', what: 'covers', isBare: true, joints: [0, 1, 2, 3, 4, 5, 6] }]],
    [{ kind: 'covers', areOff: false, over: [6, 2, 99] }, [{ kind: 'bared', what: 'covers', isBare: false, joints: [2, 6] }]],
    [{ kind: 'covers', areOff: true, over: [99] }, []],
    [{ kind: 'harness', isUnplugged: true }, [{ kind: 'parted', what: 'harness' }]],
    [{ kind: 'harness', isUnplugged: false }, [{ kind: 'joined', what: 'harness' }]],
    [{ kind: 'frame', frame: 'none', isOff: true }, []],
    [
      { kind: 'frame', frame: 'one', isOff: true },
      [{ kind: 'parted', what: 'links', links: [join(1, { kind: 'frame', id: 'one' }), join(2, { kind: 'frame', id: 'one' })] }],
    ],
    [
      { kind: 'frame', frame: 'loose', isOff: false },
      [{ kind: 'joined', what: 'links', links: [join(3, { kind: 'frame', id: 'loose' }), join(4, { kind: 'frame', id: 'loose' })] }],
    ],
    [{ kind: 'links', links: [1], areOpen: true }, []],
    [
      { kind: 'links', links: [1, 4], areOpen: true },
      [{ kind: 'parted', what: 'links', links: [join(4, { kind: 'frame', id: 'loose' })] }],
    ],
    [{ kind: 'links', links: [1], areOpen: false }, [{ kind: 'joined', what: 'links', links: [join(1, { kind: 'frame', id: 'one' })] }]],
    [
      { kind: 'module', place: 2, moduleId: null, isTurned: false },
      [{ kind: 'moved', what: 'module', place: 2, moduleId: null, isTurned: false, isLaid: false }],
    ],
    [{ kind: 'charger', volt: 300 }, [{ kind: 'charged', by: 'source', volt: 300 }]],
    [{ kind: 'charger', volt: null }, [{ kind: 'charged', by: 'source', volt: null }]],
    [{ kind: 'charged' }, [{ kind: 'charged', by: 'said' }]],
  ];
  it.each(cases)('%j', (fact, effects) => {
    expect(factSchema.parse(fact)).toEqual(fact);
    expect(effectOf(fact)).toEqual(effects);
  });

  it('the plug opens the link that it sits in, is latched only while it is in and kept only while it is out', () => {
    const plug = { kind: 'touched', what: 'plug', join: join(5, { kind: 'plug', id: 'plug' }) };
    expect(effectOf({ kind: 'plug', isIn: false, isLatched: true, custody: 'pocket' })).toEqual([
      { ...plug, isIn: false, isLatched: null, custody: 'pocket' },
    ]);
    expect(effectOf({ kind: 'plug', isIn: true, isLatched: true, custody: 'pocket' })).toEqual([
      { ...plug, isIn: true, isLatched: true, custody: null },
    ]);
    expect(effectOf({ kind: 'plug', isIn: true })).toEqual([{ ...plug, isIn: true, isLatched: null, custody: null }]);
    expect(effectOf({ kind: 'plug', isIn: false }, { ...plan, plug: { name: 'signal', opensLink: null } })).toEqual([
      { kind: 'touched', what: 'plug', isIn: false, isLatched: null, custody: null, join: null },
    ]);
  });

  it('a frame of one piece opens with all its links or not at all, whatever else is opened', () => {
    expect(openableLinks([1, 2, 3], plan)).toEqual([1, 2, 3]);
    expect(openableLinks([2, 3], plan)).toEqual([3]);
    expect(openableLinks([3], plan)).toEqual([3]);
    expect(openableLinks([], plan)).toEqual([]);
  });

  it('applied twice changes nothing more, and its contrary is the way back', () => {
    const whole = wholePack(plan);
    const opened = applyFact(whole, { kind: 'frame', frame: 'one', isOff: true }, plan);
    expect(hazardsOf(opened).openLinks).toEqual([1, 2]);
    expect(applyFact(opened, { kind: 'frame', frame: 'one', isOff: true }, plan)).toEqual(opened);
    expect(hazardsOf(applyFact(opened, { kind: 'frame', frame: 'one', isOff: false }, plan))).toEqual(hazardsOf(whole));
  });
});

describe('what a fact is', () => {
  it('touches a proof where key, 12 V or plug is moved, and by nothing else', () => {
    const touches = (fact: Fact) => isTouch(fact);
    expect(
      [
        { kind: 'key', isAway: true },
        { kind: 'twelveVolt', isOff: true },
        { kind: 'plug', isIn: true },
      ].map((f) => touches(f as Fact)),
    ).toEqual([true, true, true]);
    expect(touches({ kind: 'custody', of: 'key', custody: 'x' })).toBe(false);
    expect(touches({ kind: 'charged' })).toBe(false);
    expect(touches({ kind: 'harness', isUnplugged: true })).toBe(false);
  });
  it('is the same in whatever order it was stored, whoever keeps the part and however far it was pushed', () => {
    const a: Fact = { kind: 'plug', isIn: false };
    expect(isSameFact(a, { isIn: false, kind: 'plug', custody: 'pocket' })).toBe(true);
    expect(isSameFact({ kind: 'plug', isIn: true }, { kind: 'plug', isIn: true, isLatched: true })).toBe(true);
    expect(isSameFact(a, { kind: 'plug', isIn: true })).toBe(false);
    expect(isSameFact({ kind: 'frame', frame: 'one', isOff: true }, { isOff: true, frame: 'one', kind: 'frame' })).toBe(true);
    expect(isSameFact({ kind: 'frame', frame: 'one', isOff: true }, { kind: 'frame', frame: 'loose', isOff: true })).toBe(false);
  });
});

describe('hazards', () => {
  const whole = hazardsOf(wholePack(plan));
  it('of a whole pack in its car: the cables are on, the contactors may be shut, nothing is bare', () => {
    expect(whole).toEqual({
      ...{ mayBeInCar: true, mayBeOnBench: false, isCarSideBare: false, mayCablesBeOn: true, areOutletPostsBare: false },
      ...{ areOutletPostsUncapped: true, mayContactorsBeShut: true, isCaseOpen: false, bareJoints: [], mayHarnessTie: true },
      ...{ areHarnessPinsBare: false, openLinks: [], chargerVolt: null, emptyPlaces: [], vacantPlaces: [] },
    });
  });
  it.each([
    ['pack', { kind: 'moved', what: 'pack', isOnBench: true }, { mayBeInCar: false, mayBeOnBench: true }],
    ['cables bare', { kind: 'bared', what: 'carSide', how: 'open' }, { isCarSideBare: true, mayCablesBeOn: true }],
    ['cables off', { kind: 'bared', what: 'carSide', how: 'insulated' }, { isCarSideBare: false, mayCablesBeOn: false }],
    ['posts bare', { kind: 'bared', what: 'outletPosts', are: 'bare' }, { areOutletPostsBare: true, areOutletPostsUncapped: true }],
    ['posts capped', { kind: 'bared', what: 'outletPosts', are: 'capped' }, { areOutletPostsBare: false, areOutletPostsUncapped: false }],
    ['contactors open', { kind: 'parted', what: 'contactors', are: 'open' }, { mayContactorsBeShut: true }],
    ['contactors out', { kind: 'parted', what: 'contactors', are: 'takenOut' }, { mayContactorsBeShut: false }],
    ['case', { kind: 'bared', what: 'case', isBare: true }, { isCaseOpen: true }],
    ['harness', { kind: 'parted', what: 'harness' }, { mayHarnessTie: false, areHarnessPinsBare: true }],
    ['charger', { kind: 'charged', by: 'source', volt: 250 }, { chargerVolt: 250 }],
  ] as const)('%s', (_, effect, expected) => {
    expect(hazardsOf(applyEffect(wholePack(plan), effect))).toMatchObject(expected);
  });

  it('of two accounts are those of either, in every respect and in either order', () => {
    const none: Hazards = {
      ...{ mayBeInCar: false, mayBeOnBench: false, isCarSideBare: false, mayCablesBeOn: false, areOutletPostsBare: false },
      ...{ areOutletPostsUncapped: false, mayContactorsBeShut: false, isCaseOpen: false, bareJoints: [], mayHarnessTie: false },
      ...{ areHarnessPinsBare: false, openLinks: [], chargerVolt: null, emptyPlaces: [], vacantPlaces: [] },
    };
    expect(joinHazards(none, none)).toEqual(none);
    for (const key of Object.keys(none) as (keyof Hazards)[]) {
      if (typeof none[key] !== 'boolean') continue;
      const one = { ...none, [key]: true };
      expect([key, joinHazards(one, none)]).toEqual([key, one]);
      expect([key, joinHazards(none, one)]).toEqual([key, one]);
      expect([key, isSameHazard(one, none)]).toEqual([key, false]);
    }
    expect(joinHazards({ ...none, bareJoints: [2, 10] }, { ...none, bareJoints: [1, 2, 9] }).bareJoints).toEqual([1, 2, 9, 10]);
    expect(joinHazards({ ...none, openLinks: [1, 2, 3] }, { ...none, openLinks: [3, 1] }).openLinks).toEqual([1, 3]);
    expect(joinHazards({ ...none, chargerVolt: 20 }, { ...none, chargerVolt: 300 }).chargerVolt).toBe(300);
    expect(joinHazards({ ...none, chargerVolt: 20 }, none).chargerVolt).toBe(20);
    expect(isSameHazard(none, { ...none })).toBe(true);
  });
});

describe('a point', () => {
  const at = (where: Point['at'], label = 'x'): Point => ({ at: where, label });
  it('proves the car side at the cables or the inverter, not at the pack’s own posts', () => {
    expect([at('carSide'), at('inverterPosts'), at('outletPosts')].map(provesCarSide)).toEqual([true, true, false]);
  });
  it('is the same by place and words', () => {
    expect([
      isSamePoint(at('carSide'), at('carSide')),
      isSamePoint(at('carSide'), at('carSide', 'y')),
      isSamePoint(at('carSide'), at('outletPosts')),
    ]).toEqual([true, false, false]);
  });
});

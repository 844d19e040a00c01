import { shippedProfile, SHIPPED } from '../../test/job-fixture.ts';
import { applyEffect, wholePack, type Effect, type PackState } from './effect.ts';
import { hazardsOf, joinHazards } from './hazard.ts';
import { joinOfLink, joinsOfWhole, linksOf, listOpenBars, listOpenLinks, withLinks } from './join.ts';

const profile = shippedProfile('dunlin-28');
const { moduleCount } = profile;

function after(...effects: Effect[]): PackState {
  return effects.reduce(applyEffect, wholePack(profile));
}

describe('joins', () => {
  it.each(SHIPPED)('of a whole %s close every link, each by the part that the profile has there', (id) => {
    const plan = shippedProfile(id);
    const joins = joinsOfWhole(plan);
    expect(joins).toHaveLength(plan.moduleCount - 1);
    expect(listOpenLinks(joins, plan.moduleCount)).toEqual([]);
    for (const frame of plan.frames)
      for (const link of frame.links.filter((k) => k !== plan.plug.opensLink))
        expect(joins[link - 1]?.by).toEqual({ kind: 'frame', id: frame.id });
    const { opensLink, name } = plan.plug;
    if (opensLink !== null) expect(joins[opensLink - 1]?.by).toEqual({ kind: 'plug', id: name });
    expect(joins[0]).toMatchObject({ a: '1+', b: '2-' });
  });

  it('lists what is open, the plug’s link apart from those a hand opened', () => {
    const plug = joinOfLink(profile, 14);
    const joins = withLinks(joinsOfWhole(profile), [joinOfLink(profile, 3), plug], false);
    expect(listOpenLinks(joins, moduleCount)).toEqual([3, 14]);
    expect(listOpenBars({ joins }, profile)).toEqual([3]);
    expect(withLinks(joins, [plug, joinOfLink(profile, 3)], true)).toEqual(joinsOfWhole(profile));
  });

  it('opens a link once however often it is said, and leaves alone a join of posts that are no neighbours', () => {
    const odd = { a: '2-', b: '9+', by: { kind: 'bar', id: 'a bar of the wrong length' } } as const;
    const joins = [...joinsOfWhole(profile), odd];
    const open = withLinks(withLinks(joins, [joinOfLink(profile, 5)], false), [joinOfLink(profile, 5)], false);
    expect(listOpenLinks(open, moduleCount)).toEqual([5]);
    expect(open).toContainEqual(odd);
    // a bar between posts that are no neighbours closes no link
    expect(listOpenLinks([odd], moduleCount)).toHaveLength(moduleCount - 1);
  });

  it('gives no links for a frame that is not there', () => {
    expect(linksOf(profile)('nowhere')).toEqual([]);
    expect(linksOf(profile)('constructor')).toEqual([]);
  });
});

describe('an effect', () => {
  it('touches the plug with its latch, its keeper and the link it opens', () => {
    const join = joinOfLink(profile, 14);
    const out = { kind: 'touched', what: 'plug', isIn: false, isLatched: null, custody: 'lead’s pocket', join } as const;
    const pack = after(out);
    expect(pack).toMatchObject({ isPlugIn: false, plugCustody: 'lead’s pocket' });
    expect(listOpenLinks(pack.joins, moduleCount)).toEqual([14]);
    const inOnly = applyEffect(pack, { ...out, isIn: true, isLatched: false, custody: null });
    expect(inOnly).toMatchObject({ isPlugIn: true, isPlugLatched: false, plugCustody: null });
    expect(listOpenLinks(inOnly.joins, moduleCount)).toEqual([]);
  });

  it('bares, parts, charges and moves one thing each', () => {
    const before = wholePack(profile);
    const cases: [Effect, Partial<PackState>][] = [
      [
        { kind: 'touched', what: 'key', isAway: true, custody: 'box 3' },
        { isKeyAway: true, keyCustody: 'box 3' },
      ],
      [{ kind: 'touched', what: 'twelveVolt', isOff: true }, { isTwelveVoltOff: true }],
      [{ kind: 'bared', what: 'carSide', how: 'open' }, { connectors: 'open' }],
      [{ kind: 'bared', what: 'case', isBare: true }, { isCaseOpen: true }],
      [{ kind: 'bared', what: 'covers', isBare: true, joints: [0, 3] }, { bareJoints: [0, 3] }],
      [{ kind: 'parted', what: 'harness' }, { isHarnessUnplugged: true }],
      [{ kind: 'parted', what: 'contactors', are: 'takenOut' }, { contactors: 'takenOut' }],
      [{ kind: 'charged', by: 'source', volt: 270 }, { chargerVolt: 270 }],
      [{ kind: 'charged', by: 'said' }, {}],
      [{ kind: 'moved', what: 'pack', isOnBench: true }, { isOnBench: true }],
      [{ kind: 'elapsed', since: '2026-05-04T08:00:00.000Z' }, {}],
    ];
    for (const [effect, change] of cases) expect(after(effect)).toEqual({ ...before, ...change });
    const places = after({ kind: 'moved', what: 'module', place: 7, moduleId: 'x', isTurned: true, isLaid: false }).places;
    expect(places[6]).toEqual({ moduleId: 'x', isTurned: true, holds: 'module' });
    expect(places.filter((p) => p.moduleId !== null)).toHaveLength(1);
  });

  it('takes a module from where it was: it sits at one place', () => {
    const put = (place: number, moduleId: string | null): Effect => ({
      kind: 'moved',
      what: 'module',
      place,
      moduleId,
      isTurned: true,
      isLaid: false,
    });
    const { places } = after(put(3, 'x'), put(4, 'y'), put(9, 'x'));
    expect(places[2]).toEqual({ moduleId: null, isTurned: false, holds: 'unknown' });
    expect([places[3]?.moduleId, places[8]?.moduleId]).toEqual(['y', 'x']);
    // an emptied place takes nothing from the other empty ones
    expect(after(put(3, 'x'), put(4, null)).places[2]?.moduleId).toBe('x');
  });
});

describe('two states at once', () => {
  const safest = after(
    { kind: 'touched', what: 'key', isAway: true, custody: null },
    { kind: 'touched', what: 'twelveVolt', isOff: true },
    { kind: 'touched', what: 'plug', isIn: false, isLatched: null, custody: null, join: joinOfLink(profile, 14) },
    { kind: 'bared', what: 'carSide', how: 'insulated' },
    { kind: 'parted', what: 'harness' },
    { kind: 'parted', what: 'contactors', are: 'takenOut' },
    { kind: 'moved', what: 'pack', isOnBench: true },
    { kind: 'parted', what: 'links', links: [joinOfLink(profile, 3)] },
  );
  const worst = after(
    { kind: 'bared', what: 'carSide', how: 'open' },
    { kind: 'bared', what: 'case', isBare: true },
    { kind: 'bared', what: 'covers', isBare: true, joints: [3, 4] },
    { kind: 'bared', what: 'outletPosts', are: 'bare' },
    { kind: 'parted', what: 'contactors', are: 'shut' },
    { kind: 'charged', by: 'source', volt: 300 },
  );

  it.each([
    ['one way', safest, worst],
    ['the other', worst, safest],
  ])('keep the worse of each, taken %s round', (_, a, b) => {
    expect(joinHazards(hazardsOf(a), hazardsOf(b))).toEqual({
      ...{
        mayBeInCar: true,
        mayBeOnBench: true,
        isCarSideBare: true,
        mayCablesBeOn: true,
        areOutletPostsBare: true,
        areOutletPostsUncapped: true,
        mayContactorsBeShut: true,
      },
      ...{ isCaseOpen: true, bareJoints: [3, 4], mayHarnessTie: true, areHarnessPinsBare: true, openLinks: [], chargerVolt: 300 },
      ...{ emptyPlaces: [], vacantPlaces: [] },
    });
  });

  it('count a place as empty where both say so, and as perhaps empty where one does', () => {
    const put = (place: number, moduleId: string | null): Effect => ({
      kind: 'moved',
      what: 'module',
      place,
      moduleId,
      isTurned: false,
      isLaid: false,
    });
    const [a, b] = [after(put(2, null), put(3, null)), after(put(2, null), put(5, 'x'), put(6, 'x'))];
    expect(joinHazards(hazardsOf(a), hazardsOf(b))).toMatchObject({ emptyPlaces: [2], vacantPlaces: [2, 3, 5] });
  });
});

import { SHIPPED, shippedProfile } from '../../test/job-fixture.ts';
import { coolingOf, filterProfiles, sayPlug, sayString, type PackWanted } from './tell-pack.ts';

const ALL = SHIPPED.map(shippedProfile);
const idsOf = (wanted: Partial<PackWanted>): string[] =>
  filterProfiles(ALL, { text: '', chemistry: null, plug: null, cooling: null, ...wanted }).map((p) => p.id);

describe('telling packs apart', () => {
  it('says string and plug in a line', () => {
    expect(sayString(shippedProfile('dunlin-28'))).toBe('28 × 6 cells NiMH, 201.6 V nominal');
    expect(sayPlug(shippedProfile('greenshank-28'))).toBe('signal plug, swing handle: opens nothing of the string');
    expect(sayPlug(shippedProfile('dunlin-28'))).toContain('opens link 14');
  });

  it('finds every one where nothing is asked', () => {
    expect(idsOf({})).toEqual(ALL.map((p) => p.id));
  });

  it('narrows by chemistry, plug and cooling, each by itself and together', () => {
    expect(idsOf({ chemistry: 'liion' })).toEqual(ALL.filter((p) => p.moduleType.chemistry === 'liion').map((p) => p.id));
    expect(idsOf({ plug: 'round' })).toEqual(['curlew-42']);
    expect(idsOf({ cooling: 'liquid' })).toEqual(ALL.filter((p) => p.coolant !== null).map((p) => p.id));
    expect(idsOf({ chemistry: 'nimh', plug: 'lever' })).toEqual(['dunlin-28', 'turnstone-30']);
    expect(coolingOf(shippedProfile('dunlin-28'))).toBe('air');
  });

  it('finds by words in any order: count, volts, where the plug is', () => {
    expect(idsOf({ text: '28' })).toContain('dunlin-28');
    expect(idsOf({ text: 'seat  PLUG' })).toContain('turnstone-30');
    expect(idsOf({ text: '288' })).toEqual(['turnstone-30']);
    expect(idsOf({ text: 'no such thing' })).toEqual([]);
  });
});

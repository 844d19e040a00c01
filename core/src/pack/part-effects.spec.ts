import { SHIPPED, shippedProfile } from '../../test/job-fixture.ts';
import { linksParted, listWithoutEffect, sayEffect } from './part-effects.ts';

describe.each(SHIPPED)('the parts of %s', (id) => {
  const pack = shippedProfile(id);
  const effects = pack.parts.flatMap((p) => p.effects);

  it('say what bares the car side, the case and the posts, what unplugs the harness and what holds the pack', () => {
    const bared = effects.flatMap((e) => (e.kind === 'bares' ? [e.what] : []));
    expect(bared).toEqual(expect.arrayContaining(['carSide', 'case', 'covers']));
    expect(effects.map((e) => e.kind)).toEqual(expect.arrayContaining(['partsHarness', 'partsMounting']));
  });

  it('part every link but the plug’s, each by one part', () => {
    const parted = pack.parts.flatMap((p) => linksParted(p, pack));
    const all = Array.from({ length: pack.moduleCount - 1 }, (_, i) => i + 1).filter((k) => k !== pack.plug.opensLink);
    expect(parted.sort((a, b) => a - b)).toEqual(all);
  });

  it('of the pack’s own layers leave no bar without an effect', () => {
    expect(listWithoutEffect(pack).filter((p) => p.kind === 'bar')).toEqual([]);
  });
});

it('says an effect as it follows on the name of the part', () => {
  const pack = shippedProfile('dunlin-28');
  expect(sayEffect({ kind: 'bares', what: 'outletPosts' }, pack)).toBe('bares the HV posts of the pack');
  expect(sayEffect({ kind: 'partsFrame', frame: 'vent-frame' }, pack)).toContain('vent side');
  expect(sayEffect({ kind: 'bares', what: 'covers', over: [1, 3] }, pack)).toBe('bares the posts of 2 joints');
  expect(sayEffect({ kind: 'partsLinks', links: [10] }, pack)).toBe('parts link 10');
});

it('warns of a cover of the pack without an effect before a floor board', () => {
  const pack = shippedProfile('whimbrel-34');
  const parts = pack.parts.map((p) => (p.id === 'post-cover' ? { ...p, effects: [] } : p));
  expect(listWithoutEffect({ ...pack, parts }).map((p) => p.id)).toEqual(['post-cover', 'floor-board']);
});

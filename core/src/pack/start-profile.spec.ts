import { shippedProfile } from '../../test/job-fixture.ts';
import { findIsolation } from '../job/chapters/isolate/view.ts';
import { isolationPolicySchema } from '../isolate/policy.ts';
import { startState } from '../job/frame/state.ts';
import { findJobExposure } from '../job/line/exposure.ts';
import { compareProfiles } from './compare-profiles.ts';
import { slugOf, startProfile, type PackSketch } from './start-profile.ts';

const SKETCH: PackSketch = {
  ...{ name: 'Reed Warbler 30', archetype: 'C', chemistry: 'nimh', moduleCount: 30, cells: 8, capacityAh: 6.5 },
  ...{ blocks: Array<number>(15).fill(2), plugName: 'seat plug', plugKind: 'lever', plugWhere: 'under the cushion', opensLink: 15 },
  ...{ hasFrames: true, packKilogram: 52, moduleKilogram: 1.4, capacitorMinute: 10 },
};
function profileOf(change: Partial<PackSketch> = {}) {
  const found = startProfile({ ...SKETCH, ...change });
  if (found.kind === 'refused') throw new Error(`${found.path.join('.')}: ${found.message}`);
  return found.value;
}

describe('a profile begun from a label', () => {
  it('is whole: its string, its layers and the way back up fit each other', () => {
    const made = profileOf();
    expect(made).toMatchObject({
      id: 'reed-warbler-30',
      version: 1,
      moduleType: { nominalVolt: 9.6, maximumModuleVolt: 12.8, cutoffVolt: 8 },
    });
    const links = made.frames.flatMap((f) => f.links);
    expect([...links, 15].sort((a, b) => a - b)).toEqual(Array.from({ length: 29 }, (_, i) => i + 1));
    expect(made.rebuild.map((s) => s.layer)).toEqual([null, 'far-frame-bars', 'near-frame-bars', 'terminal-covers', 'sense', 'case-lid']);
  });

  it.each([
    ['bars one by one', { hasFrames: false }],
    ['a plug that only signals', { opensLink: null, plugKind: 'swing' }],
    [
      'lithium-ion behind a switch',
      { chemistry: 'liion', cells: 4, moduleCount: 12, blocks: Array<number>(12).fill(1), opensLink: 6, plugKind: 'switch' },
    ],
    ['two modules', { moduleCount: 2, blocks: [2], opensLink: 1 }],
  ] as const)('can be worked on at once: %s', (_, change) => {
    const made = profileOf(change);
    const state = startState(made);
    expect(findJobExposure(state, made, 0).reachable.volt).toBe(0);
    // never below what stands there: every module at its maximum until it is measured
    expect(findJobExposure(state, made, 0).behind.volt).toBeCloseTo(made.moduleCount * made.moduleType.maximumModuleVolt, 6);
    expect(findIsolation(state, made, isolationPolicySchema.parse({}), 0).nextId).toBe('key');
  });

  it('says which figure does not fit', () => {
    const refused = (change: Partial<PackSketch>) => {
      const found = startProfile({ ...SKETCH, ...change });
      return found.kind === 'refused' ? found.path.join('.') : 'taken';
    };
    expect(refused({ name: '—' })).toBe('name');
    expect(refused({ blocks: [2, 2] })).toBe('blocks');
    expect(refused({ opensLink: 30 })).toBe('plug.opensLink');
    expect(refused({ moduleCount: 1, blocks: [1], opensLink: null })).toBe('moduleCount');
    for (const moduleCount of [-4, 28.5, 1e9, Number.NaN, Infinity]) expect(refused({ moduleCount })).toBe('moduleCount');
    expect(refused({ cells: Number.NaN })).toBe('moduleType.cells');
    expect(refused({ capacityAh: 0 })).toBe('moduleType.nominalCapacityAh');
    expect(refused({ plugWhere: ' ' })).toBe('plug.where');
  });

  it('makes an id of any name that has a letter', () => {
    expect(slugOf('  Köhler’s Pack #2 ')).toBe('kohler-s-pack-2');
    expect(slugOf('§§')).toBe('');
  });
});

describe('two versions of a profile', () => {
  const before = shippedProfile('dunlin-28');

  it('differ in nothing where nothing but the version does', () => {
    expect(compareProfiles(before, { ...before, version: 9 })).toEqual([]);
  });

  it('tell a changed torque by its part, whatever stands before it, and what came and went', () => {
    const [first, ...rest] = before.parts;
    if (!first) throw new Error('no parts');
    const torqued = rest.map((p) => (p.id === 'belt-bolt' && p.torque ? { ...p, torque: { ...p.torque, newtonMetre: 42 } } : p));
    const after = { ...before, parts: torqued, waits: { ...before.waits, capacitorMinute: 15 } };
    expect(compareProfiles(before, after)).toEqual([
      { path: ['waits', 'capacitorMinute'], before: 10, after: 15 },
      { path: ['parts', first.id], before: first, after: undefined },
      { path: ['parts', 'belt-bolt', 'torque', 'newtonMetre'], before: 40, after: 42 },
    ]);
  });

  it('tell a list of figures as one', () => {
    const after = { ...before, blocks: [4, ...before.blocks.slice(2)] };
    expect(compareProfiles(before, after)).toEqual([{ path: ['blocks'], before: before.blocks, after: after.blocks }]);
  });
});

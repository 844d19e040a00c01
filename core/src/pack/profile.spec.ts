import { readFileSync } from 'node:fs';
import { SHIPPED, shippedProfile } from '../../test/job-fixture.ts';
import { blockPlaces, checkProfile, plusSide, type Profile } from './profile.ts';
import { readProfile } from './read-profile.ts';

const shipped = (): Profile => shippedProfile('dunlin-28');

/** With its first scanned figure changed. */
function withField(profile: Profile, change: Partial<NonNullable<Profile['scan']>['fields'][number]>): Profile {
  const { scan } = profile;
  return scan ? { ...profile, scan: { ...scan, fields: scan.fields.map((f, i) => (i === 0 ? { ...f, ...change } : f)) } } : profile;
}

describe.each(SHIPPED)('the shipped profile %s', (id) => {
  const profile = shippedProfile(id);
  it('gives every link to one frame, one bar or the plug', () => {
    const held = [...profile.frames.flatMap((f) => f.links), ...profile.bars.map((b) => b.link), profile.plug.opensLink]
      .filter((k) => k !== null)
      .sort((a, b) => a - b);
    expect(held).toEqual(Array.from({ length: profile.moduleCount - 1 }, (_, i) => i + 1));
  });
  it('puts each frame on the side where its links lie', () => {
    for (const frame of profile.frames) for (const link of frame.links) expect(plusSide(profile, link)).toBe(frame.side);
  });
  it('names its own kind of module, its blocks and its hazards', () => {
    const { chemistry, cells, nominalVolt } = profile.moduleType;
    expect(nominalVolt).toBeCloseTo(cells * (chemistry === 'nimh' ? 1.2 : 3.6), 6);
    expect(profile.blocks.reduce((a, b) => a + b)).toBe(profile.moduleCount);
    expect(profile.hazards.length).toBeGreaterThan(0);
    expect(profile.airPath.length).toBeGreaterThan(0);
  });
});

it('ships one profile for each archetype', () => {
  expect(SHIPPED.map((id) => shippedProfile(id).archetype).sort()).toEqual(['A', 'B', 'C', 'D', 'E', 'F', 'G', 'H']);
});

describe('readProfile', () => {
  const old: unknown = JSON.parse(readFileSync(new URL('../../profiles/fixtures/profile-form-1.json', import.meta.url), 'utf8'));
  it('brings a profile of the first form up, torques and all', () => {
    const read = readProfile(old);
    if (read.kind === 'refused') throw new Error(read.message);
    expect(read.value).toMatchObject({ schemaVersion: 6, moduleCount: 28, plug: { kind: 'lever', opensLink: 14 } });
    expect(read.value.parts.map((f) => [f.id, f.torque?.newtonMetre])).toEqual([['bus-bar-nut-m5', 5.4], ['pack-bolt-m8', 19], ['hv-cable-bolt-m6', 8]]); // prettier-ignore
  });
  it('brings a profile of the second form up: layers from its procedure, every fastener at a place', () => {
    const second: unknown = JSON.parse(readFileSync(new URL('../../profiles/fixtures/profile-form-2.json', import.meta.url), 'utf8'));
    const read = readProfile(second);
    if (read.kind === 'refused') throw new Error(read.message);
    expect(read.value.layers.map((l) => l.name)).toEqual(['case lid', 'sense harness', 'terminal covers', 'vent side bus-bar frame', 'cable side bus-bar frame']); // prettier-ignore
    expect(read.value.parts.map((p) => [p.id, p.kind, p.place, p.count])).toEqual([
      ['bar-nut', 'fastener', 'layer-4', 56],
      ['pack-bolt', 'fastener', 'vehicle', 6],
      ['cable-bolt', 'fastener', 'vehicle', 2],
      ['hold-down', 'fastener', 'vehicle', 28],
      ['trim-clip', 'clip', 'vehicle', 14],
    ]);
    expect(read.value.lift.by).toBe('twoPeople');
  });
  it('brings a profile of the third form up: the point of proof as structure, parts that do nothing until told', () => {
    const third: unknown = JSON.parse(readFileSync(new URL('../../profiles/fixtures/profile-form-3.json', import.meta.url), 'utf8'));
    const read = readProfile(third);
    if (read.kind === 'refused') throw new Error(read.message);
    expect(read.value.isolation.point).toEqual({ at: 'carSide', label: 'inverter posts, under their cover' });
    expect(read.value.parts.find((p) => p.id === 'bar-nut')).toMatchObject({ count: 56, effects: [] });
    expect(read.value.parts).toHaveLength(29);
  });
  it('brings a profile of the fourth form up: the layers go on again from the innermost out', () => {
    const fourth: unknown = JSON.parse(readFileSync(new URL('../../profiles/fixtures/profile-form-4.json', import.meta.url), 'utf8'));
    const read = readProfile(fourth);
    if (read.kind === 'refused') throw new Error(read.message);
    const { rebuild, layers, coolant } = read.value;
    expect(rebuild.map((s) => s.id)).toEqual(['stack', ...layers.map((l) => l.id).reverse()]);
    expect(rebuild.at(-1)?.parts).toEqual(['lid-screw', 'lid', 'fan-screw', 'fan-piece']);
    expect(rebuild[1]?.looks).toEqual(['nubsSeated', 'endsFlush', 'gapsOpen', 'flapStraight']);
    expect(coolant).toBeNull();
  });
  it('brings a profile of the fifth form up: what bares or joins is on before the wake, the rest before the car moves', () => {
    const fifth: unknown = JSON.parse(readFileSync(new URL('../../profiles/fixtures/profile-form-5.json', import.meta.url), 'utf8'));
    const read = readProfile(fifth);
    if (read.kind === 'refused') throw new Error(read.message);
    const { wake, scan, cooling, airPath } = read.value;
    expect(scan).toBeNull();
    expect(wake.beforeWake).toEqual(['interlock', 'hv-cable', 'low-plug', 'pack-bolt']);
    expect(wake.beforeDrive).toContain('seat-bolt');
    expect(wake.plugSteps.at(-1)).toContain('locks');
    expect(cooling).toEqual({ cleanCubicMetrePerHour: 140, stripMonths: null, fanNeedsDead: true });
    expect(airPath[0]).toMatchObject({ note: '', pins: '' });
  });
  it.each<[string, unknown, object]>([
    ['a list', [], { code: 'unreadable' }],
    ['no version', {}, { code: 'unreadable', path: ['schemaVersion'] }],
    ['a later form', { schemaVersion: 7 }, { code: 'unreadable', path: ['schemaVersion'] }],
    ['a first form that is none', { schemaVersion: 1 }, { code: 'unreadable' }],
    ['a field that does not fit', { ...shipped(), massKilogram: -1 }, { code: 'impossible', path: ['massKilogram'] }],
    ['a field too many', { ...shipped(), extra: 1 }, { code: 'impossible' }],
    ['parts that do not fit', { ...shipped(), blocks: [28, 1] }, { code: 'mismatch', path: ['blocks'] }],
  ])('refuses %s with the place', (_what, raw, refusal) => {
    expect(readProfile(raw)).toMatchObject({ kind: 'refused', ...refusal });
  });
});

describe('checkProfile', () => {
  it.each([
    ['blocks', (p: Profile) => ({ ...p, blocks: [2, 2] }), ['blocks']],
    ['a wake', (p: Profile) => ({ ...p, wake: { ...p.wake, beforeDrive: ['none'] } }), ['wake', 'beforeDrive', 0]],
    ['a wake of the pack itself', (p: Profile) => ({ ...p, wake: { ...p.wake, beforeWake: ['lid'] } }), ['wake', 'beforeWake', 0]],
    ['a part twice', (p: Profile) => ({ ...p, wake: { ...p.wake, beforeDrive: ['interlock'] } }), ['wake', 'beforeDrive', 0]],
    ['a sign twice', (p: Profile) => ({ ...p, wake: { ...p.wake, signs: [...p.wake.signs, ...p.wake.signs.slice(0, 1)] } }), ['wake', 'signs', 4]], // prettier-ignore
    ['a scanned block', (p: Profile) => withField(p, { number: 15 }), ['scan', 'fields', 0, 'number']],
    ['a local identifier', (p: Profile) => withField(p, { identifier: 256 }), ['scan', 'fields', 0, 'identifier']],
    ['a figure twice', (p: Profile) => withField(p, { number: 2 }), ['scan', 'fields', 1, 'number']],
    ['heat weights', (p: Profile) => ({ ...p, heatWeights: [1] }), ['heatWeights']],
    ['plug', (p: Profile) => ({ ...p, plug: { ...p.plug, opensLink: 28 } }), ['plug', 'opensLink']],
    ['a link held twice', (p: Profile) => ({ ...p, plug: { ...p.plug, opensLink: 2 } }), ['frames', 1, 'links', 0]],
    ['a bar that is a frame’s', (p: Profile) => ({ ...p, bars: [{ link: 3, kind: 'bar' as const, name: 'B' }] }), ['bars', 0, 'link']],
    ['bays with a gap', (p: Profile) => ({ ...p, bays: [{ name: 'left', from: 1, to: 10 }, { name: 'right', from: 12, to: 28 }] }), ['bays', 1]], // prettier-ignore
    ['bays that end early', (p: Profile) => ({ ...p, bays: [{ name: 'left', from: 1, to: 10 }] }), ['bays']],
    ['a nut that is not there', (p: Profile) => ({ ...p, posts: { ...p.posts, nutFastener: 'none' } }), ['posts', 'nutFastener']],
    ['two parts of one id', (p: Profile) => ({ ...p, parts: p.parts.map((f) => ({ ...f, id: 'bar-nut' })) }), ['parts', 1, 'id']],
    ['a part of no place', (p: Profile) => ({ ...p, parts: p.parts.map((f) => ({ ...f, place: 'roof' })) }), ['parts', 0, 'place']],
    ['a zone and a layer of one name', (p: Profile) => ({ ...p, layers: p.layers.map((l, i) => (i === 0 ? { ...l, id: 'boot' } : l)) }), ['layers', 0, 'id']], // prettier-ignore
    ['a zone beyond the plan', (p: Profile) => ({ ...p, zones: p.zones.map((z) => ({ ...z, area: { ...z.area, length: 60 } })) }), ['zones', 0, 'area']], // prettier-ignore
    ['a layer of a frame that is not there', (p: Profile) => ({ ...p, layers: p.layers.map((l) => ({ ...l, fact: { kind: 'frame' as const, frame: 'x', isOff: true } })) }), ['layers', 0, 'fact', 'frame']], // prettier-ignore
    ['a procedure of a missing stage', (p: Profile) => ({ ...p, stages: ['intake' as const] }), ['procedure', 0, 'stage']],
    ['a cut-off above nominal', (p: Profile) => ({ ...p, moduleType: { ...p.moduleType, cutoffVolt: 8 } }), ['moduleType', 'cutoffVolt']],
    ['a part of a frame that is not there', (p: Profile) => ({ ...p, parts: p.parts.map((f) => ({ ...f, effects: [{ kind: 'partsFrame' as const, frame: 'x' }] })) }), ['parts', 0, 'effects', 0, 'frame']], // prettier-ignore
    ['a part of a link that is not there', (p: Profile) => ({ ...p, parts: p.parts.map((f) => ({ ...f, effects: [{ kind: 'partsLinks' as const, links: [28] }] })) }), ['parts', 0, 'effects', 0, 'links']], // prettier-ignore
    ['a cover over a joint that is not there', (p: Profile) => ({ ...p, parts: p.parts.map((f) => ({ ...f, effects: [{ kind: 'bares' as const, what: 'covers' as const, over: [29] }] })) }), ['parts', 0, 'effects', 0, 'over']], // prettier-ignore
    ['a lid over some joints', (p: Profile) => ({ ...p, parts: p.parts.map((f) => ({ ...f, effects: [{ kind: 'bares' as const, what: 'case' as const, over: [1] }] })) }), ['parts', 0, 'effects', 0, 'over']], // prettier-ignore
    ['a step that lays nothing', (p: Profile) => ({ ...p, rebuild: p.rebuild.filter((s) => s.does !== 'stack').map((s) => ({ ...s, shutsOff: [] })) }), ['rebuild']], // prettier-ignore
    ['a step of a layer that is not there', (p: Profile) => ({ ...p, rebuild: p.rebuild.map((s, i) => (i === 5 ? { ...s, layer: 'roof' } : s)) }), ['rebuild', 5, 'layer']], // prettier-ignore
    ['a layer that goes on twice', (p: Profile) => ({ ...p, rebuild: p.rebuild.map((s, i) => (i === 6 ? { ...s, layer: 'vent-bars' } : s)) }), ['rebuild', 6, 'layer']], // prettier-ignore
    ['a layer that never goes on again', (p: Profile) => ({ ...p, rebuild: p.rebuild.filter((s) => s.layer !== 'sense') }), ['rebuild']],
    ['a step of a part that is not there', (p: Profile) => ({ ...p, rebuild: p.rebuild.map((s, i) => (i === 2 ? { ...s, parts: ['x'] } : s)) }), ['rebuild', 2, 'parts', 0]], // prettier-ignore
    ['a part in two steps', (p: Profile) => ({ ...p, rebuild: p.rebuild.map((s, i) => (i === 4 ? { ...s, parts: ['plate-bolt'] } : s)) }), ['rebuild', 4, 'parts', 0]], // prettier-ignore
    ['a step that shuts off a later one', (p: Profile) => ({ ...p, rebuild: p.rebuild.map((s, i) => (i === 2 ? { ...s, shutsOff: ['case-lid'] } : s)) }), ['rebuild', 2, 'shutsOff', 0]], // prettier-ignore
    ['a bay of a pack without bays', (p: Profile) => ({ ...p, rebuild: p.rebuild.map((s, i) => (i === 1 ? { ...s, bay: 1 } : s)) }), ['rebuild', 1, 'bay']], // prettier-ignore
    ['a leak of a pack without coolant', (p: Profile) => ({ ...p, rebuild: p.rebuild.map((s, i) => (i === 7 ? { ...s, does: 'leak' as const } : s)) }), ['rebuild', 7, 'does']], // prettier-ignore
    ['two steps of one id', (p: Profile) => ({ ...p, rebuild: p.rebuild.map((s, i) => (i === 8 ? { ...s, id: 'stack' } : s)) }), ['rebuild', 8, 'id']], // prettier-ignore
    ['a stray sensor', (p: Profile) => ({ ...p, sensors: [{ id: 's', name: 'S', place: 40 }] }), ['sensors', 0, 'place']],
  ])('names %s that does not fit', (_what, change, path) => {
    expect(checkProfile(change(shipped()))).toMatchObject({ kind: 'refused', code: 'mismatch', path });
  });
});

it('numbers the places of blocks from one', () => {
  expect(blockPlaces([2, 4, 1])).toEqual([
    { from: 1, to: 2 },
    { from: 3, to: 6 },
    { from: 7, to: 7 },
  ]);
});

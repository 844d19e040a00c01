import { readFileSync } from 'node:fs';
import { blockPlaces, checkProfile, plusSide, profileSchema, type Profile } from './profile.ts';

const shipped = (): Profile =>
  profileSchema.parse(JSON.parse(readFileSync(new URL('../../profiles/dunlin-28.json', import.meta.url), 'utf8')));

describe('the shipped profile', () => {
  it('fits itself', () => {
    expect(checkProfile(shipped())).toMatchObject({ kind: 'answer' });
  });
  it('gives every link to a frame or to the plug', () => {
    const profile = shipped();
    const held = [...profile.frames.flatMap((f) => f.links), profile.plug.opensLink].sort((a, b) => Number(a) - Number(b));
    expect(held).toEqual(Array.from({ length: profile.moduleCount - 1 }, (_, i) => i + 1));
  });
  it('puts each frame on the side where its links lie', () => {
    const profile = shipped();
    for (const frame of profile.frames) for (const link of frame.links) expect(plusSide(profile, link)).toBe(frame.side);
  });
});

describe('checkProfile', () => {
  it.each([
    ['blocks', (p: Profile) => ({ ...p, blocks: [2, 2] }), ['blocks']],
    ['heat weights', (p: Profile) => ({ ...p, heatWeights: [1] }), ['heatWeights']],
    ['plug', (p: Profile) => ({ ...p, plug: { ...p.plug, opensLink: 28 } }), ['plug', 'opensLink']],
    ['a link held twice', (p: Profile) => ({ ...p, plug: { ...p.plug, opensLink: 2 } }), ['frames', 1, 'links', 0]],
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

import { profile } from '../../../test/job-fixture.ts';
import { wholePack, type PackState } from '../../pack/effect.ts';
import type { Fact } from '../../pack/fact.ts';
import { findOutOfOrder } from './order.ts';

// which order the trade keeps: common practice, no source
const SHUT = wholePack(profile);
const SAFE: PackState = { ...SHUT, isKeyAway: true, isTwelveVoltOff: true, isPlugIn: false };
const BARE: PackState = { ...SAFE, connectors: 'insulated', isCaseOpen: true, bareJoints: [3], isHarnessUnplugged: true };
/** Frames that open one link at a time, and one whose links open together. */
const PLAN = { ...profile, frames: [{ ...profile.frames[0], id: 'one', links: [2, 4, 6], opensAsOne: true }] } as typeof profile;

const said = (pack: PackState, fact: Fact): string | null => findOutOfOrder(pack, fact, PLAN);

describe('a fact that comes otherwise than the trade does it', () => {
  it.each<[string, PackState, Fact]>([
    ['HV connectors were taken off with the plug in.', SHUT, { kind: 'connectors', are: 'open' }],
    ['HV connectors were taken off with the plug in.', SHUT, { kind: 'connectors', are: 'insulated' }],
    ['The pack came out with its HV connectors stated on.', SAFE, { kind: 'pack', isOnBench: true }],
    ['The case was opened with the plug in.', SHUT, { kind: 'case', isOpen: true }],
    ['The covers came off with the plug in.', { ...SHUT, isCaseOpen: true }, { kind: 'covers', areOff: true }],
    ['The covers came off with the plug in.', SHUT, { kind: 'covers', areOff: true }],
    ['The covers came off with the case shut.', SAFE, { kind: 'covers', areOff: true }],
    [
      'Links were moved with the case or the covers stated on.',
      { ...BARE, isCaseOpen: false },
      { kind: 'links', links: [7], areOpen: true },
    ],
    ['Links were moved with the case or the covers stated on.', { ...BARE, bareJoints: [] }, { kind: 'frame', frame: 'one', isOff: true }],
    [
      'Links were moved with the sense harness still plugged in.',
      { ...BARE, isHarnessUnplugged: false },
      { kind: 'links', links: [7], areOpen: true },
    ],
    ['The plug went in with the posts bare.', BARE, { kind: 'plug', isIn: true }],
    ['The plug was pulled with the key stated in the car.', SHUT, { kind: 'plug', isIn: false }],
    ['The 12 V came off with the key stated in the car.', SHUT, { kind: 'twelveVolt', isOff: true }],
  ])('%s', (sentence, pack, fact) => {
    expect(said(pack, fact)).toBe(sentence);
  });

  it('a link of a frame that opens as one, alone, counts as joined; all of its links are the frame', () => {
    expect(said(BARE, { kind: 'links', links: [2], areOpen: true })).toMatch(/counts as joined until the frame is off/);
    expect(said(BARE, { kind: 'links', links: [2, 4, 6], areOpen: true })).toBeNull();
    expect(said(BARE, { kind: 'links', links: [2], areOpen: false })).toBeNull();
  });

  it.each<[PackState, Fact]>([
    [SAFE, { kind: 'connectors', are: 'open' }],
    [SHUT, { kind: 'connectors', are: 'closed' }],
    [
      { ...SAFE, connectors: 'open' },
      { kind: 'pack', isOnBench: true },
    ],
    [SAFE, { kind: 'pack', isOnBench: false }],
    [SAFE, { kind: 'case', isOpen: true }],
    [SHUT, { kind: 'case', isOpen: false }],
    [BARE, { kind: 'covers', areOff: true }],
    [SHUT, { kind: 'covers', areOff: false }],
    [BARE, { kind: 'links', links: [7], areOpen: true }],
    [BARE, { kind: 'frame', frame: 'one', isOff: true }],
    [
      { ...BARE, isCaseOpen: false },
      { kind: 'plug', isIn: true },
    ],
    [
      { ...BARE, bareJoints: [] },
      { kind: 'plug', isIn: true },
    ],
    [SAFE, { kind: 'plug', isIn: false }],
    [SAFE, { kind: 'twelveVolt', isOff: true }],
    [SHUT, { kind: 'twelveVolt', isOff: false }],
    [SHUT, { kind: 'key', isAway: true }],
    [SHUT, { kind: 'outletPosts', areBare: true }],
    [SHUT, { kind: 'harness', isUnplugged: true }],
    [SHUT, { kind: 'contactors', are: 'shut' }],
    [SHUT, { kind: 'module', place: 1, moduleId: 'x', isTurned: false }],
  ])('in order: %#', (pack, fact) => {
    expect(said(pack, fact)).toBeNull();
  });
});

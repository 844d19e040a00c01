import { shippedProfile } from '../../test/job-fixture.ts';
import { judgeByCurve } from '../cool/fan.ts';
import { turnFan, type HiddenFan } from './hidden-fan.ts';
import { hidePack, leadVolt, type HiddenPack } from './hidden-pack.ts';

const profile = shippedProfile('dunlin-28');
const pack: HiddenPack = { ...hidePack(profile, () => 0.5), tauSecond: 100 };
const at = (second: number): string => new Date(second * 1000).toISOString();
const read = (cuts: { plugOutAt: string | null; twelveVoltOffAt: string | null }, second: number, over: Partial<HiddenPack> = {}, opensLink: number | null = 14) =>
  leadVolt('plusMinus', { ...pack, ...over }, cuts, { ...profile.plug, opensLink }, null, second * 1000); // prettier-ignore

it('stands at the string until plug or 12 V is off, then drains by exp(-t/tau)', () => {
  expect(read({ plugOutAt: null, twelveVoltOffAt: null }, 500)).toBe(pack.stringVolt);
  // V(t) = V0 exp(-t/RC): after one time constant 36.8 % are left
  expect(read({ plugOutAt: null, twelveVoltOffAt: at(0) }, 100) / pack.stringVolt).toBeCloseTo(0.3679, 4);
  expect(read({ plugOutAt: at(50), twelveVoltOffAt: at(0) }, 100) / pack.stringVolt).toBeCloseTo(0.3679, 4);
});

it('stays up with stuck contactors, unless the plug opens the string', () => {
  const off = { plugOutAt: at(0), twelveVoltOffAt: at(0) };
  expect(read(off, 1000, { isContactorStuck: true }, null)).toBe(pack.stringVolt);
  expect(read(off, 1000, { isContactorStuck: true })).toBeLessThan(0.1);
});

it('divides between the poles by their insulation, and turns with the leads', () => {
  const cuts = { plugOutAt: null, twelveVoltOffAt: null };
  const of = (place: Parameters<typeof leadVolt>[0]): number => leadVolt(place, pack, cuts, profile.plug, null, 0);
  expect(of('plusChassis') - of('minusChassis')).toBeCloseTo(pack.stringVolt, 9);
  expect(of('minusPlus')).toBe(-pack.stringVolt);
  expect(of('knownBefore')).toBe(pack.batteryVolt);
  expect(leadVolt('knownAfter', pack, cuts, profile.plug, 240, 0)).toBe(240);
});

it('hides a fan that starts when its bearing lets go, and moves by its voltage and by what its wheel leaves open', () => {
  const well = { freeCubicMetrePerHour: 280, blockedShare: 0, wear: 0 };
  expect(turnFan(well, 12)).toEqual({ ampere: 1.4, cubicMetrePerHour: 280 });
  expect(turnFan(well, 6).cubicMetrePerHour).toBe(140);
  expect(turnFan(well, 2).cubicMetrePerHour).toBe(0);
  const curve = (over: Partial<HiddenFan>) => [2, 4, 6, 8, 10, 12].map((volt) => ({ volt, ...turnFan({ ...well, ...over }, volt) }));
  // what is hidden is what its curve says
  expect(judgeByCurve(curve({}), 280)).toMatchObject({ verdict: 'free', startVolt: 4 });
  expect(judgeByCurve(curve({ blockedShare: 0.8 }), 280)).toMatchObject({ verdict: 'blocked' });
  expect(judgeByCurve(curve({ wear: 0.6 }), 280)).toMatchObject({ verdict: 'worn', isFit: true, startVolt: 8 });
  expect(judgeByCurve(curve({ wear: 0.9 }), 280)).toMatchObject({ verdict: 'worn', isFit: false });
});

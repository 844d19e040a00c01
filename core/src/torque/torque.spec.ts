/**
 * Tools: ISO 6789-1, from memory. Stress areas and proof stresses: ISO 898-1, from memory. Torques heard in the trade: common practice, no
 * source. Units: exact by definition (NIST SP 811, appendix B.8).
 */
import { convertTorque } from '../quantity/torque.ts';
import { findClampLoad } from './clamp-load.ts';
import { findSlip, isTorqueWithin, showTorque } from './slips.ts';
import { coverTools, judgeTools } from './tools.ts';

describe('torques heard in the trade, in newton metre', () => {
  it.each([
    [35, 3.954],
    [50, 5.649],
    [55, 6.214],
    [60, 6.779],
    [66, 7.457],
    [71, 8.022],
    [90, 10.169],
  ])('%d lbf·in', (value, newtonMetre) => {
    // prettier-ignore
    expect(convertTorque(value, 'lbfin').newtonMetre).toBeCloseTo(newtonMetre, 3);
  });
  it.each([
    [14, 18.98],
    [21, 28.47],
    [24, 32.54],
    [27, 36.61],
  ])('%d lbf·ft', (value, newtonMetre) => {
    expect(convertTorque(value, 'lbfft').newtonMetre).toBeCloseTo(newtonMetre, 2);
  });
});

describe('tools', () => {
  const small = { id: 'small', minNewtonMetre: 1, maxNewtonMetre: 10 };
  const large = { id: 'large', minNewtonMetre: 5, maxNewtonMetre: 50 };
  it('are used from a fifth of their most up, and the smallest that suits comes first', () => {
    const judged = judgeTools(5.65, 10, [large, small]);
    expect(judged.map((t) => [t.id, t.suitable, t.deviationPercent])).toEqual([['small', true, 6], ['large', false, 4]]); // prettier-ignore
    expect(judged[1]?.reason).toBe('5.65 N·m is below 10 N·m, 20 % of its maximum of 50 N·m.');
    expect(judgeTools(10, 10, [large])[0]?.suitable).toBe(true);
  });
  it('of 1 to 22.6 N·m refuses 3.95 N·m, and one of 200 lbf·in refuses 35 and 36 and takes 50 to 90', () => {
    expect(judgeTools(3.95, 10, [{ id: 't', minNewtonMetre: 1, maxNewtonMetre: 22.6 }])[0]).toMatchObject({ suitable: false });
    const tool = { id: 't', minNewtonMetre: 1, maxNewtonMetre: convertTorque(200, 'lbfin').newtonMetre };
    const takes = (inch: number): boolean => judgeTools(convertTorque(inch, 'lbfin').newtonMetre, 10, [tool])[0]?.suitable ?? false;
    expect([35, 36, 50, 90, 200, 201].map(takes)).toEqual([false, false, true, true, true, false]);
  });
  it('that deviate by more than the tolerance do not suit', () => {
    expect(judgeTools(5, 5, [small])[0]).toMatchObject({ suitable: false, reason: 'It may deviate by 6 %, 5 % are allowed.' });
    expect(judgeTools(5, 6, [small])[0]?.suitable).toBe(true);
  });
});

describe('clamp load', () => {
  it('is the torque over nut factor and diameter: 5.65 N·m on M5 clamps 5.65 kN, three quarters of what class 8.8 is proven to', () => {
    const load = findClampLoad({ torqueNewtonMetre: 5.65, diameterMillimetre: 5, nutFactor: 0.2, stressAreaMillimetre2: 14.2, proofStressMegapascal: 580 }); // prettier-ignore
    expect(load.clampLoadNewton).toBeCloseTo(5650, 6);
    expect(load.proofLoadNewton).toBeCloseTo(8236, 6);
    expect(load.proofShare).toBeCloseTo(0.686, 3);
  });
  it('says no share where the bolt is not known', () => {
    expect(findClampLoad({ torqueNewtonMetre: 5, diameterMillimetre: 5, nutFactor: 0.15 })).toMatchObject({ proofLoadNewton: null, proofShare: null }); // prettier-ignore
  });
});

describe('a slip', () => {
  const spec = { specNewtonMetre: convertTorque(50, 'lbfin').newtonMetre, tolerancePercent: 10 };
  const seats = { specNewtonMetre: convertTorque(27, 'lbfft').newtonMetre, tolerancePercent: 10 };
  it.each([
    ['inch-pounds set as foot-pounds', spec, convertTorque(50, 'lbfft').newtonMetre, 'inchAsFoot'],
    ['foot-pounds set as inch-pounds', seats, convertTorque(27, 'lbfin').newtonMetre, 'inchAsFoot'],
    ['newton metres set as inch-pounds', spec, convertTorque(spec.specNewtonMetre, 'lbfin').newtonMetre, 'newtonMetreAsInch'],
    ['inch-pounds set as newton metres', spec, 50, 'newtonMetreAsInch'],
    ['foot-pounds set as newton metres', seats, 27, 'newtonMetreAsFoot'],
    ['newton metres set as foot-pounds', seats, convertTorque(seats.specNewtonMetre, 'lbfft').newtonMetre, 'newtonMetreAsFoot'],
  ])('is named: %s', (_, wanted, got, kind) => {
    expect(findSlip(wanted, got)?.kind).toBe(kind);
  });
  it('is the setting of the job before, where that is what the tool was left on', () => {
    expect(findSlip(spec, 19, 19)?.kind).toBe('formerSetting');
    expect(findSlip(spec, 19)).toBeNull();
  });
  it('is none within the tolerance', () => {
    expect(findSlip(spec, spec.specNewtonMetre * 1.1)).toBeNull();
    expect([isTorqueWithin(5, 10, 5.5), isTorqueWithin(5, 10, 5.51)]).toEqual([true, false]);
  });
});

it('is shown with the unit that its wrench has', () => {
  expect([showTorque(convertTorque(50, 'lbfin').newtonMetre), showTorque(convertTorque(24, 'lbfft').newtonMetre)]).toEqual(['5.6 N·m (50 lbf·in)', '32.5 N·m (24 lbf·ft)']); // prettier-ignore
});

describe('coverTools', () => {
  const spec = (newtonMetre: number) => ({ newtonMetre, tolerancePercent: 10 });
  const tool = (id: string, minNewtonMetre: number, maxNewtonMetre: number) => ({ id, minNewtonMetre, maxNewtonMetre });
  // 1 to 22.6 N·m is used from 4.52 (ISO 6789-1: 20 % of its maximum)
  const shop = [tool('large', 10, 60), tool('middle', 1, 22.6), tool('small', 1, 10)];
  it('takes the fewest that suit all: two at least for bars and seats', () => {
    expect(coverTools([5.65, 6.2, 36.6].map(spec), shop)).toEqual({ toolIds: ['small', 'large'], without: [] });
    expect(coverTools([5.65, 18.98].map(spec), shop)).toEqual({ toolIds: ['middle'], without: [] });
    expect(coverTools([3.95, 18.98].map(spec), shop).toolIds).toEqual(['small', 'middle']);
  });
  it('names what none suits, once', () => {
    expect(coverTools([3.95, 3.95, 5.65, 90].map(spec), shop.slice(0, 2))).toEqual({ toolIds: ['middle'], without: [3.95, 90] });
    expect(coverTools([5].map(spec), [])).toEqual({ toolIds: [], without: [5] });
    expect(coverTools([], shop)).toEqual({ toolIds: [], without: [] });
  });
});

it('tells newton metres and pound-feet taken for each other apart by which way it went wrong', () => {
  // 19.0 N·m are 14 lbf·ft: set as 14 N·m it is too little, as 19 lbf·ft (25.8 N·m) too much
  const slip = (got: number) => findSlip({ specNewtonMetre: 19, tolerancePercent: 10 }, got);
  expect(slip(14)).toMatchObject({ kind: 'newtonMetreAsFoot', sentence: expect.stringContaining('too little') as string });
  expect(slip(25.76)).toMatchObject({ kind: 'newtonMetreAsFoot', sentence: expect.stringContaining('too much') as string });
});

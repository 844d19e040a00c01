import { judgeHalf } from './halves.ts';
import { surveyJoints, type SurveyInput } from './survey.ts';

const joints = (...drops: number[]) => drops.map((millivolt, i) => ({ id: String(i + 1), millivolt }));
const solve = (input: SurveyInput) => {
  const found = surveyJoints(input);
  if (found.kind === 'refused') throw new Error(found.message);
  return found.value;
};

describe('surveyJoints', () => {
  it("is Ohm's and Joule's law: at 10 A a drop of 1 mV is 0.1 milliohm, and at 100 A a watt of heat", () => {
    const [first] = solve({ ampere: 10, joints: joints(1), resolutionMillivolt: 0.1 }).joints;
    expect(first).toMatchObject({ milliohm: 0.1, isOutlier: false });
    expect(first?.watt).toBeCloseTo(1, 12);
  });
  it('names the joint that stands out, and only upwards', () => {
    const found = solve({ ampere: 10, joints: joints(1, 1.1, 0.9, 1, 4.2, 1, 0.1), resolutionMillivolt: 0.1 });
    expect(found.joints.filter((j) => j.isOutlier).map((j) => j.id)).toEqual(['5']);
    expect(found.medianMilliohm).toBeCloseTo(0.1, 12);
  });
  it('tells the smallest fault that this meter can see, and finds none below it', () => {
    const coarse = { ampere: 2, joints: joints(0, 0, 0, 0, 0, 2), resolutionMillivolt: 1 };
    expect(solve(coarse).leastMilliohm).toBeCloseTo(1.5, 12);
    expect(solve(coarse).joints.some((j) => j.isOutlier)).toBe(false);
    expect(solve({ ...coarse, joints: joints(0, 0, 0, 0, 0, 4) }).joints.filter((j) => j.isOutlier)).toHaveLength(1);
  });
  it('makes a crowd of three', () => {
    expect(solve({ ampere: 10, joints: joints(1, 1, 9), resolutionMillivolt: 0.1 }).joints.map((j) => j.isOutlier)).toEqual([false, false, true]); // prettier-ignore
    expect(solve({ ampere: 10, joints: joints(1, 9), resolutionMillivolt: 0.1 }).joints[1]?.modifiedZ).toBe(0);
  });
  it('makes no crowd of two', () => {
    expect(solve({ ampere: 10, joints: joints(1, 9), resolutionMillivolt: 0.1 }).joints.some((j) => j.isOutlier)).toBe(false);
  });
  it.each<[string, SurveyInput, object]>([
    ['no joint', { ampere: 10, joints: [], resolutionMillivolt: 0.1 }, { code: 'empty' }],
    ['no current', { ampere: 0, joints: joints(1), resolutionMillivolt: 0.1 }, { code: 'impossible', path: ['ampere'] }],
    [
      'a meter without steps',
      { ampere: 1, joints: joints(1), resolutionMillivolt: 0 },
      { code: 'impossible', path: ['resolutionMillivolt'] },
    ],
    ['a first drop below zero', { ampere: 1, joints: joints(-1, 1), resolutionMillivolt: 1 }, { code: 'impossible', path: ['joints', 0], message: expect.stringContaining('Joint 1: ') as string }], // prettier-ignore
    ['a drop below zero', { ampere: 1, joints: joints(1, -1), resolutionMillivolt: 1 }, { code: 'impossible', path: ['joints', 1] }],
  ])('refuses %s', (_what, input, refusal) => {
    expect(surveyJoints(input)).toMatchObject({ kind: 'refused', ...refusal });
  });
});

describe('judgeHalf', () => {
  const volts = Array.from({ length: 14 }, () => 7.8);
  // common practice, no source: 28 modules at 7.8 V give 109.2 V each half
  it('agrees at 109.2 V, whichever way the leads lie', () => {
    expect(judgeHalf({ volts, from: 1, measuredVolt: 109.2 })).toMatchObject({ agrees: true, sentence: null });
    expect(judgeHalf({ volts, from: 1, measuredVolt: -109.2 }).sumVolt).toBeCloseTo(109.2, 9);
    expect(judgeHalf({ volts, from: 1, measuredVolt: -108.3 }).agrees).toBe(true);
  });
  it.each<[string, number, RegExp]>([
    ['a module turned', 109.2 - 15.6, /^A module of 15 to 28 is turned/],
    ['a module spanned', 109.2 - 7.8, /^A module of 15 to 28 is left out/],
    ['three left out', 109.2 - 3 * 7.8, /^3 modules of 15 to 28 are left out/],
    ['a bar missing', 0.02, /^Nothing comes through from 15 to 28/],
    ['neither', 109.2 - 4, /less than the sum/],
    ['more than there is', 120, /more than the sum/],
  ])('explains %s', (_what, measuredVolt, sentence) => {
    expect(judgeHalf({ volts, from: 15, measuredVolt })).toMatchObject({ agrees: false, sentence: expect.stringMatching(sentence) });
  });
  it('says what lies wrong, of one and of more', () => {
    const say = (measuredVolt: number) => judgeHalf({ volts, from: 1, measuredVolt }).sentence;
    expect(say(109.2 - 7.8)).toBe('A module of 1 to 14 is left out: a bar spans it, or the ends were taken one too early.');
    expect(say(109.2 - 3 * 7.8)).toBe('3 modules of 1 to 14 are left out: a bar spans them, or the ends were taken one too early.');
    expect(say(109.2 - 6 * 15.6)).toBe("6 modules of 1 to 14 are turned: two modules' voltage is missing for each.");
  });
  it('allows for two meters and no more', () => {
    expect(judgeHalf({ volts, from: 1, measuredVolt: 109.2 - 1.2 }).agrees).toBe(true);
    expect(judgeHalf({ volts, from: 1, measuredVolt: 109.2 - 1.3 }).agrees).toBe(false);
    expect(judgeHalf({ volts, from: 1, measuredVolt: 109.2 - 1.3, accuracyPercent: 1 }).agrees).toBe(true);
  });
});

it('a joint stands out from 3.5 steps of the meter in a crowd that agrees, and by no volt in one that does not', () => {
  const tight = (last: number) => solve({ ampere: 10, joints: joints(1, 1, 1, 1, 1, last), resolutionMillivolt: 0.1 }).joints.at(-1);
  expect(tight(1.34)).toMatchObject({ isOutlier: false });
  expect(tight(1.36)).toMatchObject({ isOutlier: true });
  // a wide crowd: far above in steps, and no further off than others are
  const wide = solve({ ampere: 10, joints: joints(1, 4, 7, 10, 13, 16, 20), resolutionMillivolt: 0.01 }).joints.at(-1);
  expect(wide?.modifiedZ).toBeLessThan(3.5);
  expect(wide).toMatchObject({ isOutlier: false });
});

import { runTrials, type Trials } from '../../../test/trials.ts';

// more of them: npm run trials
describe('random work over all profiles, orders, delays, devices and clocks', () => {
  let known: Trials | null = null;
  const played = (): Trials => (known ??= runTrials(5000, 1));

  it('shows no screen a number below the truth', () => {
    const { states, below, proven } = played();
    expect(below).toEqual([]);
    expect(states).toBeGreaterThanOrEqual(5000);
    // a proof of dead is what lowers it most: without one nothing would be put to the test
    expect(proven).toBeGreaterThan(50);
  }, 180_000);

  it('takes the HV cables counted back on for the same as said to be on, whatever a meter was laid to before', () => {
    expect(runTrials(100, 303_229_458).below).toEqual([]);
  }, 60_000);

  it('shows little more than the worst that the words honestly allow, and says for what', () => {
    const { samples, aboveWorst, shownLive, worstLive, uncaused } = played().shouting;
    expect(samples).toBeGreaterThan(400);
    expect(aboveWorst / samples).toBeLessThan(15);
    expect((shownLive - worstLive) / samples).toBeLessThan(0.05);
    expect(uncaused).toEqual([]);
    // a world that bounds nothing would be passed by itself
    expect(worstLive / samples).toBeGreaterThan(0.2);
  }, 180_000);

  it('comes near to the truth where somebody answers what is asked', () => {
    const { below, meanExcess } = runTrials(2000, 70_000, 3, true);
    expect(below).toEqual([]);
    expect(meanExcess).toBeLessThan(40);
  }, 180_000);
});

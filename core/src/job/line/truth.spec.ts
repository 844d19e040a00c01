import { runTrials } from '../../../test/trials.ts';

// more of them: npm run trials
it('shows no screen a number below the truth, over all profiles, orders, delays, devices and clocks', () => {
  const { states, below, proven } = runTrials(5000, 1);
  expect(below).toEqual([]);
  expect(states).toBeGreaterThanOrEqual(5000);
  // a proof of dead is what lowers it most: without one nothing would be put to the test
  expect(proven).toBeGreaterThan(50);
}, 120_000);

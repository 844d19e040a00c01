/** Many more random states than the normal tests play: `npm run trials [states] [first seed]`. Ends with 1 where a number was below. */
import { runTrials } from './trials.ts';

const states = Number(process.argv[2] ?? 100_000);
const began = performance.now();
const { states: seen, below, proven, meanExcess } = runTrials(states, Number(process.argv[3] ?? 1));
const second = Math.round((performance.now() - began) / 1000);
console.log(
  `${seen} states of screens in ${second} s, ${below.length} below the truth; a proof stood in ${proven} steps; shown above the truth by ${meanExcess.toFixed(0)} V on average`,
);
for (const { profileId, seed, step, who, shown, truth, acts } of below)
  console.log(`\n${profileId}, seed ${seed}, step ${step}, ${who}: ${shown} V shown, ${truth} V true\n${acts.join('\n')}`);
process.exitCode = below.length > 0 ? 1 : 0;

/**
 * Many more random states than the normal tests play: `npm run trials [states] [first seed]`; the first seed is drawn where none is given.
 * Ends with 1 where a number was below the truth, or stood too far above the worst that the words honestly allow.
 */
import { runTrials } from './trials.ts';

const states = Number(process.argv[2] ?? 100_000);
const firstSeed = Number(process.argv[3] ?? Math.floor(Math.random() * 1e9));
const began = performance.now();
const { states: seen, below, proven, meanExcess, shouting } = runTrials(states, firstSeed);
const second = Math.round((performance.now() - began) / 1000);
const { samples, aboveWorst, shownLive, worstLive, uncaused, causes } = shouting;
const share = (count: number): string => `${((100 * count) / samples).toFixed(1)} %`;
console.log(
  `from seed ${firstSeed}: ${seen} states of screens in ${second} s, ${below.length} below the truth; a proof stood in ${proven} steps; shown above the truth by ${meanExcess.toFixed(0)} V on average`,
);
console.log(
  `${samples} held against the worst honest world: ${(aboveWorst / samples).toFixed(1)} V above it on average (15 at most); at 60 V or more ${share(shownLive)} of what is shown, ${share(worstLive)} in that world (5 points at most); without a cause ${share(uncaused.length)}`,
);
for (const one of uncaused) console.log(`  without a cause: ${one}`);
for (const [cause, volt] of causes) console.log(`  ${cause}: ${(volt / samples).toFixed(1)} V on average`);
const answered = runTrials(Math.min(states, 20_000), firstSeed, 3, true);
console.log(
  `with every question answered: ${answered.meanExcess.toFixed(0)} V above the truth on average (40 at most), ${answered.below.length} below it`,
);
for (const { profileId, seed, step, who, shown, truth, acts } of [...below, ...answered.below])
  console.log(
    `\n${profileId}, seed ${seed}, step ${step}, ${who}: ${shown} V shown, ${truth} V true\n${acts.map((a) => a.slice(0, 300)).join('\n')}`,
  );
const isShouting = aboveWorst / samples >= 15 || (shownLive - worstLive) / samples >= 0.05 || uncaused.length > 0;
// over some hundreds the averages say nothing
const isLarge = samples >= 1000;
process.exitCode = below.length + answered.below.length > 0 || (isLarge && (isShouting || answered.meanExcess >= 40)) ? 1 : 0;

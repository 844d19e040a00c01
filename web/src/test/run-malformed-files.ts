/** Malformed files: `npm run trials`. Ends with 1 where one threw, hung or came through. `[files] [seed]`. */
import { readFileSync } from 'node:fs';
import { MalformedFiles } from './malformed-files.ts';

const [files, seed] = [Number(process.argv[2] ?? 200), Number(process.argv[3] ?? 1)];
const profile = JSON.parse(readFileSync(new URL('../../../core/profiles/dunlin-28.json', import.meta.url), 'utf8')) as unknown;
const began = performance.now();
const { read, refused, faults } = new MalformedFiles(profile, seed).run(files);
console.log(
  `${files} malformed files in ${Math.round((performance.now() - began) / 1000)} s: ${read} read, ${refused} refused with a reason, ${faults.length} at fault`,
);
for (const fault of faults.slice(0, 20)) console.log(fault);
process.exitCode = faults.length > 0 ? 1 : 0;

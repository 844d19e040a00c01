/** Forged acts: `npm run trials`. Ends with 1 where something stands without a right to. `[acts] [seed]`. */
import { Forged } from './forged.ts';
import { createDatabase, startApp } from './support.ts';

const [acts, seed] = [Number(process.argv[2] ?? 10_000), Number(process.argv[3] ?? 1 + Math.floor(Math.random() * 1e9))];
const db = await createDatabase();
const app = await startApp(db);
const began = performance.now();
const { sent, own, passed, answered, refused, faults } = await new Forged(app, db, seed).run(acts);
console.log(
  `from seed ${seed}: ${sent} acts of every person and device in ${Math.round((performance.now() - began) / 1000)} s: ` +
    `${own} events in their author's name, ${passed} words passed on, ${answered} of them said by their author after all, ` +
    `${refused} refused; ${faults.length} without a right to`,
);
for (const fault of faults.slice(0, 20)) console.log(fault);
await app.close();
await db.drop();
process.exit(faults.length > 0 ? 1 : 0);

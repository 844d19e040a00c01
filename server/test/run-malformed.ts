/** Malformed requests and files: `npm run trials`. Ends with 1 where the server failed or hung. `[requests] [seed]`. */
import type { RouteOptions } from 'fastify';
import { Malformed } from './malformed.ts';
import { createDatabase, Desk, startApp } from './support.ts';

const [requests, seed] = [Number(process.argv[2] ?? 10_000), Number(process.argv[3] ?? 1)];
const db = await createDatabase();
const routes: RouteOptions[] = [];
const app = await startApp(db, { onRoute: (route) => routes.push(route) });
await new Desk(db).openJob('target');
const began = performance.now();
const { byStatus, faults } = await new Malformed(app, routes, seed).run(requests);
const counts = [...byStatus].sort(([a], [b]) => a - b).map(([status, n]) => `${n} times ${status}`);
console.log(`${requests} malformed requests in ${Math.round((performance.now() - began) / 1000)} s: ${counts.join(', ')}`);
for (const fault of faults.slice(0, 20)) console.log(`\n${fault}`);
await app.close();
await db.drop();
process.exit(faults.length > 0 ? 1 : 0);

import { verifyChains } from '../src/log/verify.ts';
import { Forged } from './forged.ts';
import { createDatabase, startApp } from './support.ts';

it('what stands in the log stands there by right: forged, changed, repeated and replayed acts of every person and device', async () => {
  const db = await createDatabase();
  const app = await startApp(db);
  try {
    const { own, passed, answered, refused, faults } = await new Forged(app, db, 1).run(1500);
    expect(faults).toEqual([]);
    // all of them come about
    expect(Math.min(own, passed, refused)).toBeGreaterThan(50);
    expect(answered).toBeGreaterThan(3);
    expect((await verifyChains(db.pool)).faults).toEqual([]);
  } finally {
    await app.close();
    await db.drop();
  }
}, 120_000);

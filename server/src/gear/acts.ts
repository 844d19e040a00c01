/** Acts on the gear of the shop. */
import { daysBetween, findAhead, refuse, withCheck, type Gear, type Refusal } from '@estuarine/core';
import type { Queryable } from '../database/database.ts';
import type { ShopRoom, ShopScene } from '../log/shop-room.ts';
import { findGear, retireGear, saveGear } from './store.ts';

export const gearRoom: ShopRoom<'gear.saved' | 'gear.checked' | 'gear.issued' | 'gear.used' | 'gear.retired'> = {
  decide: {
    'gear.saved': ({ body: { gear } }, { today }) => {
      const ahead = findAhead(gear, today);
      if (ahead) return Promise.resolve(refuseAhead(ahead.day, ['body', 'gear', ahead.field]));
      return Promise.resolve(
        gear.kind === 'torqueTool' && gear.minNewtonMetre >= gear.maxNewtonMetre
          ? refuse('mismatch', 'The least torque lies below the greatest.', ['body', 'gear', 'minNewtonMetre'])
          : null,
      );
    },
    'gear.checked': async ({ body }, scene) => (await refuseUnusable(body.gearId, scene)) ?? refuseDay(body.on, scene),
    'gear.issued': async ({ body }, scene) =>
      (await refuseUnusable(body.gearId, scene, 'gloves', 'Only gloves are issued.')) ?? refuseDay(body.on, scene),
    'gear.used': ({ body }, scene) => refuseUnusable(body.gearId, scene, 'torqueTool', 'Cycles are counted of torque tools.'),
    'gear.retired': ({ body }, scene) => refuseUnusable(body.gearId, scene),
  },
  project: {
    'gear.saved': (body, { db, shopId }) => saveGear(db, shopId, body.gear),
    'gear.checked': (body, { db, shopId }) => change(db, shopId, body.gearId, (gear) => withCheck(gear, body.on)),
    'gear.issued': (body, { db, shopId }) =>
      change(db, shopId, body.gearId, (gear) => (gear.kind === 'gloves' ? { ...gear, issuedOn: body.on } : gear)),
    'gear.used': (body, { db, shopId }) =>
      change(db, shopId, body.gearId, (gear) => (gear.kind === 'torqueTool' ? { ...gear, cycles: gear.cycles + body.cycles } : gear)),
    'gear.retired': (body, { db, shopId }) => retireGear(db, shopId, body.gearId, body.reason),
  },
};

/** What was done was done by today; a day more for shops whose day begins before that of UTC. */
function refuseDay(on: string, { today }: ShopScene): Refusal | null {
  return daysBetween(today, on) > 1 ? refuseAhead(on, ['body', 'on']) : null;
}

function refuseAhead(day: string, path: string[]): Refusal {
  return refuse('impossible', `${day} has not come yet: give the day on which it was done.`, path);
}

async function refuseUnusable(gearId: string, { db, shopId }: ShopScene, kind?: Gear['kind'], sentence = ''): Promise<Refusal | null> {
  const row = await findGear(db, shopId, gearId);
  if (!row) return refuse('unknownName', `The shop has no gear "${gearId}".`, ['body', 'gearId']);
  if (row.retired !== null) return refuse('gone', `${row.gear.label} was taken out of use: ${row.retired}`, ['body', 'gearId']);
  return kind && row.gear.kind !== kind ? refuse('mismatch', sentence, ['body', 'gearId']) : null;
}

async function change(db: Queryable, shopId: string, gearId: string, to: (gear: Gear) => Gear): Promise<void> {
  const row = await findGear(db, shopId, gearId);
  if (row) await saveGear(db, shopId, to(row.gear));
}

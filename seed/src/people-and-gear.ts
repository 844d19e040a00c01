/** People, their training and the gear of the demonstration's workshop. All invented. */
import { addMonths, gearSchema, type ShopAct } from '@estuarine/core';
import { DEMO_ACCOUNTS, hashSecret, insertName, keepShopAct, savePassphrase, savePin } from '@estuarine/server';
import type pg from 'pg';

/** Everybody's PIN in the demonstration. */
const DEMO_PIN = '246810';

/** @param first when the demonstration's shop began; the dates of the gear hang on `now` */
export async function seedPeopleAndGear(pool: pg.Pool, shopId: string, first: Date, now: Date): Promise<void> {
  let count = 0;
  const keep = async (act: ShopAct): Promise<void> => {
    const outcome = await keepShopAct(
      { pool, shopId, clock: () => first },
      { commandId: `demo-shop-${++count}`, by: 'ts', deviceAt: first.toISOString(), act },
      'lead',
    );
    if (outcome.kind === 'refused') throw new Error(`${act.type}: ${outcome.message}`);
  };
  const today = now.toISOString().slice(0, 10);
  for (const { id, name, role, passphrase } of DEMO_ACCOUNTS) {
    const nameHash = await insertName(pool, shopId, id, name);
    if (nameHash === null) throw new Error(`${id} is there already`);
    await keep({ type: 'person.added', body: { personId: id, role, nameHash } });
    await savePassphrase(pool, shopId, id, await hashSecret(passphrase));
    await savePin(pool, shopId, id, await hashSecret(DEMO_PIN));
  }
  for (const personId of ['om', 'ts'])
    await keep({
      type: 'competence.recorded',
      body: {
        ...{ personId, kind: 'highVoltage', training: 'High-voltage work on vehicles, two days', givenBy: 'island training quay' },
        validUntil: addMonths(today, personId === 'om' ? 10 : 16),
      },
    });
  for (const raw of listGear(today)) await keep({ type: 'gear.saved', body: { gear: gearSchema.parse(raw) } });
}

function listGear(today: string): object[] {
  const ago = (months: number): string => addMonths(today, -months);
  const gloves = { kind: 'gloves', gloveClass: '0' };
  const torque = { kind: 'torqueTool' };
  return [
    { ...gloves, gearId: 'G-07', label: 'G-07', size: '10', serial: '70-114', testedOn: ago(4), issuedOn: ago(3) },
    { ...gloves, gearId: 'G-08', label: 'G-08', size: '9', serial: '70-115', testedOn: ago(5), issuedOn: ago(5) },
    { ...gloves, gearId: 'G-03', label: 'G-03', size: '10', serial: '66-020', testedOn: ago(9), issuedOn: ago(8) },
    { ...gloves, gearId: 'G-11', label: 'G-11', size: '8', serial: '71-301', testedOn: ago(2), issuedOn: null },
    { kind: 'meter', gearId: 'M-02', label: 'M-02', category: 'III', categoryVolt: 1000, resolutionVolt: 0.1, calibratedOn: ago(7) },
    { kind: 'meter', gearId: 'M-01', label: 'M-01', category: 'III', categoryVolt: 600, resolutionVolt: 0.1, calibratedOn: ago(2) },
    { kind: 'provingUnit', gearId: 'P-1', label: 'P-1', outputVolt: 240, checkedOn: ago(3) },
    { kind: 'insulationTester', gearId: 'I-1', label: 'I-1', testVolt: 500, calibratedOn: ago(6) },
    { ...torque, gearId: 'T-1', label: 'T-1, small', minNewtonMetre: 1, maxNewtonMetre: 10, calibratedOn: ago(8), cycles: 3120 },
    { ...torque, gearId: 'T-2', label: 'T-2, middle', minNewtonMetre: 5, maxNewtonMetre: 50, calibratedOn: ago(5), cycles: 5060 },
    { ...torque, gearId: 'T-3', label: 'T-3, large', minNewtonMetre: 10, maxNewtonMetre: 60, calibratedOn: ago(3), cycles: 410 },
    { kind: 'charger', gearId: 'C-1', label: 'C-1, balance charger', maximumVolt: 320, inspectedOn: ago(10) },
    { kind: 'mask', gearId: 'K-1', label: 'K-1', standard: 'FFP2', expiresOn: addMonths(today, 20) },
  ];
}

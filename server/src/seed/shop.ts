/** A shop as it begins: its persons, its first policy, its first profile. Safe to run again. */
import { readFileSync } from 'node:fs';
import { DEFAULT_POLICY, profileSchema, type Profile } from '@estuarine/core';
import type { Person } from '@estuarine/contract';
import type pg from 'pg';
import { keepShopAct } from '../shop/acts.ts';
import { createShop, savePerson } from '../shop/store.ts';

/** Stand-ins until sign-in exists; a shop without demonstration data begins with them. */
const FIRST_PERSONS: readonly Person[] = [
  { id: 'lead', name: 'Shop lead', role: 'lead' },
  { id: 'tech', name: 'Technician', role: 'technician' },
];

export function readShippedProfile(id: string): Profile {
  const text = readFileSync(new URL(`../../../core/profiles/${id}.json`, import.meta.url), 'utf8');
  return profileSchema.parse(JSON.parse(text));
}

/** Makes the shop where there is none. A second run changes nothing. */
export async function ensureShop(
  pool: pg.Pool,
  shopId: string,
  {
    isDemo = false,
    persons = FIRST_PERSONS,
    clock = () => new Date(),
  }: { isDemo?: boolean; persons?: readonly Person[]; clock?: () => Date } = {},
): Promise<void> {
  const { rowCount } = await pool.query('select 1 from shop where shop_id = $1', [shopId]);
  if (!rowCount) await createShop(pool, shopId, isDemo);
  const known = await pool.query('select 1 from person where shop_id = $1 limit 1', [shopId]);
  if (!known.rowCount) for (const person of persons) await savePerson(pool, shopId, person);
  const sent = { deviceAt: clock().toISOString(), by: 'estuarine' };
  const shop = { pool, shopId, clock };
  await keepShopAct(
    shop,
    { ...sent, commandId: 'first-policy', act: { type: 'policy.set', body: { version: 1, policy: DEFAULT_POLICY } } },
    'lead',
  );
  const profile = readShippedProfile('dunlin-28');
  await keepShopAct(shop, { ...sent, commandId: 'first-profile-dunlin-28', act: { type: 'profile.published', body: { profile } } }, 'lead');
}

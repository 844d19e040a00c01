/** A shop as it begins: its first policy and the shipped profiles. Safe to run again. */
import { readdirSync, readFileSync } from 'node:fs';
import { DEFAULT_POLICY, FOLD_VERSION, readProfile, type Profile, type ShopAct } from '@estuarine/core';
import type pg from 'pg';
import { hasCommand } from '../log/store.ts';
import { keepShopAct } from './acts.ts';
import { createShop } from './store.ts';

const PROFILES = new URL('../../../core/profiles/', import.meta.url);

/** Ids of the profiles that are shipped: one for each archetype of pack. */
export function listShippedProfiles(): string[] {
  return readdirSync(PROFILES)
    .filter((name) => name.endsWith('.json') && !name.endsWith('.schema.json'))
    .map((name) => name.replace(/\.json$/, ''))
    .sort();
}

export function readShippedProfile(id: string): Profile {
  const read = readProfile(JSON.parse(readFileSync(new URL(`${id}.json`, PROFILES), 'utf8')));
  if (read.kind === 'refused') throw new Error(`${id}: ${read.message}`);
  return read.value;
}

/** Makes the shop where there is none, with its first policy and the shipped profiles. A second run changes nothing. */
export async function ensureShop(
  pool: pg.Pool,
  shopId: string,
  { isDemo = false, clock = () => new Date() }: { isDemo?: boolean; clock?: () => Date } = {},
): Promise<void> {
  const { rowCount } = await pool.query('select 1 from shop where shop_id = $1', [shopId]);
  if (!rowCount) await createShop(pool, shopId, isDemo, FOLD_VERSION);
  const shop = { pool, shopId, clock };
  const keep = async (commandId: string, act: ShopAct): Promise<void> => {
    // kept before, perhaps with other content by an older release: what was kept stands
    if (await hasCommand(pool, shopId, commandId)) return;
    await keepShopAct(shop, { deviceAt: clock().toISOString(), by: 'estuarine', commandId, act }, 'lead');
  };
  await keep('first-policy', { type: 'policy.set', body: { version: 1, policy: DEFAULT_POLICY } });
  for (const id of listShippedProfiles()) {
    const profile = readShippedProfile(id);
    // a shop of an earlier release has the first version: it gets the later one beside it, and its jobs stay with theirs
    await keep(profile.version === 1 ? `first-profile-${id}` : `profile-${id}-${profile.version}`, {
      type: 'profile.published',
      body: { profile },
    });
  }
}

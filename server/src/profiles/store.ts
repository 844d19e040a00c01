/** SQL of pack profiles: every version that was published. */
import { readProfile, type Profile } from '@estuarine/core';
import type { Queryable } from '../database/database.ts';

/** The latest version of each. */
export async function listProfiles(db: Queryable, shopId: string): Promise<Profile[]> {
  const { rows } = await db.query<{ body: unknown }>(
    'select distinct on (profile_id) body from profile where shop_id = $1 order by profile_id, version desc',
    [shopId],
  );
  return rows.map((r) => toProfile(r.body));
}

export async function listVersions(db: Queryable, shopId: string, profileId: string): Promise<number[]> {
  const { rows } = await db.query<{ version: number }>(
    'select version from profile where shop_id = $1 and profile_id = $2 order by version',
    [shopId, profileId],
  );
  return rows.map((r) => r.version);
}

export async function findProfile(db: Queryable, shopId: string, profileId: string, version: number): Promise<Profile | null> {
  const { rows } = await db.query<{ body: unknown }>('select body from profile where shop_id = $1 and profile_id = $2 and version = $3', [
    shopId,
    profileId,
    version,
  ]);
  return rows[0] ? toProfile(rows[0].body) : null;
}

/** A profile kept in an older form is brought up on reading; what is stored stays as it was. */
function toProfile(body: unknown): Profile {
  const read = readProfile(body);
  if (read.kind === 'refused') throw new Error(`a stored profile cannot be read: ${read.message}`);
  return read.value;
}

export async function saveProfile(db: Queryable, shopId: string, profile: Profile): Promise<void> {
  await db.query('insert into profile (shop_id, profile_id, version, body) values ($1, $2, $3, $4)', [
    shopId,
    profile.id,
    profile.version,
    JSON.stringify(profile),
  ]);
}

/** SQL of what belongs to the shop as a whole: profiles, policies, modules. */
import type { StockRow } from '@estuarine/contract';
import { compareIds, policySchema, readProfile, type Policy, type Profile, type StockModule } from '@estuarine/core';
import type { Queryable } from '../database/database.ts';

export interface ShopRow {
  readonly isDemo: boolean;
}

export async function findShop(db: Queryable, shopId: string): Promise<ShopRow | null> {
  const { rows } = await db.query<{ is_demo: boolean }>('select is_demo from shop where shop_id = $1', [shopId]);
  return rows[0] ? { isDemo: rows[0].is_demo } : null;
}

export async function createShop(db: Queryable, shopId: string, isDemo: boolean): Promise<void> {
  await db.query('insert into shop (shop_id, is_demo) values ($1, $2) on conflict do nothing', [shopId, isDemo]);
}

export async function listProfiles(db: Queryable, shopId: string): Promise<Profile[]> {
  const { rows } = await db.query<{ body: unknown }>(
    'select distinct on (profile_id) body from profile where shop_id = $1 order by profile_id, version desc',
    [shopId],
  );
  return rows.map((r) => toProfile(r.body));
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

export async function findLatestPolicy(db: Queryable, shopId: string): Promise<{ version: number; policy: Policy } | null> {
  const { rows } = await db.query<{ version: number; body: unknown }>(
    'select version, body from policy where shop_id = $1 order by version desc limit 1',
    [shopId],
  );
  return rows[0] ? { version: rows[0].version, policy: policySchema.parse(rows[0].body) } : null;
}

export async function findPolicy(db: Queryable, shopId: string, version: number): Promise<Policy | null> {
  const { rows } = await db.query<{ body: unknown }>('select body from policy where shop_id = $1 and version = $2', [shopId, version]);
  return rows[0] ? policySchema.parse(rows[0].body) : null;
}

export async function savePolicy(db: Queryable, shopId: string, version: number, policy: Policy): Promise<void> {
  await db.query('insert into policy (shop_id, version, body) values ($1, $2, $3)', [shopId, version, JSON.stringify(policy)]);
}

interface ModuleRow {
  module_id: string;
  label: string;
  type_id: string;
  capacity_ah: number | null;
  resistance_milliohm: number | null;
  rest_drop_millivolt: number | null;
  ocv_volt: number | null;
  bin: string;
  quarantine: string | null;
  reserved_number: number | null;
  job_number: number | null;
  place: number | null;
}

/** Every module known to the shop, by label. */
export async function listModules(db: Queryable, shopId: string): Promise<StockRow[]> {
  const { rows } = await db.query<ModuleRow>(
    `select m.*, r.number as reserved_number, j.number as job_number
     from module m
     left join job_summary r on r.shop_id = m.shop_id and r.job_id = m.reserved_by
     left join job_summary j on j.shop_id = m.shop_id and j.job_id = m.in_job
     where m.shop_id = $1 order by m.module_id collate "C"`,
    [shopId],
  );
  return rows.map((r) => ({
    moduleId: r.module_id,
    label: r.label,
    typeId: r.type_id,
    capacityAh: r.capacity_ah,
    resistanceMilliohm: r.resistance_milliohm,
    restDropMillivolt: r.rest_drop_millivolt,
    ocvVolt: r.ocv_volt,
    bin: r.bin,
    quarantine: r.quarantine,
    reservedBy: r.reserved_number,
    inJob: r.job_number,
    place: r.place,
  }));
}

/** Adds modules or renews their figures; a module that sits in a pack or is reserved keeps its place. Rows are taken in id order, as all locks are. */
export async function saveModules(db: Queryable, shopId: string, given: readonly StockModule[]): Promise<void> {
  const modules = [...given].sort((a, b) => compareIds(a.moduleId, b.moduleId));
  await db.query(
    `insert into module (shop_id, module_id, label, type_id, capacity_ah, resistance_milliohm, rest_drop_millivolt, ocv_volt, bin)
     select $1, * from unnest($2::text[], $3::text[], $4::text[], $5::float8[], $6::float8[], $7::float8[], $8::float8[], $9::text[])
     on conflict (shop_id, module_id) do update set label = excluded.label, type_id = excluded.type_id,
       capacity_ah = excluded.capacity_ah, resistance_milliohm = excluded.resistance_milliohm,
       rest_drop_millivolt = excluded.rest_drop_millivolt, ocv_volt = excluded.ocv_volt, bin = excluded.bin`,
    [
      shopId,
      modules.map((m) => m.moduleId),
      modules.map((m) => m.label),
      modules.map((m) => m.typeId),
      modules.map((m) => m.capacityAh),
      modules.map((m) => m.resistanceMilliohm),
      modules.map((m) => m.restDropMillivolt),
      modules.map((m) => m.ocvVolt),
      modules.map((m) => m.bin),
    ],
  );
}

/** Modules that come into the shop inside a pack. */
export async function savePackModules(db: Queryable, shopId: string, jobId: string, typeId: string, ids: readonly string[]): Promise<void> {
  await db.query(
    `insert into module (shop_id, module_id, label, type_id, bin, in_job, place)
     select $1, id, id, $3, '', $2, place from unnest($4::text[]) with ordinality as t (id, place)
     on conflict (shop_id, module_id) do update set in_job = excluded.in_job, place = excluded.place`,
    [shopId, jobId, typeId, ids],
  );
}

export interface ShelfState {
  readonly moduleId: string;
  readonly typeId: string;
  readonly quarantine: string | null;
  readonly reservedBy: string | null;
  readonly inJob: string | null;
}

/** Locks modules in id order, so that two jobs never wait for each other in a ring. */
export async function lockModules(db: Queryable, shopId: string, ids: readonly string[]): Promise<ShelfState[]> {
  const { rows } = await db.query<{
    module_id: string;
    type_id: string;
    quarantine: string | null;
    reserved_by: string | null;
    in_job: string | null;
  }>(
    `select module_id, type_id, quarantine, reserved_by, in_job from module
     where shop_id = $1 and module_id = any($2) order by module_id for update`,
    [shopId, ids],
  );
  return rows.map((r) => ({
    moduleId: r.module_id,
    typeId: r.type_id,
    quarantine: r.quarantine,
    reservedBy: r.reserved_by,
    inJob: r.in_job,
  }));
}

export async function reserveModules(db: Queryable, shopId: string, jobId: string, ids: readonly string[]): Promise<void> {
  await db.query('update module set reserved_by = $2 where shop_id = $1 and module_id = any($3)', [shopId, jobId, ids]);
}

export async function freeModules(db: Queryable, shopId: string, jobId: string): Promise<void> {
  await db.query('update module set reserved_by = null where shop_id = $1 and reserved_by = $2', [shopId, jobId]);
}

export async function setQuarantine(db: Queryable, shopId: string, moduleId: string, reason: string | null): Promise<void> {
  await db.query('update module set quarantine = $3 where shop_id = $1 and module_id = $2', [shopId, moduleId, reason]);
}

export async function findModuleState(db: Queryable, shopId: string, moduleId: string): Promise<boolean> {
  const { rowCount } = await db.query('select 1 from module where shop_id = $1 and module_id = $2', [shopId, moduleId]);
  return (rowCount ?? 0) > 0;
}

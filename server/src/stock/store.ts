/** SQL of modules: those on the shelf, those in packs, and who has reserved them. */
import type { StockRow } from '@estuarine/contract';
import { compareIds, type StockModule, type Whereabouts } from '@estuarine/core';
import type { Queryable } from '../database/database.ts';

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

/** Where a module is, with what matching knows of it. Jobs are named by id. */
export interface ShelfState extends Whereabouts {
  readonly reservedBy: string | null;
  readonly inJob: string | null;
  readonly capacityAh: number | null;
}

/** Locks modules in id order, so that two jobs never wait for each other in a ring. */
export async function lockModules(db: Queryable, shopId: string, ids: readonly string[]): Promise<ShelfState[]> {
  const { rows } = await db.query<{
    module_id: string;
    type_id: string;
    capacity_ah: number | null;
    quarantine: string | null;
    reserved_by: string | null;
    in_job: string | null;
  }>(
    `select module_id, type_id, capacity_ah, quarantine, reserved_by, in_job from module
     where shop_id = $1 and module_id = any($2) order by module_id for update`,
    [shopId, ids],
  );
  return rows.map((r) => ({
    moduleId: r.module_id,
    typeId: r.type_id,
    capacityAh: r.capacity_ah,
    quarantine: r.quarantine,
    reservedBy: r.reserved_by,
    inJob: r.in_job,
  }));
}

/** Capacities as the shelf knows them; modules that are not there are left out. */
export async function findCapacities(db: Queryable, shopId: string, ids: readonly string[]): Promise<Map<string, number | null>> {
  const { rows } = await db.query<{ module_id: string; capacity_ah: number | null }>(
    'select module_id, capacity_ah from module where shop_id = $1 and module_id = any($2)',
    [shopId, ids],
  );
  return new Map(rows.map((r) => [r.module_id, r.capacity_ah]));
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

/** Sets a module aside that is not set aside already: the reason that stands first is the one to be settled. */
export async function beginQuarantine(db: Queryable, shopId: string, moduleId: string, reason: string): Promise<void> {
  await db.query('update module set quarantine = $3 where shop_id = $1 and module_id = $2 and quarantine is null', [
    shopId,
    moduleId,
    reason,
  ]);
}

/** Frees a module that is set aside for just this reason. */
export async function endQuarantine(db: Queryable, shopId: string, moduleId: string, reason: string): Promise<void> {
  await db.query('update module set quarantine = null where shop_id = $1 and module_id = $2 and quarantine = $3', [
    shopId,
    moduleId,
    reason,
  ]);
}

/** Whether the shop knows a module. */
export async function hasModule(db: Queryable, shopId: string, moduleId: string): Promise<boolean> {
  const { rowCount } = await db.query('select 1 from module where shop_id = $1 and module_id = $2', [shopId, moduleId]);
  return (rowCount ?? 0) > 0;
}

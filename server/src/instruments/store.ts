/** SQL of the instruments that can be asked for a reading. */
import { instrumentSchema, type Instrument } from '@estuarine/core';
import type { Queryable } from '../database/database.ts';

export async function listInstruments(db: Queryable, shopId: string): Promise<Instrument[]> {
  const { rows } = await db.query<{ body: unknown }>('select body from instrument where shop_id = $1 order by instrument_id collate "C"', [
    shopId,
  ]);
  return rows.map((r) => instrumentSchema.parse(r.body));
}

export async function findInstrument(db: Queryable, shopId: string, instrumentId: string): Promise<Instrument | null> {
  const { rows } = await db.query<{ body: unknown }>('select body from instrument where shop_id = $1 and instrument_id = $2', [
    shopId,
    instrumentId,
  ]);
  return rows[0] ? instrumentSchema.parse(rows[0].body) : null;
}

export async function saveInstrument(db: Queryable, shopId: string, instrument: Instrument): Promise<void> {
  await db.query(
    `insert into instrument (shop_id, instrument_id, body) values ($1, $2, $3::jsonb)
     on conflict (shop_id, instrument_id) do update set body = excluded.body`,
    [shopId, instrument.instrumentId, JSON.stringify(instrument)],
  );
}

export async function deleteInstrument(db: Queryable, shopId: string, instrumentId: string): Promise<void> {
  await db.query('delete from instrument where shop_id = $1 and instrument_id = $2', [shopId, instrumentId]);
}

/** SQL of suppliers' conditions: every version that was published. */
import { termsSchema, type SupplierTerms } from '@estuarine/core';
import type { Queryable } from '../database/database.ts';

/** The latest version of each. */
export async function listTerms(db: Queryable, shopId: string): Promise<SupplierTerms[]> {
  const { rows } = await db.query<{ body: unknown }>(
    'select distinct on (terms_id) body from supplier_terms where shop_id = $1 order by terms_id, version desc',
    [shopId],
  );
  return rows.map((r) => termsSchema.parse(r.body));
}

export async function findTerms(db: Queryable, shopId: string, termsId: string, version: number): Promise<SupplierTerms | null> {
  const { rows } = await db.query<{ body: unknown }>(
    'select body from supplier_terms where shop_id = $1 and terms_id = $2 and version = $3',
    [shopId, termsId, version],
  );
  return rows[0] ? termsSchema.parse(rows[0].body) : null;
}

export async function saveTerms(db: Queryable, shopId: string, terms: SupplierTerms): Promise<void> {
  await db.query('insert into supplier_terms (shop_id, terms_id, version, body) values ($1, $2, $3, $4)', [
    shopId,
    terms.id,
    terms.version,
    JSON.stringify(terms),
  ]);
}

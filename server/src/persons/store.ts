/** SQL of people: who they are, how they sign in, what they may, and their sessions. */
import { createHash, randomBytes } from 'node:crypto';
import type { Competence, Role } from '@estuarine/core';
import type { Person } from '@estuarine/contract';
import type { Queryable } from '../database/database.ts';

export interface PersonRow extends Person {
  readonly hasLeft: boolean;
}

export async function listPersons(db: Queryable, shopId: string): Promise<PersonRow[]> {
  const { rows } = await db.query<{ person_id: string; name: string; role: Role; has_left: boolean }>(
    'select person_id, name, role, has_left from person where shop_id = $1 order by person_id collate "C"',
    [shopId],
  );
  return rows.map((r) => ({ id: r.person_id, name: r.name, role: r.role, hasLeft: r.has_left }));
}

/**
 * The row that holds a name. Left until the act that adds the person is kept. Gives the SHA-256 by which the log knows the name, of a salt
 * that goes when the name is erased, so that nobody can try names on it; null where the person exists already.
 */
export async function insertName(db: Queryable, shopId: string, personId: string, name: string): Promise<string | null> {
  const salt = randomBytes(16);
  const { rowCount } = await db.query(
    `insert into person (shop_id, person_id, name, name_salt, role, has_left) values ($1, $2, $3, $4, 'apprentice', true)
     on conflict do nothing`,
    [shopId, personId, name, salt],
  );
  return rowCount === 1 ? createHash('sha256').update(salt).update(name, 'utf8').digest('hex') : null;
}

export async function deleteName(db: Queryable, shopId: string, personId: string): Promise<void> {
  await db.query('delete from person where shop_id = $1 and person_id = $2', [shopId, personId]);
}

export async function eraseName(db: Queryable, shopId: string, personId: string): Promise<void> {
  await db.query(`update person set name = 'name erased', name_salt = null where shop_id = $1 and person_id = $2`, [shopId, personId]);
}

/** What the log says of a person. A name that is not there any more is shown by the id. */
export async function savePersonRole(db: Queryable, shopId: string, personId: string, role: Role): Promise<void> {
  await db.query(
    `insert into person (shop_id, person_id, name, role) values ($1, $2, $2, $3)
     on conflict (shop_id, person_id) do update set role = excluded.role, has_left = false`,
    [shopId, personId, role],
  );
}

export async function markLeft(db: Queryable, shopId: string, personId: string): Promise<void> {
  await db.query('update person set has_left = true where shop_id = $1 and person_id = $2', [shopId, personId]);
}

export async function listCompetences(db: Queryable, shopId: string): Promise<Competence[]> {
  const { rows } = await db.query<{ person_id: string; kind: 'highVoltage'; training: string; given_by: string; valid_until: string }>(
    `select person_id, kind, training, given_by, to_char(valid_until, 'YYYY-MM-DD') as valid_until
     from competence where shop_id = $1 order by person_id collate "C", kind`,
    [shopId],
  );
  return rows.map((r) => ({
    ...{ personId: r.person_id, kind: r.kind, training: r.training, givenBy: r.given_by, validUntil: r.valid_until },
  }));
}

export async function saveCompetence(db: Queryable, shopId: string, c: Competence): Promise<void> {
  await db.query(
    `insert into competence (shop_id, person_id, kind, training, given_by, valid_until) values ($1, $2, $3, $4, $5, $6)
     on conflict (shop_id, person_id, kind) do update set training = excluded.training, given_by = excluded.given_by,
       valid_until = excluded.valid_until`,
    [shopId, c.personId, c.kind, c.training, c.givenBy, c.validUntil],
  );
}

export async function deleteCompetence(db: Queryable, shopId: string, personId: string, kind: string): Promise<void> {
  await db.query('delete from competence where shop_id = $1 and person_id = $2 and kind = $3', [shopId, personId, kind]);
}

export interface Credential {
  readonly passphraseHash: string;
  readonly pinHash: string | null;
}

export async function findCredential(db: Queryable, shopId: string, personId: string): Promise<Credential | null> {
  const { rows } = await db.query<{ passphrase_hash: string; pin_hash: string | null }>(
    `select c.passphrase_hash, c.pin_hash from credential c
     join person p using (shop_id, person_id) where c.shop_id = $1 and c.person_id = $2 and not p.has_left`,
    [shopId, personId],
  );
  const row = rows[0];
  return row ? { passphraseHash: row.passphrase_hash, pinHash: row.pin_hash } : null;
}

export async function savePassphrase(db: Queryable, shopId: string, personId: string, hash: string): Promise<void> {
  await db.query(
    `insert into credential (shop_id, person_id, passphrase_hash) values ($1, $2, $3)
     on conflict (shop_id, person_id) do update set passphrase_hash = excluded.passphrase_hash`,
    [shopId, personId, hash],
  );
}

export async function savePin(db: Queryable, shopId: string, personId: string, hash: string | null): Promise<void> {
  await db.query('update credential set pin_hash = $3 where shop_id = $1 and person_id = $2', [shopId, personId, hash]);
}

export async function hasAnyCredential(db: Queryable, shopId: string): Promise<boolean> {
  const { rowCount } = await db.query('select 1 from credential where shop_id = $1 limit 1', [shopId]);
  return (rowCount ?? 0) > 0;
}

export async function saveFirstCode(db: Queryable, shopId: string, hash: Buffer | null): Promise<void> {
  await db.query('update shop set first_code_hash = $2 where shop_id = $1', [shopId, hash]);
}

/** Uses the code up: true for the one caller who gave it. */
export async function takeFirstCode(db: Queryable, shopId: string, hash: Buffer): Promise<boolean> {
  const { rowCount } = await db.query('update shop set first_code_hash = null where shop_id = $1 and first_code_hash = $2', [shopId, hash]);
  return rowCount === 1;
}

export interface SessionRow {
  readonly personId: string | null;
  readonly lockedAt: Date | null;
  readonly cookie: object;
}

export async function findSession(db: Queryable, shopId: string, hash: Buffer): Promise<SessionRow | null> {
  const { rows } = await db.query<{ person_id: string | null; locked_at: Date | null; cookie: object }>({
    name: 'find-session',
    text: 'select person_id, locked_at, cookie from session where shop_id = $1 and session_hash = $2 and expires_at > now()',
    values: [shopId, hash],
  });
  const row = rows[0];
  return row ? { personId: row.person_id, lockedAt: row.locked_at, cookie: row.cookie } : null;
}

export async function saveSession(db: Queryable, shopId: string, hash: Buffer, row: SessionRow, expiresAt: Date): Promise<void> {
  await db.query(
    `insert into session (shop_id, session_hash, person_id, locked_at, cookie, expires_at) values ($1, $2, $3, $4, $5::jsonb, $6)
     on conflict (shop_id, session_hash) do update set person_id = excluded.person_id, locked_at = excluded.locked_at,
       cookie = excluded.cookie, expires_at = excluded.expires_at`,
    [shopId, hash, row.personId, row.lockedAt, JSON.stringify(row.cookie), expiresAt],
  );
}

export async function deleteSession(db: Queryable, shopId: string, hash: Buffer): Promise<void> {
  await db.query('delete from session where shop_id = $1 and (session_hash = $2 or expires_at < now())', [shopId, hash]);
}

/** Every session of a person: when the passphrase changes or the person leaves. */
export async function deleteSessionsOf(db: Queryable, shopId: string, personId: string): Promise<void> {
  await db.query('delete from session where shop_id = $1 and person_id = $2', [shopId, personId]);
}

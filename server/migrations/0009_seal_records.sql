-- A copy for print, made when the picture is kept; null for pictures kept before, and once erased.
alter table photo add column print bytea;
alter table photo alter column print set storage external;

-- Conditions of suppliers, every version that was published; made anew from the log like the others.
create table supplier_terms (
  shop_id text not null references shop,
  terms_id text not null,
  version integer not null,
  body jsonb not null,
  primary key (shop_id, terms_id, version)
);

-- Keys that seal records. The private part lies here encrypted by the secret of the shop: a copy of the table signs nothing.
create table seal_key (
  shop_id text not null references shop,
  -- SHA-256 of the raw public key, in hex
  fingerprint text not null check (fingerprint ~ '^[0-9a-f]{64}$'),
  public_key bytea not null check (length(public_key) = 32),
  private_sealed bytea,
  made_at timestamptz not null,
  retired_at timestamptz,
  revoked_at timestamptz,
  reason text,
  primary key (shop_id, fingerprint)
);
-- One key signs at a time.
create unique index seal_key_signing on seal_key (shop_id) where retired_at is null and revoked_at is null;

-- Sealed archives of jobs, as they were handed out. The bytes go when a vehicle is erased that they name; the row stays.
create table sealed_archive (
  shop_id text not null references shop,
  job_id text not null,
  head integer not null,
  sealed_at timestamptz not null,
  sealed_by text not null,
  fingerprint text not null,
  manifest_sha256 text not null,
  bytes bytea,
  primary key (shop_id, job_id, head)
);
alter table sealed_archive alter column bytes set storage external;

-- How people sign in. Never in the log, never in an export.
create table credential (
  shop_id text not null,
  person_id text not null,
  passphrase_hash text not null,
  pin_hash text,
  failures integer not null default 0,
  locked_until timestamptz,
  primary key (shop_id, person_id),
  foreign key (shop_id, person_id) references person
);

-- Key: SHA-256 of the session's id, so that a copy of the table opens nothing.
create table session (
  shop_id text not null references shop,
  session_hash bytea not null,
  person_id text,
  is_locked boolean not null default false,
  cookie jsonb not null,
  expires_at timestamptz not null,
  primary key (shop_id, session_hash)
);
create index session_person on session (shop_id, person_id);

-- SHA-256 of the code that makes the first lead; null once there is one.
alter table shop add column first_code_hash bytea;
alter table person add column has_left boolean not null default false;

-- Cross-job tables: made anew from the log like the others.
create table competence (
  shop_id text not null references shop,
  person_id text not null,
  kind text not null,
  training text not null,
  given_by text not null,
  valid_until date not null,
  primary key (shop_id, person_id, kind)
);

create table gear (
  shop_id text not null references shop,
  gear_id text not null,
  body jsonb not null,
  retired text,
  primary key (shop_id, gear_id)
);

create table instrument (
  shop_id text not null references shop,
  instrument_id text not null,
  body jsonb not null,
  primary key (shop_id, instrument_id)
);

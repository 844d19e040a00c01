-- The log: what happened, appended and never changed.
create table shop (
  shop_id text primary key,
  epoch uuid not null default gen_random_uuid(),
  is_demo boolean not null default false
);

create table person (
  shop_id text not null references shop,
  person_id text not null,
  name text not null,
  role text not null check (role in ('apprentice', 'technician', 'lead')),
  primary key (shop_id, person_id)
);

-- One row a stream; locking it orders the appends of that stream.
create table stream (
  shop_id text not null references shop,
  stream text not null,
  head integer not null default 0,
  hash bytea not null default '\x',
  primary key (shop_id, stream)
);

create sequence log_position;

create table log_event (
  shop_id text not null,
  stream text not null,
  number integer not null,
  type text not null,
  command_id text not null,
  -- The RFC 8785 text that was hashed; everything else about the event is read from it.
  text text not null,
  hash bytea not null,
  position bigint not null default nextval('log_position'),
  -- Orders readers by commit: rows of a transaction that still runs are never passed over.
  xid xid8 not null default pg_current_xact_id(),
  primary key (shop_id, stream, number),
  foreign key (shop_id, stream) references stream
);
create index log_event_order on log_event (shop_id, xid, position);

create table log_command (
  shop_id text not null references shop,
  command_id text not null,
  body_hash bytea not null,
  -- json, not jsonb: the same act gets the same answer to the byte.
  outcome json not null,
  primary key (shop_id, command_id)
);

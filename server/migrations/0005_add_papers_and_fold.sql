-- Version of the fold that computed the cross-job tables; another than the application's own: they are made anew before it listens.
alter table shop add column fold_version integer not null default 0;

-- A rebuild goes through the log in this order.
create index log_event_position on log_event (shop_id, position);

-- What is written of a vehicle and of its owner lies beside the log, which names the rows by id and salted hash: so they can be erased
-- and the chain still holds. A row that was erased stays, empty, so that nothing puts it back.
create table vehicle (
  shop_id text not null references shop,
  vehicle_id text not null,
  -- null for what an older log says in its own text
  salt bytea,
  -- null once erased
  body jsonb,
  primary key (shop_id, vehicle_id)
);
create table customer (
  shop_id text not null references shop,
  customer_id text not null,
  salt bytea,
  body jsonb,
  primary key (shop_id, customer_id)
);

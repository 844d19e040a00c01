-- What is asked across jobs. Every row can be made anew from the log.
create table profile (
  shop_id text not null references shop,
  profile_id text not null,
  version integer not null,
  body jsonb not null,
  primary key (shop_id, profile_id, version)
);

create table policy (
  shop_id text not null references shop,
  version integer not null,
  body jsonb not null,
  primary key (shop_id, version)
);

create table job_summary (
  shop_id text not null references shop,
  job_id text not null,
  number integer not null,
  body jsonb not null,
  primary key (shop_id, job_id),
  unique (shop_id, number)
);

create table module (
  shop_id text not null references shop,
  module_id text not null,
  label text not null,
  type_id text not null,
  capacity_ah double precision,
  resistance_milliohm double precision,
  rest_drop_millivolt double precision,
  ocv_volt double precision,
  bin text not null,
  quarantine text,
  reserved_by text,
  in_job text,
  place integer,
  primary key (shop_id, module_id)
);
create index module_reserved on module (shop_id, reserved_by) where reserved_by is not null;
create index module_in_job on module (shop_id, in_job) where in_job is not null;

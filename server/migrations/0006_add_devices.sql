-- Which device has which jobs open, and when its stream was last alive: one that is cut off may hold acts that nobody else knows.
create table device_job (
  shop_id text not null references shop,
  device_id text not null,
  job_id text not null,
  person_id text not null,
  seen_at timestamptz not null,
  primary key (shop_id, device_id, job_id)
);

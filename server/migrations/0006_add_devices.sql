-- Which device has which job open, and when its stream was last alive: one that is cut off may hold acts that nobody else knows.
create table device (
  shop_id text not null references shop,
  device_id text not null,
  -- null once it left its job
  job_id text,
  person_id text not null,
  seen_at timestamptz not null,
  primary key (shop_id, device_id)
);

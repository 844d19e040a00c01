-- Pictures lie beside the log, which names them by id and hash: so they can be erased and the chain still holds.
create table photo (
  shop_id text not null references shop,
  job_id text not null,
  photo_id text not null,
  sha256 bytea not null,
  -- both null once erased
  picture bytea,
  small bytea,
  put_by text not null,
  put_at timestamptz not null,
  primary key (shop_id, job_id, photo_id),
  check ((picture is null) = (small is null))
);
-- already compressed
alter table photo alter column picture set storage external;
alter table photo alter column small set storage external;

-- What a job leaves to remember; made anew from the log like the rest of the row.
alter table job_summary add column memory jsonb not null default '{"number":0,"minutes":{},"broken":[],"found":[]}';

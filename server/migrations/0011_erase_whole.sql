-- Which vehicle a record names: a job's papers may have been corrected since. Empty where it names none, null until that was looked up.
alter table sealed_archive add column vehicle_id text;

-- Looks it up in the log: records kept by an older release, or that came in with an archive of one.
create function name_vehicles_of_records() returns void
language sql as $$
  update sealed_archive a set vehicle_id = coalesce((
    select coalesce(e.text::jsonb #>> '{body,vehicle,id}', e.stream) from log_event e
    where e.shop_id = a.shop_id and e.stream = a.job_id and e.number <= a.head and e.type in ('job.opened', 'papers.corrected')
    order by e.number desc limit 1), '')
  where a.vehicle_id is null
$$;
select name_vehicles_of_records();

-- What the hash of a name in the log was made with: it goes with the name. Null for names that were hashed without.
alter table person add column name_salt bytea;

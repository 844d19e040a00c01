-- Wrong tries to sign in are slowed by who asks and from where; nobody is locked out any more.
alter table credential drop column failures, drop column locked_until;

create table sign_in_try (
  shop_id text not null references shop,
  key text not null,
  wrong integer not null,
  free_at timestamptz not null,
  primary key (shop_id, key)
);

-- Takes a turn to try, counted as wrong before it is judged, so that tries sent side by side count one by one. The first `free` tries
-- follow at will, then each waits twice as long as the one before, from `least` up to `most` seconds. After a quarter of an hour in which
-- none was tried the count begins anew. Gives the seconds still to wait; 0 where the turn was taken.
create function take_try(of_shop text, of_key text, at timestamptz, free integer, least_wait float8, most_wait float8) returns float8
language plpgsql as $$
declare
  count_now integer;
  wait float8;
begin
  insert into sign_in_try as t (shop_id, key, wrong, free_at) values (of_shop, of_key, 1, at)
  on conflict (shop_id, key) do update
    set wrong = case when t.free_at < at - interval '15 minutes' then 1 else least(t.wrong + 1, 1000000) end
    -- much further ahead than any wait: a clock was set back since, and nobody is kept out by that
    where t.free_at <= at or t.free_at > at + make_interval(secs => 2 * most_wait)
  returning wrong into count_now;
  if count_now is null then
    select greatest(0.001, extract(epoch from t.free_at - at)) into wait from sign_in_try t where t.shop_id = of_shop and t.key = of_key;
    return coalesce(wait, 0);
  end if;
  wait := case when count_now < free then 0 else least(most_wait, least_wait * power(2::float8, least(count_now - free, 40))) end;
  update sign_in_try t set free_at = at + make_interval(secs => wait) where t.shop_id = of_shop and t.key = of_key;
  return 0;
end $$;

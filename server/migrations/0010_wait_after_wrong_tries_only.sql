-- Whoever has tries left waits for nothing: also where the server's clock was set back by less than a wait since the last one.
create or replace function take_try(of_shop text, of_key text, at timestamptz, free integer, least_wait float8, most_wait float8) returns float8
language plpgsql as $$
declare
  count_now integer;
  wait float8;
begin
  insert into sign_in_try as t (shop_id, key, wrong, free_at) values (of_shop, of_key, 1, at)
  on conflict (shop_id, key) do update
    set wrong = case when t.free_at < at - interval '15 minutes' then 1 else least(t.wrong + 1, 1000000) end
    -- much further ahead than any wait: a clock was set back since, and nobody is kept out by that
    where t.wrong < free or t.free_at <= at or t.free_at > at + make_interval(secs => 2 * most_wait)
  returning wrong into count_now;
  if count_now is null then
    select greatest(0.001, extract(epoch from t.free_at - at)) into wait from sign_in_try t where t.shop_id = of_shop and t.key = of_key;
    return coalesce(wait, 0);
  end if;
  wait := case when count_now < free then 0 else least(most_wait, least_wait * power(2::float8, least(count_now - free, 40))) end;
  update sign_in_try t set free_at = at + make_interval(secs => wait) where t.shop_id = of_shop and t.key = of_key;
  return 0;
end $$;

-- Positions are taken last in their transaction, under a lock of the shop: within a shop they come in the order of commits, and readers
-- go by (shop, position) without waiting for anybody else's transaction.
drop index log_event_order;
alter table log_event drop column xid;
alter table log_event alter column position drop default;

-- Tables that every act touches do not look at the shop's row: whoever holds that holds nobody up.
alter table log_command drop constraint log_command_shop_id_fkey;
alter table job_summary drop constraint job_summary_shop_id_fkey;
alter table device_job drop constraint device_job_shop_id_fkey;

-- Appends to one stream in one round trip, if its head is still the one that the acts were decided on. Gives `kept`; `moved` where the
-- head is another, `known` where an act of these ids was seen before: then nothing was written. Without events (all acts refused) only
-- the outcomes are kept.
create function append_acts(
  in_shop text, in_stream text, in_head integer,
  in_numbers integer[], in_types text[], in_event_commands text[], in_texts text[], in_hashes bytea[],
  in_commands text[], in_body_hashes bytea[], in_outcomes json[],
  in_job_number integer, in_summary jsonb, in_memory jsonb
) returns text language plpgsql as $$
declare
  count integer := cardinality(in_numbers);
begin
  perform from stream where shop_id = in_shop and stream = in_stream and head = in_head for update;
  if not found then return 'moved'; end if;
  if exists (select from log_command where shop_id = in_shop and command_id = any (in_commands)) then return 'known'; end if;
  insert into log_command (shop_id, command_id, body_hash, outcome)
    select in_shop, given.* from unnest(in_commands, in_body_hashes, in_outcomes) as given;
  if count = 0 then return 'kept'; end if;
  if in_summary is not null then
    insert into job_summary (shop_id, job_id, number, body, memory) values (in_shop, in_stream, in_job_number, in_summary, in_memory)
    on conflict (shop_id, job_id) do update set body = excluded.body, memory = excluded.memory;
  end if;
  update stream set head = in_numbers[count], hash = in_hashes[count] where shop_id = in_shop and stream = in_stream;
  -- last of all, so that nothing that waits for a row holds the order of the shop
  perform pg_advisory_xact_lock(hashtextextended(in_shop, 0));
  insert into log_event (shop_id, stream, number, type, command_id, text, hash, position)
    select in_shop, in_stream, given.*, nextval('log_position')
    from unnest(in_numbers, in_types, in_event_commands, in_texts, in_hashes) as given;
  return 'kept';
end $$;

-- When a screen was locked: what was stated before is sent from it still.
alter table session add column locked_at timestamptz;
update session set locked_at = now() where is_locked;
alter table session drop column is_locked;

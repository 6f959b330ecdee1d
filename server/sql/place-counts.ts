// How many folders and files lie in each folder, and at the top of each share. Like what versions take (quotas.ts), it is
// kept in lines that nobody waits for, and folded into sums by a job: exact at any moment, and read without counting.
export const placeCounts = `
create table place_count (
  -- A folder, or a share for what lies at its top.
  place_id uuid primary key,
  entries integer not null
);
create table place_change (
  id bigint generated always as identity primary key,
  place_id uuid not null,
  entries integer not null
);
create index on place_change (place_id);

create function count_entry() returns trigger language plpgsql as $$
  declare
    was uuid := case when tg_op <> 'INSERT' and old.removed_at is null then coalesce(old.folder_id, old.share_id) end;
    becomes uuid := case when tg_op <> 'DELETE' and new.removed_at is null then coalesce(new.folder_id, new.share_id) end;
  begin
    if was is distinct from becomes then
      insert into place_change (place_id, entries)
        select p.id, p.n from (values (was, -1), (becomes, 1)) as p(id, n) where p.id is not null;
    end if;
    return null;
  end $$;
create trigger entry_is_counted after insert or delete or update of folder_id, share_id, removed_at on entry
  for each row execute function count_entry();

insert into place_count (place_id, entries)
  select coalesce(folder_id, share_id), count(*) from entry where removed_at is null group by 1;

-- How many lie in a place now.
create function entries_in(the_place uuid) returns integer language sql stable as $$
  select (coalesce((select c.entries from place_count c where c.place_id = the_place), 0)
    + coalesce((select sum(c.entries) from place_change c where c.place_id = the_place), 0))::integer
$$;
`

// What each share and each person's versions take as files, in bytes. Every version that is added, goes or moves to
// another share adds a line, so that no save waits for another's count; a job folds the lines into sums.
export const quotas = `
create table storage_use (
  -- A share or a person.
  owner_id uuid primary key,
  bytes bigint not null
);
create table storage_change (
  id bigint generated always as identity primary key,
  share_id uuid not null,
  person_id uuid not null,
  bytes bigint not null
);
create index on storage_change (share_id);
create index on storage_change (person_id);

create function count_version() returns trigger language plpgsql as $$
  begin
    if tg_op = 'INSERT' then
      insert into storage_change (share_id, person_id, bytes)
        select e.share_id, new.author_id, new.size from entry e where e.id = new.file_id;
    else
      insert into storage_change (share_id, person_id, bytes)
        select e.share_id, old.author_id, -old.size from entry e where e.id = old.file_id;
    end if;
    return null;
  end $$;
create trigger version_is_counted after insert or delete on version for each row execute function count_version();

create function count_moved_file() returns trigger language plpgsql as $$
  begin
    insert into storage_change (share_id, person_id, bytes)
      select s.id, v.author_id, case when s.id = old.share_id then -v.size else v.size end
      from version v, unnest(array[old.share_id, new.share_id]) as s(id) where v.file_id = new.id;
    return null;
  end $$;
create trigger moved_file_is_counted after update of share_id on entry for each row
  when (old.share_id <> new.share_id and new.kind = 'file') execute function count_moved_file();

insert into storage_use (owner_id, bytes)
  select e.share_id, sum(v.size) from version v join entry e on e.id = v.file_id group by e.share_id
  union all select v.author_id, sum(v.size) from version v group by v.author_id;
`

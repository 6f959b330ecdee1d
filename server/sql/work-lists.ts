// What is to be done after a change is listed by the database, in the transaction of the change, so that no way in can
// forget it: files to be read for search, versions whose difference is to be described. The queue works the lists off
// (server/jobs). Made by the migrations; the texts here are what they made.

export const workLists = `
create function queue_for_search() returns trigger language plpgsql as $$
        begin
          if new.kind = 'file' then
            insert into search_queue (file_id) values (new.id);
          end if;
          return null;
        end $$;
create trigger entry_added_for_search after insert on entry for each row execute function queue_for_search();
create trigger entry_changed_for_search after update of name, share_id, folder_id, head_version_id, removed_at on entry
  for each row execute function queue_for_search();

-- What a name says depends on its convention.
create function queue_share_for_search() returns trigger language plpgsql as $$
        begin
          insert into search_queue (file_id)
            select e.id from entry e where e.share_id = coalesce((to_jsonb(new)->>'share_id')::uuid,
              (select c.share_id from convention c where c.id = (to_jsonb(new)->>'convention_id')::uuid)) and e.kind = 'file' and e.removed_at is null;
          return null;
        end $$;
create trigger convention_for_search after insert on convention_version for each row execute function queue_share_for_search();
create trigger list_for_search after insert or update on controlled_list for each row execute function queue_share_for_search();

create function queue_change() returns trigger language plpgsql as $$
        begin
          if tg_op = 'INSERT' then
            insert into change_queue (version_id) values (new.id);
          else
            -- Whatever came after it has another one before it now.
            insert into change_queue (version_id)
              select id from version where file_id = old.file_id and number > old.number order by number limit 1;
          end if;
          return null;
        end $$;
create trigger version_is_described after insert or delete on version for each row execute function queue_change();
`

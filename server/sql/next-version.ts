// The database functions that add a version. A file's next one comes in one statement: lock, compare, content, version,
// head, news. A save waits for every statement in turn, and this is the act that people do all day.
import { locks } from './locks'

export const nextVersion = `
-- Adds a version, the first or a later one, with what goes with it: that it was used, what its draft knows, and the news.
create or replace function add_version(
  the_file uuid, new_id uuid, the_number integer, the_sha256 bytea, the_size bigint, the_type text, the_person uuid, the_time timestamptz,
  the_base uuid, the_reason text, the_key uuid, the_request bytea, the_share uuid, the_folder uuid,
  the_draft uuid, the_seq integer, the_epoch integer, the_writer uuid, the_head bytea
) returns timestamptz language plpgsql as $$
  declare
    added timestamptz;
  begin
    insert into version (id, file_id, number, sha256, size, type, author_id, at, base_version_id, reason, request_key, request_digest)
      values (new_id, the_file, the_number, the_sha256, the_size, the_type, the_person, coalesce(the_time, clock_timestamp()), the_base, the_reason, the_key, the_request)
      returning at into added;
    insert into file_use (person_id, file_id) values (the_person, the_file) on conflict (person_id, file_id) do update set used_at = now();
    -- A save that was accepted before the draft was taken over moves nothing that its new writer knows.
    if the_draft is not null then
      update draft d set file_id = the_file, saved_seq = greatest(d.saved_seq, the_seq),
          saved_head = case when the_seq >= d.saved_seq then the_head else d.saved_head end
        where d.id = the_draft and d.person_id = the_person and d.epoch = coalesce(the_epoch, 0) and d.writer_id is not distinct from the_writer;
    end if;
    perform pg_notify('jaula_news', json_build_object('about', 'file', 'shareId', the_share, 'fileId', the_file, 'versionId', new_id, 'authorId', the_person)::text);
    perform pg_notify('jaula_news', json_build_object('about', 'place', 'shareId', the_share, 'folderId', the_folder)::text);
    return added;
  end $$;

create or replace function next_version(
  the_file uuid, the_base uuid, new_id uuid, the_key uuid, the_person uuid, the_sha256 bytea, the_size bigint, the_time timestamptz,
  the_reason text, the_draft uuid, the_seq integer, the_epoch integer, the_writer uuid, the_head bytea, first_block bytea, block_packed boolean,
  the_request bytea
) returns table (outcome text, share_id uuid, folder_id uuid, name text, type text, head uuid, number integer, at timestamptz, author text)
language plpgsql as $$
  #variable_conflict use_column
  declare
    there record;
    added timestamptz;
    next integer;
  begin
    -- Whoever stores shares the store's lock, so that what it relies on is not removed at that moment.
    perform pg_advisory_xact_lock_shared(${locks.store});
    -- The row is locked from here to the commit: two savers of one file come one after the other. Its key is
    -- not, so that whoever only refers to the file (a draft, a version) need not wait, nor hold this up.
    select e.share_id, e.folder_id, e.name, e.type, e.head_version_id, m.rank into there
      from entry e left join may(the_person) m on m.realm_id = e.realm_id
      where e.id = the_file and e.kind = 'file' and e.removed_at is null for no key update of e;
    if there.rank is null then return query select 'not found', null::uuid, null::uuid, null, null, null::uuid, null::integer, null::timestamptz, null; return; end if;
    if there.rank < 2 then return query select 'not allowed', there.share_id, null::uuid, null, null, null::uuid, null::integer, null::timestamptz, null; return; end if;
    if exists (select from version v where v.request_key = the_key) then
      return query select 'made', null::uuid, null::uuid, null, null, null::uuid, null::integer, null::timestamptz, null; return;
    end if;
    if there.head_version_id <> the_base then
      return query select 'newer', null::uuid, null::uuid, null, null, there.head_version_id, null::integer, null::timestamptz, null; return;
    end if;
    if first_block is not null then
      insert into content (sha256, size) values (the_sha256, the_size) on conflict do nothing;
      if found then insert into content_block (sha256, index, packed, bytes) values (the_sha256, 0, block_packed, first_block); end if;
    end if;
    select v.number + 1 into next from version v where v.id = there.head_version_id;
    added := add_version(the_file, new_id, next, the_sha256, the_size, there.type, the_person, the_time, there.head_version_id, the_reason, the_key, the_request,
      there.share_id, there.folder_id, the_draft, the_seq, the_epoch, the_writer, the_head);
    update entry e set head_version_id = new_id where e.id = the_file;
    return query select 'added', there.share_id, there.folder_id, there.name, there.type, new_id, next, added, (select p.name from person p where p.id = the_person);
  end $$;
`

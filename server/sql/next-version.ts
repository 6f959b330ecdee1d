// The database function that adds a file's next version in one statement: lock, compare, content, version,
// head, news. A save waits for every statement in turn, and this is the act that people do all day.
import { locks } from '../locks'

export const nextVersion = `
create or replace function next_version(
  the_file uuid, the_base uuid, new_id uuid, the_key uuid, the_person uuid, the_sha256 bytea, the_size bigint, the_time timestamptz,
  the_reason text, the_draft uuid, the_seq integer, the_epoch integer, the_writer uuid, the_head bytea, first_block bytea, block_packed boolean,
  the_request bytea
) returns table (outcome text, share_id uuid, folder_id uuid, name text, type text, head uuid, number integer, at timestamptz, author text)
language plpgsql as $$
  #variable_conflict use_column
  declare
    there record;
    added record;
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
    insert into version (id, file_id, number, sha256, size, type, author_id, at, base_version_id, reason, request_key, request_digest)
      select new_id, the_file, v.number + 1, the_sha256, the_size, there.type, the_person, coalesce(the_time, clock_timestamp()), there.head_version_id, the_reason, the_key, the_request
      from version v where v.id = there.head_version_id
      returning version.number, version.at into added;
    update entry e set head_version_id = new_id where e.id = the_file;
    insert into file_use (person_id, file_id) values (the_person, the_file) on conflict (person_id, file_id) do update set used_at = now();
    -- A save that was accepted before the draft was taken over moves nothing that its new writer knows.
    update draft d set file_id = the_file, saved_seq = greatest(d.saved_seq, the_seq),
        saved_head = case when the_seq >= d.saved_seq then the_head else d.saved_head end
      where d.id = the_draft and d.person_id = the_person and d.epoch = coalesce(the_epoch, 0) and d.writer_id is not distinct from the_writer;
    perform pg_notify('jaula_news', json_build_object('about', 'file', 'shareId', there.share_id, 'fileId', the_file, 'versionId', new_id, 'authorId', the_person)::text);
    perform pg_notify('jaula_news', json_build_object('about', 'place', 'shareId', there.share_id, 'folderId', there.folder_id)::text);
    return query select 'added', there.share_id, there.folder_id, there.name, there.type, new_id, added.number, added.at, (select p.name from person p where p.id = the_person);
  end $$;
`

// What is append-only goes by these functions alone. They are the owner's and run with the owner's rights; the role that
// the application connects as may call them, and may delete none of it itself.

/** Versions that others have, or are shown. */
export const withOthers = `
-- Whether a version was sent to somebody, or a link shows it.
create function is_with_others(the_version uuid) returns boolean
language sql stable as $$
  select exists (select from sent_version s where s.version_id = the_version)
    or exists (select from link l where l.version_id = the_version and l.ended_at is null
      and (l.until is null or l.until > now()))
$$;
`

export const removing = `
-- Removes versions that nothing needs and nobody holds, and logs each. @return those that went
create or replace function remove_versions(the_ids uuid[], the_why text) returns uuid[]
language plpgsql security definer set search_path = public, pg_temp as $$
  declare
    going uuid[];
  begin
    select array_agg(v.id) into going from version v where v.id = any(the_ids)
      and not exists (select from draft d where d.base_version_id = v.id and d.state <> 'finished')
      and not exists (select from draft d where d.head_version_id = v.id and d.state <> 'finished')
      and not exists (select from kept_version k where k.version_id = v.id)
      and not is_with_others(v.id)
      and not exists (select from template t where t.version_id = v.id)
      and not exists (select from entry e where e.head_version_id = v.id or e.origin_version_id = v.id)
      and not exists (
        with recursive up(id, folder_id, depth) as (
          select e.id, e.folder_id, 0 from entry e where e.id = v.file_id
          union all select e.id, e.folder_id, up.depth + 1 from up join entry e on e.id = up.folder_id where up.depth < 100)
        select from up join retention_hold h on h.entry_id = up.id);
    if going is null then return '{}'; end if;
    insert into removed_version (id, file_id, number, sha256, size, author_id, at, reason, why)
      select id, file_id, number, sha256, size, author_id, at, reason, the_why from version where id = any(going);
    update draft set base_version_id = null where state = 'finished' and base_version_id = any(going);
    update draft set head_version_id = null where state = 'finished' and head_version_id = any(going);
    perform set_config('jaula.retention', 'on', true);
    delete from version where id = any(going);
    perform set_config('jaula.retention', 'off', true);
    return going;
  end $$;
`

export const retention = `
${removing}
-- Removes up to this many contents that no version has. @return the chunks that each consisted of
create function free_contents(most integer) returns table (chunks integer[])
language plpgsql security definer set search_path = public, pg_temp as $$
  declare
    going bytea[];
  begin
    select array_agg(c.sha256) into going from (
      select sha256 from content one where not exists (select from version v where v.sha256 = one.sha256) limit most) c;
    delete from content_block where sha256 = any(going);
    return query delete from content c where c.sha256 = any(going) returning c.chunks;
  end $$;

-- Removes chunks that nothing consists of or is kept by. @return what each was kept by
create function free_chunks(the_ids integer[]) returns table (roots integer[])
language sql security definer set search_path = public, pg_temp as $$
  delete from chunk c where id = any(the_ids)
    and not exists (select from content where chunks @> array[c.id])
    and not exists (select from chunk other where other.roots @> array[c.id]) returning c.roots
$$;

-- Removes the blocks of a content that is in chunks.
create function drop_blocks(the_sha256 bytea) returns void
language sql security definer set search_path = public, pg_temp as $$
  delete from content_block b where b.sha256 = the_sha256
    and exists (select from content c where c.sha256 = the_sha256 and c.chunks is not null)
$$;

revoke execute on function remove_versions, free_contents, free_chunks, drop_blocks from public;
`

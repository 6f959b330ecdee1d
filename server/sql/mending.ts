// What is stored and is not what was saved any more is put back by these functions alone. They are the owner's. What is
// put there is held against its checksum here: whoever calls them can make nothing of it but what it was.

export const mending = `
-- Puts back a content, as it came, in pieces. @return whether there is one of these bytes
create function mend_content(pieces bytea[]) returns boolean
language plpgsql security definer set search_path = public, pg_temp as $$
  declare
    whole bytea;
    the_sha256 bytea;
  begin
    select coalesce(string_agg(piece, ''::bytea order by at), ''::bytea) into whole from unnest(pieces) with ordinality one(piece, at);
    the_sha256 := sha256(whole);
    perform set_config('jaula.mending', 'on', true);
    update content set chunks = null where sha256 = the_sha256 and size = octet_length(whole);
    if not found then
      perform set_config('jaula.mending', 'off', true);
      return false;
    end if;
    delete from content_block where sha256 = the_sha256;
    insert into content_block (sha256, index, packed, bytes)
      select the_sha256, at - 1, false, piece from unnest(pieces) with ordinality one(piece, at);
    perform set_config('jaula.mending', 'off', true);
    return true;
  end $$;

-- Puts back a chunk, packed as what it is (core/history/pack.ts). @return whether there is one of these bytes
create function mend_chunk(plain bytea) returns boolean
language plpgsql security definer set search_path = public, pg_temp as $$
  declare
    mended boolean;
  begin
    perform set_config('jaula.mending', 'on', true);
    update chunk set bytes = '\\x00'::bytea || plain, roots = null, revision = 0 where digest = sha256(plain) and size = octet_length(plain);
    mended := found;
    perform set_config('jaula.mending', 'off', true);
    return mended;
  end $$;

revoke execute on function mend_content, mend_chunk from public;
`

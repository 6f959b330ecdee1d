import type { MigrationInterface, QueryRunner } from 'typeorm'

/**
 * The history store: contents as lists of chunks, which versions and files share. What is stored in blocks
 * stays readable and is moved over in the background (server/history/move.ts).
 */
export class History1764700000000 implements MigrationInterface {
  name = 'History1764700000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      create table chunk (
        id integer generated always as identity primary key,
        digest bytea not null unique check (octet_length(digest) = 32),
        size integer not null,
        -- Chunks that it is kept by, which are kept by none themselves.
        roots integer[],
        bytes bytea not null,
        born_at timestamptz not null default now()
      );
      alter table chunk alter column bytes set storage external;
      -- The frame first, then the body in order. Null while the content is in blocks.
      alter table content add column chunks integer[], add column stored_at timestamptz not null default now();
      create index content_chunks on content using gin (chunks) with (fastupdate = on);
      create index chunk_roots on chunk using gin (roots) where roots is not null;
      create index content_in_blocks on content (sha256) where chunks is null;

      create function chunk_never_changes() returns trigger language plpgsql as $$
        begin
          raise exception 'a chunk never changes' using errcode = 'restrict_violation';
        end $$;
      create trigger chunk_never_changes before update on chunk for each statement execute function chunk_never_changes();

      -- A content may only ever be given its chunks.
      drop trigger content_never_changes on content;
      create function only_gets_chunks() returns trigger language plpgsql as $$
        begin
          if old.chunks is null and new.chunks is not null and old.sha256 = new.sha256 and old.size = new.size then return new; end if;
          raise exception 'a content never changes' using errcode = 'restrict_violation';
        end $$;
      create trigger content_never_changes before update on content for each row execute function only_gets_chunks();

      -- The content is stored before, in the same transaction.
      drop function next_version;
      create function next_version(
        the_file uuid, the_base uuid, new_id uuid, the_key uuid, the_person uuid, the_sha256 bytea, the_size bigint, the_time timestamptz,
        the_reason text, the_draft uuid, the_seq integer
      ) returns table (outcome text, share_id uuid, folder_id uuid, name text, type text, head uuid, number integer, at timestamptz, author text)
      language plpgsql as $$
        #variable_conflict use_column
        declare
          there record;
          added record;
        begin
          -- The row is locked from here to the commit: two savers of one file come one after the other.
          select e.share_id, e.folder_id, e.name, e.type, e.head_version_id, m.role into there
            from entry e left join membership m on m.share_id = e.share_id and m.person_id = the_person
            where e.id = the_file and e.kind = 'file' and e.removed_at is null for update of e;
          if there.role is null then return query select 'not found', null::uuid, null::uuid, null, null, null::uuid, null::integer, null::timestamptz, null; return; end if;
          if there.role = 'view' then return query select 'not allowed', there.share_id, null::uuid, null, null, null::uuid, null::integer, null::timestamptz, null; return; end if;
          if exists (select from version v where v.request_key = the_key) then
            return query select 'made', null::uuid, null::uuid, null, null, null::uuid, null::integer, null::timestamptz, null; return;
          end if;
          if there.head_version_id <> the_base then
            return query select 'newer', null::uuid, null::uuid, null, null, there.head_version_id, null::integer, null::timestamptz, null; return;
          end if;
          insert into version (id, file_id, number, sha256, size, type, author_id, at, base_version_id, reason, request_key)
            select new_id, the_file, v.number + 1, the_sha256, the_size, there.type, the_person, coalesce(the_time, clock_timestamp()), there.head_version_id, the_reason, the_key
            from version v where v.id = there.head_version_id
            returning version.number, version.at into added;
          update entry e set head_version_id = new_id where e.id = the_file;
          insert into file_use (person_id, file_id) values (the_person, the_file) on conflict (person_id, file_id) do update set used_at = now();
          update draft d set file_id = the_file, saved_seq = greatest(d.saved_seq, the_seq) where d.id = the_draft and d.person_id = the_person;
          perform pg_notify('jaula_news', json_build_object('about', 'file', 'shareId', there.share_id, 'fileId', the_file, 'versionId', new_id, 'authorId', the_person)::text);
          perform pg_notify('jaula_news', json_build_object('about', 'place', 'shareId', there.share_id, 'folderId', there.folder_id)::text);
          return query select 'added', there.share_id, there.folder_id, there.name, there.type, new_id, added.number, added.at, (select p.name from person p where p.id = the_person);
        end $$;
    `)
  }

  async down(): Promise<void> {
    throw new Error('Versions are not thrown away.')
  }
}

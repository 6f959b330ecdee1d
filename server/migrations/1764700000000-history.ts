import type { MigrationInterface, QueryRunner } from 'typeorm'

/**
 * The history store: contents as lists of chunks, which versions and files share. What is stored in blocks
 * stays readable and is moved over in the background (server/storage/move.ts).
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
    `)
  }

  async down(): Promise<void> {
    throw new Error('Versions are not thrown away.')
  }
}

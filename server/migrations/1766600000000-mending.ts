import type { MigrationInterface, QueryRunner } from 'typeorm'
import { mending } from '../sql/mending'

/** The store is read again over time; what is not what was saved is put back from a place for copies. */
export class Mending1766600000000 implements MigrationInterface {
  name = 'Mending1766600000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(mending)
    await runner.query(`
      create or replace function chunk_never_changes() returns trigger language plpgsql as $$
        begin
          if coalesce(current_setting('jaula.mending', true), '') = 'on'
            and pg_has_role(current_user, (select relowner from pg_class where oid = tg_relid), 'usage') then return null; end if;
          raise exception 'a chunk never changes' using errcode = 'restrict_violation';
        end $$;
      create or replace function only_gets_chunks() returns trigger language plpgsql as $$
        begin
          if old.sha256 = new.sha256 and old.size = new.size and (old.chunks is null and new.chunks is not null
            or new.chunks is null and coalesce(current_setting('jaula.mending', true), '') = 'on'
              and pg_has_role(current_user, (select relowner from pg_class where oid = tg_relid), 'usage')) then return new; end if;
          raise exception 'a content never changes' using errcode = 'restrict_violation';
        end $$;
      create table content_check (
        sha256 bytea primary key references content on delete cascade,
        checked_at timestamptz not null,
        damaged boolean not null,
        mended_at timestamptz,
        mended_from text,
        seen_at timestamptz
      );
      create index on content_check (checked_at)
    `)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      drop table content_check;
      create or replace function chunk_never_changes() returns trigger language plpgsql as $$
        begin
          raise exception 'a chunk never changes' using errcode = 'restrict_violation';
        end $$;
      create or replace function only_gets_chunks() returns trigger language plpgsql as $$
        begin
          if old.chunks is null and new.chunks is not null and old.sha256 = new.sha256 and old.size = new.size then return new; end if;
          raise exception 'a content never changes' using errcode = 'restrict_violation';
        end $$;
      drop function mend_chunk; drop function mend_content
    `)
  }
}

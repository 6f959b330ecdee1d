import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Versions that were saved by themselves may thin out; each that goes is logged, and nothing else can remove one. */
export class Thinning1764800000000 implements MigrationInterface {
  name = 'Thinning1764800000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      create table removed_version (
        id uuid primary key,
        file_id uuid not null references entry,
        number integer not null,
        sha256 bytea not null,
        size bigint not null,
        author_id uuid not null references person,
        at timestamptz not null,
        reason text not null,
        removed_at timestamptz not null default clock_timestamp(),
        why text not null
      );
      create index on removed_version (file_id, number);
      -- A version keeps the id of the one it was made from, also when that one has gone.
      alter table version drop constraint version_base_version_id_fkey;
      create index on version (at) where reason = 'by itself';
      create function refuse_removal() returns trigger language plpgsql as $$
        begin
          if coalesce(current_setting('jaula.retention', true), '') <> 'on' then
            raise exception 'a version never goes but by retention' using errcode = 'restrict_violation';
          end if;
          return null;
        end $$;
      drop trigger version_never_changes on version;
      create trigger version_never_changes before update or truncate on version for each statement execute function refuse_change();
      create trigger version_goes_by_retention before delete on version for each statement execute function refuse_removal();
    `)
    // Whoever stores a content shares the store's lock, so that what it relies on is not removed at that moment.
    const [{ source }] = await runner.query("select pg_get_functiondef('next_version'::regproc) as source")
    await runner.query(source.replace('begin\n', 'begin\n          perform pg_advisory_xact_lock_shared(417003);\n'))
  }

  async down(): Promise<void> {
    throw new Error('What was removed is not brought back.')
  }
}

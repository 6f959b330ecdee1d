import type { MigrationInterface, QueryRunner } from 'typeorm'

/** What each version changed, in words; versions that are kept under a label; rules of retention, and holds on them. */
export class Lifeline1765000000000 implements MigrationInterface {
  name = 'Lifeline1765000000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      create table version_change (
        version_id uuid primary key references version on delete cascade,
        -- The version that it was compared with: when that one goes, it is compared anew.
        before_id uuid,
        summary text not null,
        weight integer not null
      );
      -- Versions that wait to be compared with the one before them.
      create table change_queue (id bigint generated always as identity primary key, version_id uuid not null);
      insert into change_queue (version_id) select id from version order by at;
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
      create table kept_version (
        version_id uuid primary key references version,
        label text not null check (length(label) between 1 and 100),
        person_id uuid not null references person,
        at timestamptz not null default clock_timestamp()
      );
      create table retention (
        id uuid primary key,
        share_id uuid not null references share,
        folder_id uuid references entry,
        rule jsonb not null,
        set_by uuid not null references person,
        set_at timestamptz not null default clock_timestamp(),
        unique nulls not distinct (share_id, folder_id)
      );
      create table retention_hold (
        entry_id uuid primary key references entry,
        person_id uuid not null references person,
        why text not null,
        at timestamptz not null default clock_timestamp()
      );
    `)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('drop trigger version_is_described on version')
    await runner.query('drop function queue_change')
    await runner.query('drop table change_queue, retention_hold, retention, kept_version, version_change')
  }
}

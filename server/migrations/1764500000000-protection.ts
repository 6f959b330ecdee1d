import type { MigrationInterface, QueryRunner } from 'typeorm'

/** How often work is protected, by kind and place; and the drills that prove it. */
export class Protection1764500000000 implements MigrationInterface {
  name = 'Protection1764500000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      create table own_protection (
        person_id uuid not null references person,
        kind text check (kind in ('document', 'spreadsheet')),
        share_id uuid references share,
        entry_id uuid references entry,
        interval integer check (interval between 5 and 3600),
        continuous boolean,
        check (num_nonnulls(kind, share_id, entry_id) = 1)
      );
      create unique index on own_protection (person_id, (coalesce(kind, share_id::text, entry_id::text)));
      create table place_protection (
        share_id uuid not null references share,
        folder_id uuid references entry,
        interval integer check (interval between 5 and 3600),
        continuous boolean,
        least integer check (least between 5 and 3600),
        most integer check (most between 5 and 3600),
        check (least is null or most is null or least <= most)
      );
      create unique index on place_protection (share_id, (coalesce(folder_id, share_id)));
      create table drill (
        id uuid primary key,
        person_id uuid not null references person,
        device_id uuid not null,
        device_name text not null,
        at timestamptz not null default clock_timestamp(),
        report jsonb not null
      );
      create index on drill (person_id, at desc);
    `)
  }

  async down(): Promise<void> {
    throw new Error('Settings are not thrown away.')
  }
}

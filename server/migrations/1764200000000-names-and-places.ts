import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Conventions, lists, counters, acts that can be undone, former names, origins, templates, search. */
export class NamesAndPlaces1764200000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      create table controlled_list (
        id uuid primary key,
        share_id uuid not null references share,
        name text not null,
        name_key text not null,
        "values" jsonb not null,
        revision integer not null default 1,
        changed_by uuid not null references person,
        changed_at timestamptz not null default clock_timestamp(),
        unique (share_id, name_key)
      );
      create table convention (
        id uuid primary key,
        share_id uuid not null references share,
        folder_id uuid references entry,
        name text not null,
        ended_at timestamptz
      );
      create unique index convention_place on convention (share_id, folder_id) nulls not distinct where ended_at is null;
      create table convention_version (
        convention_id uuid not null references convention,
        number integer not null,
        rules jsonb not null,
        author_id uuid not null references person,
        since timestamptz not null default clock_timestamp(),
        primary key (convention_id, number)
      );
      create trigger convention_version_never_changes before update or delete or truncate on convention_version
        for each statement execute function refuse_change();
      -- The next number of a counter; its row is locked from taking a number to the commit, so there are no gaps.
      create table counter (
        convention_id uuid not null references convention,
        scope text not null,
        next bigint not null,
        primary key (convention_id, scope)
      );
      create table counter_number (
        convention_id uuid not null references convention,
        scope text not null,
        number bigint not null,
        file_id uuid not null references entry deferrable initially deferred,
        primary key (convention_id, scope, number)
      );
      create index on counter_number (file_id);
      create table name_use (
        person_id uuid not null references person,
        convention_id uuid not null references convention,
        part_values jsonb not null,
        at timestamptz not null default clock_timestamp()
      );
      create index on name_use (person_id, convention_id, at desc);

      -- An act on files and folders that is carried out, and undone, as one.
      create table act (
        id uuid primary key,
        person_id uuid not null references person,
        share_id uuid not null references share,
        what text not null check (what in ('rename', 'move', 'remove', 'bring back', 'correct', 'undo')),
        at timestamptz not null default clock_timestamp(),
        undoes uuid references act,
        undone_by uuid references act
      );
      create table act_change (
        act_id uuid not null references act,
        entry_id uuid not null references entry,
        from_share uuid not null,
        from_folder uuid,
        from_name text not null,
        from_removed boolean not null,
        to_share uuid not null,
        to_folder uuid,
        to_name text not null,
        to_removed boolean not null,
        primary key (act_id, entry_id)
      );
      create index on act_change (entry_id);
      create table former_name (
        entry_id uuid not null references entry,
        name text not null,
        until timestamptz not null default clock_timestamp()
      );
      create index on former_name (entry_id);

      alter table entry add column removed_by uuid references person;
      alter table entry add column removed_in uuid references act;
      alter table entry add column origin_version_id uuid references version;
      create index entry_removed on entry (share_id, removed_at) where removed_at is not null;
      create index entry_order on entry (share_id, folder_id, kind desc, name_key) where removed_at is null;
      create index entry_children on entry (folder_id);
      alter table share add column defaults jsonb not null default '{}';

      create table template (
        id uuid primary key,
        share_id uuid not null references share,
        name text not null,
        name_key text not null,
        version_id uuid not null references version,
        convention_id uuid references convention,
        presets jsonb not null default '{}',
        created_by uuid not null references person,
        created_at timestamptz not null default clock_timestamp(),
        removed_at timestamptz
      );
      create unique index template_name on template (share_id, name_key) where removed_at is null;
    `)
  }

  async down(): Promise<void> {
    throw new Error('Names once given are not taken back.')
  }
}

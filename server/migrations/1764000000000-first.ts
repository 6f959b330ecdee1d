import type { MigrationInterface, QueryRunner } from 'typeorm'

export class First1764000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      create table person (
        id uuid primary key,
        handle text not null unique,
        name text not null,
        password_hash text not null,
        administrator boolean not null default false,
        created_at timestamptz not null default now()
      );
      create table session (
        token_hash bytea primary key,
        person_id uuid not null references person,
        created_at timestamptz not null default now(),
        expires_at timestamptz not null
      );
      create table sign_in_failure (
        id uuid primary key,
        handle text not null,
        address text not null,
        at timestamptz not null default now()
      );
      create index on sign_in_failure (handle, at);
      create index on sign_in_failure (address, at);
      create table person_settings (
        person_id uuid primary key references person,
        settings jsonb not null
      );

      create table share (
        id uuid primary key,
        name text not null,
        name_key text not null unique,
        created_at timestamptz not null default now()
      );
      create table membership (
        share_id uuid not null references share,
        person_id uuid not null references person,
        role text not null check (role in ('view', 'edit', 'manage')),
        primary key (share_id, person_id)
      );
      create index on membership (person_id);

      create table entry (
        id uuid primary key,
        kind text not null check (kind in ('folder', 'file')),
        share_id uuid not null references share,
        folder_id uuid references entry,
        name text not null check (name = normalize(name, NFC)),
        name_key text not null,
        type text not null default '',
        head_version_id uuid,
        created_by uuid not null references person,
        created_at timestamptz not null default now(),
        removed_at timestamptz,
        check (kind = 'folder' or head_version_id is not null)
      );
      create unique index entry_name on entry (share_id, folder_id, name_key) nulls not distinct
        where removed_at is null;
      create index on entry (folder_id) where removed_at is null;
      create table file_use (
        person_id uuid not null references person,
        file_id uuid not null references entry,
        used_at timestamptz not null default now(),
        primary key (person_id, file_id)
      );
      create index on file_use (person_id, used_at desc);

      create table content (
        sha256 bytea primary key check (octet_length(sha256) = 32),
        size bigint not null
      );
      create table content_block (
        sha256 bytea not null references content,
        index integer not null,
        packed boolean not null,
        bytes bytea not null,
        primary key (sha256, index)
      );
      -- The blocks are deflated already where that helps; the database's own packing would only cost time.
      alter table content_block alter column bytes set storage external;

      create table version (
        id uuid primary key,
        file_id uuid not null references entry deferrable initially deferred,
        number integer not null,
        sha256 bytea not null references content,
        size bigint not null,
        type text not null,
        author_id uuid not null references person,
        at timestamptz not null default clock_timestamp(),
        base_version_id uuid references version,
        reason text not null,
        request_key uuid not null unique,
        unique (file_id, number)
      );
      alter table entry add foreign key (head_version_id) references version;
      create index on version (sha256);

      create function refuse_change() returns trigger language plpgsql as $$
        begin
          raise exception 'a % never changes', tg_table_name using errcode = 'restrict_violation';
        end $$;
      create trigger version_never_changes before update or delete or truncate on version
        for each statement execute function refuse_change();
      create trigger content_never_changes before update on content
        for each statement execute function refuse_change();
      create trigger content_block_never_changes before update on content_block
        for each statement execute function refuse_change();

      create table draft (
        id uuid primary key,
        person_id uuid not null references person,
        kind text not null check (kind in ('document', 'spreadsheet')),
        device_id uuid not null,
        device_name text not null,
        born_at timestamptz not null,
        base_version_id uuid references version,
        file_id uuid references entry,
        saved_seq integer not null default 0,
        journal_seq integer not null default 0,
        point_seq integer not null default 0,
        point_at timestamptz,
        last_edit_at timestamptz,
        opening text not null default '',
        beyond jsonb not null,
        state text not null check (state in ('open', 'closed', 'let go', 'finished')),
        answered_at timestamptz not null default now(),
        page_answered_at timestamptz not null default now(),
        kept_until timestamptz
      );
      create index on draft (person_id, state);
      create table recovery_point (
        draft_id uuid not null references draft on delete cascade,
        from_seq integer not null,
        to_seq integer not null,
        at timestamptz not null default clock_timestamp(),
        records jsonb not null,
        primary key (draft_id, from_seq),
        check (from_seq <= to_seq)
      );
    `)
  }

  async down(): Promise<void> {
    throw new Error('There is nothing before the first schema.')
  }
}

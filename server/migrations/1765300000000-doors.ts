import type { MigrationInterface, QueryRunner } from 'typeorm'
import { folderTree } from '../sql/folder-tree'
import { nextVersion } from '../sql/next-version'

/**
 * What a request may do is held by the database, too: a folder lies in its own share and in no circle, a key belongs
 * to one request. Sessions say where they are and when they were used last; guesses are counted in one table.
 */
export class Doors1765300000000 implements MigrationInterface {
  name = 'Doors1765300000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      alter table person add column closed_at timestamptz;
      drop table sign_in_failure;
      create table guess_limit (
        key varchar(255) primary key,
        points integer not null default 0,
        expire bigint
      );
      create index on guess_limit (expire);
      create table known_browser (
        token_hash bytea not null check (octet_length(token_hash) = 32),
        person_id uuid not null references person,
        at timestamptz not null default now(),
        primary key (token_hash, person_id)
      );
      alter table session
        add column id uuid not null default gen_random_uuid() unique,
        add column used_at timestamptz not null default now(),
        add column browser text not null default '',
        add column address text not null default '';
      create index on session (person_id);

      -- What was planted in a folder of another share goes to the top of its own, under a name that is free there.
      update entry e set folder_id = null, name = left(e.name, 200) || ' ' || e.id, name_key = left(e.name_key, 200) || ' ' || e.id
        from entry p where p.id = e.folder_id and p.share_id <> e.share_id;
      -- Folders that were moved into each other stand at the top again.
      with recursive up as (
          select id, folder_id from entry where kind = 'folder' and folder_id is not null
          union select up.id, e.folder_id from up join entry e on e.id = up.folder_id where e.folder_id is not null)
        update entry e set folder_id = null, name = left(e.name, 200) || ' ' || e.id, name_key = left(e.name_key, 200) || ' ' || e.id
        from up where up.id = e.id and up.folder_id = e.id;
      alter table entry add unique (id, share_id);
      alter table entry add constraint entry_folder_in_share
        foreign key (folder_id, share_id) references entry (id, share_id) deferrable initially deferred;

      alter table version add column request_digest bytea check (octet_length(request_digest) = 32);
      alter table act add column request_digest bytea check (octet_length(request_digest) = 32);
      drop function next_version;

      -- Words by the shares that have them.
      alter table search_file add column share_no integer;
      update search_file f set share_no = s.no from entry e join share s on s.id = e.share_id where e.id = f.file_id;
      create table search_share_word (
        word_id integer not null,
        share_no integer not null,
        files integer not null,
        primary key (word_id, share_no)
      );
      insert into search_share_word select w, f.share_no, count(*) from search_file f, unnest(f.words) as t(w)
        where f.share_no is not null group by w, f.share_no;

      create table audit_log (
        id uuid primary key,
        at timestamptz not null default clock_timestamp(),
        person_id uuid references person,
        share_id uuid references share,
        what text not null,
        facts jsonb not null
      );
      create trigger audit_log_never_changes before update or delete or truncate on audit_log
        for each statement execute function refuse_change();

      -- A place is listed in this order, a stretch at a time.
      create index entry_listing on entry (share_id, folder_id, kind desc, name_key) where removed_at is null;

      -- Versions are looked up by what refers to them when one of them goes.
      create index on version (base_version_id) where base_version_id is not null;
      create index on entry (head_version_id) where head_version_id is not null;
      create index on entry (origin_version_id) where origin_version_id is not null;
      create index on draft (base_version_id) where base_version_id is not null;
      create index on draft (head_version_id) where head_version_id is not null;
      create index on draft (file_id) where file_id is not null;
      create index on template (version_id);
    `)
    await runner.query(nextVersion)
    await runner.query(folderTree)
  }

  async down(): Promise<void> {
    throw new Error('What the doors keep out is not let in again.')
  }
}

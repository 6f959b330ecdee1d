import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Where copies go, what goes there and how often, what was found there, and how well covered everything was over time. */
export class CopySites1766200000000 implements MigrationInterface {
  name = 'CopySites1766200000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      create table copy_site (
        id uuid primary key,
        kind text not null check (kind in ('folder', 'drive')),
        name text not null,
        folder text not null,
        added_at timestamptz not null default clock_timestamp(),
        seen_at timestamptz,
        rate double precision check (rate > 0)
      );
      create unique index copy_site_folder on copy_site (folder) where kind = 'folder';
      create table copy_plan (
        id uuid primary key,
        site_id uuid not null references copy_site on delete cascade,
        share_id uuid references share,
        extent text not null check (extent in ('nothing', 'latest', 'kept', 'all')),
        hours integer not null check (hours >= 0),
        check_days integer not null check (check_days > 0),
        back_days integer check (back_days > 0),
        most_rate integer check (most_rate > 0),
        set_by uuid references person,
        set_at timestamptz not null,
        unique nulls not distinct (site_id, share_id)
      );
      insert into copy_site (id, kind, name, folder)
        select gen_random_uuid(), 'folder', regexp_replace(folder, '^.*/', ''), folder from share_copy group by folder;
      alter table share_copy
        add column site_id uuid references copy_site on delete cascade,
        add column extent text not null default 'all',
        add column back_days integer,
        add column unread integer not null default 0,
        add column copy_wanted boolean not null default false,
        add column check_wanted boolean not null default false;
      update share_copy c set site_id = s.id from copy_site s where s.folder = c.folder;
      alter table share_copy alter column site_id set not null, drop column folder, add unique (share_id, site_id);
      create table copy_finding (
        id uuid primary key,
        copy_id uuid not null references share_copy on delete cascade,
        at timestamptz not null,
        path text not null,
        is_what text not null check (is_what in ('missing', 'wrong', 'says wrong')),
        repaired boolean not null,
        seen_by uuid references person,
        seen_at timestamptz
      );
      create index on copy_finding (copy_id, at);
      create table copy_sample (
        copy_id uuid not null references share_copy on delete cascade,
        at timestamptz not null,
        versions integer not null,
        covered integer not null,
        verified integer not null,
        age integer not null,
        primary key (copy_id, at)
      )
    `)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      drop table copy_sample; drop table copy_finding; drop table copy_plan;
      alter table share_copy add column folder text;
      update share_copy c set folder = s.folder from copy_site s where s.id = c.site_id;
      alter table share_copy alter column folder set not null, add unique (share_id, folder),
        drop column site_id, drop column extent, drop column back_days, drop column unread, drop column copy_wanted, drop column check_wanted;
      drop table copy_site
    `)
  }
}

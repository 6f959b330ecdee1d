import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Printers, what is printed on them, and how people like pages. */
export class Printing1767900000000 implements MigrationInterface {
  name = 'Printing1767900000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      create table printer (
        id uuid primary key,
        name text not null,
        address text not null,
        added_by uuid not null references person,
        at timestamptz not null default now(),
        removed_at timestamptz
      );
      create unique index on printer (lower(name)) where removed_at is null;
      create table print_job (
        id uuid primary key,
        printer_id uuid not null references printer,
        person_id uuid not null references person,
        file_id uuid references entry on delete cascade,
        -- No key to the version: what was printed is known when it is kept no more.
        version_id uuid,
        number integer,
        unsaved boolean not null,
        name text not null,
        pages integer not null,
        faces integer not null,
        copies integer not null,
        all_copies integer not null,
        collated boolean not null,
        turn text not null check (turn in ('one', 'long', 'short')),
        size text,
        landscape boolean not null,
        colour boolean not null,
        document bytea,
        backs bytea,
        state text not null default 'waiting'
          check (state in ('waiting', 'printing', 'stopped', 'done', 'cancelled', 'failed', 'lost')),
        reasons text[] not null default '{}',
        said text,
        done integer not null default 0,
        remote_id integer,
        tries integer not null default 0,
        at timestamptz not null default now(),
        since timestamptz not null default now(),
        away_since timestamptz,
        next_at timestamptz,
        check ((next_at is not null) = (state in ('waiting', 'printing', 'stopped')))
      );
      alter table print_job alter column document set storage external;
      alter table print_job alter column backs set storage external;
      create index on print_job (next_at) where next_at is not null;
      create index on print_job (person_id, at);
      create index on print_job (file_id, at) where file_id is not null;
      create index on print_job (since) where document is not null or backs is not null;
      create table paper_likes (
        person_id uuid not null references person on delete cascade,
        about text not null,
        likes jsonb not null,
        at timestamptz not null default now(),
        primary key (person_id, about)
      );
    `)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      drop table paper_likes;
      drop table print_job;
      drop table printer;
    `)
  }
}

import type { MigrationInterface, QueryRunner } from 'typeorm'
import { removing, withOthers } from '../sql/retention'

/** What goes out by mail, and what became of it. A version that was sent, or that a link shows, is kept. */
export class Mail1767800000000 implements MigrationInterface {
  name = 'Mail1767800000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      alter table person add column mail text;
      create table sending (
        id uuid primary key,
        entry_id uuid not null references entry on delete cascade,
        person_id uuid not null references person,
        at timestamptz not null default now(),
        sent_as text not null check (sent_as in ('file', 'link')),
        type text,
        words text not null,
        losses jsonb not null
      );
      create index on sending (entry_id, at);
      create table sent_version (
        sending_id uuid not null references sending on delete cascade,
        -- No key to the version: what was sent is known when it is kept no more.
        version_id uuid not null,
        place integer not null,
        number integer not null,
        name text not null,
        size bigint not null,
        primary key (sending_id, version_id)
      );
      create index on sent_version (version_id);
      create table mail (
        id uuid primary key,
        message_id text not null unique,
        kind text not null check (kind in ('file', 'link', 'invitation', 'code')),
        person_id uuid not null references person,
        sending_id uuid references sending on delete cascade,
        about_id uuid,
        link_id uuid references link on delete set null,
        to_person uuid references person,
        address text not null,
        subject text not null,
        body bytea,
        state text not null default 'waiting'
          check (state in ('waiting', 'sent', 'came back', 'refused', 'given up', 'withdrawn')),
        since timestamptz not null default now(),
        at timestamptz not null default now(),
        tries integer not null default 0,
        next_at timestamptz,
        said text,
        seen_at timestamptz,
        check ((state = 'waiting') = (next_at is not null)),
        check ((state = 'waiting') = (body is not null))
      );
      create index on mail (next_at) where state = 'waiting';
      create index on mail (sending_id);
      create index on mail (person_id, at);
      alter table person_code add column mail_id uuid;
      create index on link (version_id) where version_id is not null;
    `)
    await runner.query(withOthers)
    await runner.query(removing)
  }

  async down(runner: QueryRunner): Promise<void> {
    const [{ source }] = await runner.query(`select pg_get_functiondef('remove_versions'::regproc) as source`)
    await runner.query(source.replace(/\n\s*and not is_with_others\(v\.id\)/, ''))
    await runner.query(`
      drop function is_with_others;
      drop index link_version_id_idx;
      drop table mail;
      drop table sent_version;
      drop table sending;
      alter table person_code drop column mail_id;
      alter table person drop column mail;
    `)
  }
}

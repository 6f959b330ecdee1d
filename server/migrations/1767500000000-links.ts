import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Links for people without an account, who are granted something like others, and what was done with each link. */
export class Links1767500000000 implements MigrationInterface {
  name = 'Links1767500000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      -- No key to the link: who wrote a version is known when the link that they came by is not there any more.
      alter table person add column guest_of uuid;
      create index on person (guest_of) where guest_of is not null;
      create table link (
        id uuid primary key,
        entry_id uuid not null references entry on delete cascade,
        -- Whoever has the address, as somebody to whom things are granted.
        person_id uuid not null unique references person,
        token_hash bytea not null unique,
        name text not null,
        role text not null check (role in ('view', 'edit')),
        until timestamptz,
        password_hash text,
        uses integer check (uses > 0),
        -- A version may go when its days are over; the link opens nothing then.
        version_id uuid,
        download boolean not null,
        made_by uuid not null references person,
        made_at timestamptz not null default now(),
        ended_at timestamptz,
        ended_by uuid references person
      );
      create index on link (entry_id);
      -- A browser in which a link was opened, by a secret of which only the digest is here.
      create table link_visit (
        id uuid primary key,
        token_hash bytea not null unique,
        link_id uuid not null references link on delete cascade,
        began_at timestamptz not null default now(),
        until timestamptz not null,
        -- Who came to write.
        guest_id uuid references person
      );
      create index on link_visit (link_id);
      create table link_use (
        id uuid primary key,
        link_id uuid not null references link on delete cascade,
        at timestamptz not null default now(),
        what text not null,
        address text not null,
        browser text not null,
        guest_id uuid references person,
        file_id uuid,
        version_id uuid
      );
      create index on link_use (link_id, at);
    `)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      drop table link_use;
      drop table link_visit;
      drop table link;
      alter table person drop column guest_of;
    `)
  }
}

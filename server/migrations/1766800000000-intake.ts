import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Drives that are taken over: their files, what becomes of them, and where a version was before. */
export class Intake1766800000000 implements MigrationInterface {
  name = 'Intake1766800000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      create table intake (
        id uuid primary key,
        share_id uuid not null references share,
        folder_id uuid,
        source text not null check (source in ('server', 'browser')),
        root text not null,
        person_id uuid not null references person,
        at timestamptz not null default clock_timestamp(),
        state text not null check (state in ('looking', 'planning', 'ready', 'taking', 'done')),
        problem text
      );
      create index on intake (share_id);
      create table intake_file (
        intake_id uuid not null references intake on delete cascade,
        no integer not null,
        path text not null,
        size bigint not null,
        modified timestamptz not null,
        fault text,
        sha256 bytea,
        own_at timestamptz,
        author text not null default '',
        title text not null default '',
        sketch bytea,
        series integer,
        position integer,
        double_of integer,
        version_id uuid,
        refused text,
        primary key (intake_id, no),
        unique (intake_id, path)
      );
      create index on intake_file (intake_id, series);
      create index intake_unread on intake_file (intake_id, no) where sha256 is null and fault is null;
      create table intake_series (
        intake_id uuid not null references intake on delete cascade,
        no integer not null,
        name text not null,
        folders text[] not null,
        certainty text not null check (certainty in ('sure', 'doubtful', 'by hand')),
        why jsonb not null,
        doubts jsonb not null,
        remarks jsonb not null,
        wanted boolean not null,
        open boolean not null default true,
        file_id uuid,
        primary key (intake_id, no)
      );
      create index intake_open on intake_series (intake_id, no) where wanted and open;
      -- Where a version was before it came here, and who wrote it, as it says itself.
      create table taken_from (
        version_id uuid primary key references version on delete cascade,
        path text not null,
        author text not null
      )
    `)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('drop table taken_from; drop table intake_series; drop table intake_file; drop table intake')
  }
}

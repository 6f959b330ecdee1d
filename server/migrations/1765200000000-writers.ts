import type { MigrationInterface, QueryRunner } from 'typeorm'
import { nextVersion } from '../sql/next-version'

/**
 * A draft has one writer at a time, records are kept as the exact bytes they were written as, chained by
 * digest, and the digests at the ends of recovery points outlive the points. Points that an earlier Jaula
 * took keep their records as they were; they are read as chains of their content.
 */
export class Writers1765200000000 implements MigrationInterface {
  name = 'Writers1765200000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      alter table draft
        add column epoch integer not null default 0,
        add column writer_id uuid,
        add column point_head bytea check (octet_length(point_head) = 32),
        add column saved_head bytea check (octet_length(saved_head) = 32),
        add column before_epochs_seq integer,
        add column model jsonb,
        add column resting jsonb,
        add column forked_from uuid,
        add column forked_at integer,
        add column left_behind jsonb,
        add column points_off boolean not null default false;
      create index on draft (forked_from) where forked_from is not null;
      create table draft_mark (
        draft_id uuid not null references draft on delete cascade,
        seq integer not null,
        digest bytea not null check (octet_length(digest) = 32),
        primary key (draft_id, seq)
      );
      alter table recovery_point
        add column lines bytea,
        add column head bytea check (octet_length(head) = 32),
        alter column records drop not null,
        add check ((lines is null) = (head is null) and (lines is null) <> (records is null));
      -- No recovery points are an interval of 0.
      alter table own_protection drop constraint own_protection_interval_check,
        add check (interval = 0 or interval between 5 and 3600);
      alter table place_protection drop constraint place_protection_interval_check,
        add check (interval = 0 or interval between 5 and 3600);
      drop function next_version;
    `)
    await runner.query(nextVersion)
  }

  async down(): Promise<void> {
    throw new Error('What writers had is not thrown together again.')
  }
}

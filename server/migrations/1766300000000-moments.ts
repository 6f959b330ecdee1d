import type { MigrationInterface, QueryRunner } from 'typeorm'
import { appendOnlyActs } from '../sql/append-only'

/** Acts that bring a place back to what it was at a moment: also files' versions, and all of it undone as one. */
export class Moments1766300000000 implements MigrationInterface {
  name = 'Moments1766300000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      alter table act drop constraint act_what_check,
        add constraint act_what_check check (what in ('rename', 'move', 'remove', 'bring back', 'correct', 'undo', 'as it was'));
      create table act_version (
        act_id uuid not null references act,
        file_id uuid not null references entry,
        from_version uuid not null,
        to_version uuid not null,
        primary key (act_id, file_id)
      );
      create index on act_version (file_id);
      ${appendOnlyActs}
      create index act_by_share on act (share_id, at)
    `)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      drop index act_by_share; drop table act_version;
      alter table act drop constraint act_what_check,
        add constraint act_what_check check (what in ('rename', 'move', 'remove', 'bring back', 'correct', 'undo'))
    `)
  }
}

import type { MigrationInterface, QueryRunner } from 'typeorm'

/** What each version says more and less than the one before it, line by line, to search in history. */
export class LinesOfVersions1768100000000 implements MigrationInterface {
  name = 'LinesOfVersions1768100000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      alter table version_change add column came text, add column went text, add column whole boolean not null default false,
        add column gone_words text[] not null default '{}';
      alter table version_change alter column whole drop default, alter column gone_words drop default;
      create index version_change_gone on version_change using gin (array_to_tsvector(gone_words));
      -- All are looked at once more, beside everything else, the newest first.
      delete from change_queue;
      insert into change_queue (version_id) select id from version order by at;
    `)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      drop index version_change_gone;
      alter table version_change drop column came, drop column went, drop column whole, drop column gone_words
    `)
  }
}

import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Somebody asked for a trial of what a place for copies holds. */
export class Trials1766700000000 implements MigrationInterface {
  name = 'Trials1766700000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('alter table copy_site add column trial_wanted boolean not null default false')
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('alter table copy_site drop column trial_wanted')
  }
}

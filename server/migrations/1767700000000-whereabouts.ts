import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Whoever has a file open tells the others where in it they are. */
export class Whereabouts1767700000000 implements MigrationInterface {
  name = 'Whereabouts1767700000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`alter table presence add column place text not null default ''`)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('alter table presence drop column place')
  }
}

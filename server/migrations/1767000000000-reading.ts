import type { MigrationInterface, QueryRunner } from 'typeorm'

/** What somebody said of how the values of a list are written. */
export class Reading1767000000000 implements MigrationInterface {
  name = 'Reading1767000000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('alter table entry add column read_as text')
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('alter table entry drop column read_as')
  }
}

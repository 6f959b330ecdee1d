import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Every row has a key of its own, so that each table has an entity. */
export class RowIds1765800000000 implements MigrationInterface {
  name = 'RowIds1765800000000'

  private readonly tables = ['own_protection', 'place_protection', 'former_name', 'name_use']

  async up(runner: QueryRunner): Promise<void> {
    for (const table of this.tables)
      await runner.query(`alter table ${table} add column id uuid primary key default gen_random_uuid()`)
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of this.tables) await runner.query(`alter table ${table} drop column id`)
  }
}

import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Who has which file open right now. Nothing of it matters after a minute, so that it is not logged for a crash. */
export class Presence1764900000000 implements MigrationInterface {
  name = 'Presence1764900000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      create unlogged table presence (
        file_id uuid not null,
        person_id uuid not null,
        page_id uuid not null,
        at timestamptz not null default now(),
        primary key (file_id, page_id)
      );
    `)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('drop table presence')
  }
}

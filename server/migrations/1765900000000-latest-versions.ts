import type { MigrationInterface, QueryRunner } from 'typeorm'

/** What was saved last is found without reading what was saved long ago. */
export class LatestVersions1765900000000 implements MigrationInterface {
  name = 'LatestVersions1765900000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('create index version_at on version (at)')
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('drop index version_at')
  }
}

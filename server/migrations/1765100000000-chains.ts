import type { MigrationInterface, QueryRunner } from 'typeorm'

/** How many chunks were kept by one another up to each (core/history/chain.ts); those of an earlier Jaula count as first ones. */
export class Chains1765100000000 implements MigrationInterface {
  name = 'Chains1765100000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('alter table chunk add column revision integer not null default 0')
  }

  async down(): Promise<void> {
    throw new Error('Versions are not thrown away.')
  }
}

import type { MigrationInterface, QueryRunner } from 'typeorm'
import { retention } from '../sql/retention'

/** What is append-only goes by functions of the owner's alone, so that the application's role needs no right to delete. */
export class Roles1765500000000 implements MigrationInterface {
  name = 'Roles1765500000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(retention)
  }

  async down(): Promise<void> {
    throw new Error('Rights to delete are not given back.')
  }
}

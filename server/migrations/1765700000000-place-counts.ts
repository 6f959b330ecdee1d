import type { MigrationInterface, QueryRunner } from 'typeorm'
import { placeCounts } from '../sql/place-counts'

/** How many lie in each place is known, and not counted each time that it is shown. */
export class PlaceCounts1765700000000 implements MigrationInterface {
  name = 'PlaceCounts1765700000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(placeCounts)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      drop trigger entry_is_counted on entry;
      drop function count_entry, entries_in;
      drop table place_count, place_change;
    `)
  }
}

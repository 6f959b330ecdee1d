import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Where the recovery points of work without a file are kept, and which points went to make room. */
export class Room1764600000000 implements MigrationInterface {
  name = 'Room1764600000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      alter table draft
        add column kept_share_id uuid references share,
        add column kept_folder_id uuid references entry,
        add column made_room_at timestamptz;
      create index on draft (kept_share_id) where file_id is null and state = 'open';
    `)
  }

  async down(): Promise<void> {
    throw new Error('Where work was kept is not forgotten.')
  }
}

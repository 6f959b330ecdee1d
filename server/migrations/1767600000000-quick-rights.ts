import type { MigrationInterface, QueryRunner } from 'typeorm'
import { quickSubjects } from '../sql/rights'

/** Who somebody is for the rights, and which realms lie in a folder, are found by keys, however many groups and realms there are. */
export class QuickRights1767600000000 implements MigrationInterface {
  name = 'QuickRights1767600000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      create index group_member_subject on group_member ((coalesce(person_id, member_group_id)));
      create index entry_own_realm on entry (share_id, folder_id) where realm_id = id and removed_at is null;
    `)
    await runner.query(quickSubjects)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('drop index group_member_subject, entry_own_realm')
  }
}

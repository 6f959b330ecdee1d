import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Plans for copies of single folders: how much of each file is in a copy is known file by file. */
export class FolderPlans1766900000000 implements MigrationInterface {
  name = 'FolderPlans1766900000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      alter table copy_plan
        drop constraint copy_plan_site_id_share_id_key,
        add column folder_id uuid references entry on delete cascade,
        add check (share_id is null or folder_id is null),
        add unique nulls not distinct (site_id, share_id, folder_id);
      create index on copy_plan (folder_id);
      alter table copied_file add column extent text, add column back_days integer check (back_days > 0);
      update copied_file f set extent = c.extent, back_days = c.back_days from share_copy c where c.id = f.copy_id;
      alter table copied_file alter column extent set not null, add check (extent in ('latest', 'kept', 'all'));
      alter table share_copy drop column extent, drop column back_days
    `)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      delete from copy_plan where folder_id is not null;
      alter table copy_plan drop column folder_id, add unique nulls not distinct (site_id, share_id);
      alter table share_copy add column extent text not null default 'all', add column back_days integer;
      update share_copy c set extent = f.extent, back_days = f.back_days
        from (select distinct on (copy_id) * from copied_file order by copy_id, file_id) f where f.copy_id = c.id;
      alter table copied_file drop column extent, drop column back_days
    `)
  }
}

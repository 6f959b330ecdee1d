import type { MigrationInterface, QueryRunner } from 'typeorm'

/** A PDF beside a file, written anew with each version of it, as lists of sheets are. */
export class PdfBeside1768000000000 implements MigrationInterface {
  name = 'PdfBeside1768000000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      alter table side_list alter column sheet drop not null, add column pdf jsonb;
      alter table side_list add check ((sheet is null) = (pdf is not null))
    `)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      delete from side_list where sheet is null;
      alter table side_list drop column pdf, alter column sheet set not null
    `)
  }
}

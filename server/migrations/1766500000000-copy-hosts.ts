import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Places for copies on other computers: who signs in there, locked, and the key that the other side has to show. */
export class CopyHosts1766500000000 implements MigrationInterface {
  name = 'CopyHosts1766500000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      alter table copy_site
        drop constraint copy_site_kind_check,
        add constraint copy_site_kind_check check (kind in ('folder', 'drive', 'sftp', 'webdav')),
        add column account text,
        add column sealed bytea,
        add column host_key text,
        add constraint copy_site_signs_in check ((kind in ('sftp', 'webdav')) = (account is not null and sealed is not null)),
        add constraint copy_site_host_key check ((kind = 'sftp') = (host_key is not null));
      create unique index copy_site_address on copy_site (folder) where kind in ('sftp', 'webdav')
    `)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      delete from copy_site where kind in ('sftp', 'webdav');
      drop index copy_site_address;
      alter table copy_site
        drop constraint copy_site_host_key, drop constraint copy_site_signs_in,
        drop column host_key, drop column sealed, drop column account,
        drop constraint copy_site_kind_check,
        add constraint copy_site_kind_check check (kind in ('folder', 'drive'))
    `)
  }
}

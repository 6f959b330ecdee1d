import { Column, Entity, PrimaryColumn } from 'typeorm'

/** A folder or a file in its place. One table, so that a name is unique among both. */
@Entity('entry')
export class EntryRow {
  @PrimaryColumn('uuid') id!: string
  @Column('text') kind!: 'folder' | 'file'
  @Column('uuid', { name: 'share_id' }) shareId!: string
  @Column('uuid', { name: 'folder_id', nullable: true }) folderId!: string | null
  /** Whose rights it has; kept by the database (server/sql/rights.ts). */
  @Column({ type: 'uuid', name: 'realm_id', insert: false, update: false }) realmId!: string
  @Column('text') name!: string
  @Column('text', { name: 'name_key' }) nameKey!: string
  @Column('text') type!: string
  @Column('uuid', { name: 'head_version_id', nullable: true }) headVersionId!: string | null
  @Column('uuid', { name: 'created_by' }) createdBy!: string
  @Column('timestamptz', { name: 'created_at' }) createdAt!: Date
  @Column('timestamptz', { name: 'removed_at', nullable: true }) removedAt!: Date | null
  @Column('uuid', { name: 'removed_by', nullable: true }) removedBy!: string | null
  /** The act that removed it, with what lay in it. */
  @Column('uuid', { name: 'removed_in', nullable: true }) removedIn!: string | null
  /** The version that it is a copy of. */
  @Column('uuid', { name: 'origin_version_id', nullable: true }) originVersionId!: string | null
}

/** A page that has a file open, and when it last said so. */
@Entity('presence')
export class PresenceRow {
  @PrimaryColumn('uuid', { name: 'file_id' }) fileId!: string
  @PrimaryColumn('uuid', { name: 'page_id' }) pageId!: string
  @Column('uuid', { name: 'person_id' }) personId!: string
  @Column('timestamptz', { default: () => 'now()' }) at!: Date
}

/** When a person last opened or saved a file. */
@Entity('file_use')
export class FileUseRow {
  @PrimaryColumn('uuid', { name: 'person_id' }) personId!: string
  @PrimaryColumn('uuid', { name: 'file_id' }) fileId!: string
  @Column('timestamptz', { name: 'used_at' }) usedAt!: Date
}

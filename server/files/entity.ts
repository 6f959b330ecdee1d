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
  /** What was said of how the values of a list are written, as it goes with its type; null for nothing. */
  @Column({ type: 'text', name: 'read_as', nullable: true, insert: false }) readAs!: string | null
}

/** A page that has a file open, and when it last said so. */
@Entity('presence')
export class PresenceRow {
  @PrimaryColumn('uuid', { name: 'file_id' }) fileId!: string
  @PrimaryColumn('uuid', { name: 'page_id' }) pageId!: string
  @Column('uuid', { name: 'person_id' }) personId!: string
  @Column('timestamptz', { default: () => 'now()' }) at!: Date
  /** Where in it they are, in words. */
  @Column('text', { default: '' }) place!: string
}

/** When a person last opened or saved a file. */
@Entity('file_use')
export class FileUseRow {
  @PrimaryColumn('uuid', { name: 'person_id' }) personId!: string
  @PrimaryColumn('uuid', { name: 'file_id' }) fileId!: string
  @Column('timestamptz', { name: 'used_at' }) usedAt!: Date
}

/** An act on files and folders that is carried out, and undone, as one. */
@Entity('act')
export class ActRow {
  @PrimaryColumn('uuid') id!: string
  @Column('uuid', { name: 'person_id' }) personId!: string
  @Column('uuid', { name: 'share_id' }) shareId!: string
  @Column('text') what!: string
  @Column('timestamptz', { default: () => 'clock_timestamp()' }) at!: Date
  @Column('uuid', { nullable: true }) undoes!: string | null
  @Column('uuid', { name: 'undone_by', nullable: true }) undoneBy!: string | null
  /** SHA-256 of what was asked for; null of an undoing, and from an earlier Jaula. */
  @Column('bytea', { name: 'request_digest', nullable: true }) requestDigest!: Buffer | null
}

/** What an act changed of one of them: where it was, and where it is since. */
@Entity('act_change')
export class ActChangeRow {
  @PrimaryColumn('uuid', { name: 'act_id' }) actId!: string
  @PrimaryColumn('uuid', { name: 'entry_id' }) entryId!: string
  @Column('uuid', { name: 'from_share' }) fromShare!: string
  @Column('uuid', { name: 'from_folder', nullable: true }) fromFolder!: string | null
  @Column('text', { name: 'from_name' }) fromName!: string
  @Column('boolean', { name: 'from_removed' }) fromRemoved!: boolean
  @Column('uuid', { name: 'to_share' }) toShare!: string
  @Column('uuid', { name: 'to_folder', nullable: true }) toFolder!: string | null
  @Column('text', { name: 'to_name' }) toName!: string
  @Column('boolean', { name: 'to_removed' }) toRemoved!: boolean
}

/** A version that an act added to a file, and the one that was the newest before. */
@Entity('act_version')
export class ActVersionRow {
  @PrimaryColumn('uuid', { name: 'act_id' }) actId!: string
  @PrimaryColumn('uuid', { name: 'file_id' }) fileId!: string
  /** Retention may remove it. */
  @Column('uuid', { name: 'from_version' }) fromVersion!: string
  @Column('uuid', { name: 'to_version' }) toVersion!: string
}

/** A name that a folder or file had. */
@Entity('former_name')
export class FormerNameRow {
  @PrimaryColumn('uuid') id!: string
  @Column('uuid', { name: 'entry_id' }) entryId!: string
  @Column('text') name!: string
  @Column('timestamptz', { default: () => 'clock_timestamp()' }) until!: Date
}

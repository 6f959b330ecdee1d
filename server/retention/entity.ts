import { Column, Entity, PrimaryColumn } from 'typeorm'
import type { RetentionRule } from '../../core/contract'

/** A rule of retention, of a share or of a folder. */
@Entity('retention')
export class RetentionRow {
  @PrimaryColumn('uuid') id!: string
  @Column('uuid', { name: 'share_id' }) shareId!: string
  @Column('uuid', { name: 'folder_id', nullable: true }) folderId!: string | null
  @Column('jsonb') rule!: RetentionRule
  @Column('uuid', { name: 'set_by' }) setBy!: string
  @Column('timestamptz', { name: 'set_at', default: () => 'clock_timestamp()' }) setAt!: Date
}

/** Nothing of what is held, or lies in it, goes by a rule. */
@Entity('retention_hold')
export class HoldRow {
  @PrimaryColumn('uuid', { name: 'entry_id' }) entryId!: string
  @Column('uuid', { name: 'person_id' }) personId!: string
  @Column('text') why!: string
  @Column('timestamptz', { default: () => 'clock_timestamp()' }) at!: Date
}

/** A version that went, and why. Rows are only ever added, by the owner's function (server/sql/retention.ts). */
@Entity('removed_version')
export class RemovedVersionRow {
  @PrimaryColumn('uuid') id!: string
  @Column('uuid', { name: 'file_id' }) fileId!: string
  @Column('integer') number!: number
  @Column('bytea') sha256!: Buffer
  @Column('bigint') size!: string
  @Column('uuid', { name: 'author_id' }) authorId!: string
  @Column('timestamptz') at!: Date
  @Column('text') reason!: string
  @Column('timestamptz', { name: 'removed_at' }) removedAt!: Date
  @Column('text') why!: string
}

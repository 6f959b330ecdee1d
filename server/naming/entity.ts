import { Column, Entity, PrimaryColumn } from 'typeorm'
import type { ListValue, Rules } from '../../core/contract'

@Entity('controlled_list')
export class ControlledListRow {
  @PrimaryColumn('uuid') id!: string
  @Column('uuid', { name: 'share_id' }) shareId!: string
  @Column('text') name!: string
  @Column('text', { name: 'name_key' }) nameKey!: string
  @Column('jsonb') values!: ListValue[]
  /** Raised by each change. */
  @Column('integer') revision!: number
  @Column('uuid', { name: 'changed_by' }) changedBy!: string
  @Column('timestamptz', { name: 'changed_at' }) changedAt!: Date
}

/** A convention where it is attached; what it says is in its versions. */
@Entity('convention')
export class ConventionRow {
  @PrimaryColumn('uuid') id!: string
  @Column('uuid', { name: 'share_id' }) shareId!: string
  @Column('uuid', { name: 'folder_id', nullable: true }) folderId!: string | null
  @Column('text') name!: string
  @Column('timestamptz', { name: 'ended_at', nullable: true }) endedAt!: Date | null
}

/** One version of a convention. A trigger in the database refuses to change it. */
@Entity('convention_version')
export class ConventionVersionRow {
  @PrimaryColumn('uuid', { name: 'convention_id' }) conventionId!: string
  @PrimaryColumn('integer') number!: number
  @Column('jsonb') rules!: Rules
  @Column('uuid', { name: 'author_id' }) authorId!: string
  @Column('timestamptz') since!: Date
}

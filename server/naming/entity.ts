import { Column, Entity, PrimaryColumn } from 'typeorm'
import type { ListValue, PartValues, Rules } from '../../core/contract'

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

/** The next number of a counter, in one of its scopes. */
@Entity('counter')
export class CounterRow {
  @PrimaryColumn('uuid', { name: 'convention_id' }) conventionId!: string
  @PrimaryColumn('text') scope!: string
  @Column('bigint') next!: string
}

/** Which file has a number. */
@Entity('counter_number')
export class CounterNumberRow {
  @PrimaryColumn('uuid', { name: 'convention_id' }) conventionId!: string
  @PrimaryColumn('text') scope!: string
  @PrimaryColumn('bigint') number!: string
  @Column('uuid', { name: 'file_id' }) fileId!: string
}

/** What a person composed a name of, to be proposed again. */
@Entity('name_use')
export class NameUseRow {
  @PrimaryColumn('uuid') id!: string
  @Column('uuid', { name: 'person_id' }) personId!: string
  @Column('uuid', { name: 'convention_id' }) conventionId!: string
  @Column('jsonb', { name: 'part_values' }) partValues!: PartValues
  @Column('timestamptz', { default: () => 'clock_timestamp()' }) at!: Date
}

/** The last audit of a share's names. */
@Entity('name_audit')
export class NameAuditRow {
  @PrimaryColumn('uuid', { name: 'share_id' }) shareId!: string
  @Column('timestamptz') at!: Date
  @Column('uuid', { name: 'person_id' }) personId!: string
  @Column('integer') names!: number
  @Column('integer') astray!: number
}

import { Column, Entity, PrimaryColumn } from 'typeorm'

/** What a version changed, in words, and how much that is. */
@Entity('version_change')
export class VersionChangeRow {
  @PrimaryColumn('uuid', { name: 'version_id' }) versionId!: string
  /** The version that it was compared with. */
  @Column('uuid', { name: 'before_id', nullable: true }) beforeId!: string | null
  @Column('text') summary!: string
  @Column('integer') weight!: number
  /** Lines that the version has more than the one before it, and less; null where they are not known. */
  @Column('text', { nullable: true }) came!: string | null
  @Column('text', { nullable: true }) went!: string | null
  /** There was nothing to be read before: what came is all that it says. */
  @Column('boolean') whole!: boolean
  /** Words of the lines that went. */
  @Column('text', { name: 'gone_words', array: true }) goneWords!: string[]
}

/** A version that waits to be compared; put in by the database. */
@Entity('change_queue')
export class ChangeQueueRow {
  @PrimaryColumn('bigint') id!: string
  @Column('uuid', { name: 'version_id' }) versionId!: string
}

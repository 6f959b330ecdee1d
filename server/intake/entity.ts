import { Column, Entity, PrimaryColumn } from 'typeorm'
import type { DriveFault, Intake, IntakeState, PlannedSeries } from '../../core/contract'
import type { Sentence } from '../../core/words/said'

/** When a file was changed, in SQL: by its own word where that is a day on which it can have been, else by the drive's. */
export const changedAt = "case when own_at between '1985-01-01' and now() then own_at else modified end"

/** A drive that is taken over. */
@Entity('intake')
export class IntakeRow {
  @PrimaryColumn('uuid') id!: string
  @Column('uuid', { name: 'share_id' }) shareId!: string
  /** Where it goes; null for the share itself. */
  @Column('uuid', { name: 'folder_id', nullable: true }) folderId!: string | null
  @Column('text') source!: Intake['source']
  @Column('text') root!: string
  @Column('uuid', { name: 'person_id' }) personId!: string
  @Column('timestamptz', { default: () => 'clock_timestamp()' }) at!: Date
  @Column('text') state!: IntakeState
  /** A sentence, as it is kept. */
  @Column('text', { nullable: true }) problem!: string | null
}

/** A file of the drive. */
@Entity('intake_file')
export class IntakeFileRow {
  @PrimaryColumn('uuid', { name: 'intake_id' }) intakeId!: string
  @PrimaryColumn('integer') no!: number
  @Column('text') path!: string
  @Column('bigint') size!: string
  @Column('timestamptz') modified!: Date
  @Column('text', { nullable: true }) fault!: DriveFault | null
  /** Null until it was read. */
  @Column('bytea', { nullable: true }) sha256!: Buffer | null
  /** When it was changed, and by whom, and what it is called, as it says itself. */
  @Column('timestamptz', { name: 'own_at', nullable: true }) ownAt!: Date | null
  @Column('text', { default: '' }) author!: string
  @Column('text', { default: '' }) title!: string
  @Column('bytea', { nullable: true }) sketch!: Buffer | null
  /** The series that it is of, its place in it from 0 for the oldest, and the file whose bytes it has. */
  @Column('integer', { nullable: true }) series!: number | null
  @Column('integer', { nullable: true }) position!: number | null
  @Column('integer', { name: 'double_of', nullable: true }) doubleOf!: number | null
  /** What it became; the other file's, of a double. */
  @Column('uuid', { name: 'version_id', nullable: true }) versionId!: string | null
  /** Why it did not come in: a sentence, as it is kept. */
  @Column('text', { nullable: true }) refused!: string | null
}

/** A file that there will be. */
@Entity('intake_series')
export class IntakeSeriesRow {
  @PrimaryColumn('uuid', { name: 'intake_id' }) intakeId!: string
  @PrimaryColumn('integer') no!: number
  @Column('text') name!: string
  @Column('text', { array: true }) folders!: string[]
  @Column('text') certainty!: PlannedSeries['certainty']
  @Column('jsonb') why!: Sentence[]
  @Column('jsonb') doubts!: Sentence[]
  @Column('jsonb') remarks!: Sentence[]
  @Column('boolean') wanted!: boolean
  /** Something of it has still to come in. */
  @Column('boolean', { default: true }) open!: boolean
  @Column('uuid', { name: 'file_id', nullable: true }) fileId!: string | null
}

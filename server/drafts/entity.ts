import { Column, Entity, PrimaryColumn } from 'typeorm'
import type { Activity, Beyond, Draft, DraftModel, DraftState, JournalRecord, Resting } from '../../core/contract'

@Entity('draft')
export class DraftRow {
  @PrimaryColumn('uuid') id!: string
  @Column('uuid', { name: 'person_id' }) personId!: string
  @Column('text') kind!: 'document' | 'spreadsheet'
  @Column('uuid', { name: 'device_id' }) deviceId!: string
  @Column('text', { name: 'device_name' }) deviceName!: string
  @Column('timestamptz', { name: 'born_at' }) bornAt!: Date
  @Column('uuid', { name: 'base_version_id', nullable: true }) baseVersionId!: string | null
  @Column('uuid', { name: 'file_id', nullable: true }) fileId!: string | null
  @Column('integer', { name: 'saved_seq' }) savedSeq!: number
  @Column('integer', { name: 'journal_seq' }) journalSeq!: number
  @Column('integer', { name: 'point_seq' }) pointSeq!: number
  @Column('timestamptz', { name: 'point_at', nullable: true }) pointAt!: Date | null
  @Column('timestamptz', { name: 'last_edit_at', nullable: true }) lastEditAt!: Date | null
  @Column('text') opening!: string
  @Column('jsonb') beyond!: Beyond
  @Column('text') state!: DraftState
  @Column('timestamptz', { name: 'answered_at' }) answeredAt!: Date
  @Column('timestamptz', { name: 'page_answered_at' }) pageAnsweredAt!: Date
  @Column('timestamptz', { name: 'kept_until', nullable: true }) keptUntil!: Date | null
  /** Raised by each take-over; 0 while only tabs of a Jaula before epochs wrote it. */
  @Column('integer') epoch!: number
  @Column('uuid', { name: 'writer_id', nullable: true }) writerId!: string | null
  @Column('bytea', { name: 'point_head', nullable: true }) pointHead!: Buffer | null
  @Column('bytea', { name: 'saved_head', nullable: true }) savedHead!: Buffer | null
  @Column('uuid', { name: 'forked_from', nullable: true }) forkedFrom!: string | null
  @Column('integer', { name: 'forked_at', nullable: true }) forkedAt!: number | null
  @Column('boolean', { name: 'points_off' }) pointsOff!: boolean
  @Column('uuid', { name: 'head_version_id', nullable: true }) headVersionId!: string | null
  @Column('jsonb', { nullable: true }) unsent!: Beyond | null
  @Column('timestamptz', { name: 'point_edit_at', nullable: true }) pointEditAt!: Date | null
  @Column('timestamptz', { name: 'point_wanted_at', nullable: true }) pointWantedAt!: Date | null
  /** Where the points of work without a file are kept. */
  @Column('uuid', { name: 'kept_share_id', nullable: true }) keptShareId!: string | null
  @Column('uuid', { name: 'kept_folder_id', nullable: true }) keptFolderId!: string | null
  @Column('timestamptz', { name: 'made_room_at', nullable: true }) madeRoomAt!: Date | null
  @Column('integer', { name: 'before_epochs_seq', nullable: true }) beforeEpochsSeq!: number | null
  @Column('jsonb', { nullable: true }) model!: DraftModel | null
  @Column('jsonb', { nullable: true }) resting!: Resting | null
  @Column('jsonb', { name: 'left_behind', nullable: true }) leftBehind!: Draft['leftBehind']
}

@Entity('recovery_point')
export class RecoveryPointRow {
  @PrimaryColumn('uuid', { name: 'draft_id' }) draftId!: string
  @PrimaryColumn('integer', { name: 'from_seq' }) fromSeq!: number
  @Column('integer', { name: 'to_seq' }) toSeq!: number
  @Column('timestamptz', { default: () => 'clock_timestamp()' }) at!: Date
  /** As an earlier Jaula took it; otherwise `lines`, the exact texts, and the chain's digest at their end. */
  @Column('jsonb', { nullable: true }) records!: JournalRecord[] | null
  @Column('bytea', { nullable: true }) lines!: Buffer | null
  @Column('bytea', { nullable: true }) head!: Buffer | null
}

/** The digest of a draft's chain at the end of a recovery point; it outlives the point. */
@Entity('draft_mark')
export class DraftMarkRow {
  @PrimaryColumn('uuid', { name: 'draft_id' }) draftId!: string
  @PrimaryColumn('integer') seq!: number
  @Column('bytea') digest!: Buffer
}

/** What somebody did with another person's unsaved work. */
@Entity('activity')
export class ActivityRow {
  @PrimaryColumn('uuid') id!: string
  @Column('timestamptz', { default: () => 'clock_timestamp()' }) at!: Date
  @Column('uuid', { name: 'person_id' }) personId!: string
  @Column('uuid', { name: 'draft_id' }) draftId!: string
  @Column('text') what!: Activity['what']
}

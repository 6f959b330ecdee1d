import { Column, Entity, PrimaryColumn } from 'typeorm'
import type { Extent } from '../../core/copies/plan'

/** A place that copies go to. */
@Entity('copy_site')
export class CopySiteRow {
  /** What its identity file says. */
  @PrimaryColumn('uuid') id!: string
  @Column('text') kind!: 'folder' | 'drive' | 'sftp' | 'webdav'
  @Column('text') name!: string
  /** Where the server reaches it, or last did; an address, on another computer. */
  @Column('text') folder!: string
  @Column('timestamptz', { name: 'added_at', default: () => 'clock_timestamp()' }) addedAt!: Date
  /** When its identity was last read there; null before it has one. */
  @Column('timestamptz', { name: 'seen_at', nullable: true }) seenAt!: Date | null
  /** How fast the last copying of some size was; bytes a second. */
  @Column('double precision', { nullable: true }) rate!: number | null
  /** Who signs in on another computer, with what (locked), and the fingerprint that it has to show. */
  @Column('text', { nullable: true }) account!: string | null
  @Column('bytea', { nullable: true }) sealed!: Buffer | null
  @Column('text', { name: 'host_key', nullable: true }) hostKey!: string | null
  /** Somebody asked whether what it holds comes back. */
  @Column('boolean', { name: 'trial_wanted', default: false }) trialWanted!: boolean
}

/** What goes to a site, and how often: of one folder, of one share, or of every share that has no plan of its own there. */
@Entity('copy_plan')
export class CopyPlanRow {
  @PrimaryColumn('uuid') id!: string
  @Column('uuid', { name: 'site_id' }) siteId!: string
  @Column('uuid', { name: 'share_id', nullable: true }) shareId!: string | null
  @Column('uuid', { name: 'folder_id', nullable: true }) folderId!: string | null
  @Column('text') extent!: Extent | 'nothing'
  /** How old a copy may get; 0 for one after each change. */
  @Column('integer') hours!: number
  /** After so many days all of it is read again. */
  @Column('integer', { name: 'check_days' }) checkDays!: number
  /** Earlier versions from no longer ago than this; null for all. */
  @Column('integer', { name: 'back_days', nullable: true }) backDays!: number | null
  /** How fast it may be; megabytes a second. */
  @Column('integer', { name: 'most_rate', nullable: true }) mostRate!: number | null
  @Column('uuid', { name: 'set_by', nullable: true }) setBy!: string | null
  @Column('timestamptz', { name: 'set_at' }) setAt!: Date
}

/** A copy of a share at a site. */
@Entity('share_copy')
export class ShareCopyRow {
  @PrimaryColumn('uuid') id!: string
  @Column('uuid', { name: 'share_id' }) shareId!: string
  @Column('uuid', { name: 'site_id' }) siteId!: string
  /** What was saved until then is in it, as far as its plan went. */
  @Column('timestamptz', { name: 'copied_at', nullable: true }) copiedAt!: Date | null
  @Column('integer', { default: 0 }) versions!: number
  @Column('bigint', { default: 0 }) bytes!: string
  /** Versions that the store could not give. */
  @Column('integer', { default: 0 }) unread!: number
  /** When all of it was last read against its checksums, and what was wrong and could not be repaired. */
  @Column('timestamptz', { name: 'checked_at', nullable: true }) checkedAt!: Date | null
  @Column('integer', { nullable: true }) faults!: number | null
  /** Since when it could not be made or read, and why (a sentence as it is kept). */
  @Column('timestamptz', { name: 'failed_since', nullable: true }) failedSince!: Date | null
  @Column('text', { nullable: true }) failure!: string | null
  /** Somebody asked for it before it was due. */
  @Column('boolean', { name: 'copy_wanted', default: false }) copyWanted!: boolean
  @Column('boolean', { name: 'check_wanted', default: false }) checkWanted!: boolean
}

/** The newest version of a file that is in a copy, and which earlier ones are with it, by the plan that it was made by. */
@Entity('copied_file')
export class CopiedFileRow {
  @PrimaryColumn('uuid', { name: 'copy_id' }) copyId!: string
  @PrimaryColumn('uuid', { name: 'file_id' }) fileId!: string
  @Column('integer') number!: number
  @Column('text') extent!: Extent
  @Column('integer', { name: 'back_days', nullable: true }) backDays!: number | null
}

/** What a check found not to be as it should, until somebody has seen it. */
@Entity('copy_finding')
export class CopyFindingRow {
  @PrimaryColumn('uuid') id!: string
  @Column('uuid', { name: 'copy_id' }) copyId!: string
  @Column('timestamptz') at!: Date
  @Column('text') path!: string
  @Column('text', { name: 'is_what' }) is!: 'missing' | 'wrong' | 'says wrong'
  @Column('boolean') repaired!: boolean
  @Column('uuid', { name: 'seen_by', nullable: true }) seenBy!: string | null
  @Column('timestamptz', { name: 'seen_at', nullable: true }) seenAt!: Date | null
}

/** When a content of our own store was last read again, and what came of it. */
@Entity('content_check')
export class ContentCheckRow {
  @PrimaryColumn('bytea') sha256!: Buffer
  @Column('timestamptz', { name: 'checked_at' }) checkedAt!: Date
  /** It is not what was saved, and no copy had it. */
  @Column('boolean') damaged!: boolean
  /** When it was last put back, and from where; and when somebody saw that. */
  @Column('timestamptz', { name: 'mended_at', nullable: true }) mendedAt!: Date | null
  @Column('text', { name: 'mended_from', nullable: true }) mendedFrom!: string | null
  @Column('timestamptz', { name: 'seen_at', nullable: true }) seenAt!: Date | null
}

/** How well a copy covered its share, hour by hour. */
@Entity('copy_sample')
export class CopySampleRow {
  @PrimaryColumn('uuid', { name: 'copy_id' }) copyId!: string
  /** The hour. */
  @PrimaryColumn('timestamptz') at!: Date
  /** Versions of the share, those of them in the copy, and those in it that were read again as often as planned. */
  @Column('integer') versions!: number
  @Column('integer') covered!: number
  @Column('integer') verified!: number
  /** For how long something of the share had been in no such copy; seconds. */
  @Column('integer') age!: number
}

/** A trial of bringing back what a place holds. */
@Entity('copy_drill')
export class CopyDrillRow {
  @PrimaryColumn('uuid') id!: string
  @Column('uuid', { name: 'site_id' }) siteId!: string
  @Column('timestamptz') at!: Date
  @Column('integer') seconds!: number
  @Column('integer') files!: number
  @Column('integer') versions!: number
  @Column('integer') differ!: number
  /** Why nothing came back (a sentence as it is kept). */
  @Column('text', { nullable: true }) failure!: string | null
}

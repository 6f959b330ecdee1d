import { Column, Entity, PrimaryColumn } from 'typeorm'
import type { PaperLikes, PrintState, Turn } from '../../core/contract'

/** A printer that an administrator named. */
@Entity('printer')
export class PrinterRow {
  @PrimaryColumn('uuid') id!: string
  @Column('text') name!: string
  @Column('text') address!: string
  @Column('uuid', { name: 'added_by' }) addedBy!: string
  @Column('timestamptz', { default: () => 'now()' }) at!: Date
  @Column('timestamptz', { name: 'removed_at', nullable: true }) removedAt!: Date | null
}

/** Something that is printed, or was. */
@Entity('print_job')
export class PrintJobRow {
  @PrimaryColumn('uuid') id!: string
  @Column('uuid', { name: 'printer_id' }) printerId!: string
  @Column('uuid', { name: 'person_id' }) personId!: string
  @Column('uuid', { name: 'file_id', nullable: true }) fileId!: string | null
  /** Its version, also when that is not kept any more. */
  @Column('uuid', { name: 'version_id', nullable: true }) versionId!: string | null
  @Column('integer', { nullable: true }) number!: number | null
  @Column('boolean') unsaved!: boolean
  @Column('text') name!: string
  @Column('integer') pages!: number
  @Column('integer') faces!: number
  @Column('integer') copies!: number
  @Column('integer', { name: 'all_copies' }) allCopies!: number
  @Column('boolean', { name: 'collated' }) collate!: boolean
  @Column('text') turn!: Turn
  @Column('text', { nullable: true }) size!: string | null
  @Column('boolean') landscape!: boolean
  @Column('boolean') colour!: boolean
  /** The PDF, until nobody prints it again. */
  @Column('bytea', { nullable: true }) document!: Buffer | null
  /** Printed when the stack was put back; nothing when they are. */
  @Column('bytea', { nullable: true }) backs!: Buffer | null
  @Column('text', { default: 'waiting' }) state!: PrintState
  @Column('text', { array: true, default: () => `'{}'` }) reasons!: string[]
  /** Why, as it is kept. */
  @Column('text', { nullable: true }) said!: string | null
  @Column('integer', { default: 0 }) done!: number
  /** Its number at the printer. */
  @Column('integer', { name: 'remote_id', nullable: true }) remoteId!: number | null
  @Column('integer', { default: 0 }) tries!: number
  @Column('timestamptz', { default: () => 'now()' }) at!: Date
  /** Since when it is as it is. */
  @Column('timestamptz', { default: () => 'now()' }) since!: Date
  /** Since when its printer does not answer. */
  @Column('timestamptz', { name: 'away_since', nullable: true }) awaySince!: Date | null
  /** When it is looked at again; null when it is over. */
  @Column('timestamptz', { name: 'next_at', nullable: true }) nextAt!: Date | null
}

/** How somebody likes pages. */
@Entity('paper_likes')
export class PaperLikesRow {
  @PrimaryColumn('uuid', { name: 'person_id' }) personId!: string
  /** `last`, `printer …`, `named …`. */
  @PrimaryColumn('text') about!: string
  @Column('jsonb') likes!: PaperLikes
  @Column('timestamptz', { default: () => 'now()' }) at!: Date
}

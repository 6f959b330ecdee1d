import { Column, Entity, PrimaryColumn } from 'typeorm'

/** A share, folder or file that somebody wants to hear of. */
@Entity('watch')
export class WatchRow {
  @PrimaryColumn('uuid') id!: string
  @Column('uuid', { name: 'person_id' }) personId!: string
  @Column('uuid', { name: 'share_id' }) shareId!: string
  /** null for the whole share. */
  @Column('uuid', { name: 'entry_id', nullable: true }) entryId!: string | null
  /** When they last looked. */
  @Column('timestamptz', { name: 'seen_at' }) seenAt!: Date
}

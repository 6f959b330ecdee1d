import { Column, Entity, PrimaryColumn } from 'typeorm'
import type { LinkUse } from '../../core/contract'

/** Lets in whoever has its address; whoever reads the table cannot make the address of it. */
@Entity('link')
export class LinkRow {
  @PrimaryColumn('uuid') id!: string
  @Column('uuid', { name: 'entry_id' }) entryId!: string
  /** Whoever has the address, as somebody to whom things are granted. */
  @Column('uuid', { name: 'person_id' }) personId!: string
  /** SHA-256. */
  @Column('bytea', { name: 'token_hash' }) tokenHash!: Buffer
  @Column('text') name!: string
  @Column('text') role!: 'view' | 'edit'
  @Column('timestamptz', { nullable: true }) until!: Date | null
  @Column('text', { name: 'password_hash', nullable: true }) passwordHash!: string | null
  @Column('integer', { nullable: true }) uses!: number | null
  @Column('uuid', { name: 'version_id', nullable: true }) versionId!: string | null
  @Column('boolean') download!: boolean
  @Column('uuid', { name: 'made_by' }) madeBy!: string
  @Column('timestamptz', { name: 'made_at', default: () => 'now()' }) madeAt!: Date
  @Column('timestamptz', { name: 'ended_at', nullable: true }) endedAt!: Date | null
  @Column('uuid', { name: 'ended_by', nullable: true }) endedBy!: string | null
}

/** A browser in which a link was opened. */
@Entity('link_visit')
export class LinkVisitRow {
  @PrimaryColumn('uuid') id!: string
  /** SHA-256 of the cookie. */
  @Column('bytea', { name: 'token_hash' }) tokenHash!: Buffer
  @Column('uuid', { name: 'link_id' }) linkId!: string
  @Column('timestamptz', { name: 'began_at', default: () => 'now()' }) beganAt!: Date
  @Column('timestamptz') until!: Date
  /** Who came to write. */
  @Column('uuid', { name: 'guest_id', nullable: true }) guestId!: string | null
}

/** Something done with a link; only ever added. */
@Entity('link_use')
export class LinkUseRow {
  @PrimaryColumn('uuid') id!: string
  @Column('uuid', { name: 'link_id' }) linkId!: string
  @Column('timestamptz', { default: () => 'now()' }) at!: Date
  @Column('text') what!: LinkUse['what']
  @Column('text') address!: string
  @Column('text') browser!: string
  @Column('uuid', { name: 'guest_id', nullable: true }) guestId!: string | null
  @Column('uuid', { name: 'file_id', nullable: true }) fileId!: string | null
  @Column('uuid', { name: 'version_id', nullable: true }) versionId!: string | null
}

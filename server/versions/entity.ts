import { Column, Entity, PrimaryColumn } from 'typeorm'

/** One saved state of a file. A trigger in the database refuses to change or remove it. */
@Entity('version')
export class VersionRow {
  @PrimaryColumn('uuid') id!: string
  @Column('uuid', { name: 'file_id' }) fileId!: string
  @Column('integer') number!: number
  @Column('bytea') sha256!: Buffer
  @Column('bigint') size!: string
  @Column('text') type!: string
  @Column('uuid', { name: 'author_id' }) authorId!: string
  @Column('timestamptz') at!: Date
  @Column('uuid', { name: 'base_version_id', nullable: true }) baseVersionId!: string | null
  @Column('text') reason!: string
  /** The request that made it; a repetition finds it here and makes nothing new. */
  @Column('uuid', { name: 'request_key' }) requestKey!: string
  /** SHA-256 of what that request asked for; null from an earlier Jaula. */
  @Column('bytea', { name: 'request_digest', nullable: true }) requestDigest!: Buffer | null
}

/** Bytes by their SHA-256, however many versions hold them. */
@Entity('content')
export class ContentRow {
  @PrimaryColumn('bytea') sha256!: Buffer
  @Column('bigint') size!: string
  /** The frame, then the body; null while it is in blocks. */
  @Column('integer', { array: true, nullable: true }) chunks!: number[] | null
  @Column('timestamptz', { name: 'stored_at' }) storedAt!: Date
}

/** Part of contents, under the SHA-256 of what it is when it is unpacked. */
@Entity('chunk')
export class ChunkRow {
  @PrimaryColumn('integer') id!: number
  @Column('bytea') digest!: Buffer
  @Column('integer') size!: number
  @Column('integer') revision!: number
  @Column('integer', { array: true, nullable: true }) roots!: number[] | null
  @Column('bytea') bytes!: Buffer
  @Column('timestamptz', { name: 'born_at' }) bornAt!: Date
}

/** A megabyte of a content. `packed` tells that it is deflated (RFC 1951). */
@Entity('content_block')
export class ContentBlockRow {
  @PrimaryColumn('bytea') sha256!: Buffer
  @PrimaryColumn('integer') index!: number
  @Column('boolean') packed!: boolean
  @Column('bytea') bytes!: Buffer
}

/** Where a version was before it came here. */
@Entity('taken_from')
export class TakenFromRow {
  @PrimaryColumn('uuid', { name: 'version_id' }) versionId!: string
  @Column('text') path!: string
  /** Who wrote it, as it says itself; empty where it does not. */
  @Column('text') author!: string
}

/** A version that is kept under a label. */
@Entity('kept_version')
export class KeptVersionRow {
  @PrimaryColumn('uuid', { name: 'version_id' }) versionId!: string
  @Column('text') label!: string
  @Column('uuid', { name: 'person_id' }) personId!: string
  @Column('timestamptz', { default: () => 'clock_timestamp()' }) at!: Date
}

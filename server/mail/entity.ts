import { Column, Entity, PrimaryColumn } from 'typeorm'
import type { AsType, MailState, Sent, Undelivered } from '../../core/contract'

/** Something that was sent by mail, to one or more. */
@Entity('sending')
export class SendingRow {
  @PrimaryColumn('uuid') id!: string
  /** The file, or what a link leads to. */
  @Column('uuid', { name: 'entry_id' }) entryId!: string
  @Column('uuid', { name: 'person_id' }) personId!: string
  @Column('timestamptz', { default: () => 'now()' }) at!: Date
  @Column('text', { name: 'sent_as' }) as!: Sent['as']
  /** The type that the versions went as; null: each as it was. */
  @Column('text', { nullable: true }) type!: string | null
  /** What was written with it. */
  @Column('text') words!: string
  /** What of the versions was not in it. */
  @Column('jsonb') losses!: AsType['losses']
}

/** A version that was sent, also when it is not kept any more. */
@Entity('sent_version')
export class SentVersionRow {
  @PrimaryColumn('uuid', { name: 'sending_id' }) sendingId!: string
  @PrimaryColumn('uuid', { name: 'version_id' }) versionId!: string
  @Column('integer') place!: number
  @Column('integer') number!: number
  /** What it was sent as. */
  @Column('text') name!: string
  /** Bytes of what was sent. */
  @Column('bigint') size!: string
}

/** A message to one person or address. */
@Entity('mail')
export class MailRow {
  @PrimaryColumn('uuid') id!: string
  /** With its brackets (RFC 5322, section 3.6.4). */
  @Column('text', { name: 'message_id' }) messageId!: string
  @Column('text') kind!: Undelivered['kind']
  /** Who sent it. */
  @Column('uuid', { name: 'person_id' }) personId!: string
  @Column('uuid', { name: 'sending_id', nullable: true }) sendingId!: string | null
  /** What an invitation is to; a share, folder or file. */
  @Column('uuid', { name: 'about_id', nullable: true }) aboutId!: string | null
  @Column('uuid', { name: 'link_id', nullable: true }) linkId!: string | null
  @Column('uuid', { name: 'to_person', nullable: true }) toPerson!: string | null
  @Column('text') address!: string
  @Column('text') subject!: string
  /** What it says, locked with the server's key; nothing as soon as nobody needs it. */
  @Column('bytea', { nullable: true }) body!: Buffer | null
  @Column('text', { default: 'waiting' }) state!: MailState
  /** Since when that is so. */
  @Column('timestamptz', { default: () => 'now()' }) since!: Date
  @Column('timestamptz', { default: () => 'now()' }) at!: Date
  @Column('integer', { default: 0 }) tries!: number
  @Column('timestamptz', { name: 'next_at', nullable: true }) nextAt!: Date | null
  /** What the mail server said last, as it is kept. */
  @Column('text', { nullable: true }) said!: string | null
  /** When who sent it has seen that it did not reach anybody. */
  @Column('timestamptz', { name: 'seen_at', nullable: true }) seenAt!: Date | null
}
